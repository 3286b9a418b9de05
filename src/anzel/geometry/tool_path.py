"""The path of a round tool beside an outline, such that its edge leaves the outline itself.

Lines stay lines and arcs keep their centres, exactly. A free curve becomes free curves that are off
by less than one or two micrometres, because the parallel of a cubic is no cubic. At convex corners
the path continues straight where that is not far, and otherwise goes round the corner. At concave
corners the path turns where its edges meet, and a round tool leaves its own radius in the outline.

Where features are smaller than the tool, the whole path is made of chords (shapely's buffer): the
tool cannot follow the outline there, and what it leaves shows that.
"""

from collections.abc import Iterable
from itertools import pairwise
from math import dist, hypot

import numpy as np
import shapely

from anzel.core.findings import GeometryError
from anzel.core.tolerances import COINCIDENT, FLATTEN, PARALLEL_CURVE, SMALLEST
from anzel.geometry.intersections import circles_meet, line_and_circle, lines_meet
from anzel.geometry.offset import offset_segment
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment, circle, subsegment, with_end_points

_FARTHEST = 3.0
"""A path goes straight on past a corner for at most so many times its distance."""
_OFF = 3 * FLATTEN
"""Chords of a path and the buffer of chords differ by no more, mm, unless something is wrong."""
_STRAIGHT_ON = 0.49
"""A curve without a slope so far from its middle is taken for its chord."""
_FINEST = 8
"""A free curve is halved at most so many times."""


def tool_path(region: Region, distance: float) -> tuple[Contour, ...]:
    """Return the paths `distance` mm outside a region: of its outer outline, then of its holes.

    A hole smaller than the tool has no path.
    """
    outer = parallel_contour(region.outer, distance)
    holes = (parallel_contour(hole.reversed(), -distance) for hole in region.holes)
    assert outer is not None
    return (outer, *(hole.reversed() for hole in holes if hole is not None))


def parallel_contour(contour: Contour, distance: float) -> Contour | None:
    """Return the parallel of a counter-clockwise outline; None where it vanishes.

    It lies outside where `distance` is positive, mm.
    """
    if isinstance(only := contour.segments[0], Arc) and contour.is_circle:
        radius = only.radius + distance
        return Contour((circle(only.centre, radius),)) if radius > SMALLEST else None
    contour = _with_length(contour)
    wanted = contour.polygon_shape.buffer(distance, join_style="mitre", mitre_limit=_FARTHEST)
    parts = [part for part in shapely.get_parts(wanted) if part.area > SMALLEST]
    if not parts:
        return None
    exact = _exact(contour, distance)
    if exact is not None and len(parts) == 1 and not parts[0].interiors:
        made = exact.polygon_shape
        if made.is_valid and made.symmetric_difference(parts[0]).area < _OFF * made.length:
            return exact
    largest = max(parts, key=lambda part: part.area)
    return Contour.polygon([(x, y) for x, y in largest.exterior.coords[:-1]])


def _with_length(contour: Contour) -> Contour:
    """Return an outline without segments that have no length, which drawings may hold.

    A curve that is smaller than a coincidence has no slope to go by, and is a line.
    """
    kept: list[Segment] = []
    for segment in contour.segments:
        if isinstance(segment, Cubic) and _reach(segment) < COINCIDENT:
            segment = Line(segment.start, segment.end)
        if not isinstance(segment, Line) or segment.start != segment.end:
            kept.append(segment)
    return Contour(tuple(kept)) if len(kept) > 1 else contour


def _reach(curve: Cubic) -> float:
    """Return how far the furthest control point lies from the start."""
    return max(dist(curve.start, point) for point in curve.controls)


def _exact(contour: Contour, distance: float) -> Contour | None:
    """Return the path segment by segment; None where one vanishes or neighbours do not meet."""
    moved = [_moved(segment, distance) for segment in contour.segments]
    if any(not run for run in moved):
        return None
    runs: list[list[Segment]] = [list(run) for run in moved]
    corners: list[list[Segment]] = []
    for index, segment in enumerate(contour.segments):
        before, after = runs[index - 1], runs[index]
        joint = _joined(before, after, segment.start, distance)
        if joint is None:
            return None
        corners.append(joint)
    path = [s for corner, run in zip(corners, runs, strict=True) for s in (*corner, *run)]
    sound = all(_same_way(s, run[0]) for s, run in zip(contour.segments, runs, strict=True))
    path = [segment for segment in path if segment.start != segment.end]
    if not sound or len(path) < 2:
        return None
    snapped = [
        with_end_points(segment, segment.start, after.start)
        for segment, after in pairwise([*path, path[0]])
    ]
    return Contour(tuple(snapped))


