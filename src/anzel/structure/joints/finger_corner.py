"""Finger corner: two plates meet edge to edge and their edges interlock.

Both plates reach through the corner; their mid-planes meet in a line. The stretch of it inside both
is divided into cells. The *first* plate leads: it keeps the even cells as fingers, the *second* the
odd ones; each loses the other's cells from its edge in to where the other's inner face is. An odd
number of cells makes both ends of an edge alike. With an even number each plate has a finger where
its edge starts, counter-clockwise as seen from outside the corner, and a gap where it ends; so all
sides of a box can be one piece. Two cells are half and half.

For a clearance c and a kerf k (in the drawing) a gap is drawn L/n - k + c/2 and a finger L/n + k -
c/2: each boundary moves (k - c/2)/2 into the gap, so produced gap less produced finger is c. The
depth is the mating sheet (more where the plates lean) and knows no kerf. The plates' own ends stay
where they are drawn.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import sin, tan

from anzel.core.findings import ParameterError
from anzel.core.number_format import format_measure
from anzel.core.tolerances import ROUNDING
from anzel.geometry.placement import dot
from anzel.geometry.regions import Contour
from anzel.materials.fits import FitName, FitRule, Size, Term
from anzel.structure.joints.cutting_shapes import Count, along, away_from_body, strip
from anzel.structure.joints.line_intervals import common_spans, spans_of
from anzel.structure.model import (
    Feature,
    FeatureKind,
    FitContext,
    Joint,
    OutlineChange,
    Plate,
    Solved,
)
from anzel.structure.plane_intersection import PlaneIntersection, intersect_planes

_BEYOND = 1.0
_NARROWEST = 1.0
"""A finger narrower than this, mm, is refused."""


@dataclass(frozen=True)
class FingerCorner:
    """A finger corner with `cells` fingers and gaps together."""

    id: str
    first: str
    second: str
    cells: Count
    fit: FitName | None = None

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates.

        Raises
        ------
        ParameterError
            Where it cannot be.
        """
        return solve(self, plates[self.first], plates[self.second], fit_context)


def solve(
    corner: FingerCorner, first: Plate, second: Plate, fit_context: FitContext
) -> tuple[Joint, tuple[OutlineChange, ...]]:
    """Return the fingers of both plates.

    Raises
    ------
    ParameterError
        Where they cannot interlock.
    """
    intersection = intersect_planes(first, second)
    if corner.cells % 2 == 0:
        intersection = _from_start(intersection, first, second)
    shared = common_spans(spans_of(first, intersection), spans_of(second, intersection))
    if len(shared) != 1:
        raise ParameterError(
            f"{first.name} and {second.name} do not meet along one whole edge.",
            hint="Let both plates reach through the corner, with straight edges.",
        )
    low, high = shared[0]
    pitch = (high - low) / corner.cells
    sides = ((first, second, 1), (second, first, 0))
    features: list[Feature] = []
    edits = []
    for plate, mate, start in sides:
        gaps = [
            _gap(corner, plate, mate, fit_context, intersection, (low, high), cell, pitch)
            for cell in range(start, corner.cells, 2)
        ]
        features += [feature for feature, _ in gaps]
        edits.append(OutlineChange(plate.name, cut=tuple(tool for _, tool in gaps)))
    joint = Joint(
        corner.id,
        f"{first.name} ∟ {second.name}",
        (first.name, second.name),
        intersection.angle,
        intersection.at((low + high) / 2),
        intersection.axis,
        tuple(features),
        corner.fit,
    )
    return joint, tuple(edits)


def _from_start(intersection: PlaneIntersection, first: Plate, second: Plate) -> PlaneIntersection:
    """Return the line running as the first plate's edge does, counter-clockwise from outside."""
    origin, direction = intersection.in_plate(first)
    out = away_from_body(first.region, origin, direction)
    away = away_from_body(second.region, *intersection.in_plate(second))
    turn = direction[0] * -out[1] + direction[1] * out[0]
    mate_out = second.placement.direction_to_world((*away, 0.0))
    is_front_outside = dot(mate_out, first.placement.normal) > 0
    if (turn > 0) is is_front_outside:
        return intersection
    x, y, z = intersection.axis
    return replace(intersection, axis=(-x, -y, -z))


