"""The intersection line of the mid-planes of two plates."""

from dataclasses import dataclass
from functools import lru_cache
from math import atan2

from anzel.core.findings import ParameterError
from anzel.core.tolerances import PARALLEL
from anzel.geometry.placement import Placement, Vector, add_scaled, cross, dot, norm, unit
from anzel.geometry.rigid_transform import Point
from anzel.structure.model import Plate


@dataclass(frozen=True)
class PlaneIntersection:
    """A line in space, origin + s * axis, common to two mid-planes, and their angle (radians).

    The angle is the one between the sheets' normals, in (0, π).
    """

    origin: Vector
    axis: Vector
    angle: float

    def at(self, s: float) -> Vector:
        """Return the point at s mm along the line."""
        return add_scaled(self.origin, self.axis, s)

    def in_plate(self, plate: Plate) -> tuple[Point, Point]:
        """Return the origin and unit direction of the line in a plate's own coordinates."""
        return _in_plate(self.origin, self.axis, plate.placement)


def intersect_planes(first: Plate, second: Plate, up: Vector | None = None) -> PlaneIntersection:
    """Return the intersection line of two plates.

    It points along `up`, or upwards where it has an up.

    Raises
    ------
    ParameterError
        For parallel plates, which have none.
    """
    found = _intersection(first.placement, second.placement, up)
    if found is None:
        raise ParameterError(
            f"{first.name} and {second.name} are parallel and cannot cross.",
            hint="Turn one of them.",
        )
    return found


@lru_cache(maxsize=8192)  # a few numbers for each pair of plates
def _intersection(
    first: Placement, second: Placement, up: Vector | None
) -> PlaneIntersection | None:
    n, m = first.normal, second.normal
    axis = cross(n, m)
    size = norm(axis)
    if size < PARALLEL:
        return None
    a, b = dot(first.origin, n), dot(second.origin, m)
    # the point of both planes nearest the world's origin: (a m × axis + b axis × n) / |axis|²
    side = add_scaled((0.0, 0.0, 0.0), cross(m, axis), a / size**2)
    origin = add_scaled(side, cross(axis, n), b / size**2)
    axis = oriented(unit(axis), up)
    return PlaneIntersection(origin, axis, atan2(size, dot(n, m)))


def oriented(axis: Vector, up: Vector | None = None) -> Vector:
    """Return a line's direction along `up`, or along the axis that it is nearest to."""
    if (dot(axis, up) if up is not None else max(axis, key=abs)) < 0:
        return (-axis[0], -axis[1], -axis[2])
    return axis


@lru_cache(maxsize=8192)  # a few numbers for each pair of plates
def _in_plate(origin: Vector, axis: Vector, placement: Placement) -> tuple[Point, Point]:
    """Return a line in a plate's own coordinates; unchanged while only thicknesses change."""
    return placement.to_plate(origin), placement.direction_to_plate(axis)