def _moved(segment: Segment, distance: float) -> tuple[Segment, ...]:
    """Return the path of a segment; nothing where it vanishes."""
    if isinstance(segment, Cubic):
        return tuple(_parallels(segment, distance, 0))
    try:
        made = offset_segment(segment, distance)
    except GeometryError:
        return ()
    return () if isinstance(made, Arc) and made.radius < SMALLEST else (made,)


def _parallels(curve: Cubic, distance: float, depth: int) -> Iterable[Cubic]:
    """Yield free curves beside one.

    Its ends moved, its handles as long as the parallel's speed asks, halved until they are near
    enough.
    """
    made = _parallel(curve, distance)
    off = max(
        abs(hypot(a[0] - b[0], a[1] - b[1]))
        for t in (0.25, 0.5, 0.75)
        for a, b in [(made.point_at(t), _nearest_parallel(curve, t, distance, made))]
    )
    if off < PARALLEL_CURVE or depth >= _FINEST:
        yield made
        return
    yield from _parallels(curve.subsegment(0.0, 0.5), distance, depth + 1)
    yield from _parallels(curve.subsegment(0.5, 1.0), distance, depth + 1)


def _parallel(curve: Cubic, distance: float) -> Cubic:
    p0, p1, p2, p3 = (np.array(p) for p in curve.controls)
    first, last = _slope(curve, 0.0), _slope(curve, 1.0)
    start, end = p0 + distance * _right(first), p3 + distance * _right(last)
    # d/dt of the parallel is the curve's own slope times (1 + distance × curvature)
    scale0 = 1 + distance * _curvature(curve, 0.0)
    scale1 = 1 + distance * _curvature(curve, 1.0)
    control1, control2 = start + (p1 - p0) * scale0, end - (p3 - p2) * scale1
    return Cubic(*(_point(p) for p in (start, control1, control2, end)))


def _nearest_parallel(curve: Cubic, t: float, distance: float, made: Cubic) -> Point:
    """Return the point of the true parallel nearest to an approximation, after one Newton step."""
    there = np.array(made.point_at(t))
    for _ in range(3):
        slope = _slope(curve, t)
        way = there - np.array(curve.point_at(t))
        t = min(max(t + float(way @ slope) / float(slope @ slope), 0.0), 1.0)
    return _point(np.array(curve.point_at(t)) + distance * _right(_slope(curve, t)))


def _slope(curve: Cubic, t: float) -> np.ndarray:
    a, b, c, d = (np.array(p) for p in curve.controls)
    u = 1 - t
    found = 3 * (u * u * (b - a) + 2 * u * t * (c - b) + t * t * (d - c))
    if float(np.hypot(*found)) < COINCIDENT:  # a handle without length: look a little further
        further = t + 1e-4 if t < 0.5 else t - 1e-4
        return _slope(curve, further) if abs(t - 0.5) > _STRAIGHT_ON else d - a
    return np.asarray(found)


def _curvature(curve: Cubic, t: float) -> float:
    """Return the signed curvature, positive where the curve turns left.

    An offset to the right is longer there.
    """
    a, b, c, d = (np.array(p) for p in curve.controls)
    x1, y1 = _slope(curve, t)
    x2, y2 = 6 * ((1 - t) * (c - 2 * b + a) + t * (d - 2 * c + b))
    return float((x1 * y2 - y1 * x2) / np.hypot(x1, y1) ** 3)


def _joined(
    before: list[Segment], after: list[Segment], corner: Point, distance: float
) -> list[Segment] | None:
    """Return the segments between two neighbours' paths.

    Both paths are shortened or extended to meet them.
    """
    a, b = before[-1], after[0]
    if hypot(a.end[0] - b.start[0], a.end[1] - b.start[1]) < COINCIDENT:
        before[-1] = with_end_points(a, a.start, b.start)
        return []
    (ax, ay), (bx, by) = end_tangent(a), start_tangent(b)
    turn = ax * by - ay * bx
    opens = turn * distance > 0  # a corner towards the tool: the moved edges part
    if opens and isinstance(a, Line) and isinstance(b, Line):
        met = lines_meet(a.start, a.chord, b.start, b.chord)
        if met is not None and hypot(met[0] - corner[0], met[1] - corner[1]) < _FARTHEST * abs(
            distance
        ):
            before[-1], after[0] = Line(a.start, met), Line(met, b.end)
            return []
    if opens:
        return [Arc(a.end, b.start, corner, clockwise=distance < 0)]
    if isinstance(a, Cubic) or isinstance(b, Cubic):
        return _cut_back(before, after)
    met = _meeting(a, b, corner)
    if met is None:
        return None
    before[-1], after[0] = with_end_points(a, a.start, met), with_end_points(b, met, b.end)
    return []


