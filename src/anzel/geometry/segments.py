"""The three kinds of edge of an outline: line, circular arc and cubic curve.

Conventions: a segment runs from `start` to `end`; its parameter t runs from 0 to 1 along it, evenly
by angle on an arc. Angles are radians, counter-clockwise positive. An arc whose start equals its
end is a full circle. End points are stored, never computed, so neighbouring segments share theirs
to the last digit.
"""

from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from itertools import pairwise
from math import acos, atan2, cbrt, ceil, copysign, cos, hypot, pi, sin, sqrt
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from anzel.core.tolerances import FLATTEN, PARAMETER_SLACK
from anzel.geometry.rigid_transform import Point, RigidTransform

Bounds = tuple[float, float, float, float]
Floats = NDArray[np.float64]


class Line(NamedTuple):
    """A straight edge.

    It is a tuple, because outlines have so many of them.
    """

    start: Point
    end: Point

    def point_at(self, t: float) -> Point:
        """Return the point at parameter t."""
        (x0, y0), (x1, y1) = self.start, self.end
        return (x0 + t * (x1 - x0), y0 + t * (y1 - y0))

    @property
    def chord(self) -> Point:
        """The vector from start to end."""
        return (self.end[0] - self.start[0], self.end[1] - self.start[1])

    @property
    def length(self) -> float:
        """Length in mm."""
        return hypot(self.end[0] - self.start[0], self.end[1] - self.start[1])

    @property
    def bounds(self) -> Bounds:
        """(least x, least y, greatest x, greatest y)."""
        return _box((self.start, self.end))

    @property
    def area_over_chord(self) -> float:
        """The area between the segment and its chord: zero."""
        return 0.0

    def chord_count(self) -> int:
        """Return the number of chords that stand for the segment."""
        return 1

    def moved(self, motion: RigidTransform) -> "Line":
        """Return the segment after a rigid transform."""
        return Line(motion(self.start), motion(self.end))

    def crossings(self, origin: Point, direction: Point) -> list[float]:
        """Return the parameters where the endless line through `origin` crosses this segment."""
        a = _side(self.start, origin, direction)
        b = _side(self.end, origin, direction)
        if a == b:
            return []
        return _inside([a / (a - b)])


@dataclass(frozen=True)
class Arc:
    """A circular arc about `centre` from `start` to `end`; a circle when they are equal."""

    start: Point
    end: Point
    centre: Point
    clockwise: bool = False

    @cached_property
    def radius(self) -> float:
        """Radius in mm."""
        return hypot(self.start[0] - self.centre[0], self.start[1] - self.centre[1])

    @cached_property
    def start_angle(self) -> float:
        """The direction of the start point from the centre."""
        return atan2(self.start[1] - self.centre[1], self.start[0] - self.centre[0])

    @cached_property
    def sweep(self) -> float:
        """The signed angle from start to end, in (-2π, 2π], never 0."""
        if self.start == self.end:
            return -2 * pi if self.clockwise else 2 * pi
        end_angle = atan2(self.end[1] - self.centre[1], self.end[0] - self.centre[0])
        if self.clockwise:
            return -((self.start_angle - end_angle) % (2 * pi))
        return (end_angle - self.start_angle) % (2 * pi)

    @property
    def is_circle(self) -> bool:
        """Whether the arc closes on itself."""
        return self.start == self.end

    def point_at(self, t: float) -> Point:
        """Return the point at parameter t."""
        if t in (0.0, 1.0):
            return self.end if t else self.start
        angle = self.start_angle + t * self.sweep
        return (
            self.centre[0] + self.radius * cos(angle),
            self.centre[1] + self.radius * sin(angle),
        )

    @property
    def length(self) -> float:
        """Length in mm."""
        return self.radius * abs(self.sweep)

    @property
    def bounds(self) -> Bounds:
        """(least x, least y, greatest x, greatest y)."""
        points = [self.start, self.end]
        for quarter in range(4):
            t = self._parameter(quarter * pi / 2)
            if t <= 1:
                x, y = ((1, 0), (0, 1), (-1, 0), (0, -1))[quarter]
                points.append((self.centre[0] + x * self.radius, self.centre[1] + y * self.radius))
        return _box(points)

    @property
    def area_over_chord(self) -> float:
        """The area of the circular segment, mm²; positive for a counter-clockwise arc."""
        return self.radius**2 * (self.sweep - sin(self.sweep)) / 2

    @property
    def bulge(self) -> float:
        """tan(sweep / 4), as DXF stores an arc (DXF reference, LWPOLYLINE group 42)."""
        return sin(self.sweep / 4) / cos(self.sweep / 4)

    def chord_count(self) -> int:
        """Return the number of chords that stand for the segment, none further off than FLATTEN."""
        if self.radius <= FLATTEN:
            return 3
        return max(2, ceil(abs(self.sweep) / (2 * acos(1 - FLATTEN / self.radius))))

    def moved(self, motion: RigidTransform) -> "Arc":
        """Return the segment after a rigid transform."""
        clockwise = bool(self.clockwise) != motion.over
        return Arc(motion(self.start), motion(self.end), motion(self.centre), clockwise)

    def crossings(self, origin: Point, direction: Point) -> list[float]:
        """Return the parameters where the endless line through `origin` crosses this segment."""
        size = hypot(*direction)
        offset = _side(self.centre, origin, direction) / size
        if abs(offset) > self.radius:
            return []
        left = atan2(direction[0], -direction[1])
        half = acos(-offset / self.radius)
        return _inside([self._parameter(left + half), self._parameter(left - half)])

    def _parameter(self, angle: float) -> float:
        """Return the parameter of a direction from the centre; above 1 when off the arc."""
        turned = (angle - self.start_angle) * (-1 if self.clockwise else 1)
        t = (turned % (2 * pi)) / abs(self.sweep)
        whole = 2 * pi / abs(self.sweep)
        return t - whole if t > whole - PARAMETER_SLACK else t


