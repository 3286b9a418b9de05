"""The chance that joints come out right, before anything is cut.

- *Contact*: one opening with what goes into it. Its clearance is the class's, plus what kerf and
  thickness turn out to differ from what is thought: C = c + Δkerf - Δthickness (handbook of the
  trade, 4), with the thickness counted as the crossing angle makes it count.
- A joint is *too tight* if one of its contacts is tighter than its class, *right* if all lie in it,
  else *too loose*.

What the joints share (each stock's kerf and mean) is drawn once for the whole structure, by a
quasi-random normal sample; given that, contacts differ only by their own place on the sheet, so
their chances follow from the normal distribution and multiply. A Monte-Carlo run of whole
structures agrees (tests/checks/test_forecast.py).
"""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import hypot, sin, tan

import numpy as np

from anzel.core.tolerances import CERTAIN_SPREAD, VANISHING
from anzel.geometry.segments import Floats
from anzel.materials.fits import FitName, Limits, clearance_limits
from anzel.materials.kerf import Caliper
from anzel.materials.uncertainty import Uncertainty
from anzel.structure.model import FeatureKind, Joint, SolvedStructure

_DRAWS = 2**16
_SEED = 20_26
_MORE_READINGS = 10
_STRIPS = 10

Wanted = tuple[float, Limits]
"""The clearance a class has, and between which it is right."""
Share = tuple[str, float]
"""A stock's id and how much of its error counts in a clearance."""


@dataclass(frozen=True)
class Contact:
    """One opening and what goes into it.

    It holds the shares of kerf and thickness in its clearance, the wanted clearance, and the limits
    of its class, mm.
    """

    kerfs: tuple[Share, ...]
    sheets: tuple[Share, ...]
    clearance: float
    limits: Limits

    def own_spread(self, doubts: dict[str, Uncertainty]) -> float:
        """Return the standard deviation that differs from joint to joint, mm."""
        return hypot(
            CERTAIN_SPREAD, *(share * doubts[s].place_to_place for s, share in self.sheets)
        )

    def uncertainty(self, doubts: dict[str, Uncertainty]) -> float:
        """Return the root-sum-square of all that is not known, mm (GUM, 5.1.2)."""
        kerf = [share * doubts[s].kerf_uncertainty for s, share in self.kerfs]
        return hypot(*kerf, *(share * doubts[s].thickness for s, share in self.sheets))

    def expected(self, doubts: dict[str, Uncertainty]) -> float:
        """Return the expected clearance, mm.

        An unmeasured thickness counts with its expected error.
        """
        return self.clearance - sum(share * doubts[s].mean_shift for s, share in self.sheets)

    def worst_case(self, doubts: dict[str, Uncertainty]) -> Limits:
        """Return the tightest and loosest clearance under all extremes, mm (ISO 286-1)."""
        more = sum(share * 2 * doubts[stock].kerf_uncertainty for stock, share in self.kerfs)
        thinnest, thickest = (
            sum(
                share * (doubts[stock].thickness_limits[end] - doubts[stock].thickness_in_use)
                for stock, share in self.sheets
            )
            for end in (0, 1)
        )
        opening = (self.clearance - more, self.clearance + more)
        return clearance_limits(opening, (thinnest, thickest))


@dataclass(frozen=True)
class JointForecast:
    """The chances of one joint and its most uncertain contact."""

    joint: str
    too_tight: float
    right: float
    too_loose: float
    contact: Contact


@dataclass(frozen=True)
class Advice:
    """The chance that all joints come out right after one measurement: "readings" or "kerf"."""

    stock_id: str
    what: str
    all_go: float


@dataclass(frozen=True)
class Forecast:
    """The chances of each joint and of all together, and the advice, best first."""

    joints: tuple[JointForecast, ...]
    all_go: float
    none_too_tight: float
    advice: tuple[Advice, ...]


def contacts_of(
    joint: Joint, stock_of: dict[str, str], wanted_in: Mapping[tuple[str, FitName | None], Wanted]
) -> tuple[Contact, ...]:
    """Return the contacts of one joint.

    Wanted clearances are looked up by the cut stock and the joint's own fit.
    """
    found = []
    for feature in joint.features:
        own, mate = stock_of[feature.piece], feature.sheet or stock_of[feature.mate]
        wanted = wanted_in[own, joint.fit]
        both_cut = Contact(_merged([(own, 1.0), (mate, 1.0)]), (), *wanted)
        if feature.inserted is None:
            continue
        if feature.kind in (FeatureKind.SLOT, FeatureKind.MORTISE):
            layers = sum(plate == feature.piece for _, plate in joint.pairs) or 1
            shares = _sheets(joint.angle, own, mate, layers)
            found.append(Contact(((own, 1.0),), shares, *wanted))
        else:
            found.append(both_cut)
        if feature.inserted_along is not None:
            found.append(both_cut)
    return tuple(found)