def _cut_back(before: list[Segment], after: list[Segment]) -> list[Segment] | None:
    """Return two offset edges, at least one of them free, cut back to where they cross.

    The crossing is found from the nearest samples by Newton's method.
    """
    a, b = before[-1], after[0]
    steps = np.linspace(0.0, 1.0, 65)
    ours, theirs = (np.array([s.point_at(float(t)) for t in steps]) for s in (a, b))
    apart = np.hypot(*(ours[:, None] - theirs[None, :]).transpose(2, 0, 1))
    first, second = np.unravel_index(int(apart.argmin()), apart.shape)
    s, t = float(steps[first]), float(steps[second])
    for _ in range(20):
        off = np.array(a.point_at(s)) - np.array(b.point_at(t))
        if float(np.hypot(*off)) < COINCIDENT / 10:
            break
        slopes = np.column_stack([_rate(a, s), -_rate(b, t)])
        if abs(float(np.linalg.det(slopes))) < COINCIDENT:
            return None
        way = np.linalg.solve(slopes, -off)
        s, t = (min(max(v + float(w), 0.0), 1.0) for v, w in zip((s, t), way, strict=True))
    if not (0.0 < s <= 1.0 and 0.0 <= t < 1.0) or float(np.hypot(*off)) > COINCIDENT:
        return None
    met = a.point_at(s)
    before[-1], after[0] = subsegment(a, 0.0, s, a.start, met), subsegment(b, t, 1.0, met, b.end)
    return []


def _rate(segment: Segment, t: float) -> np.ndarray:
    """Return the derivative of a segment's point by its parameter."""
    if isinstance(segment, Cubic):
        return _slope(segment, t)
    low, high = (np.array(segment.point_at(t + step)) for step in (-1e-5, 1e-5))
    return np.asarray((high - low) / 2e-5)


def _meeting(a: Segment, b: Segment, corner: Point) -> Point | None:
    """Return where two offset edges, lines or arcs, cross, nearest to the corner."""
    found: list[Point] = []
    if isinstance(a, Line) and isinstance(b, Line):
        return lines_meet(a.start, a.chord, b.start, b.chord)
    if isinstance(a, Line) and isinstance(b, Arc):
        found = line_and_circle(a.start, a.chord, b.centre, b.radius)
    elif isinstance(a, Arc) and isinstance(b, Line):
        found = line_and_circle(b.start, b.chord, a.centre, a.radius)
    elif isinstance(a, Arc) and isinstance(b, Arc):
        found = circles_meet(a.centre, a.radius, b.centre, b.radius)
    return min(found, key=lambda at: dist(at, corner), default=None)


def _same_way(before: Segment, after: Segment) -> bool:
    """Return whether an offset edge still runs in its direction."""
    (ax, ay), (bx, by) = start_tangent(before), start_tangent(after)
    if ax * bx + ay * by < 0:
        return False
    if isinstance(before, Arc) and isinstance(after, Arc):
        return abs(before.sweep - after.sweep) < 3.0
    return True


def start_tangent(segment: Segment) -> Point:
    """Return the direction at a segment's start."""
    return _direction(segment, start=True)


def end_tangent(segment: Segment) -> Point:
    """Return the direction at a segment's end."""
    return _direction(segment, start=False)


def _direction(segment: Segment, *, start: bool) -> Point:
    if isinstance(segment, Cubic):
        x, y = _slope(segment, 0.0 if start else 1.0)
        return _unit((float(x), float(y)))
    if isinstance(segment, Arc):
        x, y = segment.start if start else segment.end
        rx, ry = x - segment.centre[0], y - segment.centre[1]
        return _unit((ry, -rx) if segment.clockwise else (-ry, rx))
    return _unit((segment.end[0] - segment.start[0], segment.end[1] - segment.start[1]))


def _unit(vector: Point) -> Point:
    size = hypot(*vector)
    return (vector[0] / size, vector[1] / size) if size else (0.0, 0.0)


def _normal(vector: Point) -> Point:
    """Return the unit vector to the right."""
    x, y = _unit(vector)
    return (y, -x)


def _right(slope: np.ndarray) -> np.ndarray:
    return np.array(_normal((float(slope[0]), float(slope[1]))))


def _point(array: np.ndarray) -> Point:
    return (float(array[0]), float(array[1]))
