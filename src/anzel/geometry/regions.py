"""Closed outlines, and regions bounded by them.

- *Contour*: segments end to end, the last ending where the first starts.
- *Region*: one outer contour (counter-clockwise) and any number of holes (clockwise) in it.
- *Bridged contour*: a contour with gaps that hold a piece in its sheet.
- *Stroke*: an open run of points, for engraving.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import pairwise
from math import fsum, hypot

import numpy as np
import shapely
from numpy.typing import NDArray

from anzel.core.findings import GeometryError
from anzel.core.tolerances import INSCRIBED_CIRCLE, ONE_CIRCLE, ROUNDING
from anzel.geometry.placement import Placement
from anzel.geometry.prepared import prepared_for_points
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segments import (
    Arc,
    Bounds,
    Floats,
    Line,
    Segment,
    circle,
    reverse,
    with_end_points,
)

Indices = NDArray[np.int64]
Stroke = tuple[Point, ...]


def stroke_length(stroke: Sequence[Point]) -> float:
    """Return the length of an open run of points, mm."""
    return fsum(hypot(b[0] - a[0], b[1] - a[1]) for a, b in pairwise(stroke))


_FEWEST = 3
"""Chords that enclose something."""


@dataclass(frozen=True)
class Contour:
    """Closed segments end to end.

    Raises GeometryError where two do not meet exactly.
    """

    segments: tuple[Segment, ...]

    def __post_init__(self) -> None:
        before = self.segments[-1]
        for segment in self.segments:
            if before.end != segment.start:
                raise GeometryError(f"An outline is open at {before.end}.")
            before = segment

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        return hash(self.segments)  # outlines are keys of caches, so count only once

    @classmethod
    def polygon(cls, points: Sequence[Point]) -> "Contour":
        """Return straight edges through the points and back to the first."""
        made = object.__new__(cls)  # closed by its making: nothing to check
        made.__dict__["corners"] = list(points)  # known already; joints make very many of these
        made.__dict__["_divisions"] = [1] * len(points)
        return made

    @classmethod
    def of_vertices(cls, vertices: Floats) -> "Contour":
        """Return straight edges through (n, 2) points and back to the first."""
        made = object.__new__(cls)
        made.__dict__["vertices"] = vertices
        made.__dict__["_divisions"] = [1] * len(vertices)
        return made

    def __getattr__(self, name: str) -> tuple[Segment, ...]:
        """Return a polygon's segments, created on first use, because many tools never need them."""
        if name != "segments" or "_divisions" not in self.__dict__:
            raise AttributeError(name)
        corners = self.corners
        made = tuple(map(Line._make, pairwise([*corners, corners[0]])))
        self.__dict__["segments"] = made
        return made

    @classmethod
    def circle(cls, centre: Point, radius: float) -> "Contour":
        """Return a full circle."""
        return cls((circle(centre, radius),))

    @cached_property
    def corners(self) -> list[Point]:
        """The corners of the chords; the first is not repeated."""
        if "segments" not in self.__dict__:
            return [(x, y) for x, y in self.vertices.tolist()]
        return [
            segment.point_at(step / count)
            for segment, count in zip(self.segments, self._divisions, strict=True)
            for step in range(count)
        ]

    @cached_property
    def corner_numbers(self) -> dict[Point, int]:
        """The number of each corner in the ring."""
        return dict(zip(self.corners, range(len(self.corners)), strict=True))

    @cached_property
    def sorted_corners(self) -> tuple[NDArray[np.complex128], Indices]:
        """(n,) the corners as x + iy in sorted order, and (n,) the number of each in the ring."""
        keys = self.vertices.view(np.complex128).ravel()
        order = np.argsort(keys)
        return keys[order], order

    @cached_property
    def chord_parameters(self) -> tuple[Indices, Floats, Floats]:
        """(n,) each, for every chord.

        The index of its segment, and the parameters where it starts and ends.
        """
        counts = self._divisions
        if max(counts) == 1:
            return _straight_stations(len(counts))
        index = np.repeat(np.arange(len(counts)), counts)
        step = np.concatenate([np.arange(count) for count in counts])
        per_segment = np.array(counts)[index]
        return index, step / per_segment, (step + 1) / per_segment

    @cached_property
    def vertices(self) -> Floats:
        """(n, 2) float: the corners as an array."""
        return np.array(self.corners)

    @cached_property
    def _divisions(self) -> list[int]:
        """How many chords stand for each segment; of a tiny lens one each would be no ring."""
        counts = [segment.chord_count() for segment in self.segments]
        return counts if sum(counts) >= _FEWEST else [_FEWEST] * len(counts)

    @cached_property
    def polygon_shape(self) -> shapely.Polygon:
        """The chords as a shapely polygon."""
        return shapely.Polygon(self.vertices)

    @cached_property
    def signed_area(self) -> float:
        """The enclosed area in mm², exact for lines, arcs and cubics.

        Positive for a counter-clockwise contour.
        """
        chords = sum(s.start[0] * s.end[1] - s.end[0] * s.start[1] for s in self.segments)
        return chords / 2 + sum(s.area_over_chord for s in self.segments)

    @property
    def length(self) -> float:
        """The length in mm."""
        return sum(segment.length for segment in self.segments)

    @property
    def has_straight_edges(self) -> bool:
        """Whether the contour was made of straight edges only."""
        if "segments" not in self.__dict__:
            return True
        return all(isinstance(segment, Line) for segment in self.segments)

    @property
    def is_circle(self) -> bool:
        """Whether the contour is one full circle."""
        only = self.segments[0]
        return isinstance(only, Arc) and only.is_circle

    @cached_property
    def bounds(self) -> Bounds:
        """(least x, least y, greatest x, greatest y), exact."""
        boxes = np.array([segment.bounds for segment in self.segments])
        low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
        return (float(low[0]), float(low[1]), float(high[0]), float(high[1]))

    def reversed(self) -> "Contour":
        """Return the same contour in the other direction."""
        return Contour(tuple(reverse(segment) for segment in reversed(self.segments)))

    def moved(self, motion: RigidTransform) -> "Contour":
        """Return the contour after a rigid transform, in the same direction of rotation."""
        made = Contour(tuple(segment.moved(motion) for segment in self.segments))
        return made.reversed() if motion.over else made


