"""The maker's decisions about sheets: distances, orientations, copy counts, and kept placements."""

from enum import StrEnum

from pydantic import Field

from anzel.core.immutable import Immutable
from anzel.materials.stock import StockId


class TurnSteps(StrEnum):
    """The steps by which a piece may be turned on a sheet."""

    AS_DRAWN = "as drawn"
    HALF = "half turns"
    QUARTER = "quarter turns"
    EIGHTH = "eighth turns"
    FREE = "any turn"

    @property
    def degrees(self) -> tuple[float, ...]:
        """Every allowed turn in degrees; *any turn* means steps of 15°."""
        step = {"as drawn": 360, "half turns": 180, "quarter turns": 90, "eighth turns": 45}
        return tuple(float(turn) for turn in range(0, 360, step.get(self.value, 15)))


class KeptPlacement(Immutable):
    """The placement of one copy of a piece.

    The n-th (from 0) sheet of a container (by name), turned over or not, then turned, with the
    lower left corner of its bounds at (x, y), mm. A `pinned` one stays; others stay as long as all
    of them do (see `layout.layout`).
    """

    stock_id: StockId
    piece: str = Field(max_length=80)
    copy_number: int = Field(default=1, ge=1, le=9999)
    container: str = Field(max_length=80)
    sheet: int = Field(default=0, ge=0, le=9999)
    turn: float = Field(default=0.0, ge=0, lt=360)
    over: bool = False
    x: float = Field(ge=-100_000, le=100_000)
    y: float = Field(ge=-100_000, le=100_000)
    pinned: bool = False


class CopyCount(Immutable):
    """A number of copies of a piece: those in this job, or those that have been cut."""

    piece: str = Field(max_length=80)
    count: int = Field(ge=0, le=999)


class SheetSettings(Immutable):
    """Distances between pieces and from the sheet's edge, mm, and how pieces may lie.

    By which turns, turned over where the faces are alike, and with their long side along the grain.
    `copy_counts` is how many of a piece this job has, where that is not what is left to cut; `cut`
    is what has been cut already.
    """

    spacing: float = Field(default=3.0, ge=0, le=100)
    margin: float = Field(default=5.0, ge=0, le=200)
    turns: TurnSteps = TurnSteps.QUARTER
    turn_over: bool = False
    follow_grain: bool = True
    kept_placements: tuple[KeptPlacement, ...] = Field(default=(), max_length=20_000)
    copy_counts: tuple[CopyCount, ...] = Field(default=(), max_length=2000)
    cut: tuple[CopyCount, ...] = Field(default=(), max_length=2000)

    def count_of(self, piece: str, needed: int) -> int:
        """Return how many copies of a piece this job has."""
        wanted = (each.count for each in self.copy_counts if each.piece == piece)
        return next(wanted, self.left_of(piece, needed))

    def left_of(self, piece: str, needed: int) -> int:
        """Return how many copies of a piece are still to be cut."""
        return max(needed - self.cut_of(piece), 0)

    def cut_of(self, piece: str) -> int:
        """Return how many copies of a piece have been cut."""
        return next((each.count for each in self.cut if each.piece == piece), 0)
