"""What goes into the cut file, in which format, and in which colours."""

from PySide6.QtCore import Signal
from PySide6.QtGui import QColor
from PySide6.QtWidgets import (
    QButtonGroup,
    QColorDialog,
    QComboBox,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from anzel.app import edits
from anzel.app.session import Session
from anzel.project.model import Project
from anzel.sheets.layout import SheetPlan
from anzel.sheets.operations import Operation
from anzel.stock.fits import KerfAt
from anzel.ui.widgets.parts import button, quiet, section

_SHEET_MARK = "#"


class FileSettings(QWidget):
    """Chooses sheets, format and colours; says when the file is wanted."""

    write_wanted = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self._column = column
        column.addWidget(section("What goes into the file"))
        self.which = QComboBox()
        self.which.setAccessibleName("Which sheets")
        column.addWidget(self.which)
        places = self._choices(("on sheets", "side by side"))
        self._loose = places.buttons()[1]
        self._formats = self._choices(("SVG", "DXF", "PDF"))
        column.addWidget(section("Colours that tell your cutter what a line is"))
        self._pens: dict[Operation, QPushButton] = {}
        row = QHBoxLayout()
        for operation in reversed(Operation):
            pen = button(operation.value)
            pen.setAccessibleName(f"Colour of {operation.value}")
            pen.clicked.connect(lambda _=False, operation=operation: self._choose_pen(operation))
            self._pens[operation] = pen
            row.addWidget(pen)
        column.addLayout(row)
        self._kerf = quiet("")
        self.write = button("Write cut file…", "Primary")
        self.write.clicked.connect(self.write_wanted)
        column.addWidget(self._kerf)
        column.addWidget(self.write)

    @property
    def stock_id(self) -> str | None:
        """The stock to write, or None for all."""
        return str(self.which.currentData()).partition(_SHEET_MARK)[0] or None

    @property
    def sheet(self) -> int | None:
        """The number of the one sheet to write, or None for all of them."""
        number = str(self.which.currentData()).partition(_SHEET_MARK)[2]
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
        self._column.addLayout(row)
        return group

    def refresh(self, plans: list[SheetPlan]) -> None:
        """Show what can be written now."""
        project = self._session.project
        self._offer_sheets(project, plans)
        for operation, pen in self._pens.items():
            colour = project.pens.colour(operation)
            pen.setStyleSheet(f"border-bottom: 5px solid {colour};")
            pen.setToolTip(f"{operation.value}: {colour}")
        advice = {
            KerfAt.DRAWING: "The kerf is in the drawing: run the cutter on the line.",
            KerfAt.PATH: "The file's path runs beside the pieces: run the cutter on it.",
            KerfAt.CUTTER: "The kerf is left to the cutter: let it offset its path.",
        }[project.kerf_at]
        self._kerf.setText(f"{advice} The file says so too.")
        self.write.setEnabled(bool(plans))

    def _offer_sheets(self, project: Project, plans: list[SheetPlan]) -> None:
        """All, one stock, or where a stock needs several sheets, one of them."""
        chosen = self.which.currentData()
        self.which.clear()
        self.which.addItem("All sheets in use", "")
        for stock in project.stocks_in_use:
            self.which.addItem(f"Only {stock.name}", stock.id)
            own = [plan.number for plan in plans if plan.stock_id == stock.id]
            for number in own if len(own) > 1 else ():
                words = f"Only {stock.name}, sheet {number}"
                self.which.addItem(words, f"{stock.id}{_SHEET_MARK}{number}")
        self.which.setCurrentIndex(max(self.which.findData(chosen), 0))

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
            lambda project: edits.change_pen(project, operation, colour=colour),
        )
