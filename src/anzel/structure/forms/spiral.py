"""A strip cut as one flat spiral that hangs in many turns: its outline, and how it stands.

The spiral is Archimedes': the radius of its middle falls evenly with the angle, by a pitch a turn.
Hung, it comes down evenly too. It is drawn as *facets*: flat sectors that lean as the strip does
there. A turn's middle facet lies at the angle 0, where the spine is.
"""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise
from math import atan2, cos, pi, sin

from anzel.geometry.placement import Placement, Vector, add_scaled, cross, scaled, unit
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point
from anzel.structure.forms.common_outlines import band, through
from anzel.structure.model import Facet

_BESIDE = 8
"""Facets of a turn before and after the one that lies in the slot."""
_POINTS = 24
"""Points of the outline to a turn: a cubic between two strays from the spiral by less than 1e-4 of
its radius."""
Frame = tuple[Vector, Vector, Vector]
"""A turn's middle, forward (from the spine through the middle) and up, in space."""


@dataclass(frozen=True)
class Spiral:
    """A strip of `turns` turns that is `width` mm wide.

    The first turn has the radius `outer` to its outer edge, each next one is `pitch` mm smaller.
    The ends are half a turn from the spine, which is held over `held` mm to either side of its
    middle.
    """

    turns: int
    outer: float
    width: float
    pitch: float
    held: float

    def radius(self, angle: float) -> float:
        """Return the radius to the outer edge at an angle; a turn is 2 pi."""
        return self.outer - self.pitch * angle / (2 * pi)

    @property
    def length(self) -> float:
        """The length along the strip's middle, mm: the mean of its turns' circumferences."""
        mean = self.outer - self.width / 2 - self.pitch * (self.turns - 1) / 2
        return 2 * pi * mean * self.turns

    def region(self) -> Region:
        """Return the whole strip, flat."""
        return self._between(-pi, (2 * self.turns - 1) * pi, _POINTS * self.turns)

    def facets(self, frame: Callable[[float], Frame]) -> tuple[Facet, ...]:
        """Return the hung strip as facets.

        `frame` gives the middle of a turn, by how many turns down the strip it is. The facet at
        turn i's slot is number `middle_of(i)`.
        """
        return tuple(
            self._facet(low, high, frame)
            for turn in range(self.turns)
            for low, high in pairwise(self._borders(2 * pi * turn))
        )

    def _borders(self, middle: float) -> list[float]:
        """Return the angles between a turn's facets.

        One as wide as the spine, finer ones beside it.
        """
        half = min(self.held / (self.radius(middle) - self.width), pi / 4)
        steps = [half + (pi - half) * step / _BESIDE for step in range(_BESIDE + 1)]
        return [*(middle - step for step in reversed(steps)), *(middle + step for step in steps)]

    def middle_of(self, turn: int) -> int:
        """Return the number of the facet that lies in a turn's slot."""
        return (2 * _BESIDE + 1) * turn + _BESIDE

    def _facet(self, low: float, high: float, frame: Callable[[float], Frame]) -> Facet:
        """Return the sector between two angles, as steep as the strip comes down there."""
        angle = (low + high) / 2
        here = _in_space(frame, angle, self.radius(angle))
        more = 1e-3
        ahead = unit(add_scaled(_in_space(frame, angle + more, self.radius(angle)), here, -1.0))
        _, forward, up = frame(angle / (2 * pi))
        lateral = cross(up, forward)
        outward = _outward(forward, lateral, angle)
        # square to the strip's run, as nearly outward as can be
        lean = unit(cross(ahead, cross(outward, ahead)))
        x_axis, y_axis = _unturned(lean, ahead, angle)
        flat = (self.radius(angle) * cos(angle), self.radius(angle) * sin(angle))
        origin = add_scaled(add_scaled(here, x_axis, -flat[0]), y_axis, -flat[1])
        return Facet(self._between(low, high, 2), Placement(origin, x_axis, y_axis))

    def _between(self, start: float, end: float, count: int) -> Region:
        """Return the strip from one angle to another, through points along both edges.

        One beyond either end, so that the curve is as accurate there.
        """
        angles = [start + (end - start) * index / count for index in range(-1, count + 2)]
        outer = through([_polar(self.radius(a), a) for a in angles])[1:-1]
        inner = through([_polar(self.radius(a) - self.width, a) for a in angles])[1:-1]
        return band(outer, inner)


def slope(spiral: Spiral, hung: float) -> float:
    """Return how steeply the strip comes down where its middle turn is, radians."""
    drop = hung / max(spiral.turns - 1, 1)
    around = spiral.length / spiral.turns
    return atan2(drop, around)


def _polar(radius: float, angle: float) -> Point:
    return (radius * cos(angle), radius * sin(angle))


def _outward(forward: Vector, lateral: Vector, angle: float) -> Vector:
    """Return the direction from the middle to the strip.

    At the angle 0 that is back, towards the spine.
    """
    back = (-forward[0], -forward[1], -forward[2])
    other = (-lateral[0], -lateral[1], -lateral[2])
    return add_scaled(scaled(back, cos(angle)), other, sin(angle))


def _in_space(frame: Callable[[float], Frame], angle: float, radius: float) -> Vector:
    middle, forward, up = frame(angle / (2 * pi))
    return add_scaled(middle, _outward(forward, cross(up, forward), angle), radius)


def _unturned(outward: Vector, ahead: Vector, angle: float) -> tuple[Vector, Vector]:
    """Return the axes of the flat spiral, turned by the angle."""
    x_axis = add_scaled(scaled(outward, cos(angle)), ahead, -sin(angle))
    y_axis = add_scaled(scaled(outward, sin(angle)), ahead, cos(angle))
    return x_axis, y_axis
