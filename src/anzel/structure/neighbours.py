"""Neighbours of a plate: where other pieces meet it, as outlines in the plate's coordinates."""

from dataclasses import dataclass
from functools import lru_cache
from math import sin

from anzel.core.findings import ParameterError
from anzel.geometry.placement import dot
from anzel.geometry.regions import Contour
from anzel.geometry.segments import Line
from anzel.structure.joints.cutting_shapes import strip
from anzel.structure.model import FitContext, Piece, Plate, SolvedStructure
from anzel.structure.plane_intersection import intersect_planes

_LEAST = 0.5
"""A neighbour that meets the plate over less than this, mm, is not shown."""


@dataclass(frozen=True)
class Neighbour:
    """A piece that meets a plate, and the outline of its section there."""

    name: str
    outline: Contour


@lru_cache(maxsize=16)  # one for each plate that was drawn large lately
def neighbours_of(
    solved: SolvedStructure, fit_context: FitContext, name: str
) -> tuple[Neighbour, ...]:
    """Return the pieces whose sections with a plate's mid-plane lie within or beside the plate.

    A section is as wide as the piece is thick, over the sine of the angle between both.
    """
    own = next((piece for piece in solved.pieces if piece.name == name), None)
    if own is None or own.bent:
        return ()
    joined = {each for joint in solved.joints if name in joint.pieces for each in joint.pieces}
    found: list[Neighbour] = []
    for piece in solved.pieces:
        if piece.name in joined - {name} and not piece.bent:
            found += _sections(own, piece, fit_context)
    return tuple(found)


def _sections(own: Piece, piece: Piece, fit_context: FitContext) -> list[Neighbour]:
    one, other = _plate(own), _plate(piece)
    try:
        line = intersect_planes(one, other)
    except ParameterError:
        return _lying(own, piece)
    width = fit_context.of(piece.stock_id).measured_thickness / sin(line.angle)
    spans = piece.region.spans(*line.in_plate(other))
    origin, direction = line.in_plate(one)
    return [
        Neighbour(piece.name, strip(origin, direction, start, end, width))
        for start, end in spans
        if end - start > _LEAST
    ]


def _lying(own: Piece, piece: Piece) -> list[Neighbour]:
    """Return the outline of a piece that lies flat on the plate, if it is straight-edged."""
    apart = abs(
        dot(own.placement.normal, piece.placement.origin)
        - dot(own.placement.normal, own.placement.origin)
    )
    segments = piece.region.outer.segments
    if apart > own.thickness + piece.thickness or not all(isinstance(s, Line) for s in segments):
        return []
    corners = [
        own.placement.to_plate(piece.placement.to_world(corner))
        for corner in piece.region.outer.corners
    ]
    return [Neighbour(piece.name, Contour.polygon(corners))]


def _plate(piece: Piece) -> Plate:
    return Plate(piece.name, piece.stock_id, piece.region, piece.placement)
