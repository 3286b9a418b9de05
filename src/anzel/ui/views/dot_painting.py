"""Dots in a crowd: one picture of all, because thousands of calls would hold the window up."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen

from anzel.ui.painting import painting
from anzel.ui.theme import colour

_RADIUS, _SMALL_RADIUS, _RING, _BOX = 3.6, 0.8, 1.4, 10.0
"""Of a dot, of one among very many, of the line round it, and the box that it fits in, pixels."""
_SWARM = 400
"""More dots than this would hide what they are on if they were not small."""
_FORMAT = QImage.Format.Format_ARGB32_Premultiplied


def paint_dots(painter: QPainter, places: NDArray[np.float64]) -> None:
    """Paint a dot at each of (n, 2) pixels; where they overlap they run together."""
    device = painter.device()
    ratio = device.devicePixelRatio()
    width, height = round(device.width() * ratio), round(device.height() * ratio)
    radius = _SMALL_RADIUS if len(places) > _SWARM else _RADIUS
    shifts, tints, side = _dot(colour("accent").rgba(), colour("sheet").rgba(), radius, ratio)
    wide, high = width + 2 * side, height + 2 * side  # room for dots across the edges
    corners = np.floor(places * ratio + side / 2).astype(np.int64)
    is_seen = ((corners >= 0) & (corners <= (width + side, height + side))).all(axis=1)
    starts = corners[is_seen] @ (1, wide)
    pixels = np.zeros(wide * high, dtype=np.uint32)
    for (across, down), tint in zip(shifts, tints, strict=True):
        pixels[starts + across + wide * down] = tint
    picture = QImage(pixels.data, wide, high, 4 * wide, _FORMAT)
    picture.setDevicePixelRatio(ratio)
    painter.drawImage(QPointF(-side / ratio, -side / ratio), picture)


@lru_cache(maxsize=8)
def _dot(
    ring: int, inside: int, radius: float, ratio: float
) -> tuple[list[list[int]], list[int], int]:
    """Return a dot's pixels from the edge to the middle: their shifts, their values, and its size.

    The middle comes last, so that it hides the rings of those beside it.
    """
    side = round(_BOX * ratio)
    made = QImage(side, side, _FORMAT)
    made.setDevicePixelRatio(ratio)
    made.fill(Qt.GlobalColor.transparent)
    with painting(made) as painter:
        painter.setPen(QPen(QColor.fromRgba(ring), _RING))
        painter.setBrush(QColor.fromRgba(inside))
        painter.drawEllipse(QPointF(_BOX / 2, _BOX / 2), radius, radius)
    values = np.frombuffer(made.constBits(), dtype=np.uint32).reshape(side, side)
    down, across = np.nonzero(values)
    inwards = np.argsort(-np.hypot(down - side / 2 + 0.5, across - side / 2 + 0.5), kind="stable")
    shifts = np.column_stack([across, down])[inwards]
    return shifts.tolist(), values[down, across][inwards].tolist(), side
