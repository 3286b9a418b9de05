"""Pieces made from their sizes alone, at any thickness: what a refit must arrive at.

Nothing here knows how a refit works. A piece is its sharp corners in order, material on the left;
corners are then treated, the whole turned, and its edges drawn in whatever way a file may have.
"""

from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import pairwise
from math import asin, atan2, cos, hypot, pi, sin, tan
from random import Random

from anzel.drawings.model import Drawing, DrawnPath, Units, UnitSource
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Line, Segment, reverse, with_end_points

Corners = list[Point]
Treatment = Callable[[Point, Point, Point], list[Segment]]


def slotted(width: float, height: float, slots: Sequence[tuple[float, float]], w: float) -> Corners:
    """A plate with slots of width `w` in its upper edge: (centre, depth) each, left to right."""
    upper = []
    for centre, depth in slots:
        left, right = centre - w / 2, centre + w / 2
        upper += [(left, height), (left, height - depth), (right, height - depth), (right, height)]
    return [(0, 0), (width, 0), (width, height), *reversed(upper), (0, height)]


def tabbed(width: float, height: float, tabs: Sequence[tuple[float, float]], t: float) -> Corners:
    """A plate with tabs `t` high on its upper edge: (centre, width) each, left to right."""
    upper = []
    for centre, wide in tabs:
        left, right = centre - wide / 2, centre + wide / 2
        upper += [(left, height), (left, height + t), (right, height + t), (right, height)]
    return [(0, 0), (width, 0), (width, height), *reversed(upper), (0, height)]


def mortise(x: float, y: float, long: float, w: float) -> Corners:
    """A mortise about a point, material on its left."""
    a, b = long / 2, w / 2
    return [(x - a, y - b), (x - a, y + b), (x + a, y + b), (x + a, y - b)]


def fingered(width: float, height: float, n: int, outer: float, inner: float) -> Corners:
    """A wall with `n` fingers and gaps on its left and right edges, even, first and last fingers.
    Its outer level stands `outer` beyond its width, its inner level `inner` inside it."""
    pitch = height / n
    right: Corners = []
    for i in range(n):
        x = width + outer if i % 2 == 0 else width - inner
        right += [(x, i * pitch), (x, (i + 1) * pitch)]
    return [*right, *((width - x, y) for x, y in reversed(right))]


def corner_box_side(size: float, n: int, t: float, starts_out: bool) -> Corners:
    """A square board of `size` with `n` fingers and gaps on each edge, `t` deep, every corner
    belonging to the edge that starts out there."""
    pitch = size / n
    board: Corners = []
    for turn in range(4):
        edge: Corners = []
        for i in range(n):
            y = 0.0 if (i % 2 == 0) == starts_out else t
            edge += [(i * pitch, y), ((i + 1) * pitch, y)]
        if not starts_out:
            edge[0], edge[-1] = (t, t), (size - t, t)
        board += [_quarter(p, turn, size) for p in (edge if starts_out else edge[:-1])]
    return [p for i, p in enumerate(board) if p != board[i - 1]]


def _quarter(point: Point, times: int, size: float) -> Point:
    for _ in range(times):
        point = (size - point[1], point[0])
    return point


def edges(
    corners: Corners, treatment: Treatment | None = None, *, inner: bool = True
) -> list[Segment]:
    """The corners' edges; concave corners (with `inner`; else convex ones) treated."""
    count = len(corners)
    rounded: list[list[Segment]] = []
    for i, corner in enumerate(corners):
        before, after = corners[i - 1], corners[(i + 1) % count]
        turn = (corner[0] - before[0]) * (after[1] - corner[1]) - (corner[1] - before[1]) * (
            after[0] - corner[0]
        )
        treat = treatment is not None and (turn < 0) == inner
        rounded.append(treatment(before, corner, after) if treat else [])
    made: list[Segment] = []
    for i, corner in enumerate(corners):
        follower = (i + 1) % count
        made += rounded[i]
        start = rounded[i][-1].end if rounded[i] else corner
        end = rounded[follower][0].start if rounded[follower] else corners[follower]
        made.append(Line(start, end))
    return made


def fillet(radius: float) -> Treatment:
    """Corners rounded."""

    def treat(before: Point, corner: Point, after: Point) -> list[Segment]:
        a, b = _towards(corner, before), _towards(corner, after)
        half = abs(atan2(a[0] * b[1] - a[1] * b[0], a[0] * b[0] + a[1] * b[1])) / 2
        reach = radius / tan(half)
        start, end = _along(corner, a, reach), _along(corner, b, reach)
        middle = (a[0] + b[0], a[1] + b[1])
        size = hypot(*middle)
        centre = _along(corner, (middle[0] / size, middle[1] / size), radius / sin(half))
        return [Arc(start, end, centre, clockwise=a[0] * b[1] - a[1] * b[0] > 0)]

    return treat


def chamfer(size: float) -> Treatment:
    """Corners cut off."""

    def treat(before: Point, corner: Point, after: Point) -> list[Segment]:
        a, b = _towards(corner, before), _towards(corner, after)
        return [Line(_along(corner, a, size), _along(corner, b, size))]

    return treat


def relief(radius: float) -> Treatment:
    """A round hole about each corner, cut from both its sides."""

    def treat(before: Point, corner: Point, after: Point) -> list[Segment]:
        start = _along(corner, _towards(corner, before), radius)
        end = _along(corner, _towards(corner, after), radius)
        return [Arc(start, end, corner, clockwise=True)]

    return treat


