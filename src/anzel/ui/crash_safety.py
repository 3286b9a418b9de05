"""What keeps a window's work safe: the log, autosave and recovery, and the crash handler."""

from contextlib import suppress
from pathlib import Path

from PySide6.QtCore import QObject, QTimer

from anzel.app import log_setup
from anzel.app.autosave import EVERY_SECONDS, Autosave
from anzel.app.crash_reports import keep_report
from anzel.app.session import Changed, Session
from anzel.core.error_boundary import keep_reports
from anzel.core.findings import MakerError
from anzel.storage.recovery_store import Refuge, left_behind, tidy
from anzel.ui.crash_handler import CrashHandler
from anzel.ui.main_thread import Courier
from anzel.ui.main_window import MainWindow
from anzel.ui.recovery_offer import offer

_AFTER_START_MS = 400
"""The window shall stand before anything is asked."""


class Guard(QObject):
    """Begins with the window and is released after it."""

    def __init__(
        self, window: MainWindow, session: Session, folder: Path | None = None,
        log: Path | None = None,
    ) -> None:  # fmt: skip
        super().__init__(window)
        self._window, self._session, self._folder = window, session, folder
        self._log = log_setup.begin(log)
        self._courier = Courier(self)
        self.autosave = Autosave(session, Refuge(folder), self._courier.deliver)
        self._handler = CrashHandler(window, self.autosave, self._log)
        self._handler.install()
        keep_reports(keep_report)
        self._timer = QTimer(self)
        self._timer.setInterval(round(EVERY_SECONDS * 1000))
        self._timer.timeout.connect(self.autosave.tick)
        self._timer.start()
        session.listen(self._changed)
        QTimer.singleShot(_AFTER_START_MS, self, self.offer_recovery)

    def offer_recovery(self) -> None:
        """Ask about what earlier windows left unsaved."""
        tidy(self._folder)
        found = left_behind(self._folder)
        offer(self._window, self._session, found, self.autosave.then)

    def release(self) -> None:
        """The window has closed: nothing is unsaved any more."""
        self._timer.stop()
        self._session.leave(self._changed)
        self.autosave.close()
        self._handler.remove()
        log_setup.end()

    def leave_behind(self) -> None:
        """The process is told to end: what is unsaved stays where the next start finds it."""
        self._timer.stop()
        with suppress(MakerError, OSError):
            self.autosave.now()

    def _changed(self, changed: Changed) -> None:
        """What was opened, saved, written or failed, for the log."""
        if changed in (Changed.FILE, Changed.SAVED, Changed.STATUS) and self._session.said:
            log_setup.note(self._session.said)
