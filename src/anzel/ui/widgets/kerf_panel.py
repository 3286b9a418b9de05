"""Learning the kerf: a picture of what to measure where, the measurements, and the result."""

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFont, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from anzel.app.edits import project_edits
from anzel.app.number_display import shown, shown_measure
from anzel.core.findings import MakerError
from anzel.core.number_format import plain_length
from anzel.materials.cutter import KerfSource
from anzel.materials.kerf import Caliper, LearntKerf, kerf_from_disc, kerf_from_strips
from anzel.test_pieces.model import TestPiece, TestPieceKind
from anzel.ui.painting import painting
from anzel.ui.theme import colour, font
from anzel.ui.widgets.common_widgets import button, section
from anzel.ui.widgets.measure_field import MeasureField

_HEIGHT = 132
SOURCES = {TestPieceKind.STRIPS: KerfSource.STRIPS, TestPieceKind.DISC: KerfSource.DISC}


class KerfPicture(QWidget):
    """Jaws on strips pushed together, or on a disc and in its hole."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(_HEIGHT)
        self.setAccessibleName("What to measure where")
        self._kind = TestPieceKind.STRIPS

    def show_kind(self, kind: TestPieceKind) -> None:
        """Another way to learn it."""
        self._kind = kind
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.setPen(QPen(colour("ink"), 1.3))
            if self._kind is TestPieceKind.STRIPS:
                self._strips(painter)
            else:
                self._disc(painter)

    def _strips(self, painter: QPainter) -> None:
        left, top, wide, high, count = 58.0, 26.0, 20.0, 64.0, 10
        painter.setBrush(colour("well"))
        for index in range(count):
            painter.drawRect(QRectF(left + index * wide, top, wide, high))
        self._jaws(painter, left, left + count * wide, top + high + 8, outside=True)
        self._label(painter, left + count * wide / 2, top + high + 34, "all together, once")

    def _disc(self, painter: QPainter) -> None:
        painter.setBrush(colour("well"))
        disc, hole, radius = QPointF(84, 50), QPointF(232, 50), 32.0
        painter.drawEllipse(disc, radius, radius)
        painter.drawRoundedRect(QRectF(hole.x() - 54, 4, 108, 92), 5, 5)
        painter.setBrush(colour("sheet"))
        painter.drawEllipse(hole, radius, radius)
        self._jaws(painter, disc.x() - radius, disc.x() + radius, 50, outside=True)
        self._jaws(painter, hole.x() - radius, hole.x() + radius, 50, outside=False)
        self._label(painter, disc.x(), 122, "disc, outside")
        self._label(painter, hole.x(), 122, "hole, inside")

    def _jaws(
        self, painter: QPainter, left: float, right: float, y: float, *, outside: bool
    ) -> None:
        painter.setPen(QPen(colour("accent"), 2.4))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        for at, side in ((left, -1.0), (right, 1.0)):
            lean = side if outside else -side
            painter.drawLine(QPointF(at, y - 12), QPointF(at, y + 12))
            painter.drawLine(QPointF(at, y - 12), QPointF(at + lean * 7, y - 12))
            painter.drawLine(QPointF(at, y + 12), QPointF(at + lean * 7, y + 12))
        painter.setPen(QPen(colour("ink"), 1.3))

    def _label(self, painter: QPainter, x: float, y: float, text: str) -> None:
        painter.setFont(font(9, QFont.Weight.Medium))
        box = QRectF(x - 100, y - 12, 200, 16)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


class KerfPanel(QWidget):
    """Measurements in, kerf with its uncertainty out, taken over on request."""

    taken = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.picture = KerfPicture()
        self._typed: dict[str, float] = {}
        self._found: LearntKerf | None = None
        self._kind, self._test_piece = TestPieceKind.STRIPS, None
        self.fields = {
            "total": self._field("Together they measure", "total"),
            "measured_outside": self._field("Disc measures", "measured_outside"),
            "measured_inside": self._field("Hole measures", "measured_inside"),
            "resolution": self._field("Calipers show steps of", "resolution"),
            "zero_error": self._field("Their zero is right within ±", "zero_error"),
        }
        self.result = QLabel()
        self.result.setWordWrap(True)
        self.take = button("Take this kerf over", "Primary")
        self.take.clicked.connect(self._take)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(self.picture)
        column.addWidget(section("What the calipers say"))
        for widget in (*self.fields.values(), self.result, self.take):
            column.addWidget(widget)
        self._set("resolution", f"{Caliper().resolution}")
        self._set("zero_error", f"{Caliper().zero_error}")

    _test_piece: TestPiece | None

    def show_test_piece(self, test_piece: TestPiece) -> None:
        """Show the way to measure a test piece; what was measured of another is cleared."""
        if self._test_piece is None or (test_piece.kind, test_piece.steps) != (
            self._test_piece.kind,
            self._test_piece.steps,
        ):
            for field in ("total", "measured_outside", "measured_inside"):
                self._typed.pop(field, None)
                self.fields[field].show_value("")
        for field, value in self._typed.items():  # the maker may want another unit by now
            self.fields[field].show_value(plain_length(value))
        self._kind, self._test_piece = test_piece.kind, test_piece
        self.picture.show_kind(test_piece.kind)
        strips = test_piece.kind is TestPieceKind.STRIPS
        self.fields["total"].setVisible(strips)
        self.fields["measured_outside"].setVisible(not strips)
        self.fields["measured_inside"].setVisible(not strips)
        self._work_out()

    def _field(self, label: str, name: str) -> MeasureField:
        return MeasureField(label, lambda text: self._set(name, text))

    def _set(self, name: str, text: str) -> None:
        if text.strip():
            self._typed[name] = project_edits.typed_length(text, name)
        else:
            self._typed.pop(name, None)
        self.fields[name].show_value(plain_length(self._typed[name]) if name in self._typed else "")
        self._work_out()

    def _work_out(self) -> None:
        self._found = None
        try:
            self._found = self._learnt()
            words = self._ask() if self._found is None else self._words(self._found)
        except MakerError as error:
            words = shown(f"▲ {error}")
        self.result.setText(words)
        self.take.setEnabled(self._found is not None)

    def _ask(self) -> str:
        return "Measure, type, and see the kerf."

    def _words(self, found: LearntKerf) -> str:
        return (
            f"Kerf {shown_measure(found.kerf, 3)}, "
            f"standard uncertainty {shown_measure(found.uncertainty, 4)}."
        )

    def _learnt(self) -> LearntKerf | None:
        """Return the kerf, once everything needed has been typed."""
        typed, test_piece = self._typed, self._test_piece
        if test_piece is None:
            return None
        caliper = Caliper(typed.get("resolution", 0.01), typed.get("zero_error", 0.03))
        if test_piece.kind is TestPieceKind.STRIPS and "total" in typed:
            return kerf_from_strips(
                test_piece.today, len(test_piece.pieces), typed["total"], caliper
            )
        if test_piece.kind is TestPieceKind.DISC and {"measured_outside", "measured_inside"} <= set(
            typed
        ):
            drawn = test_piece.today
            sizes = (typed["measured_outside"], typed["measured_inside"])
            return kerf_from_disc(drawn, drawn, *sizes, caliper)
        return None

    def _take(self) -> None:
        if self._found is not None:
            self.taken.emit((self._found, SOURCES[self._kind]))
