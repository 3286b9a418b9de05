"""A real window, and dialogs that answer by themselves."""

import pytest
from PySide6.QtWidgets import QApplication, QMessageBox

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
