"""A real window, and dialogs that answer by themselves."""

import gc
from collections.abc import Iterator

import pytest
from PySide6.QtCore import QEvent, QTimer
from PySide6.QtWidgets import QApplication, QMessageBox
from shiboken6 import isValid

from anzel.app import background
from anzel.app.session import Session
from anzel.app.settings import Settings
from anzel.app.worker import wait_for_threads
from anzel.ui import theme
from anzel.ui.main_window import MainWindow


@pytest.fixture(autouse=True)
def patience(monkeypatch):
    """Changes are waited for, however slow the machine; tests of pending ones shorten this."""
    monkeypatch.setattr(background, "PATIENCE", 60.0)


@pytest.fixture(autouse=True)
def nothing_is_left(qapp: QApplication) -> Iterator[None]:
    """Fail where a test leaves a window shown or a timer running."""
    before = set(map(id, qapp.topLevelWidgets()))
    yield
    qapp.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    shown = [w for w in qapp.topLevelWidgets() if id(w) not in before and w.isVisible()]
    names = [f"{type(w).__name__} {w.windowTitle()}" for w in shown]
    for widget in shown:
        widget.close()
    running = [
        each for each in gc.get_objects()
        if type(each) is QTimer and isValid(each) and each.isActive()
    ]  # fmt: skip
    owners = [type(each.parent()).__name__ for each in running]
    for timer in running:
        timer.stop()
    assert (names, owners) == ([], []), "windows or timers are left"


@pytest.fixture
def window(qtbot, session: Session, tmp_path):
    """The main window on the herb stand, shown and settled."""
    application = QApplication.instance()
    theme.apply(application)
    made = MainWindow(session, Settings(tmp_path / "config"))
    made.commands.may_leave = lambda: True
    qtbot.addWidget(made)
    made.show()
    made.activateWindow()
    qtbot.waitUntil(made.isActiveWindow, timeout=15_000)
    qtbot.waitUntil(lambda: made.is_settled, timeout=15_000)
    yield made
    made.close()
    assert wait_for_threads(10), "background work goes on"


@pytest.fixture
def warnings(monkeypatch):
    """Messages shown in warning boxes, which are not shown."""
    told = []
    monkeypatch.setattr(
        QMessageBox, "warning", lambda parent, title, text: told.append((title, text))
    )
    return told
