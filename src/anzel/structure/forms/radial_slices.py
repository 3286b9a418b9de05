"""Radial slices: discs at heights, and upright blades fanned round the axis that pass through them.

Blades are slotted from inside, discs from outside, half each; so each blade is pushed in towards
the axis. A disc that could not carry its slots is left out.
"""

from collections.abc import Sequence
from dataclasses import replace
from math import hypot

from anzel.geometry.booleans import combine
from anzel.geometry.placement import Vector
from anzel.geometry.regions import Contour
from anzel.materials.fits import FitRule, Term
from anzel.structure.forms.analytic_sections import Section
from anzel.structure.forms.common_outlines import most_slots, web_between_slots
from anzel.structure.forms.shell_and_cradle import beyond
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.line_intervals import common_spans, spans_of
from anzel.structure.joints.relief_trim import ReliefTrim, partial_overlaps
from anzel.structure.model import FitContext, JointSpec, Plate
from anzel.structure.plane_intersection import intersect_planes

_SHORTEST_LAP = 2.0
"""Where disc and blade cross by fewer thicknesses than this, neither would hold."""


def most_blades(core: float, thickness: float, rule: FitRule) -> int:
    """Return how many blades leave webs as thick as the sheet, with slots to the core."""
    slot = rule.opening(Term("blade", thickness)).produced
    return most_slots(slot, core, thickness, 60)


def outside(sections: Section, core: float) -> Section:
    """Return the part of a section beyond the core, on the side it faces."""
    return tuple(part for region in sections for part in beyond(region, core))


def with_hole(plate: Plate, diameter: float) -> Plate:
    """Return a disc with a hole on the axis."""
    cut = combine(plate.region, cut=[Contour.circle((0.0, 0.0), diameter / 2)])
    return replace(plate, region=cut[0]) if cut else plate


def laps(
    discs: Sequence[Plate], blades: Sequence[Plate], relief: float, fit_context: FitContext
) -> tuple[tuple[Plate, ...], tuple[JointSpec, ...]]:
    """Return the slices that hold one another, and their laps."""
    found: list[CrossLap] = []
    for disc in discs:
        crossings = [c for blade in blades if (c := _crossing(disc, blade, relief)) is not None]
        if crossings and _carries(disc, crossings, len(blades), fit_context):
            found += [lap for lap, _, _ in crossings]
    held = {name for lap in found for name in (lap.from_above, lap.from_below)}
    kept = tuple(plate for plate in (*discs, *blades) if plate.name in held)
    grazing = [
        ReliefTrim(disc.name, blade.name)
        for disc in discs
        for blade in blades
        if {disc.name, blade.name} <= held
        and partial_overlaps(disc, blade, intersect_planes(disc, blade), fit_context)
    ]
    return kept, (*found, *grazing)


_Crossing = tuple[CrossLap, float, float]
"""A lap, how long its overlap is, and how far from the axis its floors are."""


def _crossing(disc: Plate, blade: Plate, relief: float) -> _Crossing | None:
    out: Vector = blade.placement.x_axis
    intersection = intersect_planes(disc, blade, out)
    shared = common_spans(spans_of(disc, intersection), spans_of(blade, intersection))
    if not shared:
        return None
    low, high = max(shared, key=lambda span: span[1] - span[0])
    x, y, _ = intersection.at((low + high) / 2)
    lap = CrossLap(f"{disc.name}×{blade.name}", disc.name, blade.name, relief=relief, up=out)
    return lap, high - low, hypot(x, y)


def _carries(disc: Plate, crossings: list[_Crossing], blades: int, fit_context: FitContext) -> bool:
    """Return whether a disc can carry its slots.

    All are long enough, with webs as thick as the sheet between them.
    """
    thick = fit_context.of(disc.stock_id).measured_thickness
    slot = fit_context.rule(disc.stock_id).opening(Term("blade", thick)).produced
    return all(
        length >= _SHORTEST_LAP * thick and web_between_slots(blades, slot, floor) >= thick
        for _, length, floor in crossings
    )
