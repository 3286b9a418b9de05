"""The sheets step.

Pieces on sheets and scraps, the cut played back, and the files, in three views of one job.
"""

from collections.abc import Set
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QStackedWidget, QWidget

from anzel.app.background import Background, Newest
from anzel.app.edits import layout_edits
from anzel.app.listeners import Changed
from anzel.app.number_display import shown
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.app.views.cut_preview import CutFileChoice, CutPreview, preview_of
from anzel.app.views.layout_editor import LayoutEditor, edit_layouts
from anzel.core.findings import MakerError
from anzel.layout.layout import Layout
from anzel.layout.sheet_settings import KeptPlacement, TurnSteps
from anzel.project.estimate import Estimate, estimate_of
from anzel.project.model import Project
from anzel.ui.steps.step_page import StepPage
from anzel.ui.views.cut_view import CutView
from anzel.ui.views.sheets_view import SheetsView
from anzel.ui.widgets.common_widgets import button, choice_row
from anzel.ui.widgets.file_settings import FileSettings
from anzel.ui.widgets.job_panel import JobPanel
from anzel.ui.widgets.layout_panel import LayoutPanel
from anzel.ui.widgets.picked_buttons import PickedButtons
from anzel.ui.widgets.placement_panel import PlacementPanel

_USUAL_TURN, _FINE_TURN = 90.0, 15.0
VIEWS = ("Lay", "Cut", "File")


