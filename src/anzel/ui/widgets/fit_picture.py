"""The pictogram of a fit class: a sheet in a slot, the tighter the closer. Shape, not colour."""

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QIcon, QPainter, QPixmap

from anzel.stock.fits import FitName
from anzel.ui.theme import colour

_GAP = {FitName.PRESS: -1.2, FitName.SNUG: 0.6, FitName.SLIDE: 2.0, FitName.LOOSE: 3.6}


def fit_icon(name: FitName, size: int = 22) -> QIcon:
    """The fit's pictogram."""
    picture = QPixmap(QSize(size, size) * 2)
    picture.setDevicePixelRatio(2)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    middle, half, gap = size / 2, 3.0, _GAP[name]
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour("soft"))
    edge = half + gap
    painter.drawRect(QRectF(1, middle - 1, middle - edge - 1, size / 2 - 2))
    painter.drawRect(QRectF(middle + edge, middle - 1, middle - edge - 1, size / 2 - 2))
    painter.setBrush(colour("accent"))
    painter.drawRect(QRectF(middle - half, 2, 2 * half, size - 6))
    if gap < 0:
        painter.setBrush(QColor(colour("warn")))
        for side in (-half, half + gap):
            painter.drawRect(QRectF(middle + side, middle - 1, -gap, size / 2 - 3))
    painter.end()
    return QIcon(picture)
