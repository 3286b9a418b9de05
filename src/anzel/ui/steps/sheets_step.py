"""Step 4: the pieces on their sheets, and the cut files."""

from dataclasses import replace

from PySide6.QtCore import Signal
from PySide6.QtGui import QColor
from PySide6.QtWidgets import (
    QButtonGroup,
    QColorDialog,
    QComboBox,
    QHBoxLayout,
    QPushButton,
)

from anzel.app import edits
from anzel.app.session import Session
from anzel.geometry.motion import Motion
from anzel.project.derive import layout_of
from anzel.project.model import Project
from anzel.sheets.layout import Laid, SheetPlan
from anzel.sheets.operations import Operation
from anzel.stock.fits import KERF_WORDS, KerfAt
from anzel.ui.steps.base import StepPage
from anzel.ui.views.plan_view import PlanContent, PlanView
from anzel.ui.widgets.fields import BoundField, plain
from anzel.ui.widgets.parts import button, heading, quiet, section

_GAP = 24.0
_SHEET_MARK = "#"


class SheetsStep(StepPage):
    """Shows every sheet in use, to scale, and writes cut files."""

    write_wanted = Signal()

    def __init__(self, session: Session) -> None:
        self.view = PlanView("Sheets")
        super().__init__(session, self.view)

    @property
    def stock_id(self) -> str | None:
        """The stock to write, or None for all."""
        return str(self._which.currentData()).partition(_SHEET_MARK)[0] or None

    @property
    def sheet(self) -> int | None:
        """The number of the one sheet to write, or None for all of them."""
        number = str(self._which.currentData()).partition(_SHEET_MARK)[2]
        return int(number) if number and not self.loose else None

    @property
    def loose(self) -> bool:
        """Whether pieces are written side by side instead of on sheets."""
        return self._loose.isChecked()

    @property
    def ending(self) -> str:
        """The chosen format's file ending."""
        chosen = next(b for b in self._formats.buttons() if b.isChecked())
        return f".{chosen.text().lower()}"

    def _fill_panel(self) -> None:
        self._says = quiet("")
        self._left_out = quiet("")
        self._left_out.setObjectName("Error")
        self._panel.add(heading("Sheets to cut"), self._says, self._left_out)
        self.fields = {
            "spacing": self._field("Between pieces", "spacing"),
            "margin": self._field("From the sheet's edge", "margin"),
        }
        self._panel.add(section("Distances"), *self.fields.values())
        self._panel.add(section("What goes into the file"))
        self._which = QComboBox()
        self._which.setAccessibleName("Which sheets")
        self._panel.add(self._which)
        places = self._choices(("on sheets", "side by side"))
        self._loose = places.buttons()[1]
        self._formats = self._choices(("SVG", "DXF", "PDF"))
        self._panel.add(section("Colours that tell your cutter what a line is"))
        self._pens: dict[Operation, QPushButton] = {}
        row = QHBoxLayout()
        for operation in reversed(Operation):
            pen = button(operation.value)
            pen.setAccessibleName(f"Colour of {operation.value}")
            pen.clicked.connect(lambda _=False, operation=operation: self._choose_pen(operation))
            self._pens[operation] = pen
            row.addWidget(pen)
        self._panel.body.addLayout(row)
        self._kerf = quiet("")
        self._panel.body.addStretch(1)
        self._write = button("Write cut file…", "Primary")
        self._write.clicked.connect(self.write_wanted)
        self._panel.add(self._kerf, self._write)

    def _choices(self, words: tuple[str, ...]) -> QButtonGroup:
        group = QButtonGroup(self)
        row = QHBoxLayout()
        row.setSpacing(3)
        for word in words:
            choice = button(word)
            choice.setCheckable(True)
            group.addButton(choice)
            row.addWidget(choice)
        group.buttons()[0].setChecked(True)
        self._panel.body.addLayout(row)
        return group

    def _field(self, label: str, field: str) -> BoundField:
        def put(project: Project, text: str) -> Project:
            return edits.change_sheets(project, **{field: edits.typed_length(text, field)})

        return BoundField(
            self._session, label, lambda project: plain(getattr(project.sheets, field)), put
        )

    def refresh(self) -> None:
        """Show the layout as it is now."""
        project = self._session.project
        used = project.stocks_in_use
        layouts = [layout_of(project, stock.id) for stock in used]
        plans = [plan for layout in layouts for plan in layout.plans]
        self.view.show_content(_content(project, plans))
        left_out = [str(finding) for layout in layouts for finding in layout.findings]
        lines = [_plan_words(project, plan) for plan in plans]
        self._says.setText("\n".join(lines))
        self._left_out.setText("\n".join(f"▲ {text}" for text in left_out))
        self._left_out.setVisible(bool(left_out))
        self._offer_sheets(project, plans)
        for operation, pen in self._pens.items():
            colour = project.pens.colour(operation)
            pen.setStyleSheet(f"border-bottom: 5px solid {colour};")
            pen.setToolTip(f"{operation.value}: {colour}")
        advice = {
            KerfAt.DRAWING: "The kerf is in the drawing: run the cutter on the line.",
            KerfAt.CUTTER: "The kerf is left to the cutter: let it offset its path.",
        }[project.kerf_at]
        self._kerf.setText(f"{advice} The file says so too.")
        self._write.setEnabled(bool(plans))
        for field in self.fields.values():
            field.refresh()

    def _offer_sheets(self, project: Project, plans: list[SheetPlan]) -> None:
        """All, one stock, or where a stock needs several sheets, one of them."""
        chosen = self._which.currentData()
        self._which.clear()
        self._which.addItem("All sheets in use", "")
        for stock in project.stocks_in_use:
            self._which.addItem(f"Only {stock.name}", stock.id)
            own = [plan.number for plan in plans if plan.stock_id == stock.id]
            for number in own if len(own) > 1 else ():
                self._which.addItem(
                    f"Only {stock.name}, sheet {number}", f"{stock.id}{_SHEET_MARK}{number}"
                )
        self._which.setCurrentIndex(max(self._which.findData(chosen), 0))

    def _choose_pen(self, operation: Operation) -> None:
        project = self._session.project
        start = QColor(project.pens.colour(operation))
        picked = QColorDialog.getColor(start, self, f"Colour of {operation.value}")
        if picked.isValid():
            self.set_pen(operation, picked.name())

    def set_pen(self, operation: Operation, colour: str) -> None:
        """Give an operation a colour, or say why not."""
        self._session.attempt(
            f"Colour of {operation.value}",
            lambda project: edits.change_pens(project, **{operation.value: colour}),
        )


def _plan_words(project: Project, plan: SheetPlan) -> str:
    stock = project.stock(plan.stock_id)
    pieces = "1 piece" if len(plan.laid) == 1 else f"{len(plan.laid)} pieces"
    return f"{stock.name}, sheet {plan.number}: {pieces}, {plan.utilisation:.0%} used"


def _content(project: Project, plans: list[SheetPlan]) -> PlanContent:
    """All sheets in one row."""
    laid: list[Laid] = []
    sheets = []
    x, tallest = 0.0, 1.0
    for plan in plans:
        stock = project.stock(plan.stock_id)
        title = f"{stock.name} · sheet {plan.number} · {plan.width:g} × {plan.height:g}"
        sheets.append((x, 0.0, plan.width, plan.height, title))
        for each in plan.laid:
            m: Motion = each.motion
            laid.append(replace(each, motion=m.shifted(x, 0)))
        x += plan.width + _GAP
        tallest = max(tallest, plan.height)
    row = SheetPlan("", 1, max(x - _GAP, 1.0), tallest, tuple(laid))
    caption = f"Kerf {KERF_WORDS[project.kerf_at]}"
    return PlanContent(row, project.tints, tuple(sheets), show_marks=False, caption=caption)
