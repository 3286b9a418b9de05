"""The pieces on their sheets and scraps, moved by hand or squeezed, and the cut files."""

from PySide6.QtGui import QResizeEvent

from anzel.app import laying
from anzel.app.jobs import Jobs
from anzel.app.session import Changed, Session
from anzel.app.sheet_table import SheetTable, spread_out
from anzel.project.model import Project
from anzel.sheets.layout import Layout
from anzel.sheets.settings import Kept, Turns
from anzel.ui.steps.base import StepPage
from anzel.ui.views.sheets_view import SheetsView
from anzel.ui.widgets.file_settings import FileSettings
from anzel.ui.widgets.lie_settings import LieSettings
from anzel.ui.widgets.parts import Fold, button, heading, quiet, section
from anzel.ui.widgets.picked_copy import PickedCopy
from anzel.ui.widgets.squeeze_bar import SqueezeBar

_USUAL_TURN, _FINE_TURN = 90.0, 15.0


class SheetsStep(StepPage):
    """Shows every sheet in use, to scale."""

    def __init__(self, session: Session, jobs: Jobs) -> None:
        self.view = SheetsView()
        self.squeezing = SqueezeBar(session, jobs)
        self._table = SheetTable((), 1.0, 1.0)
        self._picked: tuple[str, int, str] | None = None
        super().__init__(session, self.view)
        self.view.picked.connect(self._pick)
        self.view.put.connect(self.put)
        self.view.unpin_wanted.connect(self.unpin)
        self.view.leave_out_wanted.connect(self.copy.leave_out)
        self.copy.put.connect(self.put)
        self.copy.unpin_wanted.connect(self.unpin)

    @property
    def is_working(self) -> bool:
        """Whether it is squeezing."""
        return self.squeezing.is_working

    def _fill_panel(self) -> None:
        self._says, self._left_out = quiet(""), quiet("")
        self._left_out.setObjectName("Error")
        self._back = button("Everything back in", "Flat")
        self._back.clicked.connect(
            lambda: self._session.attempt("Everything back in", laying.all_back)
        )
        self._rest = button("Keep what is left as scraps", "Flat")
        self._rest.clicked.connect(self._keep_remains)
        self.copy = PickedCopy(self._session)
        self.lie = LieSettings(self._session)
        self.file = FileSettings(self._session)
        how = Fold("How pieces may lie", is_open=True)
        how.add(self.lie)
        self._panel.add(heading("Sheets to cut"), self._says, self._left_out, self._back)
        self._panel.add(section("Squeeze them closer"), self.squeezing, self.copy, how)
        self._panel.add(self._rest, self.file)
        self._panel.body.addStretch(1)

    def refresh(self) -> None:
        """Show the layout as it is now; what it was before while a new one is worked out."""
        project, layouts = self._session.project, self._session.layouts
        self.lie.refresh()
        if layouts is None:
            self._says.setText("Laying …")
            return
        self._show_table(project, layouts)
        plans = [plan for layout in layouts for plan in layout.plans]
        self._says.setText("\n".join(_words(project, layout) for layout in layouts))
        findings = [str(finding) for layout in layouts for finding in layout.findings]
        self._left_out.setText("\n".join(f"▲ {text}" for text in findings))
        self._left_out.setVisible(bool(findings))
        self._back.setVisible(bool(project.sheets.amounts))
        self._rest.setEnabled(bool(plans))
        self.file.refresh(plans)

    def _show_table(self, project: Project, layouts: tuple[Layout, ...]) -> None:
        aspect = max(self.view.width(), 1) / max(self.view.height(), 1)
        self._table = spread_out(layouts, aspect)
        names = {stock.id: stock.name for stock in project.stocks}
        fine = project.sheets.turns in (Turns.FREE, Turns.EIGHTH)
        self.view.show_table(self._table, project.tints, names, _FINE_TURN if fine else _USUAL_TURN)
        self._show_picked()

    def _show_picked(self) -> None:
        where = self._table.find(*self._picked) if self._picked else None
        self.view.show_picked(where)
        self.copy.show_copy(self._table, where)

    def _pick(self, where: tuple[int, int]) -> None:
        laid, plan = self._table.laid(where), self._table.sheets[where[0]].plan
        self._picked = (laid.piece.name, laid.copy_number, plan.stock_id)
        self._show_picked()

    def put(self, place: Kept) -> None:
        """Pin a copy to a place; what lies there is laid elsewhere, all else stays."""
        layout = self._layout(place.stock_id)
        if layout is not None:
            self._picked = (place.piece, place.copy_number, place.stock_id)
            edit = f"{place.piece} moved"
            self._session.attempt(edit, lambda project: laying.move(project, layout, place))

    def unpin(self) -> None:
        """Let the picked copy go."""
        if self._picked is not None:
            name, number, stock_id = self._picked
            self._session.attempt(
                f"{name} let go", lambda project: laying.unpin(project, stock_id, name, number)
            )

    def _layout(self, stock_id: str) -> Layout | None:
        layouts = self._session.layouts or ()
        return next((layout for layout in layouts if layout.stock_id == stock_id), None)

    def _keep_remains(self) -> None:
        plans = [plan for layout in self._session.layouts or () for plan in layout.plans]
        self._session.attempt(
            "Left over, kept as scraps", lambda project: laying.keep_all_remains(project, plans)
        )

    def _changed(self, changed: Changed) -> None:
        if changed in (Changed.PROJECT, Changed.LAID):
            self.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._session.layouts is not None:
            self._show_table(self._session.project, self._session.layouts)


def _words(project: Project, layout: Layout) -> str:
    """One stock's sheets in a line or two."""
    name = project.stock(layout.stock_id).name
    if not layout.plans:
        return f"{name}: nothing in this job."
    pieces = sum(len(plan.laid) for plan in layout.plans)
    sheets = len(layout.plans)
    area = sum(float(plan.polygon.area) for plan in layout.plans)
    used = sum(laid.piece.region.area for plan in layout.plans for laid in plan.laid) / area
    bound = f"by area alone it takes {layout.bound}"
    return (
        f"{name}: {pieces} piece{'s' * (pieces != 1)} on {sheets} "
        f"sheet{'s' * (sheets != 1)}, {used:.0%} used; {bound}."
    )
