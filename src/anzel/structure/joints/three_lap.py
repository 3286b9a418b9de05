"""Three plates crossing on one line, a third of it each.

The *lowest* keeps the bottom third and is slotted from above down to it; the *middle* keeps the
middle third and is slotted from both ends; the *highest* keeps the top third and is slotted from
below. Going together: the middle plate down into the lowest, then the highest down over both. A
slot must let both others pass, so it is as wide as the wider of the two crossings.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from math import fsum

from anzel.core.findings import ParameterError
from anzel.core.tolerances import ON_ONE_LINE
from anzel.geometry.placement import Vector, add_scaled, cross, dot, norm
from anzel.geometry.regions import Contour
from anzel.materials.fits import FitName, crossing_terms
from anzel.structure.joints.cutting_shapes import Slack
from anzel.structure.joints.line_intervals import SlotOpening, common_spans, spans_of
from anzel.structure.model import Feature, FitContext, Joint, OutlineChange, Plate, Solved
from anzel.structure.plane_intersection import PlaneIntersection, intersect_planes


@dataclass(frozen=True)
class ThreeLap:
    """Three plates on one line, lowest first.

    `relief` deepens every slot.
    """

    id: str
    lowest: str
    middle: str
    highest: str
    relief: Slack = 0.0
    up: Vector | None = None
    fit: FitName | None = None

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates.

        Raises
        ------
        ParameterError
            Where it cannot be.
        """
        names = (self.lowest, self.middle, self.highest)
        one, two, three = (plates[name] for name in names)
        return solve(self, (one, two, three), fit_context)


def solve(
    lap: ThreeLap, plates: tuple[Plate, Plate, Plate], fit_context: FitContext
) -> tuple[Joint, tuple[OutlineChange, ...]]:
    """Return the slots of all three.

    Raises
    ------
    ParameterError
        Where they do not share a line.
    """
    intersection = intersect_planes(plates[0], plates[1], lap.up)
    _need_one_line(intersection, plates)
    spans = {plate.name: spans_of(plate, intersection) for plate in plates}
    shared = spans[plates[0].name]
    for plate in plates[1:]:
        shared = common_spans(shared, spans[plate.name])
    if len(shared) != 1:
        names = ", ".join(plate.name for plate in plates)
        raise ParameterError(f"{names} do not cross in one stretch.", hint="Move them together.")
    low, high = shared[0]
    third = (high - low) / 3
    stops = ((low + third, 1), (low + third, -1), (low + 2 * third, 1), (low + 2 * third, -1))
    slots = (  # plate, split point, which way it opens
        (plates[0], *stops[0]), (plates[1], *stops[1]), (plates[1], *stops[2]),
        (plates[2], *stops[3]),
    )  # fmt: skip
    made = [
        _slot(
            lap,
            SlotOpening(plate, intersection, spans[plate.name], split, sign, lap.relief),
            plates,
            fit_context,
        )
        for plate, split, sign in slots
    ]
    edits = tuple(
        OutlineChange(
            plate.name, cut=tuple(tool for feature, tool in made if feature.piece == plate.name)
        )
        for plate in plates
    )
    joint = Joint(
        lap.id,
        " × ".join(plate.name for plate in plates),
        tuple(plate.name for plate in plates),
        intersection.angle,
        intersection.at((low + high) / 2),
        intersection.axis,
        tuple(feature for feature, _ in made),
        lap.fit,
    )
    return joint, edits


def _slot(
    lap: ThreeLap, opening: SlotOpening, plates: tuple[Plate, Plate, Plate], fit_context: FitContext
) -> tuple[Feature, Contour]:
    """Return one slot, wide enough for both others, named after the one that needs the most."""
    plate = opening.plate
    rule, own = fit_context.rule(plate.stock_id, lap.fit), fit_context.of(plate.stock_id)
    needs = []
    for mate in plates:
        if mate is not plate:
            angle = intersect_planes(plate, mate, lap.up).angle
            thickness = fit_context.of(mate.stock_id).measured_thickness
            terms = crossing_terms(thickness, own.measured_thickness, angle)
            needs.append((fsum(term.value for term in terms), mate.name, terms))
    _, widest, taken = max(needs, key=lambda need: need[0])
    return opening.slot(lap.id, widest, taken, rule)


def _need_one_line(intersection: PlaneIntersection, plates: tuple[Plate, Plate, Plate]) -> None:
    third = plates[2].placement
    for at in (intersection.at(0.0), intersection.at(100.0)):
        off = add_scaled(at, third.origin, -1.0)
        if abs(dot(off, third.normal)) > ON_ONE_LINE:
            names = ", ".join(plate.name for plate in plates)
            raise ParameterError(
                f"{names} do not cross on one line.", hint="Let the third go through the crossing."
            )
    if norm(cross(intersection.axis, third.normal)) < ON_ONE_LINE:
        raise ParameterError(f"{plates[2].name} lies square to the line of the others.")
