"""Lines that lie on pieces, painted by what the cutter does along them."""

from collections.abc import Iterable

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen, QTransform

from anzel.structure.line_work import LineOperation, PlateLine
from anzel.ui.theme import colour
from anzel.ui.views.screen_paths import segments_path

_LOOKS = {
    LineOperation.CUT: ("ink", Qt.PenStyle.SolidLine),
    LineOperation.SCORE: ("accent", Qt.PenStyle.DashLine),
    LineOperation.ENGRAVE: ("warn", Qt.PenStyle.SolidLine),
}  # fmt: skip
LinePaths = dict[LineOperation, QPainterPath]


def line_paths(lines: Iterable[PlateLine]) -> LinePaths:
    """Return lines as one painter path for each operation."""
    paths: LinePaths = {}
    for line in lines:
        path = paths.setdefault(line.operation, QPainterPath())
        path.addPath(segments_path(line.path.segments))
    return paths


def paint_lines(painter: QPainter, paths: LinePaths, transform: QTransform) -> None:
    """Paint lines: cuts like outlines, scores dashed, engraving as engraved names are."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for operation, path in paths.items():
        name, style = _LOOKS[operation]
        painter.setPen(QPen(colour(name), 1, style))
        painter.drawPath(transform.map(path))
