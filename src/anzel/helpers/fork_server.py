"""The fork server: a process that has imported what helpers need, and forks them off itself.

So a helper starts within milliseconds, and all share the memory of their packages. What a helper
needs is imported when the first one asks for it.
"""

import atexit
import gc
import importlib
import os
import signal
import socket
import subprocess
import sys
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from threading import Lock

from anzel.core.collecting import COLLECT_AFTER
from anzel.core.memory import limit_memory
from anzel.helpers.interpreter import python_command
from anzel.helpers.serving import serve

_RUN = "import sys; from anzel.helpers.fork_server import run; run(int(sys.argv[1]), sys.argv[2:])"
NICER = 10
"""Helpers leave the processor to the window where both want it, see sched(7). They stay in its
session: between two sessions Linux shares out evenly, however nice one is."""
_NUMBER_BYTES = 8
_LONGEST_END = 5.0
_LONGEST_START = 60.0
"""Seconds after which a fork server that does not answer counts as lost: on a busy machine the
modules of a helper take a few to import."""


@dataclass(frozen=True)
class Forked:
    """A process that was forked: its number, and a handle on it.

    The number may be another process's as soon as it has ended; the handle stays its own (Linux
    man-pages, pidfd_open(2)), and is None where the system has none to give.
    """

    number: int
    handle: int | None

    def kill(self) -> None:
        """End it, if it is still there, and give the handle back."""
        with suppress(ProcessLookupError):
            if self.handle is not None:
                signal.pidfd_send_signal(self.handle, signal.SIGKILL)
            else:
                os.kill(self.number, signal.SIGKILL)
        if self.handle is not None:
            os.close(self.handle)


class ForkServer:
    """The fork server of this process, started with its first helper."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._socket: socket.socket | None = None
        self._process: subprocess.Popen[bytes] | None = None
        atexit.register(self._end)

    @property
    def process_id(self) -> int | None:
        """The number of its process; None where it was not started yet."""
        return None if self._process is None else self._process.pid

    def start(self, *ahead: str) -> None:
        """Start it before its first helper, to import some modules meanwhile.

        Nobody waits for it, or hears where it cannot be started: that is told by its first helper.
        """
        with self._lock, suppress(OSError):
            self._start(ahead)

    def fork(self, first: str, theirs: socket.socket, memory: int | None = None) -> Forked:
        """Start a helper that imports a module and serves a socket.

        It may take so many bytes of `memory` for its calls. Raises OSError where no process can be
        started.
        """
        with self._lock:
            try:
                return self._ask(first, theirs, memory)
            except OSError:  # it was lost, so it is started anew
                self._end()
                return self._ask(first, theirs, memory)

    def _ask(self, first: str, theirs: socket.socket, memory: int | None) -> Forked:
        control = self._start()
        socket.send_fds(control, [f"{first} {memory or 0}".encode()], [theirs.fileno()])
        number, handles, _, _ = socket.recv_fds(control, _NUMBER_BYTES, 1)
        if not number:
            raise ConnectionError("the fork server has ended")
        return Forked(int.from_bytes(number, "little"), next(iter(handles), None))

    def _start(self, ahead: Sequence[str] = ()) -> socket.socket:
        if self._socket is None:
            self._socket, theirs = socket.socketpair(type=socket.SOCK_SEQPACKET)
            self._socket.settimeout(_LONGEST_START)
            with theirs:
                self._process = subprocess.Popen(
                    python_command("-c", _RUN, str(theirs.fileno()), *ahead),
                    pass_fds=[theirs.fileno()], process_group=0, stdin=subprocess.DEVNULL,
                    env={
                        **os.environ, "PYTHONPATH": os.pathsep.join(filter(None, sys.path)),
                        "OPENBLAS_NUM_THREADS": "1",  # threads would not outlive a fork
                    },
                )  # fmt: skip
        return self._socket

    def _end(self) -> None:
        if self._socket is not None and self._process is not None:
            self._socket.close()
            self._process.kill()
            with suppress(subprocess.TimeoutExpired):  # one that the system does not end is left
                self._process.wait(_LONGEST_END)
        self._socket = self._process = None


def run(descriptor: int, ahead: Sequence[str]) -> None:
    """Import modules, then fork helpers off until the other side is gone.

    This runs in the fork server.
    """
    os.nice(NICER)
    gc.set_threshold(*COLLECT_AFTER)
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # so that helpers that end leave no entry
    control = socket.socket(fileno=descriptor)
    for module in ahead:
        importlib.import_module(module)
    while True:
        try:
            first, descriptors, _, _ = socket.recv_fds(control, 1024, 1)
        except OSError:
            return
        if not first:
            return
        module, memory = first.decode().split()
        importlib.import_module(module)
        gc.collect()
        gc.freeze()  # collecting in a helper must not touch, and so copy, what all share
        number = os.fork()
        if number == 0:
            signal.signal(signal.SIGCHLD, signal.SIG_DFL)
            control.close()
            limit_memory(int(memory))
            serve(descriptors[0])
        os.close(descriptors[0])
        try:
            _answer(control, number)
        except OSError:
            return  # the process that asked has ended meanwhile


def _answer(control: socket.socket, number: int) -> None:
    """Tell the number of a process, and pass a handle on it where there is one."""
    message = number.to_bytes(_NUMBER_BYTES, "little")
    try:
        handle = os.pidfd_open(number)
    except OSError:  # it has ended already, or the system is too old
        control.send(message)
        return
    try:
        socket.send_fds(control, [message], [handle])
    finally:
        os.close(handle)
