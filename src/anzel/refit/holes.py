"""Holes that follow no sheet: for screws, lamp holders, cords, light.

When a drawing is scaled, holes for hardware are held: they keep the size they were drawn with,
about their middle.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np

from anzel.core.tolerances import COINCIDENT
from anzel.drawings.containment import NestedLoops, chord_points
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment
from anzel.refit.features import DrawnFeatureKind, DrawnFeatures
from anzel.refit.side_offset import Edges


@dataclass(frozen=True)
class Hole:
    """A hole in a piece that is no mortise: its middle and its size, mm."""

    id: str
    piece: int
    loop: int
    at: Point
    size: tuple[float, float]
    is_round: bool


def holes_of(rings: NestedLoops, found: DrawnFeatures) -> tuple[Hole, ...]:
    """Return every hole that is no mortise, in drawing order."""
    mortises = {each.loop for each in found.features if each.kind is DrawnFeatureKind.MORTISE}
    numbers = [int(r) for r in np.flatnonzero(rings.is_hole) if int(r) not in mortises]
    return tuple(_hole(rings, ring, count) for count, ring in enumerate(numbers, start=1))


def held_edges(
    rings: NestedLoops, holes: Iterable[Hole], held: frozenset[str], scale: float
) -> dict[int, Edges]:
    """Return the edges of held holes, back to the size they were drawn with."""
    if scale == 1:
        return {}
    return {
        hole.loop: [_shrunk(edge, hole.at, 1 / scale) for edge in rings.loops[hole.loop].segments]
        for hole in holes
        if hole.id in held
    }


def _hole(rings: NestedLoops, ring: int, number: int) -> Hole:
    segments = rings.loops[ring].segments
    corners = np.array(chord_points(segments))
    low, high = corners.min(axis=0), corners.max(axis=0)
    arcs = [edge for edge in segments if isinstance(edge, Arc)]
    is_round = len(arcs) == len(segments) and all(
        np.hypot(*np.subtract(arc.centre, arcs[0].centre)) < COINCIDENT for arc in arcs
    )
    middle, size = (low + high) / 2, high - low
    at = arcs[0].centre if is_round else (float(middle[0]), float(middle[1]))
    wide, tall = (2 * arcs[0].radius,) * 2 if is_round else (float(size[0]), float(size[1]))
    return Hole(f"hole-{number}", int(rings.piece_number[ring]), ring, at, (wide, tall), is_round)


def _shrunk(edge: Segment, middle: Point, share: float) -> Segment:
    def at(point: Point) -> Point:
        return tuple(m + share * (p - m) for p, m in zip(point, middle, strict=True))  # type: ignore[return-value]

    if isinstance(edge, Line):
        return Line(at(edge.start), at(edge.end))
    if isinstance(edge, Arc):
        return replace(edge, start=at(edge.start), end=at(edge.end), centre=at(edge.centre))
    return Cubic(*(at(p) for p in edge.controls))
