"""What runs in a helper process: it makes the calls that arrive, until the other side is gone."""

import os
import pickle
import traceback
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from multiprocessing.connection import Connection
from queue import SimpleQueue
from threading import Event, Thread
from typing import Any, NoReturn

from anzel.core.error_boundary import CancelledError
from anzel.core.findings import MakerError


class TooMuchMemoryError(MakerError):
    """A call that took more memory than its helper may take."""

    def __init__(self) -> None:
        super().__init__("It takes far more memory than it should.", hint="Make it simpler.")

    def __reduce__(self) -> tuple[type, tuple[()]]:
        """Return how it is made again in another process."""
        return type(self), ()


class _Server:
    """One connection: a thread reads it, so that a call under way hears that it shall stop."""

    def __init__(self, connection: Connection) -> None:
        self._connection = connection
        self._calls: SimpleQueue[bytes] = SimpleQueue()
        self._stop = Event()

    def run(self) -> NoReturn:
        """Make the calls."""
        Thread(target=self._read, daemon=True).start()
        while True:
            call = self._calls.get()
            try:
                self._connection.send_bytes(self._outcome(call))
            except OSError:
                os._exit(0)  # the other side is gone: nobody wants the result

    def _read(self) -> None:
        while True:
            try:
                message = self._connection.recv_bytes()
            except (EOFError, OSError):
                os._exit(0)  # the other side is gone: nobody wants the result
            if message:
                self._stop.clear()  # here, so that a stop on its heels is not cleared
                self._calls.put(message)
            else:
                self._stop.set()

    def said(self, progress: object) -> None:
        """Tell the progress of the call under way.

        Raises CancelledError once it shall stop.
        """
        if self.is_stopped():
            raise CancelledError
        self._connection.send_bytes(pickle.dumps(("said", progress)))

    def is_stopped(self) -> bool:
        """Return whether the call under way shall stop."""
        return self._stop.is_set()

    def _outcome(self, call: bytes) -> bytes:
        try:
            function, arguments = pickle.loads(call)
            return pickle.dumps(("done", function(*arguments)), 5)
        except (MakerError, CancelledError) as error:
            return _raised(error)
        except MemoryError:
            return _raised(TooMuchMemoryError())
        except Exception as error:
            told = "".join(traceback.format_exception(error))
            return pickle.dumps(("fault", (f"{type(error).__name__}: {error}", told)))


def _raised(error: Exception) -> bytes:
    try:
        message = pickle.dumps(("raised", error))
        pickle.loads(message)
    except Exception:  # an error with arguments of its own cannot always be copied
        return pickle.dumps(("raised", MakerError(str(error))))
    return message


Said = Callable[[Any], object]


@dataclass
class _Caller:
    """Who hears of a call, and may stop it."""

    said: Said = id
    """Without a caller nobody listens."""
    is_stopped: Callable[[], bool] = bool
    """Without a caller nobody stops it."""


_OF_PROCESS = _Caller()
_of_thread: ContextVar[_Caller] = ContextVar("caller", default=_OF_PROCESS)


def said(progress: object) -> None:
    """Tell the progress of the call under way; see `Helper.call`."""
    _of_thread.get().said(progress)


def is_stopped() -> bool:
    """Return whether the call under way shall stop; see `Helper.call`."""
    return _of_thread.get().is_stopped()


@contextmanager
def called_by(said: Said, is_stopped: Callable[[], bool]) -> Iterator[None]:
    """Have somebody hear of what this thread does, and stop it: also what it calls in helpers."""
    before = _of_thread.set(_Caller(said, is_stopped))
    try:
        yield
    finally:
        _of_thread.reset(before)


def serve(descriptor: int) -> NoReturn:
    """Make the calls that arrive; this does not return."""
    server = _Server(Connection(descriptor))
    _OF_PROCESS.said, _OF_PROCESS.is_stopped = server.said, server.is_stopped
    server.run()