def _gap(
    corner: FingerCorner,
    plate: Plate,
    mate: Plate,
    fit_context: FitContext,
    intersection: PlaneIntersection,
    edge: tuple[float, float],
    cell: int,
    pitch: float,
) -> tuple[Feature, Contour]:
    """Return one gap of a plate's edge, and the finger of its mate that goes into it."""
    own, other = fit_context.of(plate.stock_id), fit_context.of(mate.stock_id)
    rule = fit_context.rule(plate.stock_id, corner.fit)
    gap, finger = _sizes(rule, fit_context.rule(mate.stock_id, corner.fit), pitch)
    if min(gap.drawn, finger.produced) < _NARROWEST:
        raise ParameterError(
            f"The fingers between {plate.name} and {mate.name} would be "
            f"{format_measure(pitch, 1)} wide.",
            hint="Use fewer fingers.", field="fingers",
        )  # fmt: skip
    inner, way = _inner_face(plate, intersection, own.measured_thickness, other.measured_thickness)
    inner -= plate.outset
    depth = rule.step(*way)
    origin, direction = intersection.in_plate(plate)
    out = away_from_body(plate.region, origin, direction)
    low, high = edge
    start = low + cell * pitch + (pitch - gap.drawn) / 2
    end = start + gap.drawn
    ends = spans_of(plate, intersection)
    # where the plate ends with the corner, its slanting tip beyond the last cell goes too
    past = [
        2 * depth.drawn if any(abs(span[at] - edge[at]) < _BEYOND for span in ends) else _BEYOND
        for at in (0, 1)
    ]
    if cell == 0:
        start = low - past[0]
    if cell == corner.cells - 1:
        end = high + past[1]
    middle = along(origin, direction, low + (cell + 0.5) * pitch)
    at = along(middle, out, depth.drawn / 2 - inner)
    across = along((0.0, 0.0), direction, (start + end) / 2 - low - (cell + 0.5) * pitch)
    foot = (middle[0] + across[0], middle[1] + across[1])
    tool = strip(foot, out, -inner, depth.drawn + _far(plate), end - start)
    feature = Feature(
        FeatureKind.FINGER, plate.name, mate.name, corner.id, gap, depth, at, out, finger
    )
    return feature, tool


def _sizes(rule: FitRule, mate_rule: FitRule, pitch: float) -> tuple[Size, Size]:
    """Return a gap, and the finger that goes into it, half the clearance each."""
    half = rule.clearance / 2
    gap = Size(
        (Term("pitch", pitch), Term("½ clearance", half), Term("kerf", -rule.drawn_kerf)),
        pitch + half - rule.drawn_kerf, pitch + half,
    )  # fmt: skip
    finger = Size(
        (Term("pitch", pitch), Term("½ clearance", -half), Term("kerf", mate_rule.drawn_kerf)),
        pitch - half + mate_rule.drawn_kerf, pitch - half,
    )  # fmt: skip
    return gap, finger


def _inner_face(
    plate: Plate, intersection: PlaneIntersection, own: float, other: float
) -> tuple[float, tuple[Term, ...]]:
    """Return how far inside the common line the mate's inner face is, and the way through."""
    lean = own * abs(1 / tan(intersection.angle))
    slanted = lean > ROUNDING
    through = other / sin(intersection.angle)
    inner = (through + (lean if slanted else 0.0)) / 2
    if not slanted:
        return inner, (Term("mating sheet", through),)
    return inner, (Term("mating sheet ÷ sin θ", through), Term("own sheet × cot θ", lean))


def _far(plate: Plate) -> float:
    """Return a distance clear of the edge, whatever the plate's overhang beyond the corner."""
    left, low, right, high = plate.region.bounds
    return (right - left + high - low) * 0.02 + _BEYOND