@dataclass(frozen=True)
class BridgedContour:
    """A closed outline with gaps: runs of segments, each gap a straight line to the next run."""

    runs: tuple[tuple[Segment, ...], ...]

    @cached_property
    def closed(self) -> Contour:
        """The outline without gaps; an edge that a gap was cut out of is one edge again."""
        segments: list[Segment] = []
        for run, after in zip(self.runs, (*self.runs[1:], self.runs[0]), strict=True):
            segments += [*run, Line(run[-1].end, after[0].start)]
        whole: list[Segment] = []
        for segment in segments:
            whole = _one_with(whole, segment)
        first, *rest = whole
        return Contour(tuple(_one_with(rest, first, spanning=len(rest) > 2)))


def _one_with(whole: list[Segment], segment: Segment, *, spanning: bool = True) -> list[Segment]:
    """Return segments with another appended, or merged with the last one.

    They merge where it continues the last one, or where a gap's chord stands between two arcs of
    one circle.
    """
    if whole and spanning and _straight_on(whole[-1], segment):
        return [*whole[:-1], Line(whole[-1].start, segment.end)]
    if len(whole) > 1 and isinstance(whole[-1], Line) and _same_circle(whole[-2], segment):
        return [*whole[:-2], with_end_points(whole[-2], whole[-2].start, segment.end)]
    return [*whole, segment]


def _same_circle(one: Segment, other: Segment) -> bool:
    """Return whether two arcs lie on one circle, in the same direction."""
    if not (isinstance(one, Arc) and isinstance(other, Arc)):
        return False
    off = max(abs(a - b) for a, b in zip(one.centre, other.centre, strict=True))
    return one.clockwise == other.clockwise and off < ONE_CIRCLE


def _straight_on(one: Segment, other: Segment) -> bool:
    """Return whether two straight edges, end to end, form one straight edge."""
    if not (isinstance(one, Line) and isinstance(other, Line)):
        return False
    (ax, ay), (bx, by) = one.start, one.end
    cx, cy = other.end
    turn = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
    return abs(turn) < 1e-7 * max(abs(cx - ax) + abs(cy - ay), ROUNDING) and (
        (bx - ax) * (cx - bx) + (by - ay) * (cy - by) > 0
    )


