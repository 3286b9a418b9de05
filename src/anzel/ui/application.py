"""Starting the window."""

import gc
import os
import sys
from pathlib import Path

from PySide6.QtCore import QElapsedTimer, QEventLoop, QTimer
from PySide6.QtWidgets import QApplication

from anzel.app.navigation import Step
from anzel.app.session import Session
from anzel.app.settings import Settings, WindowState
from anzel.app.worker import take_short_turns
from anzel.core.findings import MakerError
from anzel.project.demos import DEMOS
from anzel.ui import accessibility
from anzel.ui.crash_safety import CrashSafety
from anzel.ui.housekeeping import Housekeeping
from anzel.ui.incoming_files import KNOWN, PROJECTS, take_files
from anzel.ui.instances import SingleInstanceServer, hand_over
from anzel.ui.main_window import MainWindow
from anzel.ui.preferences import use_preferences
from anzel.ui.stop_signals import StopSignals
from anzel.ui.window_memory import last_project, last_step, restore_window

_SETTLE_MS, _LONGEST_MS = 300, 20_000


def run(
    file: Path | None, picture: Path | None = None, step: Step | None = None, *,
    new_window: bool = False,
) -> int:  # fmt: skip
    """Open the window with a project and return the exit code.

    A window that is open already takes the file, unless a `new_window` is wanted. Without a `file`
    it is the project of the last time, or else a demo; so is the `step`. With
    `picture` the window is saved as a picture and closed, and nothing is remembered.
    """
    # the style by argument: asking Qt for a style object costs a twentieth of the start-up
    application = QApplication.instance() or QApplication([*sys.argv[:1], "-style", "Fusion"])
    assert isinstance(application, QApplication)
    application.setApplicationName("Anzel")
    application.setDesktopFileName("anzel")
    take_short_turns()
    session, settings = Session(DEMOS[0].make()), Settings()
    alone = picture is not None or new_window
    if not alone and hand_over(file, settings.folder):
        return 0
    accessibility.install()
    use_preferences(session, settings)  # before any widget is made with another typeface
    window = MainWindow(session, settings)
    memory = WindowState() if picture is not None else settings.window
    if new_window:
        memory = memory.with_changes(project="", geometry="")
    session.navigation.grid_step = memory.grid_step
    restore_window(window, memory)
    file = file or last_project(memory)
    step = step or last_step(memory)
    session.navigation.go_to(step)
    _open(window, session, settings, file, step, may_warn=picture is None)
    application.aboutToQuit.connect(window.release)
    application.commitDataRequest.connect(lambda _: window.remember())  # the desktop logs out
    window.show()
    guard = None if picture is not None else CrashSafety(window, session)
    QTimer.singleShot(_SETTLE_MS, gc.freeze)  # what starting made stays: it is not looked through
    QTimer.singleShot(_SETTLE_MS, window, lambda: Housekeeping(window))
    if picture is None and file is None and settings.is_new:
        QTimer.singleShot(_SETTLE_MS, window, window.show_first_start)
    if picture is not None:
        return _save_picture(window, picture)
    server = SingleInstanceServer(window, settings.folder, window.take_file)
    status = _run_until_left(application, window, guard)
    server.close()
    return status


def _open(
    window: MainWindow, session: Session, settings: Settings, file: Path | None, step: Step, *,
    may_warn: bool,
) -> None:  # fmt: skip
    """Open what the window starts with.

    Raises MakerError where that is impossible and nobody is there to be warned.
    """
    if file is not None and file.suffix.lower() in KNOWN and file.suffix.lower() not in PROJECTS:
        QTimer.singleShot(0, window, lambda: take_files(window.commands, session, [file]))
    elif file is not None:
        try:
            session.open(file)
            session.navigation.go_to(step)
            settings.remember(file)
        except MakerError as error:
            if not may_warn:
                raise
            window.show()
            window.commands.cannot_open(file, error)


def _run_until_left(
    application: QApplication, window: MainWindow, guard: CrashSafety | None
) -> int:
    """Run the window and return its exit code: 128 and the signal's number where a signal ended it.

    Then unsaved work stays behind, and is offered at the next start.
    """
    stopped: list[int] = []

    def stop(number: int) -> None:
        stopped.append(number)
        window.remember()
        if guard is not None:
            guard.leave_behind()
        application.exit(128 + number)

    signals = StopSignals(stop)
    status = application.exec()
    signals.release()
    if guard is not None and not stopped:
        guard.release()
    return status


def _save_picture(window: MainWindow, picture: Path) -> int:
    """Let everything arrive, save the window as a picture, and close it."""
    loop, clock = QEventLoop(), QElapsedTimer()
    clock.start()
    while clock.elapsed() < _SETTLE_MS or not window.is_settled:
        QTimer.singleShot(20, loop.quit)
        loop.exec()
        if clock.elapsed() > _LONGEST_MS:
            break
    saved = window.grab().save(os.fspath(picture))
    window.release()  # closing would ask what to do with a drawing that was brought in
    window.hide()
    if not saved:
        raise MakerError(f"{picture} could not be written.", hint="Choose another place.")
    return 0