class SheetsStep(StepPage):
    """Shows every sheet in use, to scale."""

    bench_wanted = Signal()

    def __init__(self, session: Session, jobs: Background, squeezing: Background) -> None:
        self.view, self.cut_view, self.file_view = SheetsView(), CutView(), CutView()
        self._views = QStackedWidget()
        for view in (self.view, self.cut_view, self.file_view):
            self._views.addWidget(view)
        self._job = Newest(jobs)
        self._drawn: tuple[object, ...] = ()
        self._table = LayoutEditor((), 1.0, 1.0)
        self.lay, self.copy = LayoutPanel(session, jobs, squeezing), PlacementPanel(session)
        self._actions = PickedButtons(session)
        self.cut = JobPanel(session, self.cut_view)
        self.file = FileSettings(session)
        super().__init__(session, self._views)
        session.layouting.prepare = self.view.pieces.prepare
        self.view.picked.connect(self._pick)
        self.view.several_picked.connect(self._pick_several)
        self.view.put.connect(self.put)
        self.view.unpin_wanted.connect(self.unpin)
        self.view.left.connect(session.selection.pick_whole)
        self.copy.put.connect(self.put)
        self.cut.bench_wanted.connect(self.bench_wanted)
        self.file.chosen.connect(self._draw)

    @property
    def is_working(self) -> bool:
        """Whether it is squeezing, counting, or drawing a file."""
        return self.lay.is_working or self._job.is_working

    def _fill_panel(self) -> None:
        self._modes = QButtonGroup(self)
        modes = []
        for number, word in enumerate(VIEWS):
            mode = button(word)
            mode.setCheckable(True)
            mode.clicked.connect(lambda _=False, number=number: self.show_view(number))
            self._modes.addButton(mode, number)
            modes.append(mode)
        modes[0].setChecked(True)
        self._panels = (self.lay, self.cut, self.file)
        self._choice = QWidget()
        self._choice.setLayout(choice_row(*modes))
        self._panel.add(self._choice, *self._panels, self.copy, self._actions)
        self.line.stepped.connect(self.view.pick_next)
        self._panel.body.addStretch(1)
        self.show_view(0)

    def show_view(self, number: int) -> None:
        """Show one of the three views with its panel."""
        self._modes.button(number).setChecked(True)
        self._views.setCurrentIndex(number)
        self._show_picked()
        if number != 1:
            self.cut.stop()
        self._draw()

    def refresh(self) -> None:
        """Show the job as it is now; what it was before while layouts are worked out."""
        project, layouts = self._session.project, self._session.layouts
        self.lay.refresh(project, layouts)
        self.cut.refresh()
        if layouts is None:
            return
        self._show_table(project, layouts)
        self.file.refresh([plan for layout in layouts for plan in layout.plans])
        self._draw()

    def _show_table(self, project: Project, layouts: tuple[Layout, ...]) -> None:
        aspect = max(self.view.width(), 1) / max(self.view.height(), 1)
        self._table = edit_layouts(layouts, aspect)
        names = {stock.id: stock.name for stock in project.stocks}
        fine = project.sheets.turns in (TurnSteps.FREE, TurnSteps.EIGHTH)
        turn = _FINE_TURN if fine else _USUAL_TURN
        self.view.show_table(self._table, project.tints, names, turn)
        self._show_picked()

    def _draw(self) -> None:
        """Read back in the background what a file of these choices holds."""
        project, file = self._session.project, self.file
        if self._session.layouts is None or self._views.currentIndex() == 0:
            return
        choice, ending = replace(file.cut_file(Path()), apart=False), file.ending
        if self._views.currentIndex() != 2:
            choice, ending = CutFileChoice(Path()), ".svg"
        wanted = (project, choice, ending, self._views.currentIndex())
        if wanted == self._drawn:
            return
        self._drawn = wanted

        def work(progress: object) -> tuple[CutPreview, Estimate]:
            return preview_of(project, choice, ending), estimate_of(project)

        self._job.start(work, done=self._show_drawn, failed=self._not_drawn)

    def _show_drawn(self, found: tuple[CutPreview, Estimate]) -> None:
        picture, estimate = found
        if self._views.currentIndex() == 1:
            self.cut_view.show_picture(picture)
            self.cut.show_job(picture, estimate)
        else:
            self.file_view.show_picture(picture)
            self.file.show_holds(picture)

    def _not_drawn(self, error: MakerError) -> None:
        self._drawn = ()
        for view in (self.cut_view, self.file_view):
            view.show_picture(None, shown(f"▲ {error}"))
        self.cut.show_job(None, None)
        self.file.show_holds(None)

    @property
    def _picked(self) -> Thing | None:
        """The copy that is picked while the layout is shown."""
        return self._session.selection.one(ThingKind.LAID)

    def _show_picked(self) -> None:
        """Show the picked copy alone, or the job as a whole."""
        things = self._session.selection.things
        places = [
            self._table.find(thing.name, thing.number, thing.of)
            for thing in things if thing.kind is ThingKind.LAID
        ]  # fmt: skip
        found = [where for where in places if where is not None]
        self.view.show_picked(found)
        number = self._views.currentIndex()
        is_one = len(found) == 1 and number == 0
        for index, panel in enumerate(self._panels):
            panel.setVisible(index == number and not is_one)
        self._choice.setVisible(not is_one)
        self.copy.setVisible(is_one)
        self.copy.show_copy(self._table, found[0] if is_one else None)
        self._actions.setVisible(bool(found) and number == 0)
        self._actions.refresh()
        above = "Sheets to cut"
        if is_one:
            self.line.show_picked(self._table.laid(found[0]).piece.name, above, can_step=True)
        elif found and number == 0:
            self.line.show_picked(f"{len(found)} pieces", above)
        else:
            self.line.show_picked(above)

    def _pick(self, where: tuple[int, int], is_added: bool) -> None:
        thing = self._thing_at(where)
        selection = self._session.selection
        selection.toggle(thing) if is_added else selection.pick(thing)

    def _pick_several(self, places: list[tuple[int, int]]) -> None:
        self._session.selection.pick(*map(self._thing_at, places))

    def _thing_at(self, where: tuple[int, int]) -> Thing:
        laid, plan = self._table.laid(where), self._table.sheets[where[0]].plan
        return Thing(ThingKind.LAID, laid.piece.name, plan.stock_id, laid.copy_number)

    def put(self, place: KeptPlacement) -> None:
        """Pin a copy to a place; what lies there is laid elsewhere, all else stays."""
        layouts = self._session.layouts or ()
        layout = next((each for each in layouts if each.stock_id == place.stock_id), None)
        if layout is not None:
            thing = Thing(ThingKind.LAID, place.piece, place.stock_id, place.copy_number)
            self._session.selection.pick(thing)
            edit = f"{place.piece} moved"
            self._session.attempt(edit, lambda project: layout_edits.move(project, layout, place))

    def unpin(self) -> None:
        """Let the picked copy go."""
        if (thing := self._picked) is not None:
            self._session.attempt(
                f"{thing.name} let go",
                lambda project: layout_edits.unpin(project, thing.of, thing.name, thing.number),
            )

    def _show_changes(self, changes: Set[Changed]) -> None:
        if changes & {Changed.PROJECT, Changed.LAYOUT}:
            self.refresh()
        elif Changed.SELECTION in changes:
            self._show_picked()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._session.layouts is not None:
            self._show_table(self._session.project, self._session.layouts)
