"""The pictogram of a fit class: a sheet in a slot, the tighter the closer.

Shape, not colour.
"""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QIcon, QPixmap, QPolygonF

from anzel.materials.fits import FitName
from anzel.ui.painting import painting
from anzel.ui.theme import colour

_GAP = {FitName.PRESS: -1.2, FitName.SNUG: 0.6, FitName.SLIDE: 2.0, FitName.LOOSE: 3.6}


def fit_icon(name: FitName, size: int = 22) -> QIcon:
    """Return the fit's pictogram."""
    picture = QPixmap(QSize(size, size) * 2)
    picture.setDevicePixelRatio(2)
    picture.fill(Qt.GlobalColor.transparent)
    with painting(picture) as painter:
        middle, half, gap = size / 2, 2.6, _GAP[name]
        edge, top, floor = half + gap, size * 0.42, size * 0.78
        slotted = QPolygonF(
            [
                QPointF(x, y)
                for x, y in (
                    (1, top), (middle - edge, top), (middle - edge, floor), (middle + edge, floor),
                    (middle + edge, top), (size - 1, top), (size - 1, size - 1), (1, size - 1),
                )
            ]
        )  # fmt: skip
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour("soft"))
        painter.drawPolygon(slotted)
        painter.setBrush(colour("accent"))
        painter.drawRect(QRectF(middle - half, 1, 2 * half, floor - 2))
        if gap < 0:
            painter.setBrush(colour("warn"))
            for side in (-half, half + gap):
                painter.drawRect(QRectF(middle + side, top, -gap, floor - top - 1))
    return QIcon(picture)