@dataclass(frozen=True)
class Cubic:
    """A cubic Bézier curve."""

    start: Point
    control1: Point
    control2: Point
    end: Point

    @property
    def controls(self) -> tuple[Point, Point, Point, Point]:
        """The four control points in order."""
        return (self.start, self.control1, self.control2, self.end)

    def point_at(self, t: float) -> Point:
        """Return the point at parameter t."""
        u = 1 - t
        weights = (u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t)
        return (
            sum(w * p[0] for w, p in zip(weights, self.controls, strict=True)),
            sum(w * p[1] for w, p in zip(weights, self.controls, strict=True)),
        )

    @property
    def length(self) -> float:
        """The length in mm, by Gauss-Legendre quadrature over 16 intervals."""
        t, weights = _fine_nodes()
        slope = self._slope(t)
        return float(np.hypot(slope[:, 0], slope[:, 1]) @ weights)

    @property
    def bounds(self) -> Bounds:
        """(least x, least y, greatest x, greatest y)."""
        points = [self.start, self.end]
        for axis in (0, 1):
            a, b, c, d = (p[axis] for p in self.controls)
            slope = [d - 3 * c + 3 * b - a, 2 * (c - 2 * b + a), b - a]
            points += [self.point_at(t) for t in _real_roots(slope) if 0 < t < 1]
        return _box(points)

    @property
    def area_over_chord(self) -> float:
        """The signed area between the curve and its chord, mm².

        Positive where the curve lies right of its chord.

        It is half the integral of x dy - y dx, which in control points a, b, c relative to the
        start is 3/20 (a × b + a × c + 2 b × c).
        """
        (x0, y0), (x1, y1), (x2, y2), (x3, y3) = self.controls
        ax, ay, bx, by, cx, cy = x1 - x0, y1 - y0, x2 - x0, y2 - y0, x3 - x0, y3 - y0
        return 0.15 * (ax * by - ay * bx + ax * cy - ay * cx + 2 * (bx * cy - by * cx))

    def chord_count(self) -> int:
        """Return the number of chords that stand for the segment, none further off than FLATTEN.

        From the bound |B''| / 8n² on a chord's error (any numerical analysis text).
        """
        a, b, c, d = self.controls
        bend = max(
            hypot(a[0] - 2 * b[0] + c[0], a[1] - 2 * b[1] + c[1]),
            hypot(b[0] - 2 * c[0] + d[0], b[1] - 2 * c[1] + d[1]),
        )
        return max(1, ceil(sqrt(0.75 * bend / FLATTEN)))

    def subsegment(self, t0: float, t1: float) -> "Cubic":
        """Return the curve from t0 to t1, by blossoming; t0 > t1 reverses it."""
        turns = ((t0, t0, t0), (t0, t0, t1), (t0, t1, t1), (t1, t1, t1))
        return Cubic(*(self._blossom(turn) for turn in turns))

    def moved(self, motion: RigidTransform) -> "Cubic":
        """Return the segment after a rigid transform."""
        return Cubic(*(motion(p) for p in self.controls))

    def crossings(self, origin: Point, direction: Point) -> list[float]:
        """Return the parameters where the endless line through `origin` crosses this segment."""
        a, b, c, d = (_side(p, origin, direction) for p in self.controls)
        if min(a, b, c, d) > 0 or max(a, b, c, d) < 0:
            return []  # a curve lies within its control points' hull
        return _inside(_real_roots([d - 3 * c + 3 * b - a, 3 * (c - 2 * b + a), 3 * (b - a), a]))

    def _blossom(self, turn: tuple[float, float, float]) -> Point:
        points = list(self.controls)
        for t in turn:
            points = [Line(p, q).point_at(t) for p, q in pairwise(points)]
        return points[0]

    def _slope(self, t: Floats) -> Floats:
        a, b, c, d = (np.array(p) for p in self.controls)
        u = 1 - t[:, None]
        v = t[:, None]
        return np.asarray(3 * (u * u * (b - a) + 2 * u * v * (c - b) + v * v * (d - c)))


