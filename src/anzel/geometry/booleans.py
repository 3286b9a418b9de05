"""Adding to and cutting from outlines without losing their exact curves.

GEOS decides the *topology* on chords; the *geometry* is then put back from the curves the
chords stood for. Terms:

- *source*: a contour that went in; *chord*: one straight stand-in of one of its segments;
- *run*: consecutive result edges that lie on chords of one segment in one direction;
- *joint point*: where one run ends and the next starts. It is either a vertex of a source, kept
  to the last digit, or a crossing, solved on the exact curves.

A segment that was not cut comes back as the same object; an arc that was cut keeps its centre.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot
from typing import NamedTuple

import numpy as np
import shapely

from anzel.findings import GeometryError
from anzel.geometry.curves import Floats, Line, Segment, part, reverse
from anzel.geometry.motion import Point
from anzel.geometry.outlines import Contour, Region
from anzel.geometry.tolerances import COINCIDENT, FLATTEN, ON_CURVE


def combine(
    region: Region, *, add: Sequence[Contour] = (), cut: Sequence[Contour] = ()
) -> tuple[Region, ...]:
    """`region` with the `add` contours joined to it, then the `cut` contours taken away.

    Returns the connected pieces that are left, largest first; none if nothing is.
    """
    if not add and not cut:
        return (region,)
    shape: shapely.Geometry = region.shape
    if add:
        shape = shapely.union_all([shape, *(tool.polygon_shape for tool in add)])
    if cut:
        tools = [tool.polygon_shape for tool in cut]
        shape = shape.difference(tools[0] if len(tools) == 1 else shapely.union_all(tools))
    recovery = _Recovery([*region.contours, *add, *cut])
    parts = [part for part in shapely.get_parts(shape) if part.area > COINCIDENT]
    parts.sort(key=lambda polygon: -polygon.area)
    return tuple(recovery.region(polygon) for polygon in parts)


@dataclass(slots=True)
class _Run:
    """Result edges along one segment, from parameter t0 to t1, starting at a point."""

    segment: int
    forward: bool
    t0: float
    t1: float
    start: Point


class _Recovery:
    """Puts the exact segments back into polygons made of chords of `sources`.

    Corners, chords and segments of all sources are numbered through; chord i starts at corner i
    and ends at corner after[i].
    """

    def __init__(self, sources: Sequence[Contour]) -> None:
        self.sources = sources
        self.segments = [segment for contour in sources for segment in contour.segments]
        self.corners = [corner for contour in sources for corner in contour.corners]
        self.owner: list[int] = []
        after, segment_of, t0, t1 = [], [], [], []
        base = 0
        for number, contour in enumerate(sources):
            size = len(contour.corners)
            ring = np.arange(base + 1, base + size + 1)
            ring[-1] = base
            after.append(ring)
            stations = contour.stations
            segment_of.append(stations[0] + len(self.owner))
            t0.append(stations[1])
            t1.append(stations[2])
            self.owner += [number] * len(contour.segments)
            base += size
        self.after = np.concatenate(after)
        self.segment_of = np.concatenate(segment_of)
        self.t0, self.t1 = np.concatenate(t0), np.concatenate(t1)
        self.corner_at = dict(zip(self.corners, range(base), strict=True))

    def region(self, polygon: shapely.Polygon) -> Region:
        """The exact region for one result polygon."""
        holes = [self._contour(ring) for ring in polygon.interiors]
        return Region.of(self._contour(polygon.exterior), holes)

    def _contour(self, ring: shapely.LinearRing) -> Contour:
        points: list[Point] = list(map(tuple, shapely.get_coordinates(ring)[:-1].tolist()))
        for contour in self.sources:
            if len(points) == len(contour.corners) and contour.corner_set.issuperset(points):
                return contour
        runs = self._runs(points)
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

    def _stretch(self, run: _Run, joint: "_Joint", after: "_Joint") -> Segment:
        """The part of a segment from one joint point to the next."""
        segment, start, end = self.segments[run.segment], joint.point, after.point
        if start != end:
            if run.forward and (start, end) == (segment.start, segment.end):
                return segment
            if not run.forward and (start, end) == (segment.end, segment.start):
                return reverse(segment)
        t0, t1 = joint.t_after, after.t_before
        if (t1 > t0) != run.forward:  # over the seam of a circle
            t0, t1 = (t0, t1 + 1.0) if run.forward else (t0 + 1.0, t1)
        return part(segment, t0, t1, start, end)

    def _runs(self, points: list[Point]) -> list[_Run]:
        corner = np.array([self.corner_at.get(point, -1) for point in points])
        following = np.concatenate((corner[1:], corner[:1]))
        forward = (self.after[corner] == following) & (corner >= 0)
        back = (self.after[following] == corner) & (following >= 0) & ~forward
        chord = np.where(forward, corner, np.where(back, following, -1))
        kind = np.where(chord < 0, -1, 2 * self.segment_of[chord] + forward)
        changes = np.concatenate((kind[:1] != kind[-1:], kind[1:] != kind[:-1]))
        stops = np.flatnonzero(changes | (kind < 0)).tolist() or [0]
        runs: list[_Run] = []
        for first, stop in zip(stops, [*stops[1:], stops[0] + len(points)], strict=True):
            last = (stop - 1) % len(points)
            run = (
                self._edge(points[first], points[(first + 1) % len(points)])
                if kind[first] < 0
                else self._along_chords(chord[first], chord[last], bool(forward[first]))
            )
            self._append(runs, run)
        if len(runs) > 1 and self._goes_on(runs[-1], runs[0]):
            last_run = runs.pop()
            runs[0].t0, runs[0].start = last_run.t0, last_run.start
        return runs

    def _along_chords(self, first: int, last: int, forward: bool) -> _Run:
        """The run over whole chords of one segment, from the first to the last."""
        segment = int(self.segment_of[first])
        if forward:
            ends = (float(self.t0[first]), float(self.t1[last]))
            return _Run(segment, True, *ends, self.corners[first])
        ends = (float(self.t1[first]), float(self.t0[last]))
        return _Run(segment, False, *ends, self.corners[self.after[first]])

    def _append(self, runs: list[_Run], run: _Run) -> None:
        if runs and self._goes_on(runs[-1], run):
            runs[-1].t1 = run.t1
        else:
            runs.append(run)

    def _goes_on(self, before: _Run, run: _Run) -> bool:
        """Whether a run starts where the other stopped, on one segment (or over its seam)."""
        if (before.segment, before.forward) != (run.segment, run.forward):
            return False
        over_seam = {before.t1, run.t0} == {0.0, 1.0}
        return abs(run.t0 - before.t1) < 1e-9 or (
            over_seam and self.sources[self.owner[run.segment]].is_circle
        )

    def _edge(self, start: Point, end: Point) -> _Run:
        """The run of an edge that is not a whole chord: look for the chord under it."""
        for point in (start, end):  # nearly always one end is a source's corner
            corner = self.corner_at.get(point, -1)
            if corner >= 0:
                before = int(np.flatnonzero(self.after == corner)[0])
                run = self._on_chord(corner, start, end) or self._on_chord(before, start, end)
                if run:
                    return run
        middle = np.array([(start[0] + end[0]) / 2, (start[1] + end[1]) / 2])
        corners = np.array(self.corners)
        distances = _distances(corners, corners[self.after], middle)
        for chord in np.flatnonzero(distances < 10 * ON_CURVE):
            run = self._on_chord(int(chord), start, end)
            if run:
                return run
        raise GeometryError("An outline could not be followed after a cut.")

    def _on_chord(self, chord: int, start: Point, end: Point) -> _Run | None:
        """The run of an edge on a chord's segment, or None if it is not on that chord."""
        a, b = self.corners[chord], self.corners[self.after[chord]]
        ux, uy = b[0] - a[0], b[1] - a[1]
        size = hypot(ux, uy)
        fractions = []
        for x, y in (start, end):
            if abs(ux * (y - a[1]) - uy * (x - a[0])) > ON_CURVE * size:
                return None
            fractions.append(((x - a[0]) * ux + (y - a[1]) * uy) / size**2)
        f0, f1 = fractions
        if min(f0, f1) * size < -ON_CURVE or (max(f0, f1) - 1) * size > ON_CURVE:
            return None
        t0, width = float(self.t0[chord]), float(self.t1[chord] - self.t0[chord])
        return _Run(int(self.segment_of[chord]), f1 > f0, t0 + f0 * width, t0 + f1 * width, start)

    def _joint(self, before: _Run, run: _Run) -> "_Joint":
        """Where two runs meet: the point, and its parameter on each of the two segments."""
        first, second = self.segments[before.segment], self.segments[run.segment]
        straight = isinstance(first, Line) and isinstance(second, Line)
        if straight or run.start in self.corner_at:
            return _Joint(run.start, before.t1, run.t0)
        return _crossing(first, before.t1, second, run.t0)


