"""Intersections of an offset side with its neighbour.

They are needed where either is a curve, or where the neighbour has changed.
"""

from collections.abc import Iterator
from dataclasses import replace
from math import hypot, pi

import numpy as np

from anzel.core.tolerances import COINCIDENT, ROUNDING
from anzel.geometry.intersections import line_and_circle, lines_meet
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment, subsegment
from anzel.refit.sides import Sides

_SHARE, _FURTHER, _TIMES = 0.5, 3.0, 4.0
"""A curve may go on past its end by this share of itself or by so many mm, never more than so many
times its own length: sheets differ by less. What lies further is no part of it."""


class OffsetSide:
    """One side of a loop that is being moved: its offset line or curve, and its two ends."""

    def __init__(self, sides: Sides, side: int, offset: float) -> None:
        self.sides, self.side, self.offset = sides, side, offset
        self.segments = sides.edges(side)
        self.is_line = bool(sides.is_line[side])
        self.along: Point = (float(sides.along[side][0]), float(sides.along[side][1]))
        self.start, self.end = self.segments[0].start, self.segments[-1].end
        self.old_start: Point = (float(sides.start(side)[0]), float(sides.start(side)[1]))
        self.old_end: Point = (float(sides.end[side][0]), float(sides.end[side][1]))
        self.next: OffsetSide | None = None
        self.is_treated = True
        self.vector_after: Point = (0.0, 0.0)
        self.curve = None if self.is_line else self._shifted_curve()

    @property
    def origin(self) -> Point:
        """A point of the offset line."""
        return (
            self.old_start[0] - self.along[1] * self.offset,
            self.old_start[1] + self.along[0] * self.offset,
        )

    @property
    def is_reversed(self) -> bool:
        """Whether the side would run backwards between its new ends."""
        if self.curve is None:
            run = (self.end[0] - self.start[0], self.end[1] - self.start[1])
            return run[0] * self.along[0] + run[1] * self.along[1] <= 0
        return curve_parameter(self.curve, self.start) >= curve_parameter(self.curve, self.end)

    def edges(self) -> Iterator[tuple[int, Segment]]:
        """Yield the side's edges between its new ends, by number in their loop."""
        total = len(self.sides.nested.loops[int(self.sides.loop[self.side])].segments)
        first = int(self.sides.first[self.side])
        if self.curve is not None:
            yield first, self._cut_curve(self.curve)
            return
        last = len(self.segments) - 1
        x, y = -self.along[1] * self.offset, self.along[0] * self.offset
        for at, segment in enumerate(self.segments):
            begin = self.start if at == 0 else (segment.start[0] + x, segment.start[1] + y)
            stop = self.end if at == last else (segment.end[0] + x, segment.end[1] + y)
            yield (first + at) % total, Line(begin, stop)

    def _cut_curve(self, curve: Segment) -> Segment:
        own = self.segments[0]
        if self.start == own.start and self.end == own.end and curve is own:
            return own
        if isinstance(curve, Arc):
            return replace(curve, start=self.start, end=self.end)
        low, high = curve_parameter(curve, self.start), curve_parameter(curve, self.end)
        return subsegment(curve, low, high, self.start, self.end)

    def _shifted_curve(self) -> Segment | None:
        """Return an arc with another radius where it is offset; other curves only as they are."""
        curve = self.segments[0]
        if not self.offset or not isinstance(curve, Arc):
            return curve
        radius = curve.radius + (self.offset if curve.clockwise else -self.offset)
        share = radius / curve.radius
        cx, cy = curve.centre
        ends = [
            (cx + (p[0] - cx) * share, cy + (p[1] - cy) * share) for p in (curve.start, curve.end)
        ]
        return replace(curve, start=ends[0], end=ends[1])


def intersect_sides(one: OffsetSide, other: OffsetSide) -> bool:
    """Move the end of one side and the start of the next to their intersection.

    Return False if there is none.
    """
    adjacent = int(one.sides.after[one.side]) == other.side
    one.is_treated = adjacent
    if adjacent and _is_round(one, other):
        return _around_floor(one, other)
    if one.curve is not None and other.curve is not None:
        return False
    near = one.old_end if adjacent else one.end
    now = _crossing(one, other, near)
    if now is None:
        return False
    if not (adjacent and one.sides.treatment(one.side)):
        one.end = other.start = now
        return True
    was = near
    if one.curve is not None or other.curve is not None:
        was = _crossing(_unmoved(one), _unmoved(other), near) or near
    one.vector_after = vector = (now[0] - was[0], now[1] - was[1])
    end, start = one.segments[-1].end, other.segments[0].start
    one.end = (end[0] + vector[0], end[1] + vector[1])
    other.start = (start[0] + vector[0], start[1] + vector[1])
    return True


