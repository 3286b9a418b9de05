"""The rack: every stock standing on edge, as thick as it is, to pick one."""

from functools import partial

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from anzel.app.number_display import shown_length
from anzel.materials.material import Material
from anzel.materials.stock import Stock
from anzel.project.model import Project
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.painting import paint_words, painting
from anzel.ui.theme import colour, font, sheet_colour, text_scale, when_dressed

_HEIGHT, _WORDS, _STANDS, _SLOT = 128, 44, 62.0, 152.0
_PIXELS_PER_MM = 3.4
_THINNEST, _THICKEST = 3.0, 46.0


class RackView(QWidget):
    """Stocks side by side; click or arrow keys pick."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._fit()
        when_dressed(self._fit)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The rack: left and right pick a sheet")
        self.setMouseTracking(True)
        self._stocks: tuple[Stock, ...] = ()
        self._used: frozenset[str] = frozenset()
        self._picked, self._first = "", 0

    def show_rack(self, project: Project, picked: str) -> None:
        """Show the project's stocks, one of them picked."""
        self._stocks, self._picked = project.stocks, picked
        self._used = frozenset(stock.id for stock in project.stocks_in_use)
        self._keep_in_sight()
        self.update()

    @property
    def _high(self) -> int:
        return round(_HEIGHT - _WORDS + _WORDS * text_scale())

    def _fit(self) -> None:
        self.setFixedHeight(self._high)

    def sizeHint(self) -> QSize:
        return QSize(640, self._high)

    def box_of(self, stock_id: str) -> QRectF:
        """Return where a stock stands."""
        index = [stock.id for stock in self._stocks].index(stock_id) - self._first
        slot = _SLOT * text_scale()
        return QRectF(14 + index * slot, 6, slot - 8, self._high - 14)

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the stocks on the rack."""
        return [
            AccessibleItem(
                stock.name, self.box_of(stock.id), Role.Button, stock.id == self._picked,
                self._words(stock), press=partial(self.picked.emit, stock.id),
            )
            for stock in self._stocks
        ]  # fmt: skip

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), colour("paper"))
            shelf = 12 + _STANDS
            for stock in self._stocks[self._first :]:
                self._stock(painter, stock, self.box_of(stock.id), shelf)
            painter.setPen(QPen(colour("ink"), 2))
            painter.drawLine(QPointF(0, shelf + 1), QPointF(self.width(), shelf + 1))
            hidden = self._first + max(len(self._stocks) - self._first - self._room, 0)
            if hidden:
                painter.setFont(font(8.5))
                painter.setPen(colour("soft"))
                box = QRectF(self.width() / 2 - 10, 4, self.width() / 2, 16 * text_scale())
                painter.drawText(box, Qt.AlignmentFlag.AlignRight, f"{hidden} more: ← →")
            if self.hasFocus():
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(colour("accent"))
                painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))

    def _stock(self, painter: QPainter, stock: Stock, box: QRectF, shelf: float) -> None:
        if stock.id == self._picked:
            painter.setPen(QPen(colour("line"), 1))
            painter.setBrush(colour("sheet"))
            painter.drawRoundedRect(box, 6, 6)
        thick = min(max(stock.measured_thickness * _PIXELS_PER_MM, _THINNEST), _THICKEST)
        left = box.left() + 14
        for copy in range(3):
            at = QRectF(left + copy * (thick + 4), shelf - _STANDS + 6 * copy, thick, 0)
            at.setBottom(shelf)
            if at.right() > box.right() - 6:
                break
            paint_edge(painter, stock, at)
        painter.setPen(colour("ink"))
        bold = QFont.Weight.DemiBold if stock.id == self._picked else QFont.Weight.Medium
        painter.setFont(font(9, bold))
        name = painter.fontMetrics().elidedText(
            stock.name, Qt.TextElideMode.ElideRight, int(box.width() - 18)
        )
        painter.drawText(QPointF(box.left() + 12, shelf + 5 + 14 * text_scale()), name)
        painter.setFont(font(8.5))
        painter.setPen(colour("soft" if stock.is_measured else "warn"))
        below = QPointF(box.left() + 12, shelf + 6 + 28 * text_scale())
        paint_words(painter, below, self._words(stock), box.width() - 14)

    def _words(self, stock: Stock) -> str:
        if not stock.is_measured:
            return f"{shown_length(stock.nominal_thickness)}, not measured"
        used = " · in use" if stock.id in self._used else ""
        return f"{shown_length(stock.measured_thickness)}{used}"

    @property
    def _room(self) -> int:
        return max(int((self.width() - 14) // (_SLOT * text_scale())), 1)

    def _keep_in_sight(self) -> None:
        ids = [stock.id for stock in self._stocks]
        at = ids.index(self._picked) if self._picked in ids else 0
        if at < self._first:
            self._first = at
        elif at >= self._first + self._room:
            self._first = at - self._room + 1

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for stock in self._stocks[self._first :]:
            if self.box_of(stock.id).contains(event.position()):
                self.picked.emit(stock.id)
                return

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None or not self._stocks:
            super().keyPressEvent(event)
            return
        ids = [stock.id for stock in self._stocks]
        self.picked.emit(ids[(ids.index(self._picked) + step) % len(ids)])


def paint_edge(painter: QPainter, stock: Stock, at: QRectF) -> None:
    """A sheet seen on its edge, the thickness across: layers, flutes or plain, by material."""
    tint = sheet_colour(stock.tint)
    painter.fillRect(at, tint)
    painter.setPen(QPen(tint.darker(135), 1))
    if stock.material in (Material.PLY, Material.OTHER) and at.width() > 5:
        layers = 3 if at.width() < 16 else 5
        for layer in range(1, layers, 2):
            band = QRectF(at)
            band.setLeft(at.left() + at.width() * layer / layers)
            band.setWidth(at.width() / layers)
            painter.fillRect(band, tint.darker(114))
    elif stock.material is Material.CORRUGATED:
        y, side = at.top(), 0
        while y < at.bottom() - 5:
            ends = (at.left() + 1, at.right() - 1)
            painter.drawLine(QPointF(ends[side], y), QPointF(ends[1 - side], y + 5))
            y, side = y + 5, 1 - side
    painter.setPen(QPen(colour("ink"), 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(at)
