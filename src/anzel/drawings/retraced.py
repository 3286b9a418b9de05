"""Lines drawn there and back: closed, and still the outline of nothing."""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import replace

import numpy as np
import shapely

from anzel.core.tolerances import COINCIDENT
from anzel.drawings.containment import NestedLoops, chord_points, without_area
from anzel.drawings.loops import AssembledLoops, Loop, Repair, are_same
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Line, Segment

Edges = tuple[Segment, ...]
_CLOSED_LINES = "lines drawn there and back kept as drawn"


def lines_there_and_back(nested: NestedLoops, slits: Collection[int]) -> list[Loop]:
    """Return the loops that enclose nothing, but for the numbers of those that are slits."""
    return [nested.loops[n] for n in np.flatnonzero(nested.is_line) if n not in slits]


def taken_for_lines(found: AssembledLoops, lines: Sequence[Loop]) -> AssembledLoops:
    """Return assembled loops of which some are taken for lines, with a repair that tells so."""
    gone = {_paths_of(loop) for loop in lines}
    loops = [loop for loop in found.loops if _paths_of(loop) not in gone]
    used = {number for loop in loops for number in _paths_of(loop)}  # a side may be shared
    paths = {number for each in gone for number in each} - used
    places = tuple(loop.segments[0].start for loop in lines)
    return replace(
        found,
        loops=loops,
        open_paths=[*found.open_paths, *sorted(paths)],
        repairs=[*found.repairs, Repair(_CLOSED_LINES, places)],
    )


def _paths_of(loop: Loop) -> frozenset[int]:
    return frozenset(number for number, _ in loop.links)


def drawn_once(edges: Edges) -> Iterator[Edges]:
    """Yield edges end to end, or of such that run there and back each line once."""
    is_closed = edges[0].start == edges[-1].end
    if not (is_closed and without_area(np.array([shapely.Polygon(chord_points(edges))]))[0]):
        yield edges
        return
    if ends := _ends_of_straight(edges):
        yield (Line(*ends),)
        return
    for at, edge in enumerate(edges):
        if not any(are_same(edge, earlier) for earlier in edges[:at]):
            yield (edge,)


def _ends_of_straight(edges: Sequence[Segment]) -> tuple[Point, Point] | None:
    """Return the ends of edges that lie on one straight line; None where they do not."""
    if not all(isinstance(edge, Line) for edge in edges):
        return None
    points = np.array([edge.start for edge in edges])
    from_first = points - points[0]
    far = np.hypot(*from_first.T)
    along = from_first[far.argmax()] / max(far.max(), COINCIDENT)
    if np.abs(from_first @ np.array([-along[1], along[0]])).max() > COINCIDENT:
        return None
    place = from_first @ along
    return edges[int(place.argmin())].start, edges[int(place.argmax())].start
