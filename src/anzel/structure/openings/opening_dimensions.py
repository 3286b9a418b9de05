"""The places and sizes of added openings as dimension lines on the flat piece."""

from collections.abc import Sequence
from math import hypot

from anzel.core.findings import ParameterError
from anzel.geometry.rigid_transform import Point
from anzel.structure.dimension import SEPARATOR, Dimension
from anzel.structure.model import Plate
from anzel.structure.openings.edge_frame import EdgeFrame, Edges, frame_of, places_of
from anzel.structure.openings.plate_opening import OpeningRepeat, PlateOpening, Start

_LEAST = 0.5
"""A distance shorter than this, mm, has no line: it lies where it starts."""
_BESIDE = 9.0


def opening_dimensions(
    plate: Plate, openings: Sequence[PlateOpening], edges: Edges
) -> list[Dimension]:
    """Return a line for each distance and typed size of openings, its field PLATE/ID NUMBER.

    One whose edge is gone has none.
    """
    found = []
    for opening in openings:
        try:
            frame = frame_of(plate.region, opening.edge, edges, plate.name)
        except ParameterError:
            continue
        for number, start, end, beside in _lines(opening, frame):
            if hypot(end[0] - start[0], end[1] - start[1]) >= _LEAST:
                field = f"{plate.name}{SEPARATOR}{opening.id} {number}"
                found.append(Dimension(field, plate.name, start, end, beside))
    return found


def _lines(
    opening: PlateOpening, frame: EdgeFrame
) -> list[tuple[str, Point, Point, float]]:  # fmt: skip
    first = places_of(opening, frame)[0]
    along, inward = first.along, first.inward
    if opening.is_at_edge:
        inward = opening.depth if "depth" in opening.numbers else 0.0
    origin = {
        Start.START: 0.0, Start.MIDDLE: frame.length / 2, Start.END: frame.length
    }[opening.along_from]  # fmt: skip
    lines = []
    is_ring = opening.repeated is OpeningRepeat.RING
    if is_ring or opening.count == 1 or opening.along_from is not Start.MIDDLE:
        lines.append(("along", frame.at(origin, inward), frame.at(along, inward), 0.0))
    is_even = opening.repeated is OpeningRepeat.GRID and opening.inward_from_middle
    if "inward" in opening.numbers and not is_even:
        start = frame.across / 2 if opening.inward_from_middle else 0.0
        lines.append(("inward", frame.at(along, start), frame.at(along, inward), 0.0))
    half = opening.width / 2
    if "width" in opening.numbers:
        level = inward if not opening.is_at_edge else 0.0
        ends = frame.at(along - half, level), frame.at(along + half, level)
        lines.append(("width", *ends, _BESIDE))
    if "depth" in opening.numbers:
        low = 0.0 if opening.is_at_edge else inward - opening.depth / 2
        ends = frame.at(along, low), frame.at(along, low + opening.depth)
        lines.append(("depth", *ends, _BESIDE))
    return lines
