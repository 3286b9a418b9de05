"""The main window, which only assembles the parts."""

from collections.abc import Callable, Mapping
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import (
    QAction,
    QCloseEvent,
    QContextMenuEvent,
    QDragEnterEvent,
    QDropEvent,
    QResizeEvent,
)
from PySide6.QtWidgets import QHBoxLayout, QMainWindow, QMenu, QStackedWidget, QVBoxLayout, QWidget

from anzel.app.actions import ACTIONS, MENUS
from anzel.app.background import Background
from anzel.app.listeners import Changed
from anzel.app.navigation import Step
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.app.settings import Preferences, Settings
from anzel.scene.camera import VIEWS
from anzel.test_pieces.model import TestPieceKind
from anzel.ui.action_keys import keys_in_use, sequence_of
from anzel.ui.commands import Commands, callbacks
from anzel.ui.incoming_files import KNOWN, dropped_files, take_files
from anzel.ui.instances import open_window
from anzel.ui.main_thread import MainThread
from anzel.ui.modal import run
from anzel.ui.painting import PaintingPause
from anzel.ui.picked_commands import PickedCommands
from anzel.ui.preferences import use_numbers, use_preferences
from anzel.ui.steps.build_step import BuildStep
from anzel.ui.steps.step_page import FollowingPage
from anzel.ui.steps.step_rail import StepRail
from anzel.ui.theme import text_scale
from anzel.ui.view_commands import ViewCommands
from anzel.ui.views.painted_layer import AfterPainting, all_are_painted
from anzel.ui.widgets.ripple_bar import RippleBar
from anzel.ui.widgets.stock_strip import StockStrip
from anzel.ui.window_memory import remember_window

if TYPE_CHECKING:
    from anzel.ui.steps.assemble_step import AssembleStep
    from anzel.ui.steps.cutter_step import CutterStep
    from anzel.ui.steps.forecast_step import ForecastStep
    from anzel.ui.steps.practice_step import PracticeStep
    from anzel.ui.steps.sheets_step import SheetsStep
    from anzel.ui.steps.stock_step import StockStep
    from anzel.ui.steps.test_step import TestStep


_LAST_OF_A_GROUP = {"save-as", "redo", "select-all", "add-cutter", "step-practice", "apart",
                    "from-above", "delete"}  # fmt: skip
"""A line stands in the menu after these."""
_NARROW = 960
"""In a window narrower than this, times the size of text, the steps are icons only."""


