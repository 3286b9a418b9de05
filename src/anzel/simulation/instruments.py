"""Simulated calipers, and a simulated hand that feels how something fits."""

from math import inf

import numpy as np

from anzel.materials.fits import FitName, Fits
from anzel.materials.uncertainty import class_limits
from anzel.test_pieces.trial import Feel


class SimulatedCalipers:
    """Calipers with a resolution, a zero error in every reading, and a little noise, mm."""

    def __init__(
        self, resolution: float = 0.01, zero_error: float = 0.0, noise: float = 0.0, seed: int = 0
    ) -> None:
        self._resolution, self._zero_error, self._noise = resolution, zero_error, noise
        self._random = np.random.default_rng(seed)

    def read(self, true: float) -> float:
        """Return what they show for a true size."""
        shown = true + self._zero_error + self._noise * self._random.standard_normal()
        if not self._resolution:
            return float(shown)
        return round(round(float(shown) / self._resolution) * self._resolution, 6)


class SimulatedHand:
    """A hand that knows the fit classes by feel.

    `noise` is its uncertainty, mm.
    """

    def __init__(self, fits: Fits | None = None, noise: float = 0.0, seed: int = 0) -> None:
        known = fits or Fits()
        begins = [class_limits(known, name)[0] for name in FitName]
        self._limits = dict(zip(Feel, [*begins, inf], strict=True))
        self._noise = noise
        self._random = np.random.default_rng(seed)

    def feel(self, opening: float, inserted: float) -> Feel:
        """Return how something of one true size feels in an opening of another."""
        clearance = opening - inserted + self._noise * self._random.standard_normal()
        return next(feel for feel, limit in self._limits.items() if clearance < limit)
