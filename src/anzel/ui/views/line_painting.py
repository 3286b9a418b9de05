"""Lines and pictures that lie on pieces, painted by what the cutter does there."""

from collections.abc import Iterable
from functools import lru_cache

from PySide6.QtCore import QByteArray, Qt
from PySide6.QtGui import QImage, QPainter, QPainterPath, QPen, QTransform

from anzel.core.asset import Asset
from anzel.layout.layout import PlacedPiece
from anzel.structure.engraved_picture import EngravedPicture
from anzel.structure.line_work import LineOperation, PlateLine
from anzel.ui.theme import colour
from anzel.ui.views.screen_paths import region_path, segments_path

_LOOKS = {
    LineOperation.CUT: ("ink", Qt.PenStyle.SolidLine),
    LineOperation.SCORE: ("accent", Qt.PenStyle.DashLine),
    LineOperation.ENGRAVE: ("warn", Qt.PenStyle.SolidLine),
}  # fmt: skip
_THROUGH = 0.35
"""What lies on the other face is painted so strongly."""
LinePaths = dict[LineOperation, QPainterPath]


def line_paths(lines: Iterable[PlateLine]) -> LinePaths:
    """Return lines as one painter path for each operation."""
    paths: LinePaths = {}
    for line in lines:
        path = paths.setdefault(line.operation, QPainterPath())
        path.addPath(segments_path(line.path.segments))
    return paths


def paint_faces(painter: QPainter, laid: PlacedPiece, transform: QTransform) -> None:
    """Paint the pictures on a placed piece, and what lies on its other face, faintly."""
    up = [p.moved(laid.transform) for p in laid.piece.pictures if p.is_back is laid.transform.over]
    paint_pictures(painter, up, transform)
    if {laid.transform.over} == laid.piece.faces or not laid.piece.faces:
        return
    down = not laid.transform.over
    painter.setOpacity(_THROUGH)
    paths = line_paths(
        line.moved(laid.transform) for line in laid.piece.lines if line.is_back is down
    )
    paint_lines(painter, paths, transform)
    pictures = [p.moved(laid.transform) for p in laid.piece.pictures if p.is_back is down]
    paint_pictures(painter, pictures, transform)
    painter.setOpacity(1.0)


def paint_pictures(
    painter: QPainter, pictures: Iterable[EngravedPicture], transform: QTransform
) -> None:
    """Paint engraved pictures where they lie, no further than their pieces reach."""
    for picture in pictures:
        image = _image(picture.file)
        (ax, ay), (bx, by), _, (dx, dy) = picture.corners
        wide, high = max(image.width(), 1), max(image.height(), 1)
        there = QTransform(
            (bx - ax) / wide, (by - ay) / wide, (ax - dx) / high, (ay - dy) / high, dx, dy
        )
        painter.save()
        if picture.within is not None:
            painter.setClipPath(transform.map(region_path(picture.within)))
        painter.setTransform(there * transform, combine=True)
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Multiply)
        painter.drawImage(0, 0, image)
        painter.restore()


@lru_cache(maxsize=8)
def _image(file: Asset) -> QImage:
    return QImage.fromData(QByteArray(file.content)).convertToFormat(
        QImage.Format.Format_Grayscale8
    )


def paint_lines(painter: QPainter, paths: LinePaths, transform: QTransform) -> None:
    """Paint lines: cuts like outlines, scores dashed, engraving as engraved names are."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for operation, path in paths.items():
        name, style = _LOOKS[operation]
        painter.setPen(QPen(colour(name), 1, style))
        painter.drawPath(transform.map(path))
