"""A piece of a found drawing that is too long for the bed, split with what holds its halves."""

from PySide6.QtWidgets import QWidget

from anzel.app.edits import drawing_edits
from anzel.app.edits.drawing_edits import DrawingView
from anzel.app.number_display import shown_length
from anzel.app.session import Session
from anzel.core.number_format import plain_number
from anzel.refit.split import SeamStyle
from anzel.structure.forms.imported_drawing import Seam
from anzel.ui.widgets.common_widgets import FoldingSection, button, choice_row, quiet
from anzel.ui.widgets.measure_field import MeasureField
from anzel.ui.widgets.wheel_safe import Choice

_ABOUT = {
    SeamStyle.STEPPED: "stepped seam", SeamStyle.KEYED: "straight seam with keys",
    SeamStyle.PLAIN: "straight cut, nothing added", SeamStyle.MIRRORED: "one half, cut twice",
}  # fmt: skip


class SplitPanel(FoldingSection):
    """Which piece, how its halves hold, and where; shut while every piece fits the bed."""

    def __init__(self, session: Session) -> None:
        super().__init__("Split a long piece")
        self._session = session
        self._each: DrawingView | None = None
        self.piece, self.hold = Choice(), Choice()
        self.piece.setAccessibleName("Piece to split")
        self.piece.activated.connect(lambda _at: self._show_seam())
        self.hold.setAccessibleName("What holds the halves")
        for style, words in _ABOUT.items():
            self.hold.addItem(words, style)
        self.share = MeasureField("At a share of its length", self._take, step=0.05, unit="")
        self.share.setToolTip(
            "Type 0 for the place where the seam is shortest and clear of openings"
        )
        self.take, self.whole = button("Split it"), button("Whole again", "Flat")
        self.take.clicked.connect(lambda: self._take("0"))
        self.whole.clicked.connect(self._undo)
        row = QWidget()
        row.setLayout(choice_row(self.take, self.whole))
        self.says = quiet("")
        self.add(self.piece, self.hold, self.share, row, self.says)

    def show_drawing(self, each: DrawingView) -> None:
        """Show the pieces of a drawing; the longest is offered."""
        bed = self._session.project.cutter
        sizes = [region.size for region in each.piece_numbers]
        longest = max(range(len(sizes)), key=lambda at: max(sizes[at]), default=0)
        chosen = self.piece.currentIndex() if self._is_same(each) else longest
        self._each = each
        self.piece.clear()
        for number, (width, height) in enumerate(sizes, start=1):
            room = (max(bed.bed_width, bed.bed_height), min(bed.bed_width, bed.bed_height))
            over = max(width, height) > room[0] or min(width, height) > room[1]
            words = f"{number}: {shown_length(width, 1)} × {shown_length(height, 1)}"
            self.piece.addItem(words + (", longer than the bed" if over else ""))
        self.piece.setCurrentIndex(max(chosen, 0))
        self._show_seam()

    def _is_same(self, each: DrawingView) -> bool:
        return self._each is not None and self._each.name == each.name

    def _seam(self) -> Seam | None:
        number = self.piece.currentIndex() + 1
        seams = self._each.drawing.seams if self._each is not None else ()
        return next((seam for seam in seams if seam.piece == number), None)

    def _show_seam(self) -> None:
        seam = self._seam()
        self.whole.setEnabled(seam is not None)
        self.share.show_value(plain_number(seam.share) if seam is not None else "0")
        if seam is not None:
            self.hold.setCurrentIndex(self.hold.findData(seam.style))
        alike = self._each is not None and drawing_edits.halves_alike(
            self._session.project, self._each.name, self.piece.currentIndex()
        )
        self.says.setText("Both parts are one shape: cut it twice." if alike else "")
        self.says.setVisible(alike)

    def _take(self, text: str) -> None:
        if self._each is None:
            return
        share = drawing_edits.typed_share(text)
        name, number = self._each.name, self.piece.currentIndex() + 1
        seam = Seam(piece=number, style=self.hold.currentData(), share=share)
        self._session.attempt(
            f"Piece {number} split", lambda p: drawing_edits.split_piece(p, name, number, seam)
        )

    def _undo(self) -> None:
        if self._each is not None:
            name, number = self._each.name, self.piece.currentIndex() + 1
            self._session.attempt(
                f"Piece {number} whole again",
                lambda p: drawing_edits.split_piece(p, name, number, None),
            )
