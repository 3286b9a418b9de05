"""The sheets step.

Pieces on sheets and scraps, the cut played back, and the files, in three views of one job.
"""

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QStackedWidget

from anzel.app.background import Background, Newest
from anzel.app.edits import layout_edits
from anzel.app.listeners import Changed
from anzel.app.number_display import shown
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
from anzel.ui.widgets.common_widgets import button, choice_row, heading
from anzel.ui.widgets.file_settings import FileSettings
from anzel.ui.widgets.job_panel import JobPanel
from anzel.ui.widgets.layout_panel import LayoutPanel

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
        self._picked: tuple[str, int, str] | None = None
        self.lay = LayoutPanel(session, squeezing)
        self.cut = JobPanel(session, self.cut_view)
        self.file = FileSettings(session)
        super().__init__(session, self._views)
        self.view.picked.connect(self._pick)
        self.view.put.connect(self.put)
        self.view.unpin_wanted.connect(self.unpin)
        self.view.leave_out_wanted.connect(self.lay.copy.leave_out)
        self.lay.copy.put.connect(self.put)
        self.lay.copy.unpin_wanted.connect(self.unpin)
        self.cut.bench_wanted.connect(self.bench_wanted)
        self.file.chosen.connect(self._draw)

    @property
    def is_working(self) -> bool:
        """Whether it is squeezing, or drawing a file."""
        return self.lay.squeezing.is_working or self._job.is_working

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
        self._panel.add(heading("Sheets to cut"))
        self._panel.body.addLayout(choice_row(*modes))
        self._panel.add(*self._panels)
        self._panel.body.addStretch(1)
        self.show_view(0)

    def show_view(self, number: int) -> None:
        """Show one of the three views with its panel."""
        self._modes.button(number).setChecked(True)
        self._views.setCurrentIndex(number)
        for index, panel in enumerate(self._panels):
            panel.setVisible(index == number)
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
        for view in (self.cut_view, self.file_view):
            view.show_picture(None, shown(f"▲ {error}"))
        self.cut.show_job(None, None)
        self.file.show_holds(None)

    def _show_picked(self) -> None:
        where = self._table.find(*self._picked) if self._picked else None
        self.view.show_picked(where)
        self.lay.copy.show_copy(self._table, where)

    def _pick(self, where: tuple[int, int]) -> None:
        laid, plan = self._table.laid(where), self._table.sheets[where[0]].plan
        self._picked = (laid.piece.name, laid.copy_number, plan.stock_id)
        self._show_picked()

    def put(self, place: KeptPlacement) -> None:
        """Pin a copy to a place; what lies there is laid elsewhere, all else stays."""
        layouts = self._session.layouts or ()
        layout = next((each for each in layouts if each.stock_id == place.stock_id), None)
        if layout is not None:
            self._picked = (place.piece, place.copy_number, place.stock_id)
            edit = f"{place.piece} moved"
            self._session.attempt(edit, lambda project: layout_edits.move(project, layout, place))

    def unpin(self) -> None:
        """Let the picked copy go."""
        if self._picked is not None:
            name, number, stock_id = self._picked
            self._session.attempt(
                f"{name} let go",
                lambda project: layout_edits.unpin(project, stock_id, name, number),
            )

    def _changed(self, changed: Changed) -> None:
        if changed in (Changed.PROJECT, Changed.LAYOUT):
            self.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._session.layouts is not None:
            self._show_table(self._session.project, self._session.layouts)
