"""The crash handler: after an unexpected error the work is kept, told, and logged.

Anzel goes on where it can: the project is immutable, so a failed view or command leaves it whole.
"""

import sys
import threading
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtWidgets import QMessageBox, QWidget

from anzel.app import log_setup
from anzel.app.autosave import Autosave
from anzel.app.log_setup import Caught
from anzel.app.number_display import shown
from anzel.core.findings import MakerError
from anzel.ui.modal import run

_MOST = 3
"""After so many failures in one run the maker is not asked again; the log has them all."""


class CrashHandler(QObject):
    """Handles every exception that nobody catches, on any thread."""

    _happened = Signal(str, str)

    def __init__(self, window: QWidget, autosave: Autosave | None, log: Path | None) -> None:
        super().__init__(window)
        self._window, self._autosave, self._log = window, autosave, log
        self._count = 0
        self._before: tuple[Callable[..., object], Callable[..., object]] | None = None
        self._happened.connect(self._tell, Qt.ConnectionType.QueuedConnection)

    def install(self) -> None:
        """Start to handle exceptions."""
        self._before = (sys.excepthook, threading.excepthook)
        sys.excepthook = lambda kind, error, where: self.caught((kind, error, where))
        threading.excepthook = self._on_thread

    def remove(self) -> None:
        """Stop: exceptions go where they went before."""
        if self._before is not None:
            sys.excepthook, threading.excepthook = self._before
            self._before = None

    def _on_thread(self, raised: threading.ExceptHookArgs) -> None:
        if raised.exc_value is not None:
            self.caught((raised.exc_type, raised.exc_value, raised.exc_traceback))

    def caught(self, what: Caught) -> None:
        """Log the exception, keep the work, and tell the maker as soon as the window can."""
        if issubclass(what[0], KeyboardInterrupt):
            sys.__excepthook__(*what)
            return
        details = log_setup.log_failure(what)
        sys.stderr.write(details)
        kept = "Your work is safe: "
        try:
            if self._autosave is not None:
                self._autosave.now()
            kept += "what is not saved was put aside, and is offered again when Anzel starts."
        except (MakerError, OSError) as error:
            why = shown(str(error))
            kept = f"Your work could not be put aside ({why}). Save it now, under another name."
        self._count += 1
        if self._count <= _MOST:
            self._happened.emit(kept, details)

    def _tell(self, kept: str, details: str) -> None:
        last = details.strip().splitlines()[-1]
        where = f"\n\nThe log: {self._log}" if self._log else ""
        box = QMessageBox(self._window)
        box.setIcon(QMessageBox.Icon.Warning)
        box.setWindowTitle("Something went wrong in Anzel")
        box.setText(
            f"Something went wrong that should not have.\n\n{kept} You can go on; if something "
            f"looks odd, save and start Anzel again.\n\n{last}{where}"
        )
        box.setDetailedText(details)
        run(box)
