"""What several thickness readings say together (GUM, JCGM 100:2008, 4.2).

All in mm. The sample standard deviation s has n - 1 in its denominator; the standard
uncertainty of the mean is s / sqrt(n). With a single reading neither is known.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import fsum, sqrt


@dataclass(frozen=True)
class ReadingStatistics:
    """Of n readings: mean, extremes, and where n > 1 spread and uncertainty."""

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


def statistics_of(readings: Sequence[float]) -> ReadingStatistics | None:
    """The statistics of the readings, or None when there are none."""
    count = len(readings)
    if not count:
        return None
    mean = fsum(readings) / count
    deviation = uncertainty = None
    if count > 1:
        deviation = sqrt(fsum((reading - mean) ** 2 for reading in readings) / (count - 1))
        uncertainty = deviation / sqrt(count)
    return ReadingStatistics(count, mean, min(readings), max(readings), deviation, uncertainty)
