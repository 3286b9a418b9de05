"""A door's pin: a narrow tab on a plate's edge that turns in a round hole of another.

The pin is as wide as its sheet is thick, so that it is square; the hole goes round its corners: √2
t and the play (geometry of a square in a circle).

A door that leans by δ from square turns about its own slanted line. The round that its pin sweeps
crosses the sheet as a slot, √2 t / cos δ + t_plate tan δ long; and turning by φ its edge comes
nearer to the plate by its reach from the pin × sin δ × sin φ, for which there must be air
[derived].
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import asin, cos, hypot, pi, radians, sin, tan
from typing import Annotated

import numpy as np
import shapely
from pydantic import Field

from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_measure
from anzel.core.tolerances import COINCIDENT, SQUARE
from anzel.geometry.regions import Contour
from anzel.materials.fits import FitName, Size, Term
from anzel.structure.joints.cutting_shapes import Offset, Slack, need_width, strip
from anzel.structure.joints.tab_mortise import TabbedEdge, TabMortise, tab_on, tabbed_edge
from anzel.structure.model import (
    Feature,
    FeatureKind,
    FitContext,
    Joint,
    OutlineChange,
    Plate,
    Solved,
)
from anzel.structure.plane_intersection import intersect_planes

_MOST_LEAN = radians(30.0)
_AT_EDGE = 1.0
"""Corners of a door within this of its edge, mm, rub first."""


@dataclass(frozen=True)
class Pin:
    """A pin of a door, `at` mm along its edge from its origin, turning in a plate.

    `play` is added to the clearance, because a pin must turn. The door opens by `turn` degrees.
    """

    id: str
    door: str
    plate: str
    at: Offset
    play: Slack = 0.2
    turn: Annotated[float, Field(gt=0, le=180)] = 90.0
    fit: FitName | None = None

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates.

        Raises
        ------
        ParameterError
            Where it cannot be.
        """
        return solve(self, plates[self.door], plates[self.plate], fit_context)


def solve(
    pin: Pin, door: Plate, plate: Plate, fit_context: FitContext
) -> tuple[Joint, tuple[OutlineChange, ...]]:
    """Return the pin and its hole.

    Raises
    ------
    ParameterError
        For a door that would rub on the plate when it turns, or has no room.
    """
    intersection = intersect_planes(door, plate)
    lean = asin(min(abs(cos(intersection.angle)), 1.0))
    if lean > _MOST_LEAN:
        raise ParameterError(
            f"{door.name} leans too far to turn on a pin in {plate.name}.",
            hint="Set the door within 30 degrees of square.",
        )
    thick = fit_context.of(door.stock_id).measured_thickness
    tabs = TabMortise(pin.id, door.name, plate.name, ((pin.at, thick),), fit=pin.fit)
    case = tabbed_edge(tabs, intersection, door, plate, fit_context)
    air = _need_air(pin, case, lean)
    feature, tool = tab_on(case, pin.at, thick, rooted=max(air, 0.0) + thick)
    rule = fit_context.rule(plate.stock_id, pin.fit)
    across = Term("pin over its corners", hypot(thick, thick))
    play = Term("play to turn", pin.play)
    width = need_width(rule.opening(across, play), plate, rule)
    at = plate.placement.to_plate(case.in_world(pin.at))
    if lean < SQUARE:
        length, hole = width, Contour.circle(at, width.drawn / 2)
    else:
        through = fit_context.of(plate.stock_id).measured_thickness * tan(lean)
        terms = (Term("pin ÷ cos δ", across.value / cos(lean)), Term("sheet × tan δ", through))
        length = need_width(rule.opening(*terms, play), plate, rule)
        way = (-case.along_mortise[1], case.along_mortise[0])
        hole = strip(at, way, -length.drawn / 2, length.drawn / 2, width.drawn)
    if not shapely.contains_properly(plate.region.shape, hole.polygon_shape):
        raise ParameterError(
            f"The pin of {door.name} would break through the edge of {plate.name}.",
            hint="Make the plate larger.",
        )
    inside = Size((across,), across.value, across.value)
    opening = Feature(
        FeatureKind.MORTISE, plate.name, door.name, pin.id, width, length, at, case.along_mortise,
        inside, replace(inside),
    )  # fmt: skip
    joint = Joint(
        pin.id, f"{door.name} turns in {plate.name}", (door.name, plate.name), intersection.angle,
        case.in_world(pin.at), intersection.axis, (feature, opening), pin.fit,
    )  # fmt: skip
    return joint, (OutlineChange(door.name, add=(tool,)), OutlineChange(plate.name, cut=(hole,)))


def _need_air(pin: Pin, case: TabbedEdge, lean: float) -> float:
    """Return the air between a door's edge and its shoulder, mm.

    Raises ParameterError where a leaning door would rub on the plate while it turns.
    """
    corners = case.tabbed.region.outer.vertices
    heights = corners @ np.array(case.out)
    air = case.shoulder - float(heights.max())
    near = corners[heights > heights.max() - _AT_EDGE] @ np.array(case.edge)
    reach = float(np.abs(near - pin.at).max())
    needed = reach * sin(lean) * sin(min(radians(pin.turn), pi / 2))
    if lean > SQUARE and air < needed - COINCIDENT:
        raise ParameterError(
            f"{case.tabbed.name} leans, and would rub on {case.mortised.name} when it turns.",
            hint=f"Let its edge end {plain_measure(needed)} before the plate, or open it less far.",
        )
    return air
