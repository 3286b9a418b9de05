"""The pieces of a refitted drawing as regions, y up whatever the file has."""

from collections.abc import Iterator, Sequence
from itertools import groupby

from anzel.core.tolerances import COINCIDENT
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Line, Segment
from anzel.refit.analysis import DrawingAnalysis
from anzel.refit.refit import Refit


def refitted_regions(refit: Refit) -> list[Region]:
    """Return each piece with its holes, in drawing order, as cut."""
    rings = refit.analysis.nested
    loops = [
        [e for e in refit.edges.get(number, loop.segments) if e is not None]
        for number, loop in enumerate(rings.loops)
    ]
    return _regions(refit.analysis, loops)


def original_regions(refit: Refit) -> list[Region]:
    """Return each piece as it was drawn."""
    return drawn_regions(refit.analysis)


def drawn_regions(analysis: DrawingAnalysis) -> list[Region]:
    """Return each piece of a drawing with its holes, as it was drawn."""
    return _regions(analysis, [list(loop.segments) for loop in analysis.nested.loops])


def unused_lines(refit: Refit) -> Iterator[tuple[Segment, ...]]:
    """Yield what was read and outlines nothing: open lines, and lines that name their operation."""
    for _, edges in refit.analysis.loose_lines:
        yield refit.analysis.drawing.with_y_up(edges)


def changed_edges(refit: Refit) -> Iterator[tuple[list[Segment], list[Segment]]]:
    """Yield runs of edges that moved, not only grew longer or shorter.

    As drawn, and as they are now.
    """
    drawing = refit.analysis.drawing
    for number, edges in refit.edges.items():
        old = refit.analysis.nested.loops[number].segments
        for changed, run in groupby(zip(old, edges, strict=True), key=_has_moved):
            if changed:
                before, after = zip(*run, strict=True)
                left = drawing.with_y_up(edge for edge in after if edge is not None)
                if left:
                    yield list(drawing.with_y_up(before)), list(left)


def with_y_up(refit: Refit, point: Point) -> Point:
    """Return a place of the drawing with y up."""
    return (point[0], -point[1]) if refit.analysis.drawing.y_down else point


def _regions(analysis: DrawingAnalysis, loops: Sequence[Sequence[Segment]]) -> list[Region]:
    drawing = analysis.drawing
    return analysis.nested.regions([list(drawing.with_y_up(loop)) for loop in loops])


def _has_moved(pair: tuple[Segment, Segment | None]) -> bool:
    old, new = pair
    if new is None or old == new:
        return new is None
    if not (isinstance(old, Line) and isinstance(new, Line)):
        return True
    (x0, y0), (x1, y1) = old.start, old.end
    off = (x1 - x0) * (new.start[1] - y0) - (y1 - y0) * (new.start[0] - x0)
    return abs(off) > COINCIDENT * old.length
