"""Moving the picture behind a plate by hand: Ctrl and drag."""

from math import cos, radians, sin

from PySide6.QtCore import QPointF

from anzel.geometry.rigid_transform import Point
from anzel.structure.plate_picture import PlatePicture


class PictureHand:
    """Holds the picture from press to release; says how far it was moved, mm."""

    def __init__(self) -> None:
        self._from: QPointF | None = None
        self.by: Point = (0.0, 0.0)

    @property
    def is_holding(self) -> bool:
        """Whether the picture is being dragged."""
        return self._from is not None

    def press(self, picture: PlatePicture | None, position: QPointF, *, with_control: bool) -> bool:
        """Take hold of a picture that may be moved; return whether it is held now."""
        if picture is None or picture.locked or not with_control or not _is_on(picture, position):
            return False
        self._from, self.by = position, (0.0, 0.0)
        return True

    def move(self, position: QPointF) -> None:
        """Move it along; places are in mm."""
        if self._from is not None:
            self.by = (position.x() - self._from.x(), position.y() - self._from.y())

    def shown(self, picture: PlatePicture) -> PlatePicture:
        """Return the picture where it is while it is dragged."""
        if self._from is None:
            return picture
        return picture.with_changes(x=picture.x + self.by[0], y=picture.y + self.by[1])

    def release(self) -> Point:
        """Let go, and return how far it has come."""
        by, self._from, self.by = self.by, None, (0.0, 0.0)
        return by


def _is_on(picture: PlatePicture, position: QPointF) -> bool:
    """Whether a place lies on the picture, taken as no higher than wide twice over."""
    x, y = position.x() - picture.x, position.y() - picture.y
    turn = radians(picture.turn)
    across, up = x * cos(turn) + y * sin(turn), y * cos(turn) - x * sin(turn)
    return abs(across) <= picture.width / 2 and abs(up) <= picture.width
