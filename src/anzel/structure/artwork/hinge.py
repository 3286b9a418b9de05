"""A living hinge: rows of slits that let a flat plate bend, reckoned for its sheet.

The strips between two rows of slits hang on bridges that lie half a step apart. Each strip is a
bar that twists between them, and the bend divides over the strips. The torsion formulas are of
Roark's Formulas for Stress and Strain, bars of rectangular section (from memory).
"""

from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import count
from math import ceil, floor, inf, radians

from anzel.geometry.open_path import OpenPath
from anzel.geometry.segments import Line
from anzel.structure.artwork.records import PlateHinge

LEAST_LINK = 0.5
"""The narrowest link, of the sheet's thickness (common practice, no source)."""
_RADIUS_STEP, _WIDEST_RADIUS, _PAST_EDGE = 0.1, 5000.0, 1.0


def torsion_constant(long_side: float, short_side: float) -> float:
    """Return J of a bar of rectangular section, mm⁴."""
    ratio = short_side / long_side
    return long_side * short_side**3 * (1 / 3 - 0.21 * ratio * (1 - ratio**4 / 12))


def shear_per_torque(long_side: float, short_side: float) -> float:
    """Return the largest shear under a unit of torque, in the middle of the long side, 1/mm³."""
    a, b = long_side / 2, short_side / 2
    ratio = b / a
    series = 1 + 0.6095 * ratio + 0.8865 * ratio**2 - 1.8023 * ratio**3 + 0.91 * ratio**4
    return 3 * series / (8 * a * b**2)


def developed_length(angle: float, inner_radius: float, thickness: float) -> float:
    """Return how long the middle of a bent sheet is, mm, for an angle in degrees."""
    return radians(angle) * (inner_radius + thickness / 2)


@dataclass(frozen=True)
class HingePlan:
    """A hinge for one sheet, mm: `strain` is the largest shear strain of its links.

    `narrowest_radius` is the least inner radius that this sheet takes with these slits, or inf.
    """

    developed: float
    links: int
    link_width: float
    link_length: float
    strain: float
    holds: bool
    narrowest_radius: float


@lru_cache(maxsize=256)  # lines, folds, findings and words all ask for the same few
def planned(hinge: PlateHinge, thickness: float, kerf: float) -> HingePlan:
    """Return the hinge with the fewest, widest links that bear the bend; else with the most.

    Its `holds` tells which.
    """
    developed, links, link_width, strain, holds = _planned(
        hinge, hinge.inner_radius, thickness, kerf
    )
    narrowest = _narrowest(hinge, thickness, kerf)
    return HingePlan(developed, links, link_width, hinge.link_length, strain, holds, narrowest)


def finest(hinge: PlateHinge, thickness: float, kerf: float) -> HingePlan:
    """Return the hinge with as many links as cut well, whatever strain they bear."""
    plan = planned(hinge, thickness, kerf)
    links = max(floor(plan.developed / (LEAST_LINK * thickness + kerf)), 1)
    width = max(plan.developed / links - kerf, 0.01)
    strain = _strain(hinge, links, width, thickness)
    return replace(plan, links=links, link_width=width, strain=strain)


def slits_of(plan: HingePlan, hinge: PlateHinge, low: float, top: float) -> list[OpenPath]:
    """Return the slits of a hinge across a plate from `low` to `top`, its bend along y at x = 0.

    Rows alternate: one has a whole bridge at both edges, its neighbours run out of both.
    """
    bridge = hinge.bridge
    steps = max(round((top - low - bridge) / (hinge.slit_length + bridge)), 1)
    step = (top - low - bridge) / steps
    slits = []
    for row in range(plan.links + 1):
        x = (row / plan.links - 0.5) * plan.developed
        if row % 2 == 0:
            ends = [(low + bridge + at * step, low + (at + 1) * step) for at in range(steps)]
        else:
            bridges = [low + (at + 0.5) * step for at in range(steps)]
            starts = (low - _PAST_EDGE, *(at + bridge for at in bridges))
            ends = list(zip(starts, (*bridges, top + _PAST_EDGE), strict=True))
        slits += [OpenPath((Line((x, a), (x, b)),)) for a, b in ends if b - a > bridge / 100]
    return slits


def _planned(
    hinge: PlateHinge, inner_radius: float, thickness: float, kerf: float
) -> tuple[float, int, float, float, bool]:
    """Return the developed length, the links, how wide and how strained they are, and if they hold.

    A bend that is too short for one link does not hold.
    """
    developed = developed_length(hinge.bend_angle, inner_radius, thickness)
    most = floor(developed / (LEAST_LINK * thickness + kerf))
    for links in range(1, most + 1):
        link_width = developed / links - kerf
        strain = _strain(hinge, links, link_width, thickness)
        if strain <= hinge.allowed_strain / 100:
            return developed, links, link_width, strain, True
    links = max(most, 1)
    link_width = max(developed / links - kerf, 0.01)
    return developed, links, link_width, _strain(hinge, links, link_width, thickness), False


def _strain(hinge: PlateHinge, links: int, link_width: float, thickness: float) -> float:
    """Return the largest shear strain τ / G of links that share the bend."""
    short, long = sorted((link_width, thickness))
    twist = radians(hinge.bend_angle) / links
    stiff = shear_per_torque(long, short) * torsion_constant(long, short)
    return twist / hinge.link_length * stiff


def _narrowest(hinge: PlateHinge, thickness: float, kerf: float) -> float:
    """Return the least inner radius whose links hold, mm, rounded up to a tenth."""
    link = LEAST_LINK * thickness
    short, long = sorted((link, thickness))
    stiff = shear_per_torque(long, short) * torsion_constant(long, short)
    bound = (link + kerf) * stiff / (hinge.allowed_strain / 100 * hinge.link_length) - thickness / 2
    first = max(ceil(bound / _RADIUS_STEP), 0)
    for at in count(first):  # whole links may want a little more than the bound
        radius = round(at * _RADIUS_STEP, 1)
        if radius > _WIDEST_RADIUS:
            return inf
        if _planned(hinge, radius, thickness, kerf)[-1]:
            return radius
    return inf
