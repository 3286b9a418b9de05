"""Placement of a plate in space.

A plate's own coordinates are (x, y) on its mid-plane, in mm. Its sheet reaches half a thickness to
either side along the normal. World z points up; the table is z = 0.
"""

from dataclasses import dataclass
from functools import cached_property
from math import sqrt

from anzel.geometry.rigid_transform import Point

Vector = tuple[float, float, float]
EAST: Vector = (1.0, 0.0, 0.0)
NORTH: Vector = (0.0, 1.0, 0.0)
UP: Vector = (0.0, 0.0, 1.0)


def dot(a: Vector, b: Vector) -> float:
    """Return the scalar product."""
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def cross(a: Vector, b: Vector) -> Vector:
    """Return the vector product."""
    return (a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])


def add_scaled(a: Vector, b: Vector, factor: float = 1.0) -> Vector:
    """Return a + factor * b."""
    return (a[0] + factor * b[0], a[1] + factor * b[1], a[2] + factor * b[2])


def scaled(a: Vector, factor: float) -> Vector:
    """Return factor * a."""
    return (a[0] * factor, a[1] * factor, a[2] * factor)


def norm(a: Vector) -> float:
    """Return the length of a vector."""
    return sqrt(dot(a, a))


def unit(a: Vector) -> Vector:
    """Return the vector of length 1 in the same direction."""
    length = norm(a)
    return (a[0] / length, a[1] / length, a[2] / length)


@dataclass(frozen=True)
class Placement:
    """The origin and the two perpendicular unit axes of a plate's mid-plane, in world mm."""

    origin: Vector
    x_axis: Vector
    y_axis: Vector

    @cached_property
    def normal(self) -> Vector:
        """The unit normal; the plate's upper face is on this side."""
        return cross(self.x_axis, self.y_axis)

    def to_world(self, point: Point, height: float = 0.0) -> Vector:
        """Return the world position of a plate point that is `height` mm above the mid-plane."""
        at = add_scaled(add_scaled(self.origin, self.x_axis, point[0]), self.y_axis, point[1])
        return add_scaled(at, self.normal, height)

    def to_plate(self, at: Vector) -> Point:
        """Return the plate coordinates of a world point, projected onto the mid-plane."""
        return self.direction_to_plate(add_scaled(at, self.origin, -1.0))

    def direction_to_plate(self, direction: Vector) -> Point:
        """Return a world direction in the plate's own coordinates."""
        return (dot(direction, self.x_axis), dot(direction, self.y_axis))

    def direction_to_world(self, own: Vector) -> Vector:
        """Return a direction of the plate, its third part along the normal, in the world."""
        flat = add_scaled(scaled(self.x_axis, own[0]), self.y_axis, own[1])
        return add_scaled(flat, self.normal, own[2])


LYING = Placement((0.0, 0.0, 0.0), EAST, NORTH)
"""Flat on the table, at its origin."""
