"""Dimension lines with a chip that shows the size and can be clicked."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from math import atan2, degrees, hypot

from PySide6.QtCore import QPointF, QRectF, QSize, QSizeF, Qt
from PySide6.QtGui import QFont, QFontMetricsF, QPainter, QPen, QPixmap, QTransform

from anzel.app.number_display import shown_length, shown_plain_number
from anzel.shape.sketch import HeldSize, SizeKind
from anzel.structure.dimension import Dimension
from anzel.ui.theme import colour, font, is_dark, text_scale

_TICK = 4.0
_SPREAD = 1.15
"""Pixels beside its piece for each unit of a dimension's offset."""


_SIGNS = {SizeKind.RADIUS: "R ", SizeKind.DIAMETER: "Ø "}


def size_words(size: HeldSize) -> str:
    """Return a size with the signs of ISO 129-1, from memory."""
    if size.kind is SizeKind.ANGLE:
        return f"{shown_plain_number(size.value)}°"
    return f"{_SIGNS.get(size.kind, '')}{shown_length(size.value)}"


@dataclass(frozen=True)
class Chip:
    """Where the size of a field stands, in pixels."""

    box: QRectF
    field: str


def paint_dimension(
    painter: QPainter,
    dimension: Dimension,
    transform: QTransform,
    words: Callable[[Dimension], str],
) -> Chip | None:
    """Paint a dimension line beside its piece, and return its chip; None for one too short."""
    start, end = transform.map(QPointF(*dimension.start)), transform.map(QPointF(*dimension.end))
    run = end - start
    size = hypot(run.x(), run.y())
    if size < 1:
        return None
    beside = QPointF(run.y(), -run.x()) / size * dimension.offset * _SPREAD
    a, b = start + beside, end + beside
    painter.setPen(QPen(colour("soft"), 1))
    painter.drawLine(a, b)
    tick = QPointF(run.y(), -run.x()) / size * _TICK
    for stop in (a, b):
        painter.drawLine(stop - tick, stop + tick)
    return Chip(_paint_chip(painter, (a + b) / 2, words(dimension), run), dimension.field)


def paint_frame(
    painter: QPainter, frame: tuple[float, float, float, float], transform: QTransform
) -> None:  # fmt: skip
    """Paint the largest size of a piece as a dashed frame."""
    x0, y0, x1, y1 = frame
    painter.save()
    painter.setPen(QPen(colour("soft"), 1, Qt.PenStyle.DashLine))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(transform.mapRect(QRectF(x0, y0, x1 - x0, y1 - y0)))
    painter.restore()


def _paint_chip(painter: QPainter, middle: QPointF, text: str, run: QPointF) -> QRectF:
    is_turned = abs(degrees(atan2(run.y(), run.x())) % 180 - 90) < 45
    ratio = painter.device().devicePixelRatio()
    chip = _chip(text, ratio, (is_turned, is_dark(), text_scale()))
    size = QSizeF(chip.size()) / ratio
    box = QRectF(middle - QPointF(size.width(), size.height()) / 2, size)
    painter.drawPixmap(box, chip, QRectF(chip.rect()))
    return box


@lru_cache(maxsize=512)  # as many sizes as stand on a plate or two
def _chip(text: str, ratio: float, look: tuple[bool, bool, float]) -> QPixmap:
    """Return a size on its chip as a picture, so that it is set once and not with each picture.

    `look` is all that it depends on beside its text: whether it is turned, and the look of all.
    """
    metrics = QFontMetricsF(font(8.5, QFont.Weight.Medium))
    width, height = metrics.horizontalAdvance(text) + 12, metrics.height() + 2
    is_turned = look[0]
    size = QSizeF(height, width) if is_turned else QSizeF(width, height)
    picture = QPixmap((size * ratio).toSize() + QSize(2, 2))
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
    painter.translate(picture.width() / 2, picture.height() / 2)
    painter.scale(ratio, ratio)
    painter.rotate(-90 if is_turned else 0)
    box = QRectF(-width / 2, -height / 2, width, height)
    painter.setFont(font(8.5, QFont.Weight.Medium))
    painter.setPen(QPen(colour("line"), 1))
    painter.setBrush(colour("sheet"))
    painter.drawRoundedRect(box, height / 2, height / 2)
    painter.setPen(colour("ink"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
    painter.end()
    return picture
