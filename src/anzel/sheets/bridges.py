"""Small bridges that hold a piece in its sheet until it is broken out: gaps in its outline.

The beam rounds both ends of a gap, so the gap in the path is a kerf wider than the bridge it
leaves. Bridges stand on straight edges, away from corners and from what a joint needs smooth.
"""

from collections.abc import Sequence
from math import hypot

import shapely

from anzel.geometry.curves import Line, Segment
from anzel.geometry.motion import Point
from anzel.geometry.outlines import Bridged, Contour

_CLEAR = 1.5
"""From a gap's end to the end of its edge, mm, at least. Common practice, no source."""


def bridged(
    contour: Contour, count: int, width: float, kerf: float, avoid: Sequence[shapely.Geometry] = ()
) -> Contour | Bridged:
    """The outline with up to `count` gaps, spread evenly as far as its straight edges allow."""
    gap = width + kerf
    gaps = _chosen(contour, count, gap, avoid)
    if not gaps:
        return contour
    runs: list[list[Segment]] = [[]]
    for index, segment in enumerate(contour.segments):
        start = segment.start
        for middle in sorted(at for number, at in gaps if number == index):
            low, high = (_on(segment, middle + side * gap / 2) for side in (-1.0, 1.0))
            runs[-1].append(Line(start, low))
            runs.append([])
            start = high
        if isinstance(segment, Line):
            runs[-1].append(Line(start, segment.end))
        else:
            runs[-1].append(segment)
    runs[0] = [*runs.pop(), *runs[0]] if len(runs) > 1 else runs[0]
    return Bridged(tuple(tuple(run) for run in runs))


def _chosen(
    contour: Contour, count: int, gap: float, avoid: Sequence[shapely.Geometry]
) -> list[tuple[int, float]]:
    """(edge, middle of the gap along it) for each gap, none too near to another."""
    places: list[tuple[float, int, float]] = []
    so_far = 0.0
    forbidden = shapely.union_all(list(avoid))
    for index, segment in enumerate(contour.segments):
        length = segment.length
        free = length - gap - 2 * _CLEAR
        if isinstance(segment, Line) and free > 0:
            steps = max(int(free // max(gap, 1.0)), 1)
            for step in range(steps + 1):
                middle = gap / 2 + _CLEAR + free * step / steps
                if not forbidden.intersects(shapely.Point(_on(segment, middle))):
                    places.append((so_far + middle, index, middle))
        so_far += length
    chosen: list[tuple[float, int, float]] = []
    for number in range(count):
        wanted = so_far * (number + 0.5) / count
        left = [p for p in places if all(abs(p[0] - q[0]) > 2 * gap + _CLEAR for q in chosen)]
        if left:
            chosen.append(min(left, key=lambda place: abs(place[0] - wanted)))
    return [(index, middle) for _, index, middle in chosen]


def _on(line: Segment, along: float) -> Point:
    """A point so far along a straight edge."""
    (x0, y0), (x1, y1) = line.start, line.end
    share = along / hypot(x1 - x0, y1 - y0)
    return (x0 + share * (x1 - x0), y0 + share * (y1 - y0))
