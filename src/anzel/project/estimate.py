"""The time and cost of the whole job, stock by stock."""

from dataclasses import dataclass

from anzel.cutjob.times import NO_TIME, JobTimes, PathLengths, times_of
from anzel.layout.layout import SheetPlan
from anzel.materials.stock import Stock
from anzel.project.derive import jobs_of
from anzel.project.model import Project

_HOUR = 3600.0


@dataclass(frozen=True)
class StockEstimate:
    """The sheets of one stock: path lengths, times, and the cost of sheets and time."""

    stock_id: str
    sheets: int
    scraps: int
    lengths: PathLengths
    times: JobTimes
    sheet_cost: float
    time_cost: float


@dataclass(frozen=True)
class Estimate:
    """All stocks in use."""

    stocks: tuple[StockEstimate, ...]

    @property
    def times(self) -> JobTimes:
        """The times of all stocks."""
        return sum((each.times for each in self.stocks), NO_TIME)

    @property
    def lengths(self) -> PathLengths:
        """The path lengths of all stocks."""
        return sum((each.lengths for each in self.stocks), PathLengths())

    @property
    def cost(self) -> float:
        """The cost of sheets and time, in the maker's currency."""
        return sum(each.sheet_cost + each.time_cost for each in self.stocks)


def estimate_of(project: Project) -> Estimate:
    """Return the time and cost of a project's job with the cutter in use."""
    return Estimate(tuple(_of_stock(project, stock) for stock in project.stocks_in_use))


def _of_stock(project: Project, stock: Stock) -> StockEstimate:
    jobs, cutter = jobs_of(project, stock.id), project.cutter
    lengths = sum((job.lengths for job in jobs), PathLengths())
    times = times_of(lengths, cutter)
    plans = [job.plan for job in jobs]
    return StockEstimate(
        stock.id, sum(not plan.is_scrap for plan in plans), sum(plan.is_scrap for plan in plans),
        lengths, times, sum(_price(stock, plan) for plan in plans),
        times.whole / _HOUR * cutter.cost_per_hour,
    )  # fmt: skip


def _price(stock: Stock, plan: SheetPlan) -> float:
    """Return the cost of a sheet; a scrap was paid for before."""
    if plan.is_scrap:
        return 0.0
    alike = (s.price for s in stock.sheets if (s.width, s.height) == (plan.width, plan.height))
    return next(alike, 0.0)


def format_duration(seconds: float) -> str:
    """Return a time as people say it: 38 s, 12 min 5 s, 2 h 7 min."""
    whole = round(seconds)
    if whole < 60:
        return f"{whole} s"
    if whole < 3600:
        return f"{whole // 60} min {whole % 60} s"
    return f"{whole // 3600} h {whole % 3600 // 60} min"
