"""Orientations of a piece on its sheet.

The turns that the maker and the grain allow, and which face is up.

- The grain runs along a piece's long side, so that it does not break across (common practice, no
  source); a piece about as long as wide may lie either way.
- The *hidden* face of a piece looks towards the middle of the structure. Marks go on it, so it lies
  up when marks are engraved. Of a sheet with one good face, the hidden face is the other one.
- A piece with an engraving of its own is never turned over: it would be cut mirrored.
"""

from math import atan2, degrees, hypot

import numpy as np
import shapely

from anzel.geometry.regions import Region
from anzel.layout.available_sheets import AvailableSheets
from anzel.layout.sheet_settings import SheetSettings
from anzel.materials.material import Faces, Grain
from anzel.nesting.problem import Orientation
from anzel.structure.model import Piece, SolvedStructure

_LONG = 1.15
"""A piece this many times longer than wide has a long side."""
_SQUARE = 1.0
"""A long side within this many degrees of a drawing's axis counts as along it."""
_ASIDE = 0.25
"""A face looks to the middle if the middle is this far off its plane, of the structure's size."""


def hidden_fronts(solved: SolvedStructure) -> dict[str, bool | None]:
    """Return for each piece whether its front is its hidden face; None where neither face is."""
    solid = [piece for piece in solved.pieces if not piece.bent]
    if len(solid) < 2:
        return {}
    middles = np.array(
        [
            p.placement.to_world((p.region.shape.centroid.x, p.region.shape.centroid.y))
            for p in solid
        ]
    )
    whole = (middles.min(axis=0) + middles.max(axis=0)) / 2
    size = float(np.linalg.norm(middles.max(axis=0) - middles.min(axis=0))) / 2
    found: dict[str, bool | None] = {}
    for piece, middle in zip(solid, middles, strict=True):
        off = float(np.dot(piece.placement.normal, whole - middle))
        found[piece.name] = None if abs(off) < _ASIDE * size else off > 0
    return found


def orientations_of(
    piece: Piece, available: AvailableSheets, settings: SheetSettings, *,
    hidden_front: bool | None = None,
    marked: bool = False,
) -> tuple[Orientation, ...]:  # fmt: skip
    """Return every allowed orientation of a piece, the most natural first."""
    turns = settings.turns.degrees
    overs: tuple[bool, ...] = (piece.faces == {True},)
    if not (piece.faces or piece.lines):
        if hidden_front is not None and (marked or available.faces is Faces.ONE_GOOD):
            overs = (not hidden_front if marked else hidden_front,)
        elif settings.turn_over and available.faces is Faces.ALIKE:
            overs = (False, True)
    along = _long_side(piece.region) if settings.follow_grain else None
    if available.grain is Grain.NONE or along is None:
        return tuple(Orientation(turn, over) for over in overs for turn in turns)
    runs = 0.0 if available.grain is Grain.ALONG_WIDTH else 90.0
    return tuple(
        Orientation(_tidy((runs - (-along if over else along) + half) % 360), over)
        for over in overs
        for half in ((0.0, 180.0) if len(turns) > 1 else (0.0,))
    )


def _long_side(region: Region) -> float | None:
    """Return the direction of a region's long side, degrees; None where it has none."""
    box = shapely.minimum_rotated_rectangle(region.shape)
    corners = np.asarray(box.exterior.coords)
    sides = [corners[1] - corners[0], corners[2] - corners[1]]
    long, short = sorted(sides, key=lambda side: -hypot(*side))
    if hypot(*long) < _LONG * hypot(*short):
        return None
    angle = degrees(atan2(long[1], long[0])) % 180
    nearest = round(angle / 90) * 90.0
    return nearest % 180 if abs(angle - nearest) < _SQUARE else angle


def _tidy(turn: float) -> float:
    return round(turn, 6) % 360
