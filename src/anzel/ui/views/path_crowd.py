"""Many short paths that are painted together, as quickly as Qt can."""

from collections.abc import Iterable, Iterator
from functools import partial

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen, QTransform

from anzel.ui.views.painted_layer import PaintStep

_LOT = 40
"""Paths in one: Qt takes far longer for very many in one, and for each on its own."""
_CROWDED = 50
"""More lots in view than this are painted with the thinnest pen, for which Qt has a quick way."""


class PathCrowd:
    """Paths in lots; those out of view are left out."""

    def __init__(self, paths: Iterable[QPainterPath] = ()) -> None:
        self._lots: list[tuple[QRectF, QPainterPath]] = []
        lot = QPainterPath()
        for number, path in enumerate(paths, 1):
            lot.addPath(path)
            if number % _LOT == 0:
                self._add(lot)
                lot = QPainterPath()
        self._add(lot)

    def _add(self, lot: QPainterPath) -> None:
        if not lot.isEmpty():
            self._lots.append((lot.boundingRect(), lot))

    @property
    def bounds(self) -> QRectF:
        """What all of them together take up."""
        whole = QRectF()
        for box, _ in self._lots:
            whole = whole.united(box)
        return whole

    def __bool__(self) -> bool:
        return bool(self._lots)

    def steps(self, transform: QTransform, view: QRectF, pen: QPen) -> Iterator[PaintStep]:
        """Yield what paints each lot with a pen; `transform` leads to pixels of the `view`."""
        seen = [lot for box, lot in self._lots if transform.mapRect(box).intersects(view)]
        if len(seen) > _CROWDED:
            pen.setWidthF(min(pen.widthF(), 1.0))
        for lot in seen:
            yield partial(_paint_lot, path=transform.map(lot), pen=pen)


def _paint_lot(painter: QPainter, path: QPainterPath, pen: QPen) -> None:
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)
