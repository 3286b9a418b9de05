"""Bridges: small gaps in an outline that hold a piece in its sheet until it is broken out.

The beam rounds both ends of a gap, so the gap in the path is one kerf wider than the bridge.
Bridges are placed on straight edges where there are any, away from corners and from edges that a
joint needs smooth.
"""

from collections.abc import Sequence

import shapely

from anzel.geometry.regions import BridgedContour, Contour
from anzel.geometry.segments import Arc, Cubic, Line, Segment, subsegment

_CLEAR = 1.5
"""From a gap's end to the end of its edge, mm, at least. Common practice, no source."""


def with_bridges(
    contour: Contour, count: int, width: float, kerf: float, avoid: Sequence[shapely.Geometry] = ()
) -> Contour | BridgedContour:
    """Return the outline with up to `count` gaps, spread as evenly as its edges allow."""
    gap = width + kerf
    gaps = _chosen(contour, count, gap, avoid)
    if not gaps:
        return contour
    runs: list[list[Segment]] = [[]]
    for index, segment in enumerate(contour.segments):
        at, start = 0.0, segment.start
        for middle in sorted(middle for number, middle in gaps if number == index):
            low, high = (middle + side * gap / 2 / segment.length for side in (-1.0, 1.0))
            runs[-1].append(subsegment(segment, at, low, start, segment.point_at(low)))
            runs.append([])
            at, start = high, segment.point_at(high)
        runs[-1].append(subsegment(segment, at, 1.0, start, segment.end) if at else segment)
    runs[0] = [*runs.pop(), *runs[0]]
    return BridgedContour(tuple(tuple(run) for run in runs))


def _chosen(
    contour: Contour, count: int, gap: float, avoid: Sequence[shapely.Geometry]
) -> list[tuple[int, float]]:
    """Return (edge, parameter of the gap's middle) for each gap, none too near to another.

    Straight edges are preferred, then arcs, then free curves.
    """
    kinds = (Line, Arc, Cubic)
    places: list[tuple[int, float, int, float]] = []
    so_far = 0.0
    forbidden = shapely.union_all(list(avoid))
    for index, segment in enumerate(contour.segments):
        length = segment.length
        free = length - gap - 2 * _CLEAR
        steps = max(int(free // max(gap, 1.0)), 1)
        for step in range(steps + 1) if free > 0 else ():
            along = gap / 2 + _CLEAR + free * step / steps
            if not forbidden.intersects(shapely.Point(segment.point_at(along / length))):
                kind = kinds.index(type(segment))
                places.append((kind, so_far + along, index, along / length))
        so_far += length
    chosen: list[tuple[int, float, int, float]] = []
    for number in range(count):
        wanted = so_far * (number + 0.5) / count
        left = [p for p in places if all(abs(p[1] - q[1]) > 2 * gap + _CLEAR for q in chosen)]
        if left:
            chosen.append(min(left, key=lambda place: (place[0], abs(place[1] - wanted))))
    return [(index, middle) for _, _, index, middle in chosen]
