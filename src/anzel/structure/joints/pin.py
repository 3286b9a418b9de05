"""A door's pin: a narrow tab on a plate's edge that turns in a round hole of another.

The pin is as wide as its sheet is thick, so that it is square; the hole goes round its corners: √2
t and the play (geometry of a square in a circle).
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import hypot, pi

import shapely

from anzel.core.findings import ParameterError
from anzel.core.tolerances import SQUARE
from anzel.geometry.regions import Contour
from anzel.materials.fits import FitName, Size, Term
from anzel.structure.joints.cutting_shapes import Offset, Slack, need_width
from anzel.structure.joints.tab_mortise import TabMortise, tab_on, tabbed_edge
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


@dataclass(frozen=True)
class Pin:
    """A pin of a door, `at` mm along its edge from its origin, turning in a plate.

    The door stands square to it. `play` is added to the clearance, because a pin must turn.
    """

    id: str
    door: str
    plate: str
    at: Offset
    play: Slack = 0.2
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
        For a door that leans, or has no room.
    """
    intersection = intersect_planes(door, plate)
    if abs(intersection.angle - pi / 2) > SQUARE:
        raise ParameterError(
            f"{door.name} leans, and cannot turn on a pin in {plate.name}.",
            hint="Set the door upright.",
        )
    thick = fit_context.of(door.stock_id).measured_thickness
    tabs = TabMortise(pin.id, door.name, plate.name, ((pin.at, thick),), fit=pin.fit)
    case = tabbed_edge(tabs, intersection, door, plate, fit_context)
    feature, tool = tab_on(case, pin.at, thick)
    rule = fit_context.rule(plate.stock_id, pin.fit)
    across = Term("pin over its corners", hypot(thick, thick))
    width = need_width(rule.opening(across, Term("play to turn", pin.play)), plate, rule)
    at = plate.placement.to_plate(case.in_world(pin.at))
    hole = Contour.circle(at, width.drawn / 2)
    if not shapely.contains_properly(plate.region.shape, hole.polygon_shape):
        raise ParameterError(
            f"The pin of {door.name} would break through the edge of {plate.name}.",
            hint="Make the plate larger.",
        )
    inside = Size((across,), across.value, across.value)
    opening = Feature(
        FeatureKind.MORTISE, plate.name, door.name, pin.id, width, width, at, case.along_mortise,
        inside, replace(inside),
    )  # fmt: skip
    joint = Joint(
        pin.id, f"{door.name} turns in {plate.name}", (door.name, plate.name), intersection.angle,
        case.in_world(pin.at), intersection.axis, (feature, opening), pin.fit,
    )  # fmt: skip
    return joint, (OutlineChange(door.name, add=(tool,)), OutlineChange(plate.name, cut=(hole,)))
