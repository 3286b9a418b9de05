"""A dimension line: a size that stands on a flat piece and can be retyped there."""

from dataclasses import dataclass
from math import dist

from anzel.geometry.rigid_transform import Point

SEPARATOR = "/"
"""Between a plate's name and the name of its size, in the field of a dimension."""


@dataclass(frozen=True)
class Dimension:
    """A size to show on a flat piece: its field, between which points, how far beside."""

    field: str
    piece: str
    start: Point
    end: Point
    offset: float

    @property
    def length(self) -> float:
        """The distance between its ends, mm."""
        return dist(self.start, self.end)
