"""The pieces of a refitted drawing as shapes: y up, wherever the file had it."""

from collections.abc import Sequence
from dataclasses import replace

from anzel.geometry.curves import Arc, Cubic, Line, Segment
from anzel.geometry.motion import Point
from anzel.geometry.outlines import Contour, Region
from anzel.refit.plan import Refit


def regions_of(refit: Refit) -> list[Region]:
    """Each piece with its holes, in drawing order, as cut."""
    rings = refit.survey.rings
    loops = [
        [e for e in refit.edges.get(number, loop.segments) if e is not None]
        for number, loop in enumerate(rings.loops)
    ]
    return _regions(refit, loops)


def ghosts_of(refit: Refit) -> list[Region]:
    """Each piece as it was drawn."""
    return _regions(refit, [list(loop.segments) for loop in refit.survey.rings.loops])


def upright(refit: Refit, point: Point) -> Point:
    """A place of the drawing with y up."""
    return (point[0], -point[1]) if refit.survey.drawing.y_down else point


def _regions(refit: Refit, loops: Sequence[Sequence[Segment]]) -> list[Region]:
    rings, flip = refit.survey.rings, refit.survey.drawing.y_down
    outlines: dict[int, Contour] = {}
    holes: dict[int, list[Contour]] = {}
    for number, segments in enumerate(loops):
        piece = int(rings.piece[number])
        if piece < 0 or not segments:
            continue
        contour = Contour(tuple(map(_flipped, segments)) if flip else tuple(segments))
        if rings.is_hole[number]:
            holes.setdefault(piece, []).append(contour)
        else:
            outlines[piece] = contour
    return [Region.of(outlines[piece], holes.get(piece, [])) for piece in sorted(outlines)]


def _flipped(edge: Segment) -> Segment:
    def at(point: Point) -> Point:
        return (point[0], -point[1])

    if isinstance(edge, Line):
        return Line(at(edge.start), at(edge.end))
    if isinstance(edge, Arc):
        return replace(
            edge, start=at(edge.start), end=at(edge.end), centre=at(edge.centre),
            clockwise=not edge.clockwise,
        )  # fmt: skip
    return Cubic(*(at(p) for p in edge.controls))
