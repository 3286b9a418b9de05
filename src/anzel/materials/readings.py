"""What several thickness readings say together (GUM, JCGM 100:2008, 4.2).

All in mm. The sample standard deviation s has n - 1 in its denominator; the standard uncertainty of
the mean is s / sqrt(n). With a single reading neither is known.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import fsum, sqrt

from anzel.core.number_format import plain_length

_SURE = 0.95
"""Level of confidence for intervals and for calling a reading doubtful."""
_SHEET_NOISE = 0.05
"""A reading nearer than this to the others is the sheet and the calipers, not a slip: common
practice, no source. Without it two equal readings would make any third one doubtful."""
_PLAUSIBLE = (0.5, 1.6)
"""A thickness outside these multiples of the label was read or typed wrongly (other unit, other
sheet): common practice, no source."""


@dataclass(frozen=True)
class ReadingStatistics:
    """Statistics of n readings: mean, extremes, and for n > 1 deviation and uncertainty."""

    count: int
    mean: float
    least: float
    greatest: float
    sample_deviation: float | None
    standard_uncertainty: float | None

    @property
    def spread(self) -> float:
        """Greatest minus least reading."""
        return self.greatest - self.least

    @property
    def confidence_half_width(self) -> float | None:
        """The half-width of the interval that contains the true mean with 95 % confidence.

        None for one reading.

        Student's t with n - 1 degrees of freedom times the standard uncertainty (GUM, G.3).
        """
        if self.standard_uncertainty is None:
            return None
        return _student_t(self.count - 1, (1 + _SURE) / 2) * self.standard_uncertainty


@dataclass(frozen=True)
class SuspectReading:
    """A reading that looks wrong: its index, and why.

    It still counts.
    """

    index: int
    why: str


def statistics_of(readings: Sequence[float]) -> ReadingStatistics | None:
    """Return the statistics of the readings; None when there are none.

    Examples
    --------
    >>> found = statistics_of((2.93, 2.95, 2.94))
    >>> round(found.mean, 3), round(found.sample_deviation, 3)
    (2.94, 0.01)
    """
    count = len(readings)
    if not count:
        return None
    mean = fsum(readings) / count
    deviation = uncertainty = None
    if count > 1:
        deviation = sqrt(fsum((reading - mean) ** 2 for reading in readings) / (count - 1))
        uncertainty = deviation / sqrt(count)
    return ReadingStatistics(count, mean, min(readings), max(readings), deviation, uncertainty)


def suspect_readings(
    readings: Sequence[float], nominal_thickness: float
) -> tuple[SuspectReading, ...]:
    """Return readings that are far off the label, or (Grubbs' test) far off the others."""
    least, greatest = (factor * nominal_thickness for factor in _PLAUSIBLE)
    found = [
        SuspectReading(
            index, f"far from the label's {plain_length(nominal_thickness)}; another unit or sheet?"
        )
        for index, reading in enumerate(readings)
        if not least <= reading <= greatest
    ]
    gross = {doubtful.index for doubtful in found}
    kept = [index for index in range(len(readings)) if index not in gross]
    stray = _stray([readings[index] for index in kept])
    if stray is not None:
        found.append(SuspectReading(kept[stray], "does not belong to the others"))
    return tuple(sorted(found, key=lambda doubtful: doubtful.index))


def grubbs_limit(count: int) -> float:
    """Return the largest |x - mean| / s that one of n normal readings shows in 95 of 100 cases.

    The test is two-sided.

    Grubbs' test (ISO 5725-2): (n - 1)/√n · √(t² / (n - 2 + t²)) with Student's t at 1 - 0.05/2n and
    n - 2 degrees of freedom.
    """
    t = _student_t(count - 2, 1 - (1 - _SURE) / (2 * count))
    return (count - 1) / sqrt(count) * sqrt(t**2 / (count - 2 + t**2))


def _stray(readings: Sequence[float]) -> int | None:
    said = statistics_of(readings)
    if said is None or said.count < 3 or not said.sample_deviation:
        return None
    index = max(range(said.count), key=lambda i: abs(readings[i] - said.mean))
    others = statistics_of([*readings[:index], *readings[index + 1 :]])
    assert others is not None
    if abs(readings[index] - others.mean) < _SHEET_NOISE:
        return None
    apart = abs(readings[index] - said.mean) / said.sample_deviation
    return index if apart > grubbs_limit(said.count) else None


def _student_t(freedom: int, probability: float) -> float:
    """Return the quantile of Student's t."""
    from scipy.special import stdtrit  # not while the window starts

    return float(stdtrit(freedom, probability))
