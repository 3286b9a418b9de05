"""The maker's decisions: one immutable record. Everything else is derived from it."""

from typing import Self

from pydantic import Field, model_validator

from anzel.findings import ParameterError
from anzel.frozen import Frozen
from anzel.gauges.comb import CombSettings
from anzel.sheets.layout import SheetSettings
from anzel.sheets.operations import Pens
from anzel.stock.fits import Fits, KerfAt
from anzel.stock.stock import Stock
from anzel.stock.trial import Trial
from anzel.structure.forms import AnyForm


class Project(Frozen):
    """Stocks, fits, kerf handling, the structure, trials, and settings for comb, sheets, files."""

    name: str = Field(min_length=1, max_length=80)
    stocks: tuple[Stock, ...] = Field(min_length=1)
    kerf_at: KerfAt = KerfAt.DRAWING
    fits: Fits = Fits()
    structure: AnyForm
    comb: CombSettings = CombSettings()
    sheets: SheetSettings = SheetSettings()
    pens: Pens = Pens()
    trials: tuple[Trial, ...] = ()
    trial_in_hand: Trial | None = None

    @model_validator(mode="after")
    def _stocks_are_known(self) -> Self:
        ids = [stock.id for stock in self.stocks]
        if len(set(ids)) < len(ids):
            raise ValueError("two stocks have the same id")
        for field, stock_id in self.structure.stock_roles().items():
            if stock_id not in ids:
                raise ValueError(f"{field} names the stock “{stock_id}”, which is not there")
        return self

    def stock(self, stock_id: str) -> Stock:
        """The stock of that id. Raises ParameterError listing those there are."""
        for stock in self.stocks:
            if stock.id == stock_id:
                return stock
        known = ", ".join(stock.id for stock in self.stocks)
        raise ParameterError(f"There is no stock “{stock_id}”.", mend=f"There are: {known}.")

    @property
    def tints(self) -> dict[str, str]:
        """The colour each stock is shown in, by its id."""
        return {stock.id: stock.tint for stock in self.stocks}

    @property
    def stocks_in_use(self) -> tuple[Stock, ...]:
        """The stocks that the structure is cut from, in the rack's order."""
        used = set(self.structure.stock_roles().values())
        return tuple(stock for stock in self.stocks if stock.id in used)
