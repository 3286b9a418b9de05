"""Ctrl-C and the system's signal to end, brought to the main thread."""

import signal
import socket
from collections.abc import Callable

from PySide6.QtCore import QObject, QSocketNotifier

_SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


class StopSignals(QObject):
    """Calls `stop` with the signal's number on the main thread.

    Qt waits outside of Python, where Python's handlers do not run; a byte in a socket wakes it.
    """

    def __init__(self, stop: Callable[[int], None]) -> None:
        super().__init__()
        self._stop = stop
        self._reader, self._writer = socket.socketpair()
        for end in (self._reader, self._writer):
            end.setblocking(False)
        self._notifier = QSocketNotifier(self._reader.fileno(), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._arrived)
        self._before = {number: signal.getsignal(number) for number in _SIGNALS}
        for number in _SIGNALS:
            signal.signal(number, lambda *_: None)
        self._wakeup = signal.set_wakeup_fd(self._writer.fileno())

    def release(self) -> None:
        """Leave signals as they were before."""
        self._notifier.setEnabled(False)
        signal.set_wakeup_fd(self._wakeup)
        for number, handler in self._before.items():
            signal.signal(number, handler)
        self._reader.close()
        self._writer.close()

    def _arrived(self) -> None:
        for number in self._reader.recv(64):
            if number in _SIGNALS:
                self._stop(number)
