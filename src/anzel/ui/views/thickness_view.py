"""The sheet seen edge on: what it is sold as, what the calipers say, drawn to scale.

Above, the measured sheet inside the outline of its nominal thickness. Below, the readings on a
scale so large that hundredths of a millimetre can be told apart.
"""

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from anzel.app.number_display import shown, shown_length, shown_measure, ticks, unit
from anzel.materials.stock import Stock
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.painting import paint_ticks, paint_words, painting
from anzel.ui.theme import colour, font, sheet_colour, text_scale

_SIDE = 64.0

_MOST_TICKS = 14


class ThicknessView(QWidget):
    """Draws one stock."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumSize(220, 160)
        self.setAccessibleName("Thickness to scale")
        self._stock: Stock | None = None

    def show_stock(self, stock: Stock) -> None:
        """Show another stock, or another state of it."""
        self._stock = stock
        self.update()

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the label, the readings, and those struck out."""
        stock = self._stock
        if stock is None:
            return []
        doubtful = {each.index: each.why for each in stock.suspect_readings}
        box = QRectF(0, self.height() * 0.52, self.width(), self.height() * 0.48)
        return [
            AccessibleItem(f"sold as {shown_measure(stock.nominal_thickness)}", box),
            *(
                AccessibleItem(
                    f"reading {shown_measure(reading, 3)}", box, Role.ListItem,
                    description=shown(doubtful.get(at, "")),
                )
                for at, reading in enumerate(stock.readings)
            ),
            *(
                AccessibleItem(
                    f"struck out {shown_measure(struck.value, 3)}", box, Role.ListItem,
                    description=struck.reason,
                )
                for struck in stock.struck
            ),
        ]  # fmt: skip

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), colour("paper"))
            if self._stock is not None:
                split = self.height() * 0.52
                self._edge_on(painter, self._stock, QRectF(0, 0, self.width(), split))
                self._scale(
                    painter, self._stock, QRectF(0, split, self.width(), self.height() - split)
                )

    def _edge_on(self, painter: QPainter, stock: Stock, box: QRectF) -> None:
        _caption(painter, box, "Edge on, to scale: outline as sold, filled as measured")
        measured, nominal = stock.measured_thickness, stock.nominal_thickness
        band = stock.tolerance_band
        scale = (box.height() - 110) / max(measured, nominal, *(band or ()))
        middle = box.center().y() + 12
        beside = self._beside(stock)
        reserve = max(QFontMetricsF(each).horizontalAdvance(text) for each, text in beside) + 20
        left, width = _SIDE, min(box.width() - 1.5 * _SIDE - reserve, 620.0)
        sheet = QRectF(left, middle - measured * scale / 2, width, measured * scale)
        painter.fillRect(sheet, sheet_colour(stock.tint))
        _plies(painter, sheet, sheet_colour(stock.tint))
        painter.setPen(QPen(colour("ink"), 1.4))
        painter.drawRect(sheet)
        label = QRectF(left - 10, middle - nominal * scale / 2, width + 20, nominal * scale)
        painter.setPen(QPen(colour("soft"), 1, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(label)
        self._tolerance(painter, stock, sheet, scale)
        painter.setFont(font(10))
        painter.setPen(colour("soft"))
        painter.drawText(
            QPointF(label.left(), label.top() - 8), f"sold as {shown_measure(nominal)}"
        )
        painter.setPen(colour("ink"))
        y = middle + 2
        for chosen, text in beside:
            painter.setFont(chosen)
            painter.drawText(QPointF(label.right() + 16, y), text)
            painter.setPen(colour("soft"))
            y += 17 * text_scale()

    def _beside(self, stock: Stock) -> list[tuple[QFont, str]]:
        """Return the words beside the sheet, with their fonts."""
        what = f"{unit()} measured" if stock.is_measured else f"{unit()}, not measured"
        large, small = font(20, QFont.Weight.DemiBold), font(9.5)
        return [
            (large, shown_length(stock.measured_thickness)),
            (small, what),
            (small, _off(stock)),
        ]

    def _scale(self, painter: QPainter, stock: Stock, box: QRectF) -> None:
        _caption(painter, box, "The readings, enlarged")
        struck = [each.value for each in stock.struck]
        values = [*stock.readings, *struck, stock.nominal_thickness]
        low, high = min(values), max(values)
        room = max((high - low) * 0.18, 0.02)
        low, high = low - room, high + room
        left, right = _SIDE, box.width() - _SIDE
        y = box.center().y() + 14

        def x(value: float) -> float:
            return left + (value - low) / (high - low) * (right - left)

        self._axis(painter, low, high, x, y)
        said = stock.statistics
        if said is not None:
            spread = said.sample_deviation or 0.0
            ends = (max(x(said.mean - spread), left), min(x(said.mean + spread), right))
            band = QRectF(ends[0], y - 34, ends[1] - ends[0], 34)
            painter.fillRect(band, colour("accent_soft"))
            painter.setPen(QPen(colour("accent"), 2))
            painter.drawLine(QPointF(x(said.mean), y - 44), QPointF(x(said.mean), y))
            _note(painter, x(said.mean), y - 50, f"mean {shown_length(said.mean, 3)}", "accent")
        painter.setPen(QPen(colour("soft"), 1.4, Qt.PenStyle.DashLine))
        nominal = x(stock.nominal_thickness)
        painter.drawLine(QPointF(nominal, y - 44), QPointF(nominal, y))
        painter.setFont(font(9, QFont.Weight.Medium))
        painter.drawText(QPointF(nominal + 6, y - 22 - 12 * text_scale()), "as sold")
        self._readings(painter, stock, x, y)
        if not stock.readings:
            painter.setPen(colour("soft"))
            text = "Nothing measured yet. Type a reading at the right and press Enter."
            painter.drawText(QPointF(left, y + 66), text)

    def _tolerance(self, painter: QPainter, stock: Stock, sheet: QRectF, scale: float) -> None:
        """What the standard lets the label promise: each face may lie in the hatched strip."""
        band = stock.tolerance_band
        if band is None:
            return
        middle, left, wide = sheet.center().y(), sheet.right() - 132, 92.0
        least, greatest = (limit / 2 * scale for limit in band)
        hatch = QColor(colour("soft"))
        hatch.setAlpha(150)
        for sign in (-1, 1):
            strip = QRectF(left, middle + sign * least, wide, sign * (greatest - least))
            painter.fillRect(strip.normalized(), QBrush(hatch, Qt.BrushStyle.FDiagPattern))
        painter.setFont(font(8.5))
        painter.setPen(colour("ink"))
        words = f"EN 315 allows {shown_length(band[0])} to {shown_length(band[1])}"
        room = QRectF(sheet.left() + 6, middle - 20, sheet.width() - 14, 40)
        align = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(room, int(align), words)

    def _readings(
        self, painter: QPainter, stock: Stock, x: Callable[[float], float], y: float
    ) -> None:
        """A dot a reading, stacked where they are alike; doubtful ones flagged, struck crossed."""
        doubtful = {each.index for each in stock.suspect_readings}
        stacked: dict[int, int] = {}
        for index, reading in enumerate(stock.readings):
            column = round(x(reading) / 9)
            stacked[column] = height = stacked.get(column, 0) + 1
            at = QPointF(x(reading), y + 2 - 10 * height)
            painter.setPen(QPen(colour("warn" if index in doubtful else "ink"), 1))
            painter.setBrush(sheet_colour(stock.tint))
            painter.drawEllipse(at, 4.6, 4.6)
            if index in doubtful:
                _note(painter, at.x(), at.y() - 8, "▲ belongs here?", "warn")
        painter.setPen(QPen(colour("soft"), 1.4))
        for struck in stock.struck:
            at = QPointF(x(struck.value), y - 8)
            for dx, dy in ((4, 4), (4, -4)):
                painter.drawLine(at + QPointF(dx, dy), at - QPointF(dx, dy))

    def _axis(
        self, painter: QPainter, low: float, high: float, x: Callable[[float], float], y: float
    ) -> None:
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(QPointF(x(low), y), QPointF(x(high), y))
        painter.setFont(font(8.5))
        found = list(ticks(low, high, _MOST_TICKS))
        for tick, _ in found:
            painter.drawLine(QPointF(x(tick), y), QPointF(x(tick), y + 6))
        places = [(x(tick), figures) for tick, figures in found]
        paint_ticks(painter, places, y + 8, (0.0, self.width()))


def _off(stock: Stock) -> str:
    if not stock.is_measured:
        return "the label is never right"
    off = stock.off_nominal
    side = "under" if off < 0 else "over"
    return f"{shown_length(abs(off))} {side} its label"


def _caption(painter: QPainter, box: QRectF, text: str) -> None:
    painter.setFont(font(9, QFont.Weight.DemiBold))
    painter.setPen(colour("soft"))
    paint_words(painter, box.topLeft() + QPointF(16, 26), text, box.width() - 24)


def _note(painter: QPainter, x: float, y: float, text: str, tint: str) -> None:
    painter.setFont(font(9, QFont.Weight.Medium))
    painter.setPen(colour(tint))
    wide = painter.fontMetrics().horizontalAdvance(text)
    painter.drawText(QPointF(max(x - wide / 2, 4.0), y - 3), text)


def _plies(painter: QPainter, sheet: QRectF, tint: QColor) -> None:
    """Every other layer a little darker: three for thin sheet, more for thick."""
    layers = 3 if sheet.height() < 200 else 5
    for index in range(1, layers, 2):
        band = QRectF(
            sheet.left(),
            sheet.top() + sheet.height() * index / layers,
            sheet.width(),
            sheet.height() / layers,
        )
        painter.fillRect(band, tint.darker(112))
