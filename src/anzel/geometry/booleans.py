"""Boolean operations that add to outlines and cut from them without losing exact curves.

GEOS decides the *topology* on chords; the *geometry* is then recovered from the curves that the
chords stand for. Terms:

- *source*: a contour that went in; *chord*: one straight stand-in of one of its segments;
- *run*: consecutive result edges that lie on chords of one segment in one direction;
- *junction*: where one run ends and the next starts. It is either a vertex of a source, kept to the
  last digit, or a crossing, solved on the exact curves.

A segment that was not cut comes back as the same object; an arc that was cut keeps its centre.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import hypot
from typing import NamedTuple

import numpy as np
import shapely

from anzel.core.findings import GeometryError
from anzel.core.tolerances import COINCIDENT, FLATTEN, ON_CURVE, ROUNDING, SAME_CROSSING, VANISHING
from anzel.geometry.prepared import prepared
from anzel.geometry.regions import Contour, Indices, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Floats, Line, Segment, reverse, subsegment


def combine(
    region: Region, *, add: Sequence[Contour] = (), cut: Sequence[Contour] = ()
) -> tuple[Region, ...]:
    """Return the parts of a region after adding and cutting contours, largest first.

    First the `add` contours are joined to the region, then the `cut` contours are taken away. The
    result is empty if nothing is left.
    """
    if not add and not cut:
        return (region,)
    if not add and _are_windows(region, cut):
        return (Region.of(region.outer, (*region.holes, *cut)),)
    shape: shapely.Geometry = region.shape
    if add:
        shape = shapely.union_all([shape, *_shapes(add)])
    if cut:
        tools = _shapes(cut)
        shape = shapely.difference(shape, _together(tools))
    recovery = _Recovery([*region.contours, *add, *cut])
    parts = shapely.get_parts(shapely.orient_polygons(shape))
    areas = shapely.area(parts)
    parts = [parts[i] for i in np.argsort(-areas) if areas[i] > COINCIDENT]
    return tuple(recovery.region(polygon) for polygon in parts)


def _together(tools: Sequence[shapely.Polygon]) -> shapely.Geometry:
    """Return all tools as one shape; tools in a row, clear of one another, need no union."""
    if len(tools) == 1:
        return tools[0]
    boxes = shapely.bounds(tools)
    for low, high in ((0, 2), (1, 3)):
        row = boxes[np.argsort(boxes[:, low])]
        if (row[:-1, high] < row[1:, low]).all():
            return shapely.multipolygons(np.asarray(tools, dtype=object))
    return shapely.union_all(tools)


def _are_windows(region: Region, cut: Sequence[Contour]) -> bool:
    """Return whether all cuts lie wholly inside and apart from one another.

    Then each is simply a hole.
    """
    tools = _shapes(cut)
    if not shapely.contains_properly(prepared(region.shape), tools).all():
        return False
    return len(tools) == 1 or bool(
        shapely.STRtree(tools).query(tools, predicate="intersects").shape[1] == len(tools)
    )


def _shapes(contours: Sequence[Contour]) -> Sequence[shapely.Polygon]:
    """Return the contours as shapely polygons, created together where they have as many corners."""
    corners = [contour.corners for contour in contours]
    if len({len(each) for each in corners}) == 1:
        made: Sequence[shapely.Polygon] = shapely.polygons(np.array(corners))
        return made
    return [contour.polygon_shape for contour in contours]


_NUDGE = "Change a size a little, so that the slot crosses the outline clearly."
_FEW = 16
"""Under this many points plain Python is quicker than arrays."""


@dataclass(slots=True)
class _Run:
    """Result edges along one segment, from parameter t0 to t1, starting at a point."""

    segment: int
    forward: bool
    t0: float
    t1: float
    start: Point
    at_corner: bool = True


class _Recovery:
    """Recovers exact segments in polygons made of chords of `sources`.

    Corners, chords and segments of all sources are numbered consecutively. Chord i starts at corner
    i and ends at corner after[i].
    """

    def __init__(self, sources: Sequence[Contour]) -> None:
        self.sources = sources
        self.segments = [segment for contour in sources for segment in contour.segments]
        self.corners = [corner for contour in sources for corner in contour.corners]
        self.owner = [n for n, contour in enumerate(sources) for _ in contour.segments]
        after, segment_of = [], []
        corners_before = segments_before = 0
        self.corner_at_tools: dict[Point, int] = {}
        for contour in sources:
            size = len(contour.corners)
            after.append(_next_in_ring(size) + corners_before)
            segment_of.append(contour.chord_parameters[0] + segments_before)
            if corners_before:
                numbers = range(corners_before, corners_before + size)
                self.corner_at_tools.update(zip(contour.corners, numbers, strict=True))
            corners_before += size
            segments_before += len(contour.segments)
        self.recent: list[int] = []
        self.vertices = np.concatenate([contour.vertices for contour in sources])
        self.after = np.concatenate(after)
        self.segment_of = np.concatenate(segment_of)
        self.t0 = np.concatenate([contour.chord_parameters[1] for contour in sources])
        self.t1 = np.concatenate([contour.chord_parameters[2] for contour in sources])
        # the same as plain numbers: single ones are looked up far more often than many at once
        self.next: list[int] = self.after.tolist()
        self.owner_segment: list[int] = self.segment_of.tolist()
        self.from_t: list[float] = self.t0.tolist()
        self.to_t: list[float] = self.t1.tolist()

    def number(self, corner: Point) -> int:
        """Return the number of a source's corner at a point, or -1."""
        found = self.sources[0].corner_numbers.get(corner, -1)
        return found if found >= 0 else self.corner_at_tools.get(corner, -1)

    def before(self, corner: int) -> int:
        """Return the previous corner in the same ring."""
        if self.next[corner - 1] == corner:
            return corner - 1
        return int(np.flatnonzero(self.after == corner)[0])

    def region(self, polygon: shapely.Polygon) -> Region:
        """Return the exact region of one result polygon, its rings in our directions."""
        outer, *holes = (self._contour(ring) for ring in shapely.get_rings(polygon))
        return Region(outer, tuple(holes))

    def _contour(self, ring: shapely.LinearRing) -> Contour:
        points = shapely.get_coordinates(ring)[:-1]
        numbers = self._numbers(points)
        unchanged = self._unchanged(numbers)
        if unchanged is not None:
            return unchanged
        runs = self._runs(points, numbers)
        if len(runs) == 1:
            contour = self.sources[self.owner[runs[0].segment]]
            return contour if runs[0].forward else contour.reversed()
        joints = [self._joint(runs[i - 1], run) for i, run in enumerate(runs)]
        return Contour(
            tuple(
                self._stretch(run, joint, after)
                for run, joint, after in zip(runs, joints, joints[1:] + joints[:1], strict=True)
            )
        )

    def _unchanged(self, numbers: Indices) -> Contour | None:
        """Return the source that a whole ring consists of, in the ring's direction.

        None if there is none.
        """
        first, second = int(numbers[0]), int(numbers[1])
        if first < 0 or numbers.min() < 0:
            return None
        owner = self.owner[int(self.segment_of[first])]
        contour = self.sources[owner]
        low = sum(len(source.corners) for source in self.sources[:owner])
        size = len(contour.corners)
        if len(numbers) != size or numbers.min() < low or numbers.max() >= low + size:
            return None
        return contour if self.after[first] == second else contour.reversed()

    def _stretch(self, run: _Run, joint: "_Junction", after: "_Junction") -> Segment:
        """Return the part of a segment from one junction to the next."""
        segment, start, end = self.segments[run.segment], joint.point, after.point
        if start != end:
            if run.forward and (start, end) == (segment.start, segment.end):
                return segment
            if not run.forward and (start, end) == (segment.end, segment.start):
                return reverse(segment)
        t0, t1 = joint.t_after, after.t_before
        if (t1 > t0) != run.forward:  # over the seam of a circle
            t0, t1 = (t0, t1 + 1.0) if run.forward else (t0 + 1.0, t1)
        return subsegment(segment, t0, t1, start, end)

    def _runs(self, points: Floats, corner: Indices) -> list[_Run]:
        following = np.concatenate((corner[1:], corner[:1]))
        forward = (self.after[corner] == following) & (corner >= 0)
        back = (self.after[following] == corner) & (following >= 0) & ~forward
        chord = np.where(forward, corner, np.where(back, following, -1))
        kind = np.where(chord < 0, -1, 2 * self.segment_of[chord] + forward)
        changes = np.concatenate((kind[:1] != kind[-1:], kind[1:] != kind[:-1]))
        stops = np.flatnonzero(changes | (kind < 0)).tolist() or [0]
        size = len(points)
        runs: list[_Run] = []
        for first, stop in zip(stops, [*stops[1:], stops[0] + size], strict=True):
            if kind[first] < 0:
                start, end = points[first].tolist(), points[(first + 1) % size].tolist()
                run = self._edge((start[0], start[1]), (end[0], end[1]))
                run.at_corner = bool(corner[first] >= 0)
            else:
                last = (stop - 1) % size
                run = self._along_chords(int(chord[first]), int(chord[last]), bool(forward[first]))
            self._append(runs, run)
        if len(runs) > 1 and self._goes_on(runs[-1], runs[0]):
            last_run = runs.pop()
            runs[0].t0, runs[0].start = last_run.t0, last_run.start
            runs[0].at_corner = last_run.at_corner
        return runs

    def _numbers(self, points: Floats) -> Indices:
        """Return (n,) the numbers of the corners at (n, 2) points, -1 where there is none."""
        if len(points) < _FEW:
            return np.array([self.number((x, y)) for x, y in points.tolist()])
        keys, order = self.sources[0].sorted_corners
        wanted = np.ascontiguousarray(points).view(np.complex128).ravel()
        at = np.minimum(np.searchsorted(keys, wanted), len(keys) - 1)
        numbers = np.where(keys[at] == wanted, order[at], -1)
        for missing in np.flatnonzero(numbers < 0).tolist():
            x, y = points[missing].tolist()
            numbers[missing] = self.corner_at_tools.get((x, y), -1)
        return numbers

    def _along_chords(self, first: int, last: int, forward: bool) -> _Run:
        """Return the run over whole chords of one segment, from the first to the last."""
        segment = self.owner_segment[first]
        if forward:
            return _Run(segment, True, self.from_t[first], self.to_t[last], self.corners[first])
        end = self.corners[self.next[first]]
        return _Run(segment, False, self.to_t[first], self.from_t[last], end)

    def _append(self, runs: list[_Run], run: _Run) -> None:
        if runs and self._goes_on(runs[-1], run):
            runs[-1].t1 = run.t1
        else:
            runs.append(run)

    def _goes_on(self, before: _Run, run: _Run) -> bool:
        """Return whether a run continues the previous one, on one segment or over its seam."""
        if (before.segment, before.forward) != (run.segment, run.forward):
            return False
        over_seam = {before.t1, run.t0} == {0.0, 1.0}
        return abs(run.t0 - before.t1) < ROUNDING or (
            over_seam and self.sources[self.owner[run.segment]].is_circle
        )

    def _edge(self, start: Point, end: Point) -> _Run:
        """Return the run of an edge that is not a whole chord, by the chord under it."""
        for point in (start, end):  # nearly always one end is a source's corner
            corner = self.number(point)
            if corner >= 0:
                for chord in (corner, self.before(corner)):
                    run = self._on_chord(chord, start, end)
                    if run:
                        return run
        for chord in self.recent:  # else mostly a chord that a tool has interrupted
            run = self._on_chord(chord, start, end)
            if run:
                return run
        middle = np.array([(start[0] + end[0]) / 2, (start[1] + end[1]) / 2])
        distances = _distances(self.vertices, self.vertices[self.after], middle)
        for chord in np.flatnonzero(distances < 10 * ON_CURVE).tolist():
            run = self._on_chord(chord, start, end)
            if run:
                return run
        raise GeometryError("An outline could not be followed after a cut.", hint=_NUDGE)

    def _on_chord(self, chord: int, start: Point, end: Point) -> _Run | None:
        """Return the run of an edge on a chord's segment; None if the edge is not on that chord."""
        ax, ay = self.corners[chord]
        bx, by = self.corners[self.next[chord]]
        ux, uy = bx - ax, by - ay
        size = hypot(ux, uy)
        if not size:
            return None  # a drawn segment without length
        px, py, qx, qy = start[0] - ax, start[1] - ay, end[0] - ax, end[1] - ay
        off = ON_CURVE * size
        if abs(ux * py - uy * px) > off or abs(ux * qy - uy * qx) > off:
            return None
        f0, f1 = (px * ux + py * uy) / size**2, (qx * ux + qy * uy) / size**2
        if min(f0, f1) * size < -ON_CURVE or (max(f0, f1) - 1) * size > ON_CURVE:
            return None
        self.recent = [chord, *self.recent[:5]]
        t0 = self.from_t[chord]
        width = self.to_t[chord] - t0
        return _Run(self.owner_segment[chord], f1 > f0, t0 + f0 * width, t0 + f1 * width, start)

    def _joint(self, before: _Run, run: _Run) -> "_Junction":
        """Return where two runs meet: the point, and its parameter on each of the two segments."""
        first, second = self.segments[before.segment], self.segments[run.segment]
        straight = isinstance(first, Line) and isinstance(second, Line)
        if straight or run.at_corner:
            return _Junction(run.start, before.t1, run.t0)
        return _crossing(first, before.t1, second, run.t0)


