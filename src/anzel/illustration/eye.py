"""The eye of a line picture: a parallel projection, true to scale all over the sheet."""

from dataclasses import dataclass
from functools import cached_property
from math import cos, radians, sin

import numpy as np

from anzel.geometry.segments import Floats

USUAL_AZIMUTH, USUAL_ELEVATION = 32.0, 26.0
"""Where illustrators like to stand: neither at a corner's middle nor too high."""


@dataclass(frozen=True)
class Eye:
    """From where a picture is seen, degrees; of a thing turned over its underside is on top."""

    azimuth: float = USUAL_AZIMUTH
    elevation: float = USUAL_ELEVATION
    turned_over: bool = False

    @cached_property
    def axes(self) -> Floats:
        """(3, 3) unit rows in the world: to the right, upwards on the sheet, towards the eye."""
        a, e = radians(self.azimuth), radians(self.elevation)
        right = np.array([cos(a), sin(a), 0.0])
        back = np.array([sin(a) * cos(e), -cos(a) * cos(e), sin(e)])
        axes = np.array([right, np.cross(back, right), back])
        if self.turned_over:  # the thing is turned by half a turn about the line to the right
            turn = 2 * np.outer(right, right) - np.eye(3)
            axes = axes @ turn
        return axes

    def on_sheet(self, points: Floats) -> Floats:
        """Return (n, 2) where points of space, (n, 3), are on the sheet."""
        seen: Floats = points @ self.axes[:2].T
        return seen
