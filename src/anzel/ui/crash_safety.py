"""Crash safety of a window: the log, autosave and recovery, and the crash handler."""

from contextlib import suppress
from pathlib import Path

from PySide6.QtCore import QObject, QTimer

from anzel.app import log_setup
from anzel.app.autosave import Autosave
from anzel.app.background import Background
from anzel.app.crash_reports import keep_report
from anzel.app.listeners import Changed
from anzel.app.session import Session
from anzel.app.views.version_difference import unsaved_difference
from anzel.app.watchdog import Watchdog
from anzel.core.error_boundary import set_report_keeper
from anzel.core.findings import MakerError
from anzel.core.number_format import MILLIMETRES
from anzel.storage.recovery_store import RecoveryStore, recoverable_projects, remove_stray_files
from anzel.ui.crash_handler import CrashHandler
from anzel.ui.main_thread import MainThread
from anzel.ui.main_window import MainWindow
from anzel.ui.recovery_offer import offer

_AFTER_START_MS = 400
"""The window shall stand before anything is asked."""
_WATCH_MS = 5000


class CrashSafety(QObject):
    """Starts with the window and is released after it."""

    def __init__(
        self, window: MainWindow, session: Session, folder: Path | None = None,
        log: Path | None = None,
    ) -> None:  # fmt: skip
        super().__init__(window)
        self._window, self._session, self._folder = window, session, folder
        self._log = log_setup.start_logging(log)
        self._courier = MainThread(self)
        self.autosave = Autosave(session, RecoveryStore(folder), self._courier.post)
        self._jobs = Background(self._courier.post, "anzel-recovery")
        self._handler = CrashHandler(window, self.autosave, self._log)
        self._handler.install()
        set_report_keeper(keep_report)
        self._timer = QTimer(self)
        self._save_every(window.preferences.autosave_seconds)
        window.preferences_used.connect(lambda used: self._save_every(used.autosave_seconds))
        self._timer.timeout.connect(self.autosave.tick)
        self._timer.start()
        self._watchdog = Watchdog(session.status.show)
        self._watching = QTimer(self)
        self._watching.timeout.connect(self._watchdog.look)
        self._watching.start(_WATCH_MS)
        session.subscribe(self._changed)
        self._after_start = QTimer(self)
        self._after_start.setSingleShot(True)
        self._after_start.timeout.connect(self.offer_recovery)
        self._after_start.start(_AFTER_START_MS)

    def _save_every(self, seconds: float) -> None:
        self._timer.setInterval(round(seconds * 1000))

    def offer_recovery(self) -> None:
        """Offer what earlier windows left unsaved."""
        remove_stray_files(self._folder)
        folder = self._folder
        self._jobs.start(
            lambda _: [(each, unsaved_difference(each)) for each in recoverable_projects(folder)],
            done=lambda found: offer(self._window, self._session, found, self.autosave.then),
            failed=lambda error: self._session.status.show(f"▲ {error}"),
        )

    def release(self) -> None:
        """Clean up when the window has closed and nothing is unsaved any more."""
        self._timer.stop()
        self._watching.stop()
        self._after_start.stop()
        self._jobs.close()
        self._session.unsubscribe(self._changed)
        self.autosave.close()
        self._handler.remove()
        log_setup.stop_logging()

    def leave_behind(self) -> None:
        """Leave what is unsaved for the next start, because the process is told to end."""
        self._timer.stop()
        with suppress(MakerError, OSError):
            self.autosave.now()

    def _changed(self, changed: Changed) -> None:
        """Log what was opened, saved, written or failed."""
        if changed in (Changed.FILE, Changed.SAVED, Changed.STATUS) and self._session.status.text:
            log_setup.log_line(MILLIMETRES.write(self._session.status.text))
