"""Markers of joints, the same wherever a joint can be seen and picked."""

from collections.abc import Collection, Sequence
from math import hypot

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFont, QPainter, QPen, QPolygonF

from anzel.ui.theme import colour, font
from anzel.ui.views.dot_painting import paint_dots

REACH = 14.0
"""A click this near a mark, in pixels, picks it."""
MANY = 24
"""With more marks than this in a view only the picked ones carry their number."""
_FEW = 6
_HALF_WIDTH, _HALF_HEIGHT = 10.0, 8.0
_OFFER = 8.5
_HEAD = 13.0


def is_crowded(places: NDArray[np.float64]) -> bool:
    """Whether so many marks, (n, 2) pixels, are in a view, or so near, that numbers would hide."""
    if len(places) > MANY:
        return True
    apart = np.abs(places[:, None] - places[None, :])
    is_near = (apart < (1.5 * _HALF_WIDTH, 1.5 * _HALF_HEIGHT)).all(axis=2)
    near = int((is_near.sum(axis=1) > 1).sum())  # each is near itself
    return 2 * near > len(places) > _FEW


def paint_marks(
    painter: QPainter,
    names: Sequence[str],
    places: NDArray[np.float64],
    picked: Collection[str],
) -> None:
    """All marks of a view, at (n, 2) pixels, the picked on top; in a crowd the others are dots."""
    is_picked = np.array([name in picked for name in names], dtype=bool)
    if is_crowded(places):
        paint_dots(painter, places[~is_picked])
        numbered = np.flatnonzero(is_picked)
    else:
        numbered = np.argsort(is_picked, kind="stable")
    for at in numbered.tolist():
        paint_mark(painter, QPointF(*places[at]), names[at], picked=bool(is_picked[at]))


def paint_mark(painter: QPainter, at: QPointF, text: str, *, picked: bool) -> None:
    """A joint's number in a rounded plate, filled when picked."""
    painter.setFont(font(7.5, QFont.Weight.DemiBold))
    painter.setPen(QPen(colour("accent"), 1.4))
    painter.setBrush(colour("accent") if picked else colour("sheet"))
    half = max(_HALF_WIDTH, painter.fontMetrics().horizontalAdvance(text) / 2 + 5)
    box = QRectF(at.x() - half, at.y() - _HALF_HEIGHT, 2 * half, 2 * _HALF_HEIGHT)
    painter.drawRoundedRect(box, _HALF_HEIGHT, _HALF_HEIGHT)
    painter.setPen(colour("on_accent") if picked else colour("accent"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def paint_offer(painter: QPainter, at: QPointF) -> None:
    """A joint that could be made: a dashed ring with a cross to add it."""
    painter.setBrush(colour("sheet"))
    painter.setPen(QPen(colour("accent"), 1.3, Qt.PenStyle.DashLine))
    painter.drawEllipse(at, _OFFER, _OFFER)
    painter.setPen(QPen(colour("accent"), 1.8))
    painter.drawLine(at - QPointF(4, 0), at + QPointF(4, 0))
    painter.drawLine(at - QPointF(0, 4), at + QPointF(0, 4))


def paint_arrow(painter: QPainter, start: QPointF, end: QPointF) -> None:
    """A way in: a broad arrow with a light edge, so that it stands out on anything."""
    way = end - start
    length = hypot(way.x(), way.y())
    if length < 2 * _HEAD:
        return
    along = way / length
    side = QPointF(-along.y(), along.x())
    tail, tip = start + along * 0.15 * length, end - along * 0.12 * length
    neck = tip - along * _HEAD
    head = QPolygonF([tip, neck + side * _HEAD * 0.6, neck - side * _HEAD * 0.6])
    for tint, wider in (("sheet", 4.0), ("warn", 0.0)):
        pen = QPen(colour(tint), 3.2 + wider, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap)
        painter.setPen(pen)
        painter.drawLine(tail, neck)
        painter.setPen(QPen(colour(tint), 1.0 + wider))
        painter.setBrush(colour(tint))
        painter.drawPolygon(head)


def paint_pin(painter: QPainter, at: QPointF) -> None:
    """The mark of what stays where it was put: a pin seen from the side, its point at `at`."""
    painter.setPen(QPen(colour("ink"), 1))
    painter.drawLine(at, at - QPointF(0, 7))
    painter.setPen(QPen(colour("sheet"), 1.0))
    painter.setBrush(colour("accent"))
    painter.drawEllipse(at - QPointF(0, 10), 4.2, 4.2)
