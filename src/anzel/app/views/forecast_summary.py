"""The forecast step's view model: the chances in every fit class, and what would improve them."""

from dataclasses import dataclass

from anzel.checks.forecast import Advice, Forecast
from anzel.core.number_format import format_share
from anzel.helpers.process import Helper
from anzel.materials.fits import FitName
from anzel.materials.uncertainty import Uncertainty, uncertainty_of
from anzel.project.derive import forecast_of
from anzel.project.model import Project

HELPER = Helper("forecasts", "anzel.app.views.forecast_summary")
_WORTH = 0.005
"""A gain in chance smaller than this is not worth a measurement."""


@dataclass(frozen=True)
class ForecastSummary:
    """The forecast of the class in use and of every class, and the uncertainty of each stock."""

    now: Forecast
    by_fit: dict[FitName, Forecast]
    uncertainties: dict[str, Uncertainty]


def summary_of(project: Project) -> ForecastSummary:
    """Return the summary of a project; it takes a second the first time."""
    by_fit = {name: forecast_of(project, name) for name in FitName}
    used = project.stocks_in_use
    doubts = {stock.id: uncertainty_of(stock, project.kerf_in(stock.id)) for stock in used}
    return ForecastSummary(by_fit[project.fits.in_use], by_fit, doubts)


def best_advice(found: Forecast) -> Advice | None:
    """Return the measurement that would help most; None if none is worth it."""
    if found.advice and found.advice[0].all_go - found.all_go >= _WORTH:
        return found.advice[0]
    return None


def advice_words(project: Project, found: Forecast) -> str:
    """Return the best advice in words."""
    advice = best_advice(found)
    if advice is None:
        return "No measurement would help much: what is left is how the sheet itself varies."
    what = "Ten more readings of" if advice.what == "readings" else "Kerf strips from"
    name = project.stock(advice.stock_id).name
    return f"{what} {name} would help most: all joints right {format_share(advice.all_go, 1)}."
