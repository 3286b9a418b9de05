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
from anzel.stock.stock import SheetSize
from anzel.structure.plates import Piece

TOO_LARGE = "piece-larger-than-sheet"

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
    pieces: Sequence[Piece],
    stock_id: str,
    sizes: Sequence[SheetSize],
    settings: SheetSettings,
    *,
    may_turn: bool = True,
) -> Layout:
    """Pieces of one stock on as few sheets as a simple packer finds, sizes in their order.

    A piece larger than every sheet is left out and named in a finding. Where the counted sheets
    run out, more of the largest are used and that is told.
    """
    copies = [piece for piece in pieces for _ in range(piece.count)]
    rooms = [_room(size, settings) for size in sizes]
    fitting = [piece for piece in copies if any(_fits(piece, room, may_turn) for room in rooms)]
    findings = [
        _too_large(piece, sizes, settings)
        for piece in pieces
        if not any(_fits(piece, room, may_turn) for room in rooms)
    ]
    sheets: dict[int, list[Laid]] = {}
    used: dict[int, int] = {}
    for sheet, size, x, y, turned, piece in _pack(fitting, sizes, settings, may_turn):
        laid = _lay(piece, x + settings.margin, y + settings.margin, turned)
        sheets.setdefault(sheet, []).append(laid)
        used[sheet] = size
    plans = tuple(
        SheetPlan(
            stock_id, number, sizes[used[sheet]].width, sizes[used[sheet]].height,
            tuple(sheets[sheet]),
        )
        for number, sheet in enumerate(sorted(sheets), start=1)
    )  # fmt: skip
    return Layout(plans, (*findings, *_too_few(stock_id, plans, sizes)))


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


def close_cut(plan: SheetPlan, margin: float) -> SheetPlan:
    """The same pieces on a sheet just large enough for them."""
    boxes = [each.piece.region.moved(each.motion).bounds for each in plan.laid]
    left, low = min(box[0] for box in boxes) - margin, min(box[1] for box in boxes) - margin
    right, top = max(box[2] for box in boxes) + margin, max(box[3] for box in boxes) + margin
    laid = tuple(Laid(o.piece, o.motion.shifted(-left, -low), o.turn) for o in plan.laid)
    return SheetPlan(plan.stock_id, plan.number, right - left, top - low, laid)


def _room(size: SheetSize, settings: SheetSettings) -> tuple[float, float]:
    """What is left of a sheet inside its margins."""
    return (size.width - 2 * settings.margin, size.height - 2 * settings.margin)


def _fits(piece: Piece, room: tuple[float, float], may_turn: bool) -> bool:
    width, height = piece.region.size
    upright = width <= room[0] and height <= room[1]
    return upright or (may_turn and height <= room[0] and width <= room[1])


def _too_large(piece: Piece, sizes: Sequence[SheetSize], settings: SheetSettings) -> Finding:
    own = " × ".join(f"{side:.1f}" for side in piece.region.size)
    largest = max(sizes, key=lambda size: size.width * size.height)
    return Finding(
        TOO_LARGE,
        Severity.PROBLEM,
        piece.name,
        f"{own} mm does not fit a sheet of {largest.width:g} × {largest.height:g} mm "
        f"with a margin of {settings.margin:g} mm.",
        "Use a larger sheet, a smaller margin or a smaller structure.",
    )


def _too_few(
    stock_id: str, plans: Sequence[SheetPlan], sizes: Sequence[SheetSize]
) -> list[Finding]:
    """What the rack lacks, where its sheets are counted."""
    if any(size.count is None for size in sizes):
        return []
    there = sum(size.count or 0 for size in sizes)
    lacking = len(plans) - there
    if lacking <= 0:
        return []
    return [
        Finding(
            "too-few-sheets",
            Severity.WARNING,
            stock_id,
            f"{len(plans)} sheets are needed and {there} are on the rack.",
            f"Get {lacking} more, or correct the count.",
        )
    ]


def _pack(
    pieces: Sequence[Piece],
    sizes: Sequence[SheetSize],
    settings: SheetSettings,
    may_turn: bool,
) -> list[tuple[int, int, float, float, bool, Piece]]:
    """(sheet, index of its size, x, y, turned, piece); x and y from the usable area's corner."""
    if not pieces:
        return []
    from rectpack import newPacker

    spacing = settings.spacing
    packer = newPacker(rotation=may_turn)
    for number, piece in enumerate(pieces):
        packer.add_rect(*(_units(side + spacing) for side in piece.region.size), rid=number)
    largest = max(range(len(sizes)), key=lambda i: sizes[i].width * sizes[i].height)
    counts = [len(pieces) if size.count is None else size.count for size in sizes]
    for index, count in [*enumerate(counts), (largest, len(pieces))]:
        room = _room(sizes[index], settings)
        bin_size = [floor((side + spacing) * _UNITS_PER_MM) for side in room]
        if count and min(bin_size) > 0:
            packer.add_bin(*bin_size, count=count, bid=index)
    packer.pack()
    placed = []
    for sheet, x, y, width, height, number in packer.rect_list():
        own_width, own_height = (_units(side + spacing) for side in pieces[number].region.size)
        turned = (width, height) != (own_width, own_height)
        at = (x / _UNITS_PER_MM, y / _UNITS_PER_MM)
        placed.append((sheet, int(packer[sheet].bid), *at, turned, pieces[number]))
    return placed


def _units(millimetres: float) -> int:
    return ceil(millimetres * _UNITS_PER_MM - 1e-6)


def _lay(piece: Piece, x: float, y: float, turned: bool) -> Laid:
    motion = Motion.turn(90 if turned else 0)
    left, low, _, _ = piece.region.outer.moved(motion).bounds
    return Laid(piece, motion.shifted(x - left, y - low), 90 if turned else 0)
