"""The panel of the layout: what is used, squeezing, orientations, scraps."""

from PySide6.QtWidgets import QVBoxLayout, QWidget

from anzel.app.background import Background, Newest
from anzel.app.edits import layout_edits
from anzel.app.number_display import shown, shown_quantity, shown_share
from anzel.app.session import Session
from anzel.layout.layout import Layout, SheetPlan
from anzel.project.inspection import left_out_of
from anzel.project.model import Project
from anzel.ui.widgets.common_widgets import FoldingSection, button, quiet, section
from anzel.ui.widgets.job_pieces import JobPieces
from anzel.ui.widgets.orientation_settings import OrientationSettings
from anzel.ui.widgets.squeeze_bar import SqueezeBar

_MANY = 400
"""Of so many pieces what is left is worked out only when it is to be kept."""


class LayoutPanel(QWidget):
    """All of it, one below the other."""

    def __init__(self, session: Session, jobs: Background, squeezing: Background) -> None:
        super().__init__()
        self._session = session
        self._counting = Newest(jobs)
        self._plans: list[SheetPlan] = []
        self._shown: tuple[Layout, ...] = ()
        self.says, self._wrong = quiet(""), quiet("")
        self._wrong.setObjectName("Error")
        self._back = button("Everything back in", "Flat")
        self._back.clicked.connect(
            lambda: session.attempt("All back in", layout_edits.reset_copy_counts)
        )
        self._rest = button("Cut done: keep what is left as scraps", "Flat")
        self._rest.clicked.connect(self._keep_remains)
        self.squeezing = SqueezeBar(session, squeezing)
        self.lie = OrientationSettings(session)
        how = FoldingSection("How pieces may lie", is_open=True)
        how.add(self.lie)
        self.pieces = JobPieces(session)
        self._which = FoldingSection("Pieces in this job")
        self._which.add(self.pieces)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        for widget in (self.says, self._wrong, self._back, section("Squeeze them closer"),
                       self.squeezing, how, self._which, self._rest):  # fmt: skip
            column.addWidget(widget)
        column.addStretch(1)

    @property
    def is_working(self) -> bool:
        """Whether it is squeezing, or counting what will be left."""
        return self.squeezing.is_working or self._counting.is_working

    def refresh(self, project: Project, layouts: tuple[Layout, ...] | None) -> None:
        """Show how things lie now; None while that is worked out."""
        self.lie.refresh()
        self.pieces.refresh()
        left = sum(1 for each in project.sheets.copy_counts if not each.count)
        cut = sum(each.count for each in project.sheets.cut)
        more = [f"{cut} cut already"] * (cut > 0) + [f"{left} left out"] * (left > 0)
        self._which.rename(": ".join(["Pieces in this job", *([", ".join(more)] if more else [])]))
        if layouts is None:
            self.says.setText("Laying …")
            return
        self._plans = [plan for layout in layouts for plan in layout.plans]
        self.says.setText("\n".join(_words(project, layout) for layout in layouts))
        laid = (finding for layout in layouts for finding in layout.findings)
        findings = [shown(str(finding)) for finding in (*laid, *left_out_of(project))]
        self._wrong.setText("\n".join(f"▲ {text}" for text in findings))
        self._wrong.setVisible(bool(findings))
        self._back.setVisible(bool(project.sheets.copy_counts or project.sheets.cut))
        if layouts == self._shown:
            return
        self._shown = layouts
        plans = self._plans
        self._counting.start(
            lambda _: _worth_keeping(project, plans),
            done=self._offer_to_keep, failed=self._session.status.warn,
        )  # fmt: skip
        self._rest.setEnabled(any(plan.placed for plan in self._plans))

    def _offer_to_keep(self, keep: str) -> None:
        self._rest.setText(f"Cut done: keep {keep} left as scraps" if keep else "Cut done")

    def _keep_remains(self) -> None:
        plans = self._plans
        self._session.attempt(
            "Cut done: what is left is kept",
            lambda project: layout_edits.cut_done(project, plans),
        )


def _worth_keeping(project: Project, plans: list[SheetPlan]) -> str:
    """Return what will be left of the sheets that is worth keeping, as words."""
    if sum(len(plan.placed) for plan in plans) > _MANY:
        return "what is"
    left = [polygon for plan in plans for polygon in layout_edits.remnants_of(project, plan)]
    area = sum(polygon.area for polygon in left) / 1e6
    parts = "1 part" if len(left) == 1 else f"{len(left)} parts"
    return f"the {parts} ({shown_quantity(area, 'm²', 3)})" if left else ""


def _words(project: Project, layout: Layout) -> str:
    """Return one stock's sheets in a line or two."""
    name = project.stock(layout.stock_id).name
    if not layout.plans:
        return f"{name}: nothing in this job."
    pieces = sum(len(plan.placed) for plan in layout.plans)
    sheets = len(layout.plans)
    area = sum(float(plan.polygon.area) for plan in layout.plans)
    used = sum(laid.piece.region.area for plan in layout.plans for laid in plan.placed) / area
    return (
        f"{name}: {pieces} piece{'s' * (pieces != 1)} on {sheets} sheet{'s' * (sheets != 1)}, "
        f"{shown_share(used)} used; by area alone it takes {layout.bound}."
    )
