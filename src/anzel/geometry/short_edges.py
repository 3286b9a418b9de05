"""Short-edge cleanup of outlines made from samples.

An edge too short to cut is left where the side of a slot happens to end beside a corner of a
sampled curve.
"""

from math import hypot

from anzel.core.tolerances import SMALLEST, VANISHING
from anzel.geometry.regions import Contour, Region
from anzel.geometry.segments import Arc, Segment, with_end_points


def without_short_edges(region: Region) -> Region:
    """Return the region without edges shorter than SMALLEST.

    Each is merged into the neighbour that continues it best: the corner between the two goes, and
    no other point moves. Arcs stay as they are.
    """
    contours = [_tidied(contour) for contour in region.contours]
    if all(a is b for a, b in zip(contours, region.contours, strict=True)):
        return region
    return Region.of(contours[0], contours[1:])


def _tidied(contour: Contour) -> Contour:
    segments = list(contour.segments)
    while len(segments) > 3 and (at := _short_edge(segments)) is not None:
        after = (at + 1) % len(segments)
        speck, one, other = segments[at], segments[at - 1], segments[after]
        goes_on = isinstance(other, Arc) or _aside(speck, one) <= _aside(speck, other)
        if goes_on and not isinstance(one, Arc):
            segments[at - 1] = with_end_points(one, one.start, speck.end)
        else:
            segments[after] = with_end_points(other, speck.start, other.end)
        del segments[at]
    return contour if len(segments) == len(contour.segments) else Contour(tuple(segments))


def _short_edge(segments: list[Segment]) -> int | None:
    """Return the first edge that is too short and has a neighbour to merge with."""
    for at, segment in enumerate(segments):
        # the chord is no longer than the edge, and quicker to know
        chord = hypot(segment.end[0] - segment.start[0], segment.end[1] - segment.start[1])
        if chord < SMALLEST and not isinstance(segment, Arc) and segment.length < SMALLEST:
            around = (segments[at - 1], segments[(at + 1) % len(segments)])
            if not all(isinstance(each, Arc) for each in around):
                return at
    return None


def _aside(speck: Segment, edge: Segment) -> float:
    """Return the sine of the angle between two edges' chords."""
    ax, ay = speck.end[0] - speck.start[0], speck.end[1] - speck.start[1]
    bx, by = edge.end[0] - edge.start[0], edge.end[1] - edge.start[1]
    return abs(ax * by - ay * bx) / max(hypot(ax, ay) * hypot(bx, by), VANISHING)