class _Joint(NamedTuple):
    """Where one run ends and the next starts."""

    point: Point
    t_before: float
    t_after: float


def _distances(starts: Floats, ends: Floats, point: Floats) -> Floats:
    """(n,) distance of a point from each chord, given (n, 2) starts and ends."""
    along = ends - starts
    t = np.clip(((point - starts) * along).sum(axis=1) / (along**2).sum(axis=1), 0, 1)
    gap = point - starts - t[:, None] * along
    return np.asarray(np.hypot(gap[:, 0], gap[:, 1]))


def _crossing(first: Segment, t_first: float, second: Segment, t_second: float) -> _Joint:
    """The true crossing of two segments near the given parameters, by Newton's method."""
    t, u = t_first, t_second
    step = 1e-6
    for _ in range(30):
        p, q = first.point_at(t), second.point_at(u)
        gap = (q[0] - p[0], q[1] - p[1])
        if hypot(*gap) < 1e-12:
            break
        pa, pb = first.point_at(t - step), first.point_at(t + step)
        qa, qb = second.point_at(u - step), second.point_at(u + step)
        d = ((pb[0] - pa[0]) / (2 * step), (pb[1] - pa[1]) / (2 * step))
        e = ((qb[0] - qa[0]) / (2 * step), (qb[1] - qa[1]) / (2 * step))
        bend = d[0] * e[1] - d[1] * e[0]
        if abs(bend) < 1e-12:
            break
        t += (gap[0] * e[1] - gap[1] * e[0]) / bend
        u += (gap[0] * d[1] - gap[1] * d[0]) / bend
    p, q, near = first.point_at(t), second.point_at(u), first.point_at(t_first)
    if hypot(q[0] - p[0], q[1] - p[1]) > COINCIDENT or hypot(p[0] - near[0], p[1] - near[1]) > (
        100 * FLATTEN
    ):
        raise GeometryError("Two edges only graze each other; where they cross is not certain.")
    return _Joint(q if isinstance(second, Line) else p, t, u)
