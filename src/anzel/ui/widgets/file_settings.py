"""What goes into the cut file, in which format, with which pens; and what is printed beside it."""

from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QButtonGroup, QCheckBox, QVBoxLayout, QWidget

from anzel.app.edits import project_edits
from anzel.app.listeners import Changed
from anzel.app.number_display import shown, shown_quantity
from anzel.app.session import Session
from anzel.app.views.cut_preview import CutFileChoice, CutPreview
from anzel.cutjob.operations import DxfRelease
from anzel.layout.layout import SheetPlan
from anzel.materials.fits import KerfAt
from anzel.project.inspection import left_out_of
from anzel.project.model import Project
from anzel.ui.widgets.common_widgets import button, choice_row, quiet, section
from anzel.ui.widgets.line_styles import LineStyleRows
from anzel.ui.widgets.wheel_safe import Choice

_SHEET_MARK = "#"
_ADVICE = {
    KerfAt.DRAWING: "The kerf is in the drawing: run the cutter on the line.",
    KerfAt.PATH: "The file's path runs half a kerf beside the pieces: run the cutter on it.",
    KerfAt.CUTTER: "The kerf is left to the cutter: let it offset its path.",
}

_RELEASES = {
    "DXF": DxfRelease.R2010, "DXF in arcs": DxfRelease.ARCS, "DXF R12": DxfRelease.R12,
}  # fmt: skip


class FileSettings(QWidget):
    """Chooses sheets, format and pens; says when a file is wanted."""

    write_wanted = Signal()
    print_wanted = Signal(str)
    chosen = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(5)
        self.which = Choice()
        self.which.setAccessibleName("Which sheets")
        self.which.activated.connect(self.chosen)
        self._add(section("What goes into the file"), self.which)
        self._places = self._choices(("on sheets", "side by side", "each by itself"))
        self._places.buttonClicked.connect(self.chosen)
        self._formats = self._choices(("SVG", *_RELEASES, "PDF"))
        self._formats.buttonClicked.connect(self._take_release)
        self._holds = quiet("")
        self.pens = LineStyleRows(session)
        self._kerf = quiet("")
        self._left_out = quiet("")
        self.follow = QCheckBox("Write it again at every save")
        self.write = button("Write cut file…", "Primary")
        self.write.clicked.connect(self.write_wanted)
        self._add(
            self._holds,
            self._left_out,
            section("How your cutter tells lines apart"),
            self.pens,
            self._kerf,
        )
        self._add(self.write, self.follow, section("On paper"))
        prints = {"paper": "Templates…", "sheet": "Job sheet…", "list": "Cut list…"}
        row = []
        for name, words in prints.items():
            printed = button(words)
            printed.clicked.connect(lambda _=False, name=name: self.print_wanted.emit(name))
            row.append(printed)
        self._column.addLayout(choice_row(*row))
        session.subscribe(self._changed)

    def _changed(self, changed: Changed) -> None:
        """Another project does not write over this one's file."""
        if changed is Changed.OPENED:
            self.follow.setChecked(False)

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
        """Whether pieces are written side by side, or each by itself, instead of on sheets."""
        return not self._places.buttons()[0].isChecked()

    @property
    def apart(self) -> bool:
        """Whether each piece gets a file of its own."""
        return self._places.buttons()[2].isChecked()

    def cut_file(self, path: Path) -> CutFileChoice:
        """Return what is chosen now, to be written there."""
        return CutFileChoice(path, self.stock_id, self.sheet, self.loose, self.apart)

    @property
    def ending(self) -> str:
        """The chosen format's file ending."""
        chosen = next(b for b in self._formats.buttons() if b.isChecked())
        return f".{chosen.text().split()[0].lower()}"

    def _add(self, *widgets: QWidget) -> None:
        for widget in widgets:
            self._column.addWidget(widget)

    def _choices(self, words: tuple[str, ...]) -> QButtonGroup:
        group = QButtonGroup(self)
        made = []
        for word in words:
            choice = button(word)
            choice.setCheckable(True)
            group.addButton(choice)
            made.append(choice)
        group.buttons()[0].setChecked(True)
        self._column.addLayout(choice_row(*made))
        return group

    def refresh(self, plans: list[SheetPlan]) -> None:
        """Show what can be written now."""
        project = self._session.project
        self._offer_sheets(project, plans)
        self.pens.refresh()
        left_out = shown("\n".join(f"▲ {each}" for each in left_out_of(project)))
        self._left_out.setText(left_out)
        self._left_out.setVisible(bool(left_out))
        self._kerf.setText(f"{_ADVICE[project.kerf_at]} The file says so too.")
        self.write.setEnabled(bool(plans))

    def show_holds(self, picture: CutPreview | None) -> None:
        """Say what the file will hold, counted in the file itself."""
        lines = [
            f"{tally.operation.value}: {tally.lines} line{'s' * (tally.lines != 1)}, "
            f"{shown_quantity(tally.length / 1000, 'm', 2)}"
            for tally in (picture.totals if picture else ())
        ]
        self._holds.setText("\n".join(lines))

    def _take_release(self) -> None:
        """The release of DXF is kept with the pens."""
        text = next(b for b in self._formats.buttons() if b.isChecked()).text()
        if text.startswith("DXF"):
            release = _RELEASES[text]
            self._session.attempt(text, lambda project: project_edits.use_release(project, release))
        self.chosen.emit()

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
