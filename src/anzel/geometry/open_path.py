"""Open paths: runs of segments that enclose nothing, such as slits, and engraved lines."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from math import ceil

import numpy as np
import shapely

from anzel.core.tolerances import COINCIDENT
from anzel.geometry.regions import Stroke
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segments import Arc, Line, Segment, subsegment

_STEP = 0.25
"""Stations along a segment lie no further apart than this, mm: narrower openings are passed."""
_HALVINGS = 40


@dataclass(frozen=True)
class OpenPath:
    """Segments end to end; a closed one ends where it starts, and still encloses nothing."""

    segments: tuple[Segment, ...]

    @classmethod
    def of(cls, segments: Iterable[Segment]) -> "OpenPath":
        """Return a path of segments; a full circle is two halves, as no file holds it otherwise."""
        return cls(tuple(part for segment in segments for part in _halves(segment)))

    @property
    def start(self) -> Point:
        """Where it begins."""
        return self.segments[0].start

    @property
    def end(self) -> Point:
        """Where it ends."""
        return self.segments[-1].end

    @cached_property
    def length(self) -> float:
        """Its length, mm."""
        return sum(segment.length for segment in self.segments)

    @property
    def is_closed(self) -> bool:
        """Whether it ends where it starts, and has a length between."""
        return self.start == self.end and len(self.segments) > 1

    @cached_property
    def is_straight(self) -> bool:
        """Whether all of its segments are lines."""
        return all(isinstance(segment, Line) for segment in self.segments)

    @cached_property
    def stroke(self) -> Stroke:
        """The corners of its chords."""
        if self.is_straight:
            return (*(segment.start for segment in self.segments), self.end)
        points = [
            segment.point_at(step / count)
            for segment in self.segments
            for count in [segment.chord_count()]
            for step in range(count)
        ]
        return (*points, self.end)

    def moved(self, motion: RigidTransform) -> "OpenPath":
        """Return the path after a rigid transform."""
        return OpenPath(tuple(segment.moved(motion) for segment in self.segments))

    def within(self, shape: shapely.Geometry, *, inside: bool = True) -> "list[OpenPath]":
        """Return the parts of the path that lie inside a prepared shape, or outside it.

        Their curves are exact.
        """
        parts: list[list[Segment]] = [[]]
        for segment in self.segments:
            for is_in, part in _parts(segment, shape):
                if is_in is inside:
                    parts[-1].append(part)
                elif parts[-1]:
                    parts.append([])
            last = parts[-1][-1] if parts[-1] else None
            if last is not None and last.end != segment.end:
                parts.append([])
        return [OpenPath(tuple(part)) for part in parts if part]


def _halves(segment: Segment) -> tuple[Segment, ...]:
    if not (isinstance(segment, Arc) and segment.is_circle):
        return (segment,)
    half = segment.point_at(0.5)
    return (
        subsegment(segment, 0.0, 0.5, segment.start, half),
        subsegment(segment, 0.5, 1.0, half, segment.end),
    )


def _parts(segment: Segment, shape: shapely.Geometry) -> Iterator[tuple[bool, Segment]]:
    """Yield the parts of a segment, each inside or outside, in order."""
    if isinstance(segment, Line):
        yield from _straight_parts(segment, shape)
        return
    count = max(ceil(segment.length / _STEP), 4)
    stations = np.linspace(0.0, 1.0, count + 1)
    middles = (stations[:-1] + stations[1:]) / 2
    points = np.array([segment.point_at(float(t)) for t in middles])
    inside = shapely.contains_xy(shape, points)
    if inside.all() or not inside.any():
        yield bool(inside[0]), segment
        return
    turns = np.flatnonzero(inside[1:] != inside[:-1])
    stops = [0.0, *(_turn(segment, shape, *middles[at : at + 2].tolist()) for at in turns), 1.0]
    is_in = bool(inside[0])
    for low, high in pairwise(stops):
        start, end = segment.point_at(low), segment.point_at(high)
        yield is_in, subsegment(segment, low, high, start, end)
        is_in = not is_in


def _straight_parts(line: Line, shape: shapely.Geometry) -> Iterator[tuple[bool, Segment]]:
    """Yield the parts of a straight edge, each inside or outside a shape, in order."""
    whole = shapely.LineString((line.start, line.end))
    if shapely.contains_properly(shape, whole):
        yield True, line
        return
    found = shapely.get_parts(shapely.intersection(whole, shape))
    size = whole.length or 1.0
    stops: list[tuple[float, float]] = sorted(
        (min(ends), max(ends))
        for part in found
        if part.length > COINCIDENT
        for ends in [tuple(float(whole.project(shapely.Point(p))) / size for p in part.coords)]
    )
    at = 0.0
    for low, high in stops:
        if low - at > COINCIDENT / size:
            yield False, _stretch(line, at, low)
        yield True, _stretch(line, low, high)
        at = high
    if 1.0 - at > COINCIDENT / size:
        yield False, _stretch(line, at, 1.0)


def _stretch(line: Line, low: float, high: float) -> Line:
    start = line.start if low <= 0.0 else line.point_at(low)
    return Line(start, line.end if high >= 1.0 else line.point_at(high))


def _turn(segment: Segment, shape: shapely.Geometry, low: float, high: float) -> float:
    """Return the parameter at which a segment crosses the edge of a shape."""
    was_in = bool(shapely.contains_xy(shape, *segment.point_at(low)))
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        if bool(shapely.contains_xy(shape, *segment.point_at(middle))) is was_in:
            low = middle
        else:
            high = middle
    return (low + high) / 2
