"""The main window: only puts the parts together."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtGui import QAction, QCloseEvent, QKeySequence
from PySide6.QtWidgets import QHBoxLayout, QMainWindow, QMenu, QStackedWidget, QVBoxLayout, QWidget

from anzel.app.actions import ACTIONS, MENUS
from anzel.app.jobs import Jobs
from anzel.app.session import Changed, Session, Step
from anzel.app.settings import Settings
from anzel.scene.camera import VIEWS
from anzel.ui.commands import Commands, callbacks
from anzel.ui.steps.build_step import BuildStep
from anzel.ui.steps.rail import StepRail
from anzel.ui.steps.sheets_step import SheetsStep
from anzel.ui.steps.stock_step import StockStep
from anzel.ui.steps.test_step import TestStep
from anzel.ui.widgets.ripple_bar import RippleBar
from anzel.ui.widgets.stock_strip import StockStrip


class _Courier(QObject):
    """Carries calls from job threads to the window's thread."""

    called = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.called.connect(self._run, Qt.ConnectionType.QueuedConnection)

    def _run(self, call: Callable[[], None]) -> None:
        call()


class MainWindow(QMainWindow):
    """One window on one session."""

    def __init__(self, session: Session, settings: Settings) -> None:
        super().__init__()
        self._session, self._settings = session, settings
        self._courier = _Courier()
        self.jobs = Jobs(self._courier.called.emit)
        self.commands = Commands(self, session, settings, self.jobs)
        self._assemble()
        self.actions_by_id = self._make_actions()
        self._make_menus()
        self.test.write_wanted.connect(self.commands.write_comb)
        self.sheets.write_wanted.connect(self._write_sheets)
        session.listen(self._changed)
        self._changed(Changed.PROJECT)

    def _assemble(self) -> None:
        session = self._session
        self.build = BuildStep(session)
        self.stock = StockStep(session)
        self.sheets = SheetsStep(session)
        self.test = TestStep(session)
        self.steps: dict[Step, QWidget] = {
            Step.STOCK: self.stock,
            Step.TEST: self.test,
            Step.BUILD: self.build,
            Step.SHEETS: self.sheets,
        }
        self._stack = QStackedWidget()
        for step in self.steps.values():
            self._stack.addWidget(step)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(StepRail(session))
        middle.addWidget(self._stack, 1)
        centre = QWidget()
        column = QVBoxLayout(centre)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(StockStrip(session))
        column.addLayout(middle, 1)
        self.setCentralWidget(centre)
        self.ripple = RippleBar(session, self.jobs)
        self.setStatusBar(self.ripple)
        self.resize(1280, 800)

    def _make_actions(self) -> dict[str, QAction]:
        standing = self.build.standing
        only_here: dict[str, Callable[[], object]] = {
            "quit": self.close,
            "add-reading": self._type_reading,
            "add-stock": self._add_stock,
            "whole": self._whole,
            "apart": self._pull_apart,
            "write-sheets": self._write_sheets,
            **{f"from-{view}": partial(standing.look_from, view) for view in VIEWS},
        }
        calls = callbacks(self.commands, self._session, only_here)
        made = {}
        for action in ACTIONS:
            entry = QAction(action.title, self)
            entry.setShortcut(QKeySequence(action.keys))
            entry.triggered.connect(lambda _=False, call=calls[action.id]: call())
            made[action.id] = entry
            self.addAction(entry)
        return made

    def _make_menus(self) -> None:
        menus = {menu: self.menuBar().addMenu(menu) for menu in MENUS}
        for action in ACTIONS:
            menus[action.menu].addAction(self.actions_by_id[action.id])
            if action.id == "open":
                self._recent = QMenu("Open &recent", self)
                self._recent.aboutToShow.connect(self._fill_recent)
                menus[action.menu].addMenu(self._recent)
            if action.id in ("save-as", "redo", "add-stock", "step-sheets", "apart", "from-above"):
                menus[action.menu].addSeparator()

    def _fill_recent(self) -> None:
        self._recent.clear()
        for path in self._settings.recent_files():
            entry = self._recent.addAction(f"{path.name}    {path.parent}")
            entry.triggered.connect(lambda _=False, path=path: self._open_recent(path))
        if self._recent.isEmpty():
            self._recent.addAction("Nothing yet").setEnabled(False)

    def _open_recent(self, path: Path) -> None:
        self.commands.open_path(path)

    def _changed(self, changed: Changed) -> None:
        session = self._session
        self._stack.setCurrentWidget(self.steps[session.step])
        name = session.path.name if session.path else session.project.name
        self.setWindowTitle(f"{name}[*] – Anzel")
        self.setWindowModified(session.is_dirty)
        for action in ACTIONS:
            self.actions_by_id[action.id].setEnabled(action.enabled(session))
        undo, redo = self.actions_by_id["undo"], self.actions_by_id["redo"]
        undo.setText(f"&Undo {session.undoable or ''}".strip())
        redo.setText(f"&Redo {session.redoable or ''}".strip())

    def _type_reading(self) -> None:
        self._session.go_to(Step.STOCK)
        self.stock.focus_reading()

    def _add_stock(self) -> None:
        self._session.go_to(Step.STOCK)
        self.stock.add_stock()

    def _whole(self) -> None:
        for view in (self.build.flat, self.build.standing, self.test.view, self.sheets.view):
            view.fit()

    def _pull_apart(self) -> None:
        self._session.go_to(Step.BUILD)
        self.build.slider.setValue(0 if self.build.slider.value() else 60)

    def _write_sheets(self) -> None:
        self._session.go_to(Step.SHEETS)
        chosen = self.sheets
        self.commands.write_sheets(chosen.stock_id, chosen.loose, chosen.ending)

    def closeEvent(self, event: QCloseEvent) -> None:
        if self.commands.may_leave():
            self.jobs.close()
            self.build.standing.release()
            event.accept()
        else:
            event.ignore()
