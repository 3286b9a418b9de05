"""The sides of a plate as planes in its own coordinates."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from math import hypot

from anzel.core.findings import ParameterError
from anzel.geometry.placement import Placement, Vector
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Line
from anzel.structure.relations.records import (
    BACK,
    BOTTOM,
    FRONT,
    LEFT,
    MIDDLE,
    MIDDLE_OF_HEIGHT,
    MIDDLE_OF_WIDTH,
    RIGHT,
    TOP,
)

_SHORTEST = 1.0
"""A straight edge that is shorter has no name of its own, mm."""


@dataclass(frozen=True)
class Plane:
    """A plane of a plate: its unit normal, outwards where it has an outside, and its height there.

    A point p of the plate lies on it where normal · p = height.
    """

    normal: Vector
    height: float
    is_middle: bool = False


@dataclass(frozen=True)
class PlateBody:
    """What the solver needs of a plate: its outline, thickness, and straight edges by name."""

    name: str
    region: Region
    thickness: float
    start: Placement
    edges: tuple[tuple[str, tuple[Point, Point]], ...] = ()

    def plane(self, side: str) -> Plane:
        """Return the plane of a side.

        Raises
        ------
        ParameterError
            For a side that the plate does not have.
        """
        found = self._faces().get(side) or _outline_sides(self.region).get(side)
        if found is None:
            found = dict(_edge_planes(self.region, self.edges)).get(side)
        if found is None:
            raise ParameterError(
                f"{self.name} has no edge “{side}”.", hint="Take the relation off, and pick anew."
            )
        return found

    def sides(self) -> tuple[str, ...]:
        """Return the names of all its sides."""
        edges = (name for name, _ in _edge_planes(self.region, self.edges))
        return (*self._faces(), *_outline_sides(self.region), *edges)

    def ends_of(self, side: str) -> tuple[Point, Point] | None:
        """Return the ends of a straight edge with a name of its own."""
        return dict(_edge_ends(self.region, self.edges)).get(side)

    def _faces(self) -> dict[str, Plane]:
        half = self.thickness / 2
        return {
            FRONT: Plane((0.0, 0.0, 1.0), half), BACK: Plane((0.0, 0.0, -1.0), half),
            MIDDLE: Plane((0.0, 0.0, 1.0), 0.0, is_middle=True),
        }  # fmt: skip


@lru_cache(maxsize=1024)
def _outline_sides(region: Region) -> dict[str, Plane]:
    left, low, right, high = region.bounds
    return {
        LEFT: Plane((-1.0, 0.0, 0.0), -left), RIGHT: Plane((1.0, 0.0, 0.0), right),
        BOTTOM: Plane((0.0, -1.0, 0.0), -low), TOP: Plane((0.0, 1.0, 0.0), high),
        MIDDLE_OF_WIDTH: Plane((1.0, 0.0, 0.0), (left + right) / 2, is_middle=True),
        MIDDLE_OF_HEIGHT: Plane((0.0, 1.0, 0.0), (low + high) / 2, is_middle=True),
    }  # fmt: skip


@lru_cache(maxsize=1024)
def _edge_planes(
    region: Region, named: tuple[tuple[str, tuple[Point, Point]], ...]
) -> tuple[tuple[str, Plane], ...]:
    """Return the planes of straight edges: those with names of their own, else numbered ones."""
    sign = 1.0 if region.outer.signed_area > 0 else -1.0
    made = []
    for name, (start, end) in _edge_ends(region, named):
        run = (end[0] - start[0], end[1] - start[1])
        length = hypot(*run)
        if length >= _SHORTEST:
            normal = (sign * run[1] / length + 0.0, -sign * run[0] / length + 0.0, 0.0)
            made.append((name, Plane(normal, normal[0] * start[0] + normal[1] * start[1])))
    return tuple(made)


def _edge_ends(
    region: Region, named: tuple[tuple[str, tuple[Point, Point]], ...]
) -> Iterable[tuple[str, tuple[Point, Point]]]:
    return named or (
        (f"edge {number}", (segment.start, segment.end))
        for number, segment in enumerate(region.outer.segments, 1)
        if isinstance(segment, Line)
    )