@dataclass(frozen=True)
class Region:
    """A flat shape: an outer contour with holes.

    `Region.of` sets the directions.
    """

    outer: Contour
    holes: tuple[Contour, ...] = ()

    @classmethod
    def of(cls, outer: Contour, holes: Sequence[Contour] = ()) -> "Region":
        """Return a region with its outer contour counter-clockwise and its holes clockwise."""
        return cls(
            outer if outer.signed_area > 0 else outer.reversed(),
            tuple(hole if hole.signed_area < 0 else hole.reversed() for hole in holes),
        )

    @property
    def contours(self) -> tuple[Contour, ...]:
        """The outer contour, then the holes."""
        return (self.outer, *self.holes)

    @cached_property
    def shape(self) -> shapely.Polygon:
        """The region as a shapely polygon of chords (see `tolerances.FLATTEN`)."""
        return shapely.Polygon(self.outer.vertices, [hole.vertices for hole in self.holes])

    @cached_property
    def _for_points(self) -> shapely.Geometry:
        """Its shape, made ready to be asked for points."""
        return prepared_for_points(self.shape)

    @cached_property
    def largest_inscribed_circle(self) -> tuple[float, float, float]:
        """(x, y, radius) of the largest circle inside, mm: where its name fits best."""
        circle = shapely.maximum_inscribed_circle(self.shape, tolerance=INSCRIBED_CIRCLE)
        (x, y), _ = circle.coords
        return (x, y, circle.length)

    @property
    def corner_count(self) -> int:
        """The number of corners of all its contours, with those of the chords of curves."""
        return sum(sum(contour._divisions) for contour in self.contours)

    @property
    def area(self) -> float:
        """Area in mm², exact."""
        return sum(contour.signed_area for contour in self.contours)

    @property
    def bounds(self) -> Bounds:
        """(least x, least y, greatest x, greatest y), exact."""
        return self.outer.bounds

    @property
    def size(self) -> tuple[float, float]:
        """(width, height) of the bounds."""
        left, low, right, high = self.bounds
        return (right - left, high - low)

    def bounds_in(self, placement: Placement, half: float = 0.0) -> tuple[Floats, Floats]:
        """Return the bounds in space of the placed region, `half` mm thick to either side.

        Returns
        -------
        (3,) float
            The least coordinates.
        (3,) float
            The greatest coordinates.
        """
        left, low, right, high = self.bounds
        corners = ((left, low), (right, low), (right, high), (left, high))
        world = np.array([placement.to_world(c, h) for c in corners for h in (-half, half)])
        return world.min(axis=0), world.max(axis=0)

    def moved(self, motion: RigidTransform) -> "Region":
        """Return the region after a rigid transform."""
        return Region(self.outer.moved(motion), tuple(hole.moved(motion) for hole in self.holes))

    def spans(self, origin: Point, direction: Point) -> list[tuple[float, float]]:
        """Return the intervals of s where the endless line origin + s * direction is inside."""
        size = direction[0] ** 2 + direction[1] ** 2
        stops = sorted(
            ((point[0] - origin[0]) * direction[0] + (point[1] - origin[1]) * direction[1]) / size
            for contour in self.contours
            for segment in contour.segments
            for point in map(segment.point_at, segment.crossings(origin, direction))
        )
        inside: list[tuple[float, float]] = []
        for low, high in pairwise(stops):
            middle = (low + high) / 2
            at = (origin[0] + middle * direction[0], origin[1] + middle * direction[1])
            if high - low <= ROUNDING or not shapely.contains_xy(self._for_points, *at):
                continue
            if inside and low - inside[-1][1] <= ROUNDING:
                inside[-1] = (inside[-1][0], high)
            else:
                inside.append((low, high))
        return inside


@lru_cache(maxsize=256)  # by the number of corners; an array each
def _straight_stations(count: int) -> tuple[Indices, Floats, Floats]:
    """Return the stations of a ring of straight edges, a chord each."""
    return np.arange(count), np.zeros(count), np.ones(count)
