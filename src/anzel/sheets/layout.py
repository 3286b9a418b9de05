"""Laying pieces on sheets.

Each piece is held by its bounding box, turned a quarter where that helps, at least `spacing`
from its neighbours and `margin` from the sheet's edge. Sheet coordinates start at the sheet's
lower left corner, mm.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor

from pydantic import Field

from anzel.findings import Finding, Severity
from anzel.frozen import Frozen
from anzel.geometry.motion import Motion
from anzel.structure.plates import Piece

_UNITS_PER_MM = 1000
"""The packer works in whole numbers; a thousandth of a millimetre loses nothing."""


class SheetSettings(Frozen):
    """Distance between pieces and from the sheet's edge, mm."""

    spacing: float = Field(default=3.0, ge=0, le=100)
    margin: float = Field(default=5.0, ge=0, le=200)


@dataclass(frozen=True)
class Laid:
    """A piece on a sheet, moved there by `motion`."""

    piece: Piece
    motion: Motion
    turn: int


@dataclass(frozen=True)
class SheetPlan:
    """One sheet with what lies on it."""

    stock_id: str
    number: int
    width: float
    height: float
    laid: tuple[Laid, ...]

    @property
    def utilisation(self) -> float:
        """Piece area over sheet area, 0 to 1."""
        return sum(each.piece.region.area for each in self.laid) / (self.width * self.height)


@dataclass(frozen=True)
class Layout:
    """All sheets of one stock, and what did not fit any."""

    plans: tuple[SheetPlan, ...]
    findings: tuple[Finding, ...]


def lay_out(
    pieces: Sequence[Piece], stock_id: str, width: float, height: float, settings: SheetSettings
) -> Layout:
    """Pieces of one stock on as few sheets as a simple packer finds.

    A piece larger than the sheet is left out and named in a finding.
    """
    copies = [piece for piece in pieces for _ in range(piece.count)]
    room = (width - 2 * settings.margin, height - 2 * settings.margin)
    fitting = [piece for piece in copies if _fits(piece, room)]
    findings = tuple(
        _too_large(piece, width, height, settings) for piece in pieces if not _fits(piece, room)
    )
    sheets: dict[int, list[Laid]] = {}
    for sheet, x, y, turned, piece in _pack(fitting, room, settings.spacing):
        laid = _lay(piece, x + settings.margin, y + settings.margin, turned)
        sheets.setdefault(sheet, []).append(laid)
    plans = tuple(
        SheetPlan(stock_id, number, width, height, tuple(sheets[sheet]))
        for number, sheet in enumerate(sorted(sheets), start=1)
    )
    return Layout(plans, findings)


def side_by_side(pieces: Sequence[Piece], stock_id: str, gap: float = 5.0) -> SheetPlan:
    """All pieces in a row, not on a real sheet: for looking, or for another layout program."""
    laid, x, tallest = [], gap, 0.0
    for piece in pieces:
        for _ in range(piece.count):
            left, low, _, _ = piece.region.bounds
            width, height = piece.region.size
            laid.append(Laid(piece, Motion().shifted(x - left, gap - low), 0))
            x += width + gap
            tallest = max(tallest, height)
    return SheetPlan(stock_id, 1, x, tallest + 2 * gap, tuple(laid))


def _fits(piece: Piece, room: tuple[float, float]) -> bool:
    width, height = piece.region.size
    upright = width <= room[0] and height <= room[1]
    return upright or (height <= room[0] and width <= room[1])


def _too_large(piece: Piece, width: float, height: float, settings: SheetSettings) -> Finding:
    own = " × ".join(f"{side:.1f}" for side in piece.region.size)
    return Finding(
        "piece-larger-than-sheet",
        Severity.PROBLEM,
        piece.name,
        f"{own} mm does not fit a sheet of {width:g} × {height:g} mm "
        f"with a margin of {settings.margin:g} mm.",
        "Use a larger sheet, a smaller margin or a smaller structure.",
    )


def _pack(
    pieces: Sequence[Piece], room: tuple[float, float], spacing: float
) -> list[tuple[int, float, float, bool, Piece]]:
    """(sheet, x, y, turned, piece) for each; x and y from the usable area's lower left."""
    if not pieces:
        return []
    from rectpack import newPacker

    packer = newPacker(rotation=True)
    for number, piece in enumerate(pieces):
        packer.add_rect(*(_units(side + spacing) for side in piece.region.size), rid=number)
    bin_size = [floor((side + spacing) * _UNITS_PER_MM) for side in room]
    packer.add_bin(*bin_size, count=len(pieces))
    packer.pack()
    placed = []
    for sheet, x, y, width, height, number in packer.rect_list():
        own_width, own_height = (_units(side + spacing) for side in pieces[number].region.size)
        turned = (width, height) != (own_width, own_height)
        placed.append((sheet, x / _UNITS_PER_MM, y / _UNITS_PER_MM, turned, pieces[number]))
    return placed


def _units(millimetres: float) -> int:
    return ceil(millimetres * _UNITS_PER_MM - 1e-6)


def _lay(piece: Piece, x: float, y: float, turned: bool) -> Laid:
    motion = Motion.turn(90 if turned else 0)
    left, low, _, _ = piece.region.outer.moved(motion).bounds
    return Laid(piece, motion.shifted(x - left, y - low), 90 if turned else 0)