def chords(treatment: Treatment, count: int) -> Treatment:
    """The same corner, its curves drawn as chords."""

    def treat(before: Point, corner: Point, after: Point) -> list[Segment]:
        points = [
            s.point_at(i / count)
            for s in treatment(before, corner, after)
            for i in range(count + 1)
        ]
        return [Line(p, q) for p, q in pairwise(points) if p != q]

    return treat


def turned(made: Sequence[Segment], angle: float, mirrored: bool = False) -> list[Segment]:
    """The edges turned about the origin, degrees; mirrored first if wished."""
    c, s = cos(angle * pi / 180), sin(angle * pi / 180)

    def at(p: Point) -> Point:
        x, y = (-p[0], p[1]) if mirrored else p
        return (c * x - s * y + 200, s * x + c * y + 200)

    out: list[Segment] = []
    for e in made:
        if isinstance(e, Arc):
            out.append(Arc(at(e.start), at(e.end), at(e.centre), e.clockwise != mirrored))
        else:
            out.append(Line(at(e.start), at(e.end)))
    return [reverse(e) for e in reversed(out)] if mirrored else out


def drawing(*loops: Sequence[Segment]) -> Drawing:
    """A drawing with each loop as one element."""
    drawn_paths = tuple(DrawnPath(i, tuple(loop), range(len(loop))) for i, loop in enumerate(loops))
    return of_traces(drawn_paths)


def of_traces(drawn_paths: Sequence[DrawnPath]) -> Drawing:
    """A drawing that came from no file."""
    units = Units("mm", 1.0, UnitSource.FILE)
    return Drawing("made", tuple(drawn_paths), units, (), None)  # type: ignore[arg-type]


def _towards(one: Point, other: Point) -> Point:
    size = hypot(other[0] - one[0], other[1] - one[1])
    return ((other[0] - one[0]) / size, (other[1] - one[1]) / size)


def _along(point: Point, way: Point, distance: float) -> Point:
    return (point[0] + way[0] * distance, point[1] + way[1] * distance)


def apart(edge: Segment, gap: float, chance: Random) -> Segment:
    """An edge whose ends are off by up to a gap."""
    off = [chance.uniform(-gap, gap) / 2 for _ in range(4)]
    start = (edge.start[0] + off[0], edge.start[1] + off[1])
    return with_end_points(edge, start, (edge.end[0] + off[2], edge.end[1] + off[3]))


def scaled(loop: Sequence[Segment], factor: float) -> list[Segment]:
    """Edges larger about the origin."""

    def at(p: Point) -> Point:
        return (p[0] * factor, p[1] * factor)

    return [
        replace(e, start=at(e.start), end=at(e.end), centre=at(e.centre))
        if isinstance(e, Arc)
        else Line(at(e.start), at(e.end))
        for e in loop
    ]


def slotted_disc(
    radius: float, n: int, w: float, depth: float, chords: int | None
) -> list[Segment]:
    """A disc with `n` radial slots, its rim in arcs or in about so many chords."""
    made: list[Segment] = []
    half = asin(w / 2 / radius)
    for i in range(n):
        middle, after = 2 * pi * i / n, 2 * pi * (i + 1) / n
        c, s = cos(middle), sin(middle)
        floor = radius - depth
        a, b = ((floor * c + side * w / 2 * s, floor * s - side * w / 2 * c) for side in (1, -1))
        mouth = [(radius * cos(t), radius * sin(t)) for t in (middle - half, middle + half)]
        made += [Line(mouth[0], a), Line(a, b), Line(b, mouth[1])]
        end = (radius * cos(after - half), radius * sin(after - half))
        count = chords // n if chords else 1
        stops = [middle + half + (after - middle - 2 * half) * k / count for k in range(count + 1)]
        rim = [mouth[1], *((radius * cos(t), radius * sin(t)) for t in stops[1:-1]), end]
        if chords:
            made += map(Line, rim, rim[1:])
        else:
            made.append(Arc(mouth[1], end, (0.0, 0.0)))
    starts = [e.start for e in made]
    return [
        with_end_points(e, e.start, q) for e, q in zip(made, [*starts[1:], starts[0]], strict=True)
    ]


def round_slot(width: float, height: float, x: float, w: float, depth: float) -> list[Segment]:
    """A plate with one slot whose floor is a half circle below `depth`."""
    a, b, y = (x - w / 2, height), (x + w / 2, height), height - depth
    points = [(0, 0), (width, 0), (width, height), b, (b[0], y)]
    made: list[Segment] = [Line(p, q) for p, q in pairwise(points)]
    made.append(Arc((b[0], y), (a[0], y), (x, y), clockwise=True))
    rest = [(a[0], y), a, (0, height), (0, 0)]
    return [*made, *(Line(p, q) for p, q in pairwise(rest))]


def fingered_disc(radius: float, n: int, t: float) -> list[Segment]:
    """A disc with `n` fingers round it, `t` high, and gaps as wide."""
    made: list[Segment] = []
    for i in range(2 * n):
        own = radius if i % 2 == 0 else radius - t
        other = radius - t if i % 2 == 0 else radius
        a, b = pi * i / n, pi * (i + 1) / n
        end = (own * cos(b), own * sin(b))
        made.append(Arc((own * cos(a), own * sin(a)), end, (0.0, 0.0)))
        made.append(Line(end, (other * cos(b), other * sin(b))))
    starts = [e.start for e in made]
    return [
        with_end_points(e, e.start, q) for e, q in zip(made, [*starts[1:], starts[0]], strict=True)
    ]