def curve_parameter(curve: Segment, point: Point) -> float:
    """Return the parameter of a point on a curve or a little beyond its ends."""
    if isinstance(curve, Arc):
        way = -1 if curve.clockwise else 1
        angle = np.arctan2(point[1] - curve.centre[1], point[0] - curve.centre[0])
        turned = float((angle - curve.start_angle) * way) % (2 * pi)
        whole = 2 * pi / abs(curve.sweep)
        share = turned / abs(curve.sweep)
        return share - whole if share > (1 + whole) / 2 else share
    return min(_nearest(curve, point), key=lambda t: _off(curve, t, point))


def _nearest(curve: Segment, point: Point) -> list[float]:
    """Return the parameters where a cubic is perpendicular to the direction of a point.

    The roots of a quintic.
    """
    if not isinstance(curve, Cubic):
        return [0.0, 1.0]
    controls = np.array(curve.controls)
    coefficients = np.array([[-1, 3, -3, 1], [3, -6, 3, 0], [-3, 3, 0, 0], [1, 0, 0, 0]])
    x, y = (coefficients @ controls).T
    x[3] -= point[0]
    y[3] -= point[1]
    square = np.polyadd(np.polymul(x, np.polyder(x)), np.polymul(y, np.polyder(y)))
    roots = np.roots(square)
    real = [float(r.real) for r in roots if abs(r.imag) < COINCIDENT]
    more = _beyond(curve)
    return [0.0, 1.0, *(t for t in real if -more <= t <= 1 + more)]


def _beyond(curve: Segment) -> float:
    """Return how far past 0 and 1 a curve's parameter may go."""
    chord = hypot(curve.end[0] - curve.start[0], curve.end[1] - curve.start[1])
    return max(_SHARE, min(_FURTHER / max(chord, 1e-3), _TIMES))


def _off(curve: Segment, t: float, point: Point) -> float:
    at = curve.point_at(t)
    return hypot(at[0] - point[0], at[1] - point[1])


def _unmoved(offset_side: OffsetSide) -> OffsetSide:
    return (
        offset_side
        if not offset_side.offset
        else OffsetSide(offset_side.sides, offset_side.side, 0.0)
    )


def _crossing(one: OffsetSide, other: OffsetSide, near: Point) -> Point | None:
    """Return where the two sides cross, nearest to a point."""
    if one.curve is None and other.curve is None:
        return lines_meet(one.origin, one.along, other.origin, other.along, least_sine=0.01)
    line, curve = (one, other.curve) if one.curve is None else (other, one.curve)
    if curve is None:
        return None
    places = _on_curve(curve, line.origin, line.along)
    return min(places, key=lambda p: hypot(p[0] - near[0], p[1] - near[1]), default=None)


def _on_curve(curve: Segment, origin: Point, along: Point) -> list[Point]:
    """Return where an endless line crosses a curve or its extension beyond the ends."""
    if isinstance(curve, Arc):
        return line_and_circle(origin, along, curve.centre, curve.radius)
    if not isinstance(curve, Cubic):
        return []
    a, b, c, d = (
        along[0] * (p[1] - origin[1]) - along[1] * (p[0] - origin[0]) for p in curve.controls
    )
    roots = np.roots([d - 3 * c + 3 * b - a, 3 * (c - 2 * b + a), 3 * (b - a), a])
    real = [float(r.real) for r in roots if abs(r.imag) < ROUNDING]
    more = _beyond(curve)
    return [curve.point_at(t) for t in real if -more <= t <= 1 + more]


def _is_round(one: OffsetSide, other: OffsetSide) -> bool:
    """Return whether one of two sides is the round floor that the other, its wall, runs into."""
    line, arc = (one, other) if one.curve is None else (other, one)
    if arc.curve is None or line.curve is not None or not line.offset or arc.offset:
        return False
    own = arc.segments[0]
    return isinstance(own, Arc) and abs(abs(own.sweep) - pi) < 0.2


def _around_floor(one: OffsetSide, other: OffsetSide) -> bool:
    """Move a round floor between walls that move apart by equal distances.

    Return whether it is one. A slot's lowest point stays; a hole's walls keep their length, because
    that is what a tab fills.
    """
    wall, arc = (one, other) if one.curve is None else (other, one)
    inwards = 1.0 if wall is one else -1.0
    is_hole = bool(one.sides.nested.is_hole[one.sides.loop[one.side]])
    back = 0.0 if is_hole else -inwards * wall.offset
    (ux, uy), d = wall.along, wall.offset
    vector = (-uy * d + ux * back, ux * d + uy * back)
    own = arc.segments[0]
    if not isinstance(own, Arc):
        return False
    centre = (own.centre[0] + ux * back, own.centre[1] + uy * back)
    at = one.segments[-1].end
    one.end = other.start = (at[0] + vector[0], at[1] + vector[1])
    begin = one.end if wall is one else arc.start
    stop = arc.end if wall is one else one.end
    arc.curve = Arc(begin, stop, centre, own.clockwise)
    return True