def forecast(
    solved: SolvedStructure,
    doubts: Sequence[Uncertainty],
    readings: dict[str, int],
    wanted: Mapping[tuple[str, FitName | None], Wanted],
) -> Forecast:
    """Return the chances of a structure.

    `readings` counts the readings of each stock. `wanted` is keyed by stock and by a joint's own
    fit; None is the fit in use. Edge tabs without a mate have no chances: nothing fits them here.
    """
    by_stock = {doubt.stock_id: doubt for doubt in doubts}
    stock_of = {piece.name: piece.stock_id for piece in solved.pieces}
    found = {j.id: contacts_of(j, stock_of, wanted) for j in solved.joints}
    joints = {joint: contacts for joint, contacts in found.items() if contacts}
    chances = _Chances(joints, by_stock)
    now = chances.all_right()
    advice = [
        Advice(stock, what, _Chances(joints, {**by_stock, stock: better}).all_right())
        for stock in dict.fromkeys(stock_of.values())
        for what, better in _measured_better(by_stock[stock], readings[stock])
    ]
    advice.sort(key=lambda each: -each.all_go)
    forecasts = tuple(
        JointForecast(joint, *chances.of(joint), _most_doubtful(contacts, by_stock))
        for joint, contacts in joints.items()
    )
    return Forecast(forecasts, now, chances.none_tight(), tuple(advice))


def _sheets(angle: float, own: str, mate: str, layers: int) -> tuple[Share, ...]:
    """Return how much each sheet's thickness counts where two sheets cross at an angle.

    For a stack, each layer.
    """
    slanted = abs(1 / tan(angle))
    across = [(mate, layers / sin(angle))]
    return _merged([*across, (own, slanted)] if slanted > VANISHING else across)


def _merged(shares: Iterable[Share]) -> tuple[Share, ...]:
    total: Counter[str] = Counter()
    for stock, share in shares:
        total[stock] += share  # type: ignore[assignment]  # counts need not be whole
    return tuple(sorted(total.items()))


def _measured_better(uncertainty: Uncertainty, readings: int) -> list[tuple[str, Uncertainty]]:
    """Return the uncertainty after more readings and after a kerf test with strips."""
    mean = uncertainty.place_to_place / (readings + _MORE_READINGS) ** 0.5
    caliper = Caliper()
    kerf = hypot(caliper.reading_uncertainty, caliper.zero_uncertainty) / _STRIPS
    return [
        (
            "readings",
            replace(
                uncertainty,
                mean_uncertainty=min(mean, uncertainty.mean_uncertainty),
                mean_shift=0.0,
            ),
        ),
        ("kerf", replace(uncertainty, kerf_uncertainty=min(kerf, uncertainty.kerf_uncertainty))),
    ]


def _most_doubtful(contacts: Sequence[Contact], doubts: dict[str, Uncertainty]) -> Contact:
    def room(contact: Contact) -> float:
        expected, spread = contact.expected(doubts), contact.uncertainty(doubts)
        least = min(expected - contact.limits[0], contact.limits[1] - expected)
        return least / max(spread, CERTAIN_SPREAD)

    return min(contacts, key=room)


class _Chances:
    """The chances of every distinct contact under each sample of what the joints share."""

    def __init__(
        self, joints: dict[str, tuple[Contact, ...]], doubts: dict[str, Uncertainty]
    ) -> None:
        self._counts = {joint: Counter(contacts) for joint, contacts in joints.items()}
        different = dict.fromkeys(c for contacts in joints.values() for c in contacts)
        draws = _draws(2 * len(doubts))
        errors = {
            stock: (
                draws[:, 2 * i] * doubt.kerf_uncertainty,
                draws[:, 2 * i + 1] * doubt.mean_uncertainty,
            )
            for i, (stock, doubt) in enumerate(doubts.items())
        }
        self._tight: dict[Contact, Floats] = {}
        self._right: dict[Contact, Floats] = {}
        for contact in different:
            shared = np.full(_DRAWS, contact.expected(doubts))
            for stock, share in contact.kerfs:
                shared = shared + share * errors[stock][0]
            for stock, share in contact.sheets:
                shared = shared - share * errors[stock][1]
            spread = contact.own_spread(doubts)
            low, high = contact.limits
            self._tight[contact] = _below((low - shared) / spread)
            self._right[contact] = _below((high - shared) / spread) - self._tight[contact]

    def of(self, joint: str) -> tuple[float, float, float]:
        """Return (too tight, right, too loose) of one joint."""
        right = float(np.mean(self._product(joint, self._right)))
        tight = float(1 - np.mean(self._product(joint, self._not_tight)))
        return (tight, right, max(1 - right - tight, 0.0))

    def all_right(self) -> float:
        """Return the chance that every joint is right."""
        return self._all(self._right)

    def none_tight(self) -> float:
        """Return the chance that no joint is too tight."""
        return self._all(self._not_tight)

    @property
    def _not_tight(self) -> dict[Contact, Floats]:
        return {contact: 1 - tight for contact, tight in self._tight.items()}

    def _all(self, chances: dict[Contact, Floats]) -> float:
        together: Counter[Contact] = Counter()
        for counts in self._counts.values():
            together.update(counts)
        return float(np.mean(_product(together, chances)))

    def _product(self, joint: str, chances: dict[Contact, Floats]) -> Floats:
        return _product(self._counts[joint], chances)


def _product(counts: Counter[Contact], chances: dict[Contact, Floats]) -> Floats:
    product = np.ones(_DRAWS)
    for contact, count in counts.items():
        product = product * chances[contact] ** count
    return product


def _below(x: Floats) -> Floats:
    """Return the normal distribution function."""
    from scipy.special import ndtr

    return np.asarray(ndtr(x))


@lru_cache(maxsize=8)  # one array of samples for each number of stocks
def _draws(dimensions: int) -> Floats:
    """Return (_DRAWS, dimensions) standard normal samples, spread evenly by Sobol's sequence."""
    from scipy.stats import qmc  # 1.3 s to import, so only when somebody asks for chances

    return np.asarray(qmc.MultivariateNormalQMC(np.zeros(dimensions), rng=_SEED).random(_DRAWS))
