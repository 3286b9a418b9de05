"""A simulated sheet: its true thickness varies smoothly from place to place."""

from functools import cached_property
from math import log

import numpy as np
from pydantic import Field

from anzel.core.immutable import Immutable
from anzel.geometry.segments import Floats

_WAVES = 12
_WAVELENGTHS = (40.0, 400.0)
"""A sheet's thickness changes over centimetres and decimetres, mm: common practice, no source."""


class SimulatedSheet(Immutable):
    """A sheet with a hidden truth: mean and spread of its thickness, mm.

    The same seed gives the same sheet.
    """

    true_thickness: float = Field(gt=0, le=200)
    spread: float = Field(default=0.0, ge=0, le=5)
    seed: int = Field(default=0, ge=0)

    def thickness_at(self, x: float, y: float) -> float:
        """Return the true thickness at a place on the sheet, mm.

        A sum of waves with the spread as standard deviation.
        """
        if not self.spread:
            return self.true_thickness
        along_x, along_y, phase = self._waves
        height = np.cos(along_x * x + along_y * y + phase).sum() * np.sqrt(2 / _WAVES)
        return self.true_thickness + self.spread * float(np.clip(height, -3, 3))

    @cached_property
    def _waves(self) -> tuple[Floats, Floats, Floats]:
        random = np.random.default_rng(self.seed)
        lengths = np.exp(random.uniform(log(_WAVELENGTHS[0]), log(_WAVELENGTHS[1]), _WAVES))
        directions = random.uniform(0, 2 * np.pi, _WAVES)
        number = 2 * np.pi / lengths
        phase = random.uniform(0, 2 * np.pi, _WAVES)
        return number * np.cos(directions), number * np.sin(directions), phase