Segment = Line | Arc | Cubic


def reverse(segment: Segment) -> Segment:
    """Return the same segment in the other direction."""
    if isinstance(segment, Cubic):
        return Cubic(segment.end, segment.control2, segment.control1, segment.start)
    if isinstance(segment, Arc):
        return replace(
            segment, start=segment.end, end=segment.start, clockwise=not segment.clockwise
        )
    return Line(segment.end, segment.start)


def subsegment(segment: Segment, t0: float, t1: float, start: Point, end: Point) -> Segment:
    """Return the part of a segment between two parameters, its ends exactly `start` and `end`.

    t0 > t1 reverses it. An arc keeps its centre, a cubic its curve.
    """
    if isinstance(segment, Arc):
        return Arc(start, end, segment.centre, segment.clockwise == (t0 < t1))
    if isinstance(segment, Cubic):
        return replace(segment.subsegment(t0, t1), start=start, end=end)
    return Line(start, end)


def with_end_points(segment: Segment, start: Point, end: Point) -> Segment:
    """Return the segment with slightly moved ends, so that it meets its neighbours exactly."""
    return Line(start, end) if isinstance(segment, Line) else replace(segment, start=start, end=end)


def circle(centre: Point, radius: float) -> Arc:
    """Return a full circle, counter-clockwise from its rightmost point."""
    start = (centre[0] + radius, centre[1])
    return Arc(start, start, centre)


def _side(point: Point, origin: Point, direction: Point) -> float:
    """Return the signed distance of a point left of a line, times the length of the direction."""
    return direction[0] * (point[1] - origin[1]) - direction[1] * (point[0] - origin[0])


def _inside(parameters: list[float]) -> list[float]:
    """Return those parameters that lie on the segment, clamped to its ends."""
    return [
        min(max(t, 0.0), 1.0) for t in parameters if -PARAMETER_SLACK <= t <= 1 + PARAMETER_SLACK
    ]


def _real_roots(coefficients: list[float]) -> list[float]:
    """Return the real roots of a polynomial of degree three at most, highest power first.

    Numpy's general solver takes forty times as long, and outlines ask very often. Cubics use
    Viète's and Cardano's formulas; each root is polished by Newton's method.
    """
    largest = max(abs(c) for c in coefficients)
    trimmed = [0.0 if abs(c) < 1e-13 * largest else c for c in coefficients]
    while trimmed and trimmed[0] == 0.0:
        trimmed = trimmed[1:]
    if len(trimmed) < 2:
        return []
    if len(trimmed) == 2:
        return [-trimmed[1] / trimmed[0]]
    if len(trimmed) == 3:
        return _quadratic_roots(*trimmed)
    return [_polished(trimmed, root) for root in _cubic_roots(*trimmed)]


def _quadratic_roots(a: float, b: float, c: float) -> list[float]:
    inside = b * b - 4 * a * c
    if inside < 0:
        return []
    q = -(b + copysign(sqrt(inside), b)) / 2  # never the difference of near-equal numbers
    return [q / a, c / q] if q else [0.0]


def _cubic_roots(a: float, b: float, c: float, d: float) -> list[float]:
    shift = b / (3 * a)
    p = c / a - 3 * shift**2
    q = 2 * shift**3 - shift * c / a + d / a
    inside = q * q / 4 + p**3 / 27
    if inside > 0:
        root = sqrt(inside)
        return [cbrt(-q / 2 + root) + cbrt(-q / 2 - root) - shift]
    if p == 0:
        return [-shift]
    size = 2 * sqrt(-p / 3)
    angle = acos(min(max(3 * q / (p * size), -1.0), 1.0)) / 3
    return [size * cos(angle - 2 * pi * k / 3) - shift for k in range(3)]


def _polished(coefficients: list[float], root: float) -> float:
    a, b, c, d = coefficients
    for _ in range(3):
        value, slope = ((a * root + b) * root + c) * root + d, (3 * a * root + 2 * b) * root + c
        if slope == 0:
            break
        root -= value / slope
    return root


@lru_cache(maxsize=1)
def _fine_nodes() -> tuple[Floats, Floats]:
    """Return (128,) parameters and (128,) weights.

    Gauss-Legendre with 8 nodes on 16 intervals of [0, 1].
    """
    nodes, weights = np.polynomial.legendre.leggauss(8)
    t = ((np.arange(16)[:, None] + (nodes + 1) / 2) / 16).ravel()
    return t, np.tile(weights, 16) / 32


def _box(points: "tuple[Point, ...] | list[Point]") -> Bounds:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return (min(xs), min(ys), max(xs), max(ys))
