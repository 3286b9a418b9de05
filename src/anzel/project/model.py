"""The maker's decisions: one immutable record.

Everything else is derived from it.
"""

from typing import Self

from pydantic import Field, model_validator

from anzel.assembly.wishes import AssemblyWishes
from anzel.core.findings import ParameterError
from anzel.core.immutable import Immutable
from anzel.core.number_format import Unit
from anzel.cutjob.job_settings import JobSettings
from anzel.cutjob.operations import PRESETS, Pens
from anzel.layout.sheet_settings import SheetSettings
from anzel.materials.cutter import Cutter, Kerf
from anzel.materials.fits import FitName, Fits, KerfAt
from anzel.materials.material import LETS_LIGHT_THROUGH
from anzel.materials.stock import Stock
from anzel.project.bounds import Bounds
from anzel.structure.forms import AnyForm
from anzel.test_pieces.model import TestPiecePlans
from anzel.test_pieces.trial import Trial

MOST_TAKES = 4
"""No more variants than can be compared side by side."""


class Take(Immutable):
    """A variant of the structure, kept to be compared."""

    name: str = Field(pattern=r"^Take [1-9][0-9]{0,5}$")
    structure: AnyForm


_SHOWN = 60
"""So much of a name that nothing has is told."""


class Project(Immutable):
    """Stocks, cutters, fits, the structure, trials, and settings for test pieces, sheets and files.

    Lengths are shown in `shown_unit`; None leaves that to the maker's settings.
    A project with a `practice_seed` is for practice: its sheets and cutter are simulated.
    """

    name: str = Field(min_length=1, max_length=80)
    stocks: tuple[Stock, ...] = Field(min_length=1)
    cutters: tuple[Cutter, ...] = Field(
        default=(Cutter(id="cutter-1", name="Cutter"),), min_length=1
    )
    cutter_in_use: str = "cutter-1"
    kerf_at: KerfAt = KerfAt.DRAWING
    fits: Fits = Fits()
    structure: AnyForm
    test_pieces: TestPiecePlans = TestPiecePlans()
    sheets: SheetSettings = SheetSettings()
    job: JobSettings = JobSettings()
    pens: Pens = Pens()
    pen_presets: tuple[Pens, ...] = Field(default=PRESETS, max_length=20)
    trials: tuple[Trial, ...] = ()
    in_hand: tuple[Trial, ...] = ()
    takes: tuple[Take, ...] = Field(default=(), max_length=MOST_TAKES)
    bounds: Bounds = Bounds()
    assembly: AssemblyWishes = AssemblyWishes()
    shown_unit: Unit | None = None
    practice_seed: int | None = Field(default=None, ge=0, le=999_999)

    @model_validator(mode="after")
    def _stocks_are_known(self) -> Self:
        ids = [stock.id for stock in self.stocks]
        if len(set(ids)) < len(ids):
            raise ValueError("two stocks have the same id")
        cutters = [cutter.id for cutter in self.cutters]
        if len(set(cutters)) < len(cutters):
            raise ValueError("two cutters have the same id")
        if self.cutter_in_use not in cutters:
            raise ValueError(f"the cutter “{self.cutter_in_use}” in use is not there")
        for field, stock_id in self.structure.stock_roles().items():
            if stock_id not in ids:
                raise ValueError(f"{field} names the stock “{stock_id}”, which is not there")
        for opening in self.structure.own_openings:
            if opening.sheet and opening.sheet not in ids:
                what = f"{opening.id} takes the stock “{opening.sheet}”"
                raise ValueError(f"{what}, which is not there")
        return self

    def stock(self, stock_id: str) -> Stock:
        """Return the stock of that id.

        Raises
        ------
        ParameterError
            Listing the known ones.
        """
        for stock in self.stocks:
            if stock.id == stock_id:
                return stock
        known = ", ".join(stock.id for stock in self.stocks)
        wanted = str(stock_id)[:_SHOWN]
        raise ParameterError(f"There is no stock “{wanted}”.", hint=f"There are: {known}.")

    @property
    def cutter(self) -> Cutter:
        """The cutter in use."""
        return next(cutter for cutter in self.cutters if cutter.id == self.cutter_in_use)

    def kerf_in(self, stock_id: str) -> Kerf:
        """Return the kerf of the cutter in use in one stock."""
        return self.cutter.kerf_in(stock_id)

    def clearance_in(self, stock_id: str, fit: FitName | None = None) -> float:
        """Return the clearance of a fit class (the one in use) in openings of one stock, mm."""
        name = fit or self.fits.in_use
        return self.fits.clearance_of(name) + self.stock(stock_id).fit_shift

    @property
    def engraves_inches(self) -> bool:
        """Whether the numbers on test pieces are in inches."""
        if self.test_pieces.inches is None:
            return self.shown_unit not in (None, Unit.MILLIMETRES)
        return self.test_pieces.inches

    @property
    def contradicts_cutter(self) -> str:
        """Why this kerf handling and the cutter's own setting contradict each other.

        "" if they do not.
        """
        if self.kerf_at is not KerfAt.CUTTER and self.cutter.offsets_path:
            return f"{self.cutter.name} offsets its path, so the kerf would be counted twice."
        if self.kerf_at is KerfAt.CUTTER and not self.cutter.offsets_path:
            return f"{self.cutter.name} runs on the line, so nobody would mind the kerf."
        return ""

    @property
    def tints(self) -> dict[str, str]:
        """The display colour of each stock, by its id."""
        return {stock.id: stock.tint for stock in self.stocks}

    @property
    def lit_through(self) -> frozenset[str]:
        """The stocks that glow with a lamp behind them."""
        return frozenset(s.id for s in self.stocks if s.material in LETS_LIGHT_THROUGH)

    def assets(self) -> dict[str, bytes]:
        """Return the content of every asset of the structure and the takes, by digest."""
        forms = (self.structure, *(take.structure for take in self.takes))
        return {each.digest: each.content for form in forms for each in form.assets()}

    @property
    def stocks_in_use(self) -> tuple[Stock, ...]:
        """The stocks that the structure is cut from or takes, in the rack's order."""
        taken = {opening.sheet for opening in self.structure.own_openings}
        laid = {stock for item in self.structure.own_artwork for stock in item.sheets}
        used = taken.union(laid, self.structure.stock_roles().values())
        return tuple(stock for stock in self.stocks if stock.id in used)