class MainWindow(QMainWindow):
    """One window on one session."""

    preferences_used = Signal(object)

    def __init__(self, session: Session, settings: Settings) -> None:
        super().__init__()
        self._session, self._settings = session, settings
        self._main_thread = MainThread(self)
        self.jobs = Background(self._main_thread.post)
        self.squeezing = Background(self._main_thread.post, "anzel-squeeze")
        self._centre = QWidget()
        self._painting_pause = PaintingPause(self._centre)
        self.proving = Background(self._main_thread.post, "anzel-proof")
        self._changes = Background(self._main_thread.post, "anzel-changes")
        after_painting = AfterPainting(self._painting_pause, self).post
        self._layouts = Background(self._main_thread.post, "anzel-layouts", after_painting)
        self._files = Background(self._main_thread.post, "anzel-files")
        session.work_in(self._changes, self._layouts)
        self.commands = Commands(self, session, settings, self.jobs, self._files)
        self.picked = PickedCommands(self, session, self.jobs)
        self.places = ViewCommands(self, session)
        self._assemble()
        self.actions_by_id = self._make_actions()
        self._make_menus()
        self.picked.show_menus(self.actions_by_id)
        self.picked.make_handle(self.build.panel.line)
        self.use_preferences()
        self.build.write_wanted.connect(lambda name: self.commands.found.write_back(name))
        self.build.panel.whole.bounds.fit_wanted.connect(
            lambda: self.commands.scale(into_bounds=True)
        )
        self.build.bring_wanted.connect(lambda: self.commands.found.choose())
        session.subscribe(self._changed)
        self._changed(Changed.PROJECT)

    def _assemble(self) -> None:
        session = self._session
        self.build = BuildStep(session)
        self._steps: dict[Step, FollowingPage] = {Step.BUILD: self.build}
        self._stack = QStackedWidget()
        self._stack.addWidget(self.build)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        self._rail = StepRail(session)
        middle.addWidget(self._rail)
        middle.addWidget(self._stack, 1)
        column = QVBoxLayout(self._centre)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(StockStrip(session))
        column.addLayout(middle, 1)
        self.setCentralWidget(self._centre)
        self.ripple = RippleBar(session, self.jobs, self.proving, self._changes)
        self.setStatusBar(self.ripple)
        self.setAcceptDrops(True)
        self.resize(1280, 800)

    @property
    def stock(self) -> "StockStep":
        """The stock step, made when first needed."""
        return cast("StockStep", self._step(Step.STOCK))

    @property
    def cutter(self) -> "CutterStep":
        """The cutter step, made when first needed."""
        return cast("CutterStep", self._step(Step.CUTTER))

    @property
    def test(self) -> "TestStep":
        """The test piece step, made when first needed."""
        return cast("TestStep", self._step(Step.TEST))

    @property
    def forecast(self) -> "ForecastStep":
        """The forecast step, made when first needed."""
        return cast("ForecastStep", self._step(Step.FORECAST))

    @property
    def sheets(self) -> "SheetsStep":
        """The sheets step, made when first needed."""
        return cast("SheetsStep", self._step(Step.SHEETS))

    @property
    def assemble(self) -> "AssembleStep":
        """The assemble step, made when first needed."""
        return cast("AssembleStep", self._step(Step.ASSEMBLE))

    @property
    def practice(self) -> "PracticeStep":
        """The practice step, made when first needed."""
        return cast("PracticeStep", self._step(Step.PRACTICE))

    def _step(self, step: Step) -> FollowingPage:
        self.make_page(step)
        page = self._steps[step]
        page.catch_up()
        return page

    def make_page(self, step: Step) -> None:
        """Make a step's page, unless it is there."""
        if step not in self._steps:
            self._steps[step] = made = self._make_step(step)
            self._stack.addWidget(made)

    def _make_step(self, step: Step) -> FollowingPage:
        """Return a step's page.

        Steps are loaded when first shown, so that the window opens sooner.
        """
        from anzel.ui.steps.step_factory import make_step

        return make_step(step, self._session, self.jobs, self)

    def _make_actions(self) -> dict[str, QAction]:
        standing = self.build.standing
        only_here: dict[str, Callable[[], object]] = {
            "quit": self.close,
            "close": self.close,
            "settings": lambda: self.commands.settings(self.use_preferences),
            "first-start": self.show_first_start,
            "find": lambda: self.commands.find(self.places.go_to_match),
            "new-window": open_window,
            "full-screen": self._switch_full_screen,
            "print": lambda: self.commands.print(self.sheets.file),
            **self.picked.callbacks(),
            **self.places.callbacks(),
            "add-reading": self._type_reading,
            "strike-reading": self._strike_reading,
            "add-stock": self._add_stock,
            "add-cutter": self._add_cutter,
            "write-test-piece": self.write_test_piece,
            "bring-drawing": self._bring_drawing,
            "join-all": lambda: self.build.free.join_all(),
            "write-sheets": self.write_sheets,
            "write-booklet": lambda: self.write_assembly("booklet"),
            "write-solids": lambda: self.write_assembly("solids"),
            "print-paper": lambda: self.print_sheets("paper"),
            "print-sheet": lambda: self.print_sheets("sheet"),
            "print-list": lambda: self.print_sheets("list"),
            "put-together": self.put_together,
            **{f"from-{view}": partial(standing.look_from, view) for view in VIEWS},
        }
        calls = callbacks(self.commands, self._session, only_here)
        made = {}
        for action in ACTIONS:
            entry = QAction(action.title, self)
            entry.triggered.connect(lambda _=False, call=calls[action.id]: call())
            made[action.id] = entry
            self.addAction(entry)
        return made

    def use_preferences(self) -> None:
        """Show everything as the maker prefers."""
        preferences = use_preferences(self._session, self._settings)
        for action_id, keys in keys_in_use(preferences.keys).items():
            self.actions_by_id[action_id].setShortcut(sequence_of(keys))
        self.preferences_used.emit(preferences)

    @property
    def preferences(self) -> Preferences:
        """What the maker prefers."""
        return self._settings.preferences

    def _make_menus(self) -> None:
        menus = {menu: self.menuBar().addMenu(menu) for menu in MENUS}
        for action in ACTIONS:
            menus[action.menu].addAction(self.actions_by_id[action.id])
            if action.id == "open":
                self._recent = QMenu("Open &recent", self)
                self._recent.aboutToShow.connect(self._fill_recent)
                menus[action.menu].addMenu(self._recent)
            if action.id in _LAST_OF_A_GROUP:
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
        if changed in (Changed.PROJECT, Changed.OPENED):
            use_numbers(session, self._settings.preferences)
        if changed in (Changed.PROJECT, Changed.OPENED, Changed.STEP):
            self._painting_pause.begin()
        self._stack.setCurrentWidget(self._step(session.navigation.step))
        name = session.document.path.name if session.document.path else session.project.name
        self.setWindowFilePath(str(session.document.path or ""))
        self.setWindowTitle(f"{name}[*] – Anzel")
        self.setWindowModified(session.is_dirty)
        for action in ACTIONS:
            self.actions_by_id[action.id].setEnabled(action.enabled(session))
        undo, redo = self.actions_by_id["undo"], self.actions_by_id["redo"]
        history = session.document.history
        undo.setText(shown(f"&Undo {_menu_text(history.undoable)}").strip())
        redo.setText(shown(f"&Redo {_menu_text(history.redoable)}").strip())

    @property
    def pages(self) -> Mapping[Step, QWidget]:
        """The pages of the steps that were made so far."""
        return self._steps

    @property
    def is_settled(self) -> bool:
        """Whether nothing is being computed in the background, and what is on view is painted."""
        standing = self.build.standing
        drawn = standing.is_drawn or not standing.isVisible()
        at_work = any(getattr(step, "is_working", False) for step in self._steps.values())
        session = self._session
        busy = self.ripple.is_proving or session.is_working or session.layouts is None
        return drawn and not busy and not at_work and all_are_painted()

    def _type_reading(self) -> None:
        self._session.navigation.go_to(Step.STOCK)
        self.stock.focus_reading()

    def _bring_drawing(self) -> None:
        self._session.navigation.go_to(Step.BUILD)
        self.build.free.choose_drawing()

    def _add_stock(self) -> None:
        self._session.navigation.go_to(Step.STOCK)
        self.stock.add_stock()

    def _strike_reading(self) -> None:
        self._session.navigation.go_to(Step.STOCK)
        self.stock.strike_picked()

    def _add_cutter(self) -> None:
        self._session.navigation.go_to(Step.CUTTER)
        self.cutter.add_cutter()

    def learn(self, kind: TestPieceKind) -> None:
        """Show the test piece of a kind."""
        self._session.navigation.go_to(Step.TEST)
        self.test.show_kind(kind)

    def begin_practice(self, seed: int) -> None:
        """Practise on a copy of the project, once what is unsaved is kept."""
        from anzel.app.practice_loop import practice_copy

        if self.commands.may_leave():
            project = self._session.project
            self.commands.begin(lambda: practice_copy(project, seed))
            self._session.navigation.go_to(Step.PRACTICE)

    def write_test_piece(self) -> None:
        """Write the test piece that the test step shows."""
        self.commands.cutting.write_test_piece(self.test.kind)

    def _switch_full_screen(self) -> None:
        self.setWindowState(self.windowState() ^ Qt.WindowState.WindowFullScreen)

    def write_sheets(self) -> None:
        """Write what the sheets step has chosen."""
        self._session.navigation.go_to(Step.SHEETS)
        self.commands.cutting.write(self.sheets.file)

    def write_assembly(self, what: str) -> None:
        """Write the booklet, the pictures of the steps, or the standing solids."""
        self._session.navigation.go_to(Step.ASSEMBLE)
        self.commands.cutting.write_assembly(what)

    def print_sheets(self, what: str) -> None:
        """Write what is printed: templates, the job sheet or the cut list."""
        self._session.navigation.go_to(Step.SHEETS)
        self.commands.cutting.print(what, self.sheets.file)

    def put_together(self) -> None:
        """Show the job cut by the simulated cutter and assembled, on the practice bench."""
        self._session.navigation.go_to(Step.PRACTICE)
        self.practice.hand_over()

    def remember(self) -> None:
        """Keep where the window is until the next start."""
        remember_window(self, self._session, self._settings, self.build.standing.camera)

    def show_first_start(self) -> None:
        """Show what to do first."""
        from anzel.ui.first_start import FirstStart

        run(FirstStart(self, self._session, self._settings, self.commands, self.use_preferences))

    def take_file(self, file: Path | None) -> None:
        """Show what another start of Anzel handed over: here if nothing was begun here."""
        if file is not None:
            if self._session.is_untouched:
                take_files(self.commands, self._session, [file])
            else:
                open_window(file)
                return
        self.raise_()
        self.activateWindow()

    def release(self) -> None:
        """End all background work; nothing is started after this."""
        self._changes.close()
        self._layouts.close()
        self._files.close()
        self.jobs.close()
        self.proving.close()
        self.squeezing.close()
        self.build.release()
        if Step.ASSEMBLE in self._steps:
            self.assemble.release()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._rail.set_compact(self.width() < _NARROW * text_scale())

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if any(path.suffix.lower() in KNOWN for path in dropped_files(event.mimeData())):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        take_files(self.commands, self._session, dropped_files(event.mimeData()))

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        self.picked.show_menu(event)

    def closeEvent(self, event: QCloseEvent) -> None:
        if self.commands.may_leave():
            self.remember()
            self.release()
            event.accept()
        else:
            event.ignore()


def _menu_text(edit: str | None) -> str:
    """Return an edit's name for a menu, where a single & would mark a key."""
    return (edit or "").replace("&", "&&")
