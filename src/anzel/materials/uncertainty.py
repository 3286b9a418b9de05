"""What is not known of a sheet and its kerf, and the limits of a fit class.

All in mm, as standard uncertainties (GUM, JCGM 100:2008). Two parts of a sheet's thickness are kept
apart:

- *place to place*: how much the thickness varies from joint to joint (the sample deviation s of the
  readings); every joint has its own;
- *mean*: how far the mean in use may be from the true one (s / √n); all joints share it, as they
  share the error of the kerf.
"""

from dataclasses import dataclass
from math import hypot, inf, sqrt

from anzel.materials.cutter import Kerf
from anzel.materials.fits import FitName, Fits, Limits
from anzel.materials.stock import Stock

_USUAL_SPREAD = 0.03
"""Place to place, until two readings tell better: common practice, no source."""
_USUAL_BAND = 0.07
"""How far a sheet is off its label, as a share, where no standard says: common practice, no
source (sold as 1/8 in, measures 0.115 to 0.133 in)."""
_NARROWEST = 0.02
"""A class reaches at least this far to either side of its clearance."""


@dataclass(frozen=True)
class Uncertainty:
    """What is not known of one stock.

    `mean_shift` is the expected true mean less the thickness in use. `thickness_limits` are the
    extremes to reckon with.
    """

    stock_id: str
    place_to_place: float
    mean_uncertainty: float
    kerf_uncertainty: float
    mean_shift: float
    thickness_in_use: float
    thickness_limits: Limits

    @property
    def thickness(self) -> float:
        """The standard uncertainty of the thickness at one joint, both parts together."""
        return hypot(self.place_to_place, self.mean_uncertainty)


def uncertainty_of(stock: Stock, kerf: Kerf) -> Uncertainty:
    """Return what the readings and the kerf leave uncertain; usual values without them."""
    said = stock.statistics
    if said is None:
        low, high = _label_band(stock)
        mean, shift = (high - low) / 2 / sqrt(3), (low + high) / 2 - stock.nominal_thickness
        doubts = (_USUAL_SPREAD, mean, kerf.uncertainty, shift, stock.nominal_thickness)
        return Uncertainty(stock.id, *doubts, (low, high))
    if said.sample_deviation is None or said.standard_uncertainty is None:
        doubts = (_USUAL_SPREAD, _USUAL_SPREAD, kerf.uncertainty, 0.0, said.mean)
        limits = (said.mean - 2 * _USUAL_SPREAD, said.mean + 2 * _USUAL_SPREAD)
        return Uncertainty(stock.id, *doubts, limits)
    return Uncertainty(
        stock.id, said.sample_deviation, said.standard_uncertainty, kerf.uncertainty, 0.0,
        said.mean, (said.least, said.greatest),
    )  # fmt: skip


def class_limits(fits: Fits, name: FitName) -> Limits:
    """Return the clearances between which a class lies: half way to its neighbours, mm.

    *press* reaches as far to its tight side as to its loose side; *loose* has no upper end.
    """
    names = list(FitName)
    at, own = names.index(name), fits.clearance_of(name)
    high = inf
    if at + 1 < len(names):
        high = (own + max(fits.clearance_of(names[at + 1]), own + 2 * _NARROWEST)) / 2
    if at == 0:
        return (2 * own - high, high)
    return ((own + min(fits.clearance_of(names[at - 1]), own - 2 * _NARROWEST)) / 2, high)


def _label_band(stock: Stock) -> Limits:
    """Return where an unmeasured sheet may lie, uniformly distributed (GUM, 4.3.7)."""
    band = stock.tolerance_band
    if band is not None:
        return band
    nominal = stock.nominal_thickness
    return (nominal * (1 - _USUAL_BAND), nominal * (1 + _USUAL_BAND))