class _Junction(NamedTuple):
    """Where one run ends and the next starts."""

    point: Point
    t_before: float
    t_after: float


@lru_cache(maxsize=256)  # by the number of corners; an array each
def _next_in_ring(size: int) -> Indices:
    """Return (size,) the next corner of each corner of a ring."""
    return np.roll(np.arange(size), -1)


def _distances(starts: Floats, ends: Floats, point: Floats) -> Floats:
    """Return (n,) the distance of a point from each chord, given (n, 2) starts and ends."""
    along = ends - starts
    t = np.clip(((point - starts) * along).sum(axis=1) / (along**2).sum(axis=1), 0, 1)
    gap = point - starts - t[:, None] * along
    return np.asarray(np.hypot(gap[:, 0], gap[:, 1]))


def _crossing(first: Segment, t_first: float, second: Segment, t_second: float) -> _Junction:
    """Return the true crossing of two segments near the given parameters."""
    if isinstance(first, Line) and not isinstance(second, Line):
        found = _on_line(first, second, t_second)
        if found is not None:
            return found
    elif isinstance(second, Line) and not isinstance(first, Line):
        turned = _on_line(second, first, t_first)
        if turned is not None:
            return _Junction(turned.point, turned.t_after, turned.t_before)
    return _by_newton(first, t_first, second, t_second)


