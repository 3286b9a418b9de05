"""Bounds of a design: the largest size of a piece and of the whole, and what goes beyond them."""

from typing import TYPE_CHECKING, Annotated, NamedTuple

import numpy as np
import shapely
from pydantic import Field

from anzel.core.findings import Finding, Severity
from anzel.core.immutable import Immutable
from anzel.core.number_format import UNIT, format_length
from anzel.core.tolerances import COINCIDENT
from anzel.geometry.placement import Placement, Vector
from anzel.geometry.regions import Region
from anzel.geometry.segments import Floats
from anzel.structure.model import SolvedStructure

if TYPE_CHECKING:
    from anzel.project.model import Project

Limit = Annotated[float, Field(ge=0, le=20_000)]
_HINT = "Make it fit: in the panel of the whole, or with “Scale the whole”."


class Bounds(Immutable):
    """The largest sizes, mm; 0 where there is none.

    A piece may lie either way round in `piece_width` × `piece_height`. The whole stands `width`
    from west to east, `depth` from south to north and `height` up.
    """

    piece_width: Limit = 0.0
    piece_height: Limit = 0.0
    width: Limit = 0.0
    depth: Limit = 0.0
    height: Limit = 0.0

    @property
    def bounds_pieces(self) -> bool:
        """Whether pieces have a largest size."""
        return self.piece_width > 0 and self.piece_height > 0

    @property
    def are_set(self) -> bool:
        """Whether there are any."""
        return self.bounds_pieces or any((self.width, self.depth, self.height))


class BoundingBox(NamedTuple):
    """The least and the greatest corner of what stands, mm."""

    least: Vector
    greatest: Vector


def standing_box(solved: SolvedStructure) -> BoundingBox:
    """Return the box that all pieces stand in, their sheets' thickness counted."""
    lows, highs = [], []
    for piece in solved.pieces:
        half = piece.thickness / 2
        parts = [(facet.region, facet.placement) for facet in piece.bent]
        for region, placement in parts or [(piece.region, piece.placement)]:
            points = _in_space(region, placement)
            reach = half * np.abs(placement.normal)
            lows.append(points.min(axis=0) - reach)
            highs.append(points.max(axis=0) + reach)
    least, greatest = np.min(lows, axis=0), np.max(highs, axis=0)
    return BoundingBox(_vector(least), _vector(greatest))


def _in_space(region: Region, placement: Placement) -> Floats:
    axes = np.array([placement.x_axis, placement.y_axis])
    return np.asarray(region.outer.vertices @ axes + np.array(placement.origin))


def _vector(values: Floats) -> Vector:
    return (float(values[0]), float(values[1]), float(values[2]))


def framed_box(bounds: Bounds, solved: SolvedStructure) -> BoundingBox | None:
    """Return the frame of the whole: about what stands, from the table up; None without bounds.

    Along an axis without a bound it is as large as what stands.
    """
    wanted = (bounds.width, bounds.depth, bounds.height)
    if not any(wanted):
        return None
    least, greatest = standing_box(solved)
    ends = []
    for axis, size in enumerate(wanted):
        low, high = least[axis], greatest[axis]
        if size and axis < 2:
            low, high = (low + high - size) / 2, (low + high + size) / 2
        elif size:
            high = low + size
        ends.append((low, high))
    (x0, x1), (y0, y1), (z0, z1) = ends
    return BoundingBox((x0, y0, z0), (x1, y1, z1))


def framed_piece(bounds: Bounds, region: Region) -> tuple[float, float, float, float] | None:
    """Return (x0, y0, x1, y1) of the frame about a piece, its long side along the piece's."""
    if not bounds.bounds_pieces:
        return None
    left, low, right, high = region.bounds
    short, long = sorted((bounds.piece_width, bounds.piece_height))
    wide, tall = (long, short) if right - left >= high - low else (short, long)
    x, y = (left + right) / 2, (low + high) / 2
    return (x - wide / 2, y - tall / 2, x + wide / 2, y + tall / 2)


def findings_on_bounds(project: "Project", solved: SolvedStructure) -> list[Finding]:
    """Return a finding for each piece, and each size of the whole, that goes beyond its bounds."""
    bounds, found = project.bounds, []
    if bounds.bounds_pieces:
        room = f"{format_length(bounds.piece_width, 1)} × {format_length(bounds.piece_height, 1)}"
        for piece in solved.pieces:
            if not fits_in(piece.region, bounds.piece_width, bounds.piece_height):
                own = " × ".join(format_length(side, 1) for side in piece.region.size)
                message = f"{own} {UNIT} goes beyond the {room} {UNIT} that a piece may have."
                found.append(
                    Finding("beyond-bounds", Severity.PROBLEM, piece.name, message, _HINT)
                )  # fmt: skip
    for name, limit, own_size in _sides(bounds, solved):
        if own_size > limit + COINCIDENT:
            message = (
                f"the whole has a {name} of {format_length(own_size, 1)}, and may have "
                f"{format_length(limit, 1)} {UNIT}."
            )
            found.append(Finding("beyond-bounds", Severity.PROBLEM, "The whole", message, _HINT))
    return found


def _sides(bounds: Bounds, solved: SolvedStructure) -> list[tuple[str, float, float]]:
    limits = {"width": bounds.width, "depth": bounds.depth, "height": bounds.height}
    if not any(limits.values()):
        return []
    least, greatest = standing_box(solved)
    return [
        (name, limit, greatest[axis] - least[axis])
        for axis, (name, limit) in enumerate(limits.items()) if limit
    ]  # fmt: skip


def fits_in(region: Region, width: float, height: float) -> bool:
    """Return whether a piece fits in a rectangle, either way round or turned as it is slimmest."""
    room = sorted((width, height))
    slim = shapely.minimum_rotated_rectangle(region.outer.polygon_shape)
    corners = shapely.get_coordinates(slim)
    sides = [float(np.hypot(*(corners[at + 1] - corners[at]))) for at in (0, 1)]
    return any(
        own[0] <= room[0] + COINCIDENT and own[1] <= room[1] + COINCIDENT
        for own in (sorted(region.size), sorted(sides))
    )
