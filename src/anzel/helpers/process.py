"""A helper: another process that makes calls, one after the other.

Heavy work in a thread shares Python's interpreter with the window, so that the window stutters; a
helper has an interpreter of its own. It is started with its first call, lives as long as this
process, and is started again if it was lost. Calls are functions of modules with arguments that can
be pickled; they report their progress by `said`, and stop where that raises CancelledError.
"""

import pickle
import socket
from collections.abc import Callable
from math import inf
from multiprocessing.connection import Connection
from threading import Lock
from time import monotonic
from typing import Any, TypeVar

from anzel.core.error_boundary import CancelledError, UnexpectedError
from anzel.core.findings import MakerError
from anzel.helpers import serving
from anzel.helpers.fork_server import Forked, ForkServer
from anzel.helpers.serving import Said

Result = TypeVar("Result")

FORK_SERVER = ForkServer()
"""Where all helpers of this process come from."""
_LOOK = 0.02
"""Seconds between two looks whether the call is still wanted."""
_STOP_WITHIN = 0.5
"""A helper that does not stop within so many seconds is ended."""


class HelperLostError(UnexpectedError):
    """A helper ended in the middle of a call."""

    def __init__(self, name: str) -> None:
        super().__init__(f"The helper for {name} ended without a result.", hint="Try it again.")


class HelperFaultError(Exception):
    """What a function raised in a helper that is not worded for the maker."""


class TooLongError(MakerError):
    """A call took longer than it may take."""

    def __init__(self, seconds: float) -> None:
        super().__init__(
            f"It takes longer than {seconds:g} seconds, so it was stopped.",
            hint="Make it simpler.",
        )


class Helper:
    """One process beside this one; `name` says what for, `first` is imported when it starts.

    It may be called from any thread; calls wait for one another. A call that takes more than
    `memory` bytes or longer than `seconds` is refused, where these are given.
    """

    def __init__(
        self, name: str, first: str, *, memory: int | None = None, seconds: float | None = None
    ) -> None:  # fmt: skip
        self._name, self._first = name, first
        self._memory, self._seconds = memory, seconds
        self._lock = Lock()
        self._connection: Connection | None = None
        self._forked: Forked | None = None

    @property
    def process_id(self) -> int | None:
        """The number of the process; None where it was not started yet, or was ended."""
        return None if self._forked is None else self._forked.number

    def start(self) -> None:
        """Start it ahead of its first call."""
        with self._lock:
            self._start()

    def call(
        self, function: Callable[..., Result], *arguments: object,
        said: Said = serving.said, is_stopped: Callable[[], bool] = serving.is_stopped,
    ) -> Result:  # fmt: skip
        """Return what a function returns there.

        `said` hears its progress. It stops where `is_stopped`. Both are those of the call or task
        that this thread is at.

        Raises
        ------
        CancelledError
            Where the call was stopped.
        MakerError
            As the function raised it, HelperLostError where the helper ended, TooLongError and
            TooMuchMemoryError where it takes more than it may.
        HelperFaultError
            For anything else that the function raised.
        """
        with self._lock:
            if is_stopped():
                raise CancelledError
            try:
                connection = self._start()
                connection.send_bytes(pickle.dumps((function, arguments), 5))
                kind, result = self._answer(connection, said, is_stopped)
            except (EOFError, OSError) as error:
                self._end()
                raise HelperLostError(self._name) from error
        if kind == "raised":
            try:
                raise result
            finally:
                del result  # what was called with would stay, because the error knows this frame
        if kind == "fault":
            fault = HelperFaultError(result[0])
            fault.add_note(result[1])  # the report that is kept tells where it was
            raise fault
        returned: Result = result
        return returned

    def _answer(
        self, connection: Connection, said: Said, is_stopped: Callable[[], bool]
    ) -> tuple[str, Any]:
        """Wait for the end of a call."""
        end = inf if self._seconds is None else monotonic() + self._seconds
        while True:
            while not connection.poll(_LOOK):
                if is_stopped():
                    return self._stopped(connection)
                if monotonic() > end:
                    self._stopped(connection)
                    return "raised", TooLongError(self._seconds or inf)
            kind, result = pickle.loads(connection.recv_bytes())
            if kind != "said":
                return kind, result
            try:
                said(result)
            except CancelledError:
                return self._stopped(connection)  # it must not answer the next call

    def _stopped(self, connection: Connection) -> tuple[str, Any]:
        """Have the call under way stop, and end a helper that does not."""
        connection.send_bytes(b"")
        while connection.poll(_STOP_WITHIN):
            kind, _ = pickle.loads(connection.recv_bytes())
            if kind != "said":
                return "raised", CancelledError()
        self._end()
        return "raised", CancelledError()

    def _start(self) -> Connection:
        connection = self._connection
        if connection is not None and not connection.poll():
            return connection  # what could be read from an idle one is only its end
        self._end()
        ours, theirs = socket.socketpair()
        self._connection = connection = Connection(ours.detach())
        with theirs:
            self._forked = FORK_SERVER.fork(self._first, theirs, self._memory)
        return connection

    def _end(self) -> None:
        if self._connection is not None:
            self._connection.close()
        if self._forked is not None:
            self._forked.kill()
        self._connection = self._forked = None
