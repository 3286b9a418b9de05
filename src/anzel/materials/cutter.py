"""A cutter: its bed, its speeds, and its kerf in each stock.

The kerf changes with the stock, the lens and the power, so it is kept per stock, with its standard
uncertainty (GUM) and how it was learnt.
"""

from enum import StrEnum
from math import sqrt

from pydantic import Field

from anzel.core.immutable import Immutable
from anzel.materials.stock import Millimetres, StockId

USUAL_KERF = (0.1, 0.2)
"""Kerf of a fine beam through about 3 mm sheet, mm: common practice, no source."""


class KerfSource(StrEnum):
    """How a kerf came to be known."""

    ASSUMED = "assumed"
    TYPED = "typed"
    STRIPS = "strips"
    DISC = "disc and hole"
    COMB = "comb"


class Kerf(Immutable):
    """The full width that one pass removes in one stock, mm, and its standard uncertainty.

    A typed kerf states no uncertainty; 0.02 is common practice, no source.
    """

    stock_id: StockId
    kerf: float = Field(ge=0, le=5)
    uncertainty: float = Field(default=0.02, ge=0, le=1)
    learnt: KerfSource = KerfSource.TYPED
    date: str = Field(default="", pattern=r"^(\d{4}-\d{2}-\d{2})?$")


def assumed_kerf(stock_id: str) -> Kerf:
    """Return the kerf until one is learnt.

    The middle of the usual range, uniformly distributed in it (GUM, 4.3.7).
    """
    low, high = USUAL_KERF
    doubt = round((high - low) / 2 / sqrt(3), 4)
    middle = round((low + high) / 2, 4)
    return Kerf(stock_id=stock_id, kerf=middle, uncertainty=doubt, learnt=KerfSource.ASSUMED)


class Cutter(Immutable):
    """One machine.

    Bed in mm, speeds in mm/s, pierce time in s, cost per hour in any currency.

    `offsets_path` says that its own kerf compensation is on. The initial speeds and times are
    common practice, no source; the maker sets them.
    """

    id: StockId
    name: str = Field(min_length=1, max_length=60)
    bed_width: Millimetres = 600.0
    bed_height: Millimetres = 400.0
    cut_speed: float = Field(default=12.0, gt=0, le=5000)
    score_speed: float = Field(default=60.0, gt=0, le=5000)
    engrave_speed: float = Field(default=150.0, gt=0, le=5000)
    travel_speed: float = Field(default=300.0, gt=0, le=10_000)
    pierce_time: float = Field(default=0.2, ge=0, le=60)
    cost_per_hour: float = Field(default=0.0, ge=0, le=100_000)
    lens: str = Field(default="", max_length=200)
    offsets_path: bool = False
    kerfs: tuple[Kerf, ...] = ()

    def kerf_in(self, stock_id: str) -> Kerf:
        """Return the kerf in a stock; the assumed one where nothing was learnt."""
        known = (each for each in self.kerfs if each.stock_id == stock_id)
        return next(known, None) or assumed_kerf(stock_id)

    def with_kerf(self, kerf: Kerf) -> "Cutter":
        """Return the cutter with a newly learnt kerf."""
        others = tuple(each for each in self.kerfs if each.stock_id != kerf.stock_id)
        return self.with_changes(kerfs=(*others, kerf))
