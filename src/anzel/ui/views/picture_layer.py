"""The picture behind a plate that is drawn large, and what is proposed from it."""

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen, QTransform

from anzel.app.edits.picture_edits import drawn_contours, size_in_mm
from anzel.core.findings import MakerError
from anzel.geometry.prepared import is_in
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point
from anzel.structure.plate_picture import PlatePicture
from anzel.ui.theme import colour
from anzel.ui.views.screen_paths import contour_path

_MOST = 4000
"""Pixels along a side that a screen can use."""


@dataclass(frozen=True)
class Proposal:
    """Shapes proposed from a picture, and which of them are picked."""

    regions: tuple[Region, ...]
    picked: frozenset[int] = frozenset()

    def toggled(self, place: Point) -> "Proposal":
        """Return the proposal with the smallest shape about a place picked, or dropped."""
        about = [
            number for number, region in enumerate(self.regions)
            if is_in(region.outer.polygon_shape, *place)
        ]  # fmt: skip
        return Proposal(self.regions, self.picked ^ {about[-1]}) if about else self


class PictureLayer:
    """Keeps the last picture as pixels, so that it is decoded once."""

    def __init__(self) -> None:
        self._digest = ""
        self._image: QImage | None = None

    def paint(self, painter: QPainter, picture: PlatePicture, transform: QTransform) -> None:
        """Paint a picture where it lies, as faded as it is wanted."""
        painter.save()
        painter.setTransform(transform, combine=True)
        painter.translate(picture.x, picture.y)
        painter.rotate(picture.turn)
        painter.setOpacity(1.0 - picture.fade)
        with suppress(MakerError):  # what cannot be read was told when it was brought in
            (self._paint_drawing if picture.is_drawing else self._paint_image)(painter, picture)
        painter.restore()

    def _paint_image(self, painter: QPainter, picture: PlatePicture) -> None:
        image = self._decoded(picture)
        if image.isNull():
            return
        width, height = picture.width, picture.width * image.height() / image.width()
        painter.scale(1, -1)  # pictures run downwards
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(QRectF(-width / 2, -height / 2, width, height), image)

    def _decoded(self, picture: PlatePicture) -> QImage:
        if self._image is None or self._digest != picture.file.digest:
            self._digest = picture.file.digest
            image = QImage.fromData(picture.file.content)
            if max(image.width(), image.height()) > _MOST:
                image = image.scaled(
                    _MOST, _MOST, Qt.AspectRatioMode.KeepAspectRatio,
                    Qt.TransformationMode.SmoothTransformation,
                )  # fmt: skip
            self._image = image
        return self._image

    @staticmethod
    def _paint_drawing(painter: QPainter, picture: PlatePicture) -> None:
        contours = drawn_contours(picture.file)
        boxes = [contour.bounds for contour in contours]
        left, low = min(box[0] for box in boxes), min(box[1] for box in boxes)
        width, height = size_in_mm(picture)
        scale = picture.width / width
        painter.scale(scale, scale)
        painter.translate(-left - width / 2, -low - height / 2)
        pen = QPen(colour("ink"), 1.4)
        pen.setCosmetic(True)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for contour in contours:
            painter.drawPath(contour_path(contour))


def paint_proposal(
    painter: QPainter, proposal: Proposal, transform: QTransform
) -> None:  # fmt: skip
    """Paint the proposed shapes; those that are picked stand out, with their points."""
    accent = QColor(colour("accent"))
    for number, region in enumerate(proposal.regions):
        is_picked = number in proposal.picked
        painter.setPen(QPen(accent if is_picked else colour("soft"), 2.2 if is_picked else 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for contour in region.contours:
            painter.drawPath(transform.map(contour_path(contour)))
            if is_picked:
                _paint_ends(painter, [segment.start for segment in contour.segments], transform)


def paint_places(
    painter: QPainter, places: Sequence[Point], transform: QTransform
) -> None:  # fmt: skip
    """Paint crosses at the places of a picture that were clicked."""
    painter.setPen(QPen(QColor(colour("accent")), 2))
    for place in places:
        at = transform.map(QPointF(*place))
        for reach in (QPointF(7, 0), QPointF(0, 7)):
            painter.drawLine(at - reach, at + reach)


def _paint_ends(
    painter: QPainter, places: Sequence[Point], transform: QTransform
) -> None:  # fmt: skip
    painter.setBrush(colour("sheet"))
    for place in places:
        at = transform.map(QPointF(*place))
        painter.drawRect(QRectF(at.x() - 2.5, at.y() - 2.5, 5, 5))
