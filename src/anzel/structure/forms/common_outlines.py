"""Outlines and placements that several forms use."""

from collections.abc import Sequence
from functools import lru_cache
from math import cos, pi, sin

from anzel.core.tolerances import ROUNDING
from anzel.geometry.placement import EAST, NORTH, UP, Placement
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment, reverse


def standing(x: float, y: float, turn: float = 0.0, z: float = 0.0) -> Placement:
    """Return an upright placement with its origin at (x, y, z).

    Its own x is at `turn` radians from east.
    """
    return Placement((x, y, z), (cos(turn), sin(turn), 0.0), UP)


def lying(z: float, x: float = 0.0, y: float = 0.0) -> Placement:
    """Return a flat placement, face up, with its mid-plane at height z."""
    return Placement((x, y, z), EAST, NORTH)


@lru_cache(maxsize=256)
def board(left: float, low: float, right: float, high: float) -> Region:
    """Return a rectangle."""
    corners = [(left, low), (right, low), (right, high), (left, high)]
    return Region.of(Contour.polygon(corners))


@lru_cache(maxsize=64)
def disc(diameter: float) -> Region:
    """Return a round plate about its origin."""
    return Region.of(Contour.circle((0.0, 0.0), diameter / 2))


def polygon_of(corners: Sequence[Point], holes: Sequence[Contour] = ()) -> Region:
    """Return straight edges through corners, with holes."""
    return Region.of(Contour.polygon(list(corners)), holes)


def regular(sides: int, apothem: float, turn: float = 0.0) -> list[Point]:
    """Return the corners of a regular polygon, counter-clockwise.

    Its first side faces `turn` radians.
    """
    reach = apothem / cos(pi / sides)
    angles = [turn + (2 * index - 1) * pi / sides for index in range(sides)]
    return [(reach * cos(angle), reach * sin(angle)) for angle in angles]


def window(inner: float, outer: float, start: float, end: float) -> Contour:
    """Return an opening in a ring between two radii and two angles (radians, start < end)."""
    a, b = (inner * cos(start), inner * sin(start)), (outer * cos(start), outer * sin(start))
    c, d = (outer * cos(end), outer * sin(end)), (inner * cos(end), inner * sin(end))
    middle = (0.0, 0.0)
    return Contour((Line(a, b), Arc(b, c, middle), Line(c, d), Arc(d, a, middle, clockwise=True)))


def through(points: Sequence[Point], *, closed: bool = False) -> list[Segment]:
    """Return smooth cubic curves through points.

    The tangent at each is parallel to its neighbours' chord.

    Catmull-Rom in Bézier form (any graphics text): handles are a sixth of the chord. The ends of an
    open run have the tangent of their own edge.
    """
    return joined(points, [True] * len(points), closed=closed)


def joined(
    points: Sequence[Point], smooth: Sequence[bool], *, closed: bool = False
) -> list[Segment]:
    """Return edges through points, curved where a point is smooth.

    A corner's edges leave it straight.
    """
    count = len(points)

    def lever(index: int, towards: int) -> Point:
        """From a point a third of the way along its tangent."""
        here, there = points[index % count], points[(index + towards) % count]
        free_end = not closed and not 0 <= index - towards < count
        if smooth[index % count] and not free_end:
            before = points[(index - towards) % count]
            return (here[0] + (there[0] - before[0]) / 6, here[1] + (there[1] - before[1]) / 6)
        part = 6 if smooth[index % count] else 3
        return (here[0] + (there[0] - here[0]) / part, here[1] + (there[1] - here[1]) / part)

    segments: list[Segment] = []
    for index in range(count if closed else count - 1):
        a, b = index, index + 1
        start, end = points[a], points[b % count]
        curved = smooth[a] or smooth[b % count]
        straight = not curved or (count == 2 and not closed)
        segments.append(
            Line(start, end) if straight else Cubic(start, lever(a, 1), lever(b, -1), end)
        )
    return segments


def band(outer: Sequence[Segment], inner: Sequence[Segment]) -> Region:
    """Return what lies between two open runs of the same direction, with straight ends."""
    back = [reverse(segment) for segment in reversed(inner)]
    ends = (Line(outer[-1].end, back[0].start), Line(back[-1].end, outer[0].start))
    return Region.of(Contour((*outer, ends[0], *back, ends[1])))


def ellipse(half_width: float, half_height: float, centre: Point = (0.0, 0.0)) -> Contour:
    """Return an ellipse of eight cubics, within 5e-6 of its size.

    A true circle where the halves are equal.

    Handles of 4/3 tan(angle/4), as for a circle, then stretched.
    """
    if abs(half_width - half_height) < ROUNDING:
        return Contour.circle(centre, half_width)
    count = 8
    step = 2 * pi / count
    lever = 4 / 3 * (sin(step / 4) / cos(step / 4))

    def point(angle: float, reach: float) -> Point:
        x, y = cos(angle) - reach * sin(angle), sin(angle) + reach * cos(angle)
        return (centre[0] + half_width * x, centre[1] + half_height * y)

    corners = [point(step * index, 0.0) for index in range(count)]
    return Contour(
        tuple(
            Cubic(
                corners[i], point(step * i, lever), point(step * (i + 1), -lever),
                corners[(i + 1) % count],
            )
            for i in range(count)
        )
    )  # fmt: skip


def web_between_slots(count: int, width: float, radius: float) -> float:
    """Return the web between neighbouring radial slots at a radius, mm (handbook of the trade, 3).

    Examples
    --------
    >>> round(web_between_slots(count=12, width=3.0, radius=40.0), 2)
    17.81
    """
    return 2 * radius * sin(pi / count) - width * cos(pi / count)


def most_slots(width: float, radius: float, web: float, limit: int) -> int:
    """Return how many such slots, three to a limit, leave webs of at least `web` mm."""
    able = (n for n in range(3, limit + 1) if web_between_slots(n, width, radius) >= web)
    return max(able, default=3)
