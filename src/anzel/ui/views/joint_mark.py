"""The mark of a joint, the same wherever the joint can be seen and picked."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFont, QPainter, QPen

from anzel.ui.theme import colour, font

REACH = 14.0
"""A click this near a mark, in pixels, picks it."""
MANY = 24
"""With more marks than this in a view only the picked ones carry their number."""
_HALF_WIDTH, _HALF_HEIGHT = 10.0, 8.0
_DOT = 3.6


def paint_mark(
    painter: QPainter, at: QPointF, text: str, *, picked: bool, crowded: bool = False
) -> None:
    """A joint's number in a rounded plate, filled when picked; in a crowd a dot."""
    painter.setFont(font(7.5, QFont.Weight.DemiBold))
    painter.setPen(QPen(colour("accent"), 1.4))
    painter.setBrush(colour("accent") if picked else colour("sheet"))
    if crowded and not picked:
        painter.drawEllipse(at, _DOT, _DOT)
        return
    half = max(_HALF_WIDTH, painter.fontMetrics().horizontalAdvance(text) / 2 + 5)
    box = QRectF(at.x() - half, at.y() - _HALF_HEIGHT, 2 * half, 2 * _HALF_HEIGHT)
    painter.drawRoundedRect(box, _HALF_HEIGHT, _HALF_HEIGHT)
    painter.setPen(colour("on_accent") if picked else colour("accent"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
