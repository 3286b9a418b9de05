"""A real window, and dialogs that answer by themselves."""

import gc
from collections.abc import Iterator

import pytest
from PySide6.QtCore import QEvent, Qt, QTimer
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QAbstractItemView, QApplication, QMessageBox, QWidget
from shiboken6 import isValid

from anzel.app import background
from anzel.app.number_display import show_numbers
from anzel.app.session import Session
from anzel.app.settings import Settings
from anzel.app.worker import wait_for_threads
from anzel.core.number_format import NumberFormat
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


@pytest.fixture(autouse=True)
def numbers_are_written(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """Fail where a mark of a number is painted, or stands in a widget, instead of its figures."""
    found: list[str] = []
    painted = QPainter.drawText

    def watched(painter: QPainter, *what: object) -> object:
        found.extend(each for each in what if isinstance(each, str) and "⟦" in each)
        return painted(painter, *what)

    monkeypatch.setattr(QPainter, "drawText", watched)
    yield
    for widget in QApplication.allWidgets():
        found.extend(text for text in texts_of(widget) if "⟦" in text)
    show_numbers(NumberFormat())
    assert found == []


def texts_of(widget: QWidget) -> list[str]:
    """Return all that a widget shows or tells in words."""
    texts = [
        widget.toolTip(), widget.accessibleName(), widget.accessibleDescription(),
        widget.windowTitle(),
    ]  # fmt: skip
    for name in ("text", "title", "currentText", "toPlainText"):
        if callable(read := getattr(widget, name, None)):
            texts.append(str(read()))
    texts += [action.text() for action in widget.actions()]
    if isinstance(widget, QAbstractItemView) and (model := widget.model()) is not None:
        rows = [model.index(row, 0) for row in range(model.rowCount())]
        while rows:
            at = rows.pop()
            rows += [model.index(row, 0, at) for row in range(model.rowCount(at))]
            cells = [at, at.siblingAtColumn(1)]
            texts += [str(cell.data()) for cell in cells if cell.isValid()]
            texts += [str(cell.data(Qt.ItemDataRole.ToolTipRole)) for cell in cells]
    return texts


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