def _on_line(line: Line, curve: Segment, t_near: float) -> "_Junction | None":
    """Return where a curve crosses a line nearest to a parameter of the curve, in closed form."""
    (x0, y0), (x1, y1) = line.start, line.end
    dx, dy = x1 - x0, y1 - y0
    at = min(curve.crossings(line.start, (dx, dy)), key=lambda t: abs(t - t_near), default=None)
    if at is None or abs(at - t_near) > SAME_CROSSING:
        return None
    x, y = curve.point_at(at)
    along = ((x - x0) * dx + (y - y0) * dy) / (dx * dx + dy * dy)
    return _Junction(line.point_at(along), along, at)  # exactly on the line, as slots' sides are


def _by_newton(first: Segment, t_first: float, second: Segment, t_second: float) -> _Junction:
    """Return the crossing of two curves, by Newton's method."""
    t, u = t_first, t_second
    step = COINCIDENT
    for _ in range(30):
        p, q = first.point_at(t), second.point_at(u)
        gap = (q[0] - p[0], q[1] - p[1])
        if hypot(*gap) < VANISHING:
            break
        pa, pb = first.point_at(t - step), first.point_at(t + step)
        qa, qb = second.point_at(u - step), second.point_at(u + step)
        d = ((pb[0] - pa[0]) / (2 * step), (pb[1] - pa[1]) / (2 * step))
        e = ((qb[0] - qa[0]) / (2 * step), (qb[1] - qa[1]) / (2 * step))
        bend = d[0] * e[1] - d[1] * e[0]
        if abs(bend) < VANISHING:
            break
        t += (gap[0] * e[1] - gap[1] * e[0]) / bend
        u += (gap[0] * d[1] - gap[1] * d[0]) / bend
    p, q, near = first.point_at(t), second.point_at(u), first.point_at(t_first)
    if hypot(q[0] - p[0], q[1] - p[1]) > COINCIDENT or hypot(p[0] - near[0], p[1] - near[1]) > (
        100 * FLATTEN
    ):
        message = "Two edges only graze each other; where they cross is not certain."
        raise GeometryError(message, hint=_NUDGE)
    return _Junction(q if isinstance(second, Line) else p, t, u)
