"""A cutter seen from above, with its sheets on the bed, and the gap it leaves in each of them.

Below the bed every stock has its cut, enlarged to one scale: two edges, the kerf between them, and
whiskers for how well it is known.
"""

from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFont, QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from anzel.app.number_display import (
    shown_length,
    shown_measure,
    shown_plain_length,
    shown_plain_measure,
    shown_plain_quantity,
)
from anzel.materials.cutter import Cutter, Kerf, KerfSource
from anzel.materials.stock import Stock
from anzel.project.model import Project
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.painting import paint_words, painting
from anzel.ui.theme import colour, font, sheet_colour, text_scale

_EDGE, _PITCH = 28.0, 214.0
_GAP_ROOM = 66.0
"""Pixels for the widest kerf with its whiskers."""


class CutterView(QWidget):
    """Draws the cutter in use; a click on a cut picks its stock."""

    stock_picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumSize(220, 160)
        self.setAccessibleName("The cutter, and its kerf in each sheet")
        self._project: Project | None = None
        self._picked = ""

    def show_cutter(self, project: Project, picked: str) -> None:
        """Show the project's cutter, one stock picked."""
        self._project, self._picked = project, picked
        kerfs = (f"{s.name} {shown_length(project.kerf_in(s.id).kerf, 3)}" for s in project.stocks)
        self.setAccessibleDescription("; ".join(kerfs))
        self.update()

    def box_of(self, index: int) -> QRectF:
        """Return where the cut of the n-th stock is drawn."""
        pitch, high = _PITCH * text_scale(), 80 + 70 * text_scale()
        per_row = max(int((self.width() - _EDGE) // pitch), 1)
        row, column = divmod(index, per_row)
        top = self.height() * 0.58 + 22 + 12 * text_scale() + row * high
        return QRectF(_EDGE + column * pitch, top, pitch - 16, high - 8)

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the stocks with the kerf in each."""
        project = self._project
        if project is None:
            return []
        return [
            AccessibleItem(
                f"{stock.name}, kerf {shown_measure(project.kerf_in(stock.id).kerf, 3)}",
                self.box_of(at), Role.Button, stock.id == self._picked,
                project.kerf_in(stock.id).learnt.value,
                press=partial(self.stock_picked.emit, stock.id),
            )
            for at, stock in enumerate(project.stocks)
        ]  # fmt: skip

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), colour("paper"))
            if self._project is not None:
                cutter = self._project.cutter
                room = QRectF(_EDGE, 40, self.width() - 2 * _EDGE, self.height() * 0.58 - 70)
                self._caption(painter, 24, "The bed to scale, with the sheets in use on it")
                self._bed(painter, cutter, self._project.stocks_in_use, room)
                text = "The kerf in each sheet, enlarged: gap as known, whiskers two standard"
                self._caption(painter, self.height() * 0.58 + 16, f"{text} uncertainties")
                for index, stock in enumerate(self._project.stocks):
                    self._cut(painter, stock, self._project.kerf_in(stock.id), self.box_of(index))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for index, stock in enumerate(self._project.stocks if self._project else ()):
            if self.box_of(index).contains(event.position()):
                self.stock_picked.emit(stock.id)

    def _caption(self, painter: QPainter, y: float, text: str) -> None:
        painter.setFont(font(9, QFont.Weight.DemiBold))
        painter.setPen(colour("soft"))
        paint_words(painter, QPointF(16, y), text, self.width() - 24)

    def _bed(
        self, painter: QPainter, cutter: Cutter, stocks: tuple[Stock, ...], room: QRectF
    ) -> None:
        sizes = [(stock, size) for stock in stocks for size in stock.sheets[:1]]
        widest = max([cutter.bed_width, *(size.width for _, size in sizes)])
        tallest = max([cutter.bed_height, *(size.height for _, size in sizes)])
        reserve = max(QFontMetricsF(each).horizontalAdvance(text) for each, text in _about(cutter))
        scale = min((room.width() - reserve - 12) / widest, (room.height() - 6) / tallest)
        scale = max(scale, 40 / widest)
        bed = QRectF(room.left(), room.top(), cutter.bed_width * scale, cutter.bed_height * scale)
        painter.fillRect(bed, colour("well"))
        painter.setPen(QPen(colour("line"), 1))
        for line in range(1, int(cutter.bed_width // 50) + 1):
            x = bed.left() + line * 50 * scale
            painter.drawLine(QPointF(x, bed.top()), QPointF(x, bed.bottom()))
        painter.setPen(QPen(colour("ink"), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(bed)
        for number, (stock, size) in enumerate(sizes):
            box = QRectF(0, 0, size.width * scale, size.height * scale)
            box.moveBottomLeft(bed.bottomLeft())
            tint = sheet_colour(stock.tint)
            tint.setAlpha(150)
            painter.fillRect(box, tint)
            painter.setPen(QPen(colour("ink"), 1, Qt.PenStyle.DashLine))
            painter.drawRect(box)
            painter.setFont(font(8.5))
            name = QRectF(box).adjusted(6, 4 + 14 * number * text_scale(), -6, -4)
            painter.drawText(name, Qt.AlignmentFlag.AlignRight, stock.name)
        x = max(bed.right(), room.left() + max((s.width for _, s in sizes), default=0) * scale)
        at = QPointF(x + 18, room.top() + 4 + 12 * text_scale())
        painter.setPen(colour("ink"))
        for chosen, text in _about(cutter):
            painter.setFont(chosen)
            painter.drawText(at, text)
            painter.setPen(colour("soft"))
            at += QPointF(0, 19 * text_scale())

    def _cut(self, painter: QPainter, stock: Stock, kerf: Kerf, box: QRectF) -> None:
        if stock.id == self._picked:
            painter.setPen(QPen(colour("line"), 1))
            painter.setBrush(colour("sheet"))
            painter.drawRoundedRect(box, 6, 6)
        scale = _GAP_ROOM / 0.34
        middle, y, high = box.left() + 92, box.top() + 38, 34.0
        half = min(kerf.kerf / 2 * scale, _GAP_ROOM)
        for left, right in ((middle - 80, middle - half), (middle + half, middle + 80)):
            side = QRectF(left, y - high / 2, right - left, high)
            painter.setBrush(sheet_colour(stock.tint))
            painter.setPen(QPen(colour("ink"), 1))
            painter.drawRect(side)
        reach = 2 * kerf.uncertainty * scale / 2
        painter.setPen(QPen(colour("accent"), 1.6))
        for sign in (-1, 1):
            at = middle + sign * half
            painter.drawLine(QPointF(at - reach, y), QPointF(at + reach, y))
            for end in (-reach, reach):
                painter.drawLine(QPointF(at + end, y - 5), QPointF(at + end, y + 5))
        known, scale_of_text = kerf.learnt is not KerfSource.ASSUMED, text_scale()
        left, room = box.left() + 12, box.width() - 16
        painter.setPen(colour("ink"))
        painter.setFont(font(9, QFont.Weight.DemiBold))
        paint_words(painter, QPointF(left, box.top() + 62 + 14 * scale_of_text), stock.name, room)
        painter.setFont(font(12.5, QFont.Weight.DemiBold))
        figures = f"{shown_length(kerf.kerf, 3)} ± {shown_length(kerf.uncertainty, 3)}"
        paint_words(painter, QPointF(left, box.top() + 62 + 36 * scale_of_text), figures, room)
        painter.setFont(font(8.5))
        painter.setPen(colour("soft" if known else "warn"))
        words = f"{kerf.learnt.value}{', ' + kerf.date if kerf.date else ''}"
        words = words if known else "▲ assumed, not learnt"
        paint_words(painter, QPointF(left, box.top() + 62 + 54 * scale_of_text), words, room)


def _about(cutter: Cutter) -> list[tuple[QFont, str]]:
    """Return what is told of a cutter, line by line, with fonts."""
    small = font(9.5)
    bed = f"{shown_plain_length(cutter.bed_width)} × {shown_plain_measure(cutter.bed_height)}"
    return [
        (font(13, QFont.Weight.DemiBold), cutter.name),
        (small, bed),
        (small, "offsets its path" if cutter.offsets_path else "runs on the line"),
        (small, f"cuts {shown_plain_quantity(cutter.cut_speed, 'mm/s')}"),
        (small, f"scores {shown_plain_quantity(cutter.score_speed, 'mm/s')}"),
        (small, f"engraves {shown_plain_quantity(cutter.engrave_speed, 'mm/s')}"),
    ]
