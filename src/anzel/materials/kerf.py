"""Learning the kerf from a test piece and calipers.

- *strips*: N strips drawn W wide, cut side by side and pushed together, measure M in all. Each came
  out W - k wide, so k = W - M / N. What the calipers are wrong by counts once in M, so its part in
  k shrinks with N.
- *disc and hole*: a disc drawn D_o measures M_o across, the hole it leaves, drawn D_i, measures
  M_i. k = ((M_i - M_o) - (D_i - D_o)) / 2. A zero error of the calipers is in both and cancels.

Uncertainties are standard uncertainties (GUM, JCGM 100:2008): a resolution r is a rectangular
distribution of width r (F.2.2.1, r / √12), a zero error within ±z one of half-width z (4.3.7, z /
√3); independent parts are combined by root-sum-square (5.1.2).
"""

from dataclasses import dataclass
from math import hypot, sqrt

from anzel.core.findings import ParameterError
from anzel.core.number_format import format_measure, plain_length

_COARSEST = 1.0
"""No calipers are coarser, mm. Common practice, no source."""
_NAMES = {"resolution": "The steps of calipers", "zero_error": "The zero error of calipers"}


@dataclass(frozen=True)
class Caliper:
    """What is known of the calipers, mm.

    The defaults are common practice, no source. Raises ParameterError below 0 and above 1 mm.
    """

    resolution: float = 0.01
    zero_error: float = 0.03

    def __post_init__(self) -> None:
        for field, size in vars(self).items():
            if not 0 <= size <= _COARSEST:
                raise ParameterError(
                    f"{_NAMES[field]} cannot be {format_measure(size, 3)}.",
                    hint=f"Type 0 to {format_measure(_COARSEST, 0)}.", field=field,
                )  # fmt: skip

    @property
    def reading_uncertainty(self) -> float:
        """The standard uncertainty of one reading, from the resolution, mm."""
        return self.resolution / sqrt(12)

    @property
    def zero_uncertainty(self) -> float:
        """The standard uncertainty of the zero, the same in every reading, mm."""
        return self.zero_error / sqrt(3)


@dataclass(frozen=True)
class LearntKerf:
    """A kerf and its standard uncertainty, mm."""

    kerf: float
    uncertainty: float


def kerf_from_strips(drawn: float, count: int, total: float, caliper: Caliper) -> LearntKerf:
    """Return the kerf from strips pushed together, mm.

    Raises
    ------
    ParameterError
        For impossible sizes.

    Examples
    --------
    >>> found = kerf_from_strips(drawn=20.0, count=10, total=198.4, caliper=Caliper())
    >>> round(found.kerf, 3)
    0.16
    """
    _positive(drawn=drawn, count=count, total=total)
    kerf = drawn - total / count
    doubt = hypot(caliper.reading_uncertainty, caliper.zero_uncertainty) / count
    return _plausible(LearntKerf(kerf, doubt), drawn, "total")


def kerf_from_disc(
    drawn_outside: float,
    drawn_inside: float,
    measured_outside: float,
    measured_inside: float,
    caliper: Caliper,
) -> LearntKerf:
    """Return the kerf from a disc and its hole, mm.

    Raises
    ------
    ParameterError
        For impossible sizes.

    Examples
    --------
    >>> found = kerf_from_disc(30.0, 30.0, 29.84, 30.16, Caliper())
    >>> round(found.kerf, 3)
    0.16
    """
    _positive(
        drawn_outside=drawn_outside,
        drawn_inside=drawn_inside,
        measured_outside=measured_outside,
        measured_inside=measured_inside,
    )
    kerf = ((measured_inside - measured_outside) - (drawn_inside - drawn_outside)) / 2
    doubt = caliper.reading_uncertainty * sqrt(2) / 2
    return _plausible(LearntKerf(kerf, doubt), drawn_outside, "measured_inside")


def _positive(**sizes: float) -> None:
    for field, size in sizes.items():
        if not size > 0:
            name = field.replace("_", " ").capitalize()
            raise ParameterError(
                f"{name} must be more than 0, not {plain_length(size)}.", field=field
            )


def _plausible(found: LearntKerf, drawn: float, field: str) -> LearntKerf:
    """Return the kerf unless it is clearly negative, or removes half of the piece."""
    if -2 * found.uncertainty <= found.kerf < drawn / 2:
        return found
    raise ParameterError(
        f"These sizes give a kerf of {format_measure(found.kerf, 3)}, which cannot be.",
        hint="Check which size was measured where, and the units.",
        field=field,
    )
