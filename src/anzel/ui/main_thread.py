"""Calls from other threads, made on the main thread."""

from collections.abc import Callable
from contextlib import suppress

from PySide6.QtCore import QObject, Qt, Signal


class MainThread(QObject):
    """An object on the main thread; `post` may be called from any thread."""

    _called = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._called.connect(self._run, Qt.ConnectionType.QueuedConnection)

    def post(self, call: Callable[[], None]) -> None:
        """Make the call soon on the main thread; not any more once the window is gone."""
        with suppress(RuntimeError):
            self._called.emit(call)

    def _run(self, call: Callable[[], None]) -> None:
        call()
