"""Neighbours of a plate that is drawn large, ghosted where they meet it."""

from collections.abc import Sequence

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QTransform

from anzel.structure.neighbours import Neighbour
from anzel.ui.theme import colour, font
from anzel.ui.views.screen_paths import contour_path

_FAINT = 46
_LEAST_NAMED = 60.0
"""A section that is shorter than this is not named, pixels."""


def paint_neighbours(
    painter: QPainter, neighbours: Sequence[Neighbour], transform: QTransform
) -> None:  # fmt: skip
    """Paint the sections of neighbours faintly, with their names where there is room."""
    tint = QColor(colour("soft"))
    painter.setFont(font(8))
    named: set[str] = set()
    for neighbour in neighbours:
        path = transform.map(contour_path(neighbour.outline))
        painter.setPen(QPen(tint, 1, Qt.PenStyle.DashLine))
        painter.setBrush(QColor(tint.red(), tint.green(), tint.blue(), _FAINT))
        painter.drawPath(path)
        box = path.boundingRect()
        if max(box.width(), box.height()) > _LEAST_NAMED and neighbour.name not in named:
            named.add(neighbour.name)
            painter.setPen(tint)
            painter.drawText(box.topLeft() + QPointF(4, -3), neighbour.name)
    painter.setBrush(Qt.BrushStyle.NoBrush)
