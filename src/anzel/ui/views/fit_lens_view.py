"""The fit lens: a joint's section, enlarged to scale, and its edge enlarged ten times more.

In the large glass the cut sheet lies level and what goes into it stands in the opening. The small
glass looks at the opening's right edge: where it is drawn (dashed), where it comes out after the
kerf, and how much air (or interference) is left to the inserted sheet.
"""

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from anzel.app.number_display import shown, shown_length
from anzel.app.views.fit_lens import LensRow, spoken, sum_lines
from anzel.core.number_format import format_length
from anzel.ui.accessibility import AccessibleItem
from anzel.ui.painting import painting
from anzel.ui.theme import colour, font, sheet_colour

_HEIGHT = 186
_LARGE, _SMALL = 74.0, 46.0
_SUM_WIDTH = 140
_SHOWN = 0.004
"""A spread of clearances smaller than this, mm, is not worth a line."""


class FitLensView(QWidget):
    """Draws one lens row."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumHeight(_HEIGHT)
        self.setAccessibleName("Fit lens")
        self._row: LensRow | None = None
        self._tints: dict[str, str] = {}
        self._fit = ""

    def show_row(self, row: LensRow | None, tints: dict[str, str], fit: str) -> None:
        """Show a size, or nothing."""
        self._row, self._tints, self._fit = row, tints, fit
        if row is not None:
            self.setAccessibleDescription(shown(spoken(row)))
        self.update()

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the sum, a term each, and what comes out."""
        row = self._row
        if row is None:
            return []
        lines = [
            *sum_lines(row, self._fit), ("drawn", format_length(row.size.drawn)),
            ("comes out", format_length(row.size.produced)),
        ]  # fmt: skip
        left = self.width() - _SUM_WIDTH
        return [
            AccessibleItem(shown(f"{label} {value}"), QRectF(left, 8 + 19 * at, _SUM_WIDTH, 19))
            for at, (label, value) in enumerate(lines)
        ]

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            row = self._row
            if row is None:
                painter.setPen(colour("soft"))
                painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "Pick a joint.")
                return
            centre = QPointF(_LARGE + 2, _LARGE + 4)
            if row.is_height:
                self._glass(painter, centre, _LARGE, lambda: self._height_section(painter, row))
            else:
                scale = 1.15 * _LARGE / (max(row.opening.produced, row.inserted.produced) * 1.05)
                self._glass(painter, centre, _LARGE, lambda: self._section(painter, row, scale))
                small = QPointF(centre.x() + 46, centre.y() + 60)
                self._glass(painter, small, _SMALL, lambda: self._edge(painter, row))
            self._sum(painter, row, self.width() - _SUM_WIDTH)

    def _glass(
        self, painter: QPainter, centre: QPointF, radius: float, inside: Callable[[], None]
    ) -> None:
        """A round glass; `inside` draws with the origin in its middle, y downwards."""
        rim = QPainterPath()
        rim.addEllipse(centre, radius, radius)
        painter.save()
        painter.setClipPath(rim)
        painter.fillPath(rim, colour("paper"))
        painter.translate(centre)
        inside()
        painter.restore()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(colour("sheet"), 5))
        painter.drawEllipse(centre, radius + 1, radius + 1)
        painter.setPen(QPen(colour("ink"), 1.6))
        painter.drawEllipse(centre, radius, radius)

    def _section(self, painter: QPainter, row: LensRow, scale: float) -> None:
        own, mate = self._tint(row.own.stock_id), self._tint(row.mate.stock_id)
        half = row.opening.produced / 2 * scale
        thick = min(row.own.thickness * scale, 1.1 * _LARGE)
        for left in (-_LARGE, half):
            box = QRectF(left, -thick / 2, _LARGE - half, thick)
            painter.fillRect(box, own)
            painter.fillRect(box, _hatch(0.5))
        painter.setPen(QPen(colour("ink"), 1.3))
        for side in (-1, 1):
            painter.drawLine(QPointF(side * half, -thick / 2), QPointF(side * half, thick / 2))
            for edge in (-thick / 2, thick / 2):
                painter.drawLine(QPointF(side * half, edge), QPointF(side * _LARGE, edge))
        inside = row.inserted.produced / 2 * scale
        slab = QRectF(-inside, -_LARGE * 0.62, 2 * inside, _LARGE * 2)
        painter.fillRect(slab, mate)
        painter.drawRect(slab)
        drawn = row.opening.drawn / 2 * scale
        painter.setPen(QPen(colour("accent"), 1.3, Qt.PenStyle.DashLine))
        for side in (-1, 1):
            x = side * drawn
            painter.drawLine(QPointF(x, -thick / 2 - 7), QPointF(x, thick / 2 + 7))
        self._measure(painter, inside, -_LARGE * 0.72, shown_length(row.inserted.produced))

    def _measure(self, painter: QPainter, half: float, y: float, text: str) -> None:
        """A width above the section, with its number."""
        painter.setPen(QPen(colour("soft"), 1))
        painter.drawLine(QPointF(-half, y), QPointF(half, y))
        for side in (-half, half):
            painter.drawLine(QPointF(side, y - 4), QPointF(side, y + 4))
        painter.setFont(font(9, QFont.Weight.DemiBold))
        painter.setPen(colour("ink"))
        painter.drawText(QRectF(-60, y - 20, 120, 16), Qt.AlignmentFlag.AlignCenter, text)

    def _edge(self, painter: QPainter, row: LensRow) -> None:
        """The right edge of the opening, at a scale that makes kerf and clearance visible."""
        produced, drawn = row.opening.produced / 2, row.opening.drawn / 2
        inserted = row.inserted.produced / 2
        reach = max(abs(produced - drawn), abs(produced - inserted), 0.02)
        scale, middle = 0.9 * _SMALL / reach, (max(produced, drawn) + min(inserted, drawn)) / 2

        def x(value: float) -> float:
            return (value - middle) * scale

        tall = 2 * _SMALL
        own = QRectF(x(produced), -_SMALL, 3 * _SMALL, tall)
        painter.fillRect(own, self._tint(row.own.stock_id))
        painter.fillRect(own, _hatch(1.0))
        mate = QRectF(-3 * _SMALL, -_SMALL, 3 * _SMALL + x(inserted), tall)
        painter.fillRect(mate, self._tint(row.mate.stock_id))
        if inserted > produced:
            clash = QRectF(x(produced), -_SMALL, x(inserted) - x(produced), tall)
            painter.fillRect(clash, QBrush(colour("warn"), Qt.BrushStyle.BDiagPattern))
        painter.setPen(QPen(colour("ink"), 1.5))
        for edge in (produced, inserted):
            painter.drawLine(QPointF(x(edge), -_SMALL), QPointF(x(edge), _SMALL))
        painter.setPen(QPen(colour("accent"), 1.5, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(x(drawn), -_SMALL), QPointF(x(drawn), _SMALL))
        self._label(painter, x(drawn), x(produced), -14, "½ kerf")
        name = "½ clearance" if row.clearance >= 0 else "½ bite"
        self._label(painter, x(inserted), x(produced), 22, name)

    def _label(self, painter: QPainter, a: float, b: float, y: float, text: str) -> None:
        """A stretch between two edges, named."""
        if abs(b - a) < 1.5:
            return
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(QPointF(a, y), QPointF(b, y))
        painter.setFont(font(7.5, QFont.Weight.DemiBold))
        middle = min(max((a + b) / 2, -18), 18)
        box = QRectF(middle - 34, y - 16, 68, 14)
        ground = QColor(colour("sheet"))
        ground.setAlpha(215)
        width = painter.fontMetrics().horizontalAdvance(text) + 6
        painter.fillRect(QRectF(middle - width / 2, y - 16, width, 14), ground)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _height_section(self, painter: QPainter, row: LensRow) -> None:
        """A tab through its mate: shoulder below, end flush, proud or recessed."""
        scale = 0.62 * _LARGE / max(row.mate.thickness, row.size.drawn)
        mate, tab = row.mate.thickness * scale, row.size.drawn * scale
        shoulder, width = mate / 2, 0.42 * _LARGE
        for left in (-_LARGE, width):
            box = QRectF(left, -mate / 2, _LARGE - width, mate)
            painter.fillRect(box, self._tint(row.mate.stock_id))
            painter.fillRect(box, _hatch(0.5))
            painter.setPen(QPen(colour("ink"), 1.3))
            painter.drawRect(box)
        path = QPainterPath(QPointF(-_LARGE, _LARGE))
        for x, y in (
            (-_LARGE, shoulder), (-width, shoulder), (-width, shoulder - tab),
            (width, shoulder - tab), (width, shoulder), (_LARGE, shoulder), (_LARGE, _LARGE),
        ):  # fmt: skip
            path.lineTo(x, y)
        painter.fillPath(path, self._tint(row.own.stock_id))
        painter.setPen(QPen(colour("ink"), 1.3))
        painter.drawPath(path)
        painter.setFont(font(9, QFont.Weight.DemiBold))
        painter.drawText(
            QRectF(-40, shoulder - tab / 2 - 8, 80, 16),
            Qt.AlignmentFlag.AlignCenter,
            shown_length(row.size.drawn),
        )

    def _sum(self, painter: QPainter, row: LensRow, left: float) -> None:
        """The sum beside the glass, figures under figures."""
        right, y = self.width() - 4.0, 20.0
        metrics_line = 19.0
        for label, value in sum_lines(row, self._fit):
            painter.setFont(font(9))
            painter.setPen(colour("soft"))
            self._pair(painter, left, right, y, label, shown(value))
            y += metrics_line
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(QPointF(left, y - 11), QPointF(right, y - 11))
        y += 9
        painter.setFont(font(10.5, QFont.Weight.DemiBold))
        painter.setPen(colour("accent"))
        self._pair(painter, left, right, y, "drawn", shown_length(row.size.drawn))
        y += 22
        painter.setFont(font(9.5, QFont.Weight.Medium))
        painter.setPen(colour("ink"))
        self._pair(painter, left, right, y, "comes out", shown_length(row.size.produced))
        if not row.is_height:
            least, greatest = row.clearances
            y += metrics_line
            painter.setPen(colour("soft") if row.clearance >= 0 else colour("warn"))
            painter.setFont(font(9))
            figures = shown_length(abs(row.clearance), 3)
            self._pair(painter, left, right, y, _leaves(row.clearance), figures)
            if greatest - least > _SHOWN:
                text = f"{shown_length(least)} to {shown_length(greatest)}"
                painter.setPen(colour("soft") if least >= 0 else colour("warn"))
                self._pair(painter, left, right, y + 16, "by readings", text)

    def _pair(
        self, painter: QPainter, left: float, right: float, y: float, label: str, value: str
    ) -> None:
        """A name at the left, its figure at the right."""
        metrics = painter.fontMetrics()
        width = metrics.horizontalAdvance(value)
        room = int(right - left - width - 3)
        painter.drawText(
            QPointF(left, y), metrics.elidedText(label, Qt.TextElideMode.ElideRight, room)
        )
        painter.drawText(QPointF(right - width, y), value)

    def _tint(self, stock_id: str) -> QColor:
        return sheet_colour(self._tints.get(stock_id, "#e8d3ad"))


def _leaves(clearance: float) -> str:
    return "leaves" if clearance >= 0 else "bites"


def _hatch(strength: float) -> QBrush:
    """Section hatching over a sheet's tint."""
    ink = QColor(colour("ink"))
    ink.setAlphaF(0.28 * strength)
    return QBrush(ink, Qt.BrushStyle.FDiagPattern)
