"""Through mortise.

A plate that passes wholly through a hole of another, such as pegs, spines through rings, bars.

Where the passing plate's mid-plane meets the pierced plate, a mortise is cut as long as the passing
plate is wide there, with the clearance both ways.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from math import fsum, hypot

import numpy as np
import shapely

from anzel.core.findings import ParameterError
from anzel.core.tolerances import ON_ONE_LINE
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.materials.fits import FitName, Size, Term, crossing_terms
from anzel.structure.joints.cutting_shapes import Slack, along, need_width, strip
from anzel.structure.joints.line_intervals import Span, common_spans, spans_of
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

_BESIDE = 1e-9
"""How far beside a corner's height a shape is measured, mm."""


@dataclass(frozen=True)
class ThroughMortise:
    """One plate going through another.

    `play` is extra length of the hole, mm.
    """

    id: str
    passing: str
    pierced: str
    play: Slack = 0.0
    fit: FitName | None = None

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates.

        Raises
        ------
        ParameterError
            Where it cannot be.
        """
        return solve(self, plates[self.passing], plates[self.pierced], fit_context)


def solve(
    joint: ThroughMortise, passing: Plate, pierced: Plate, fit_context: FitContext
) -> tuple[Joint, tuple[OutlineChange, ...]]:
    """Return the holes.

    Raises
    ------
    ParameterError
        Where the plates miss or the hole meets an edge.
    """
    intersection = intersect_planes(passing, pierced)
    inside = common_spans(spans_of(passing, intersection), spans_of(pierced, intersection))
    if not inside:
        raise ParameterError(
            f"{passing.name} does not go through {pierced.name}.", hint="Move them together."
        )
    holes = [_hole(joint, passing, pierced, fit_context, intersection, span) for span in inside]
    shapes = [tool.polygon_shape for _, tool in holes]
    if not all(shapely.contains_properly(pierced.region.shape, shape) for shape in shapes):
        raise ParameterError(
            f"{passing.name} would break through the edge of {pierced.name}.",
            hint="Make the plate larger, or what goes through it narrower.",
        )
    _need_way_in(passing, pierced, intersection, inside, max(f.depth.produced for f, _ in holes))
    solved = Joint(
        joint.id,
        f"{passing.name} ⊥ {pierced.name}",
        (passing.name, pierced.name),
        intersection.angle,
        intersection.at((inside[0][0] + inside[-1][1]) / 2),
        intersection.axis,
        tuple(feature for feature, _ in holes),
        joint.fit,
    )
    return solved, (OutlineChange(pierced.name, cut=tuple(tool for _, tool in holes)),)


def _need_way_in(
    passing: Plate,
    pierced: Plate,
    intersection: PlaneIntersection,
    inside: tuple[Span, ...],
    longest: float,
) -> None:
    """Raise ParameterError for a plate that can be brought in from neither side."""
    origin, direction = intersection.in_plate(passing)
    x, y = direction
    # the plate as drawn, which the cut makes narrower; what presses is pushed through all the same
    drawn = max(longest + 2 * passing.outset, *(end - start for start, end in inside))
    if all(
        _is_stuck(passing.region, origin, direction, out, inside, drawn)
        for out in ((-y, x), (y, -x))
    ):
        raise ParameterError(
            f"{passing.name} could never be brought into {pierced.name}: on both sides it is wider "
            "than its hole.",
            hint="Make it narrower on one side, or slot both plates into one another.",
        )


@lru_cache(maxsize=256)  # more than any structure has passing plates
def _is_stuck(
    region: Region, origin: Point, direction: Point, out: Point, inside: tuple[Span, ...],
    longest: float,
) -> bool:  # fmt: skip
    """Return whether what lies `out` from a line cannot be brought through the slits in that line.

    It is pushed through straight or sideways, so at no height may it reach further along the line
    than the longest slit is; nor may it join what goes through two of them [derived].
    """
    left, low, right, high = region.bounds
    reach = 2 * (right - left + high - low + hypot(origin[0] - left, origin[1] - low))
    half = strip(origin, out, 0.0, reach, 2 * reach).polygon_shape
    middles = [shapely.Point(along(origin, direction, (a + b) / 2)) for a, b in inside]
    for part in shapely.get_parts(shapely.intersection(region.shape, half)):
        through = sum(part.distance(middle) < ON_ONE_LINE for middle in middles)
        if part.geom_type != "Polygon" or not through:
            continue
        if through > 1 or _widest(part, direction, out) > longest + ON_ONE_LINE:
            return True
    return False


def _widest(part: shapely.Polygon, direction: Point, out: Point) -> float:
    """Return how far a shape reaches along a direction where it reaches furthest, mm.

    Between the heights of its corners its reach changes evenly, so it is widest beside one.
    """
    ring = np.asarray(part.exterior.coords)
    across, heights = ring @ np.array(direction), ring @ np.array(out)
    levels = np.unique(heights)
    levels = np.concatenate([levels[:-1] + _BESIDE, levels[1:] - _BESIDE])
    (low, high), (start, end) = (heights[:-1], heights[1:]), (across[:-1], across[1:])
    crosses = (np.minimum(low, high) < levels[:, None]) & (levels[:, None] < np.maximum(low, high))
    with np.errstate(divide="ignore", invalid="ignore"):
        at = start + (end - start) * (levels[:, None] - low) / (high - low)
    reach = np.where(crosses, at, -np.inf).max(axis=1) - np.where(crosses, at, np.inf).min(axis=1)
    return float(reach.max(initial=0.0))


def _hole(
    joint: ThroughMortise,
    passing: Plate,
    pierced: Plate,
    fit_context: FitContext,
    intersection: PlaneIntersection,
    span: Span,
) -> tuple[Feature, Contour]:
    rule = fit_context.rule(pierced.stock_id, joint.fit)
    own, other = fit_context.of(pierced.stock_id), fit_context.of(passing.stock_id)
    taken = crossing_terms(other.measured_thickness, own.measured_thickness, intersection.angle)
    width = need_width(rule.opening(*taken), pierced, rule)
    wide = span[1] - span[0] - 2 * passing.outset
    play = [Term("play", joint.play)] if joint.play else []
    length = need_width(rule.opening(Term("what goes through", wide), *play), pierced, rule)
    origin, direction = intersection.in_plate(pierced)
    at = along(origin, direction, (span[0] + span[1]) / 2)
    tool = strip(at, direction, -length.drawn / 2, length.drawn / 2, width.drawn)
    inside = fsum(term.value for term in taken)
    lost = 0.0 if passing.outset else fit_context.rule(passing.stock_id, joint.fit).drawn_kerf
    feature = Feature(
        FeatureKind.MORTISE, pierced.name, passing.name, joint.id, width, length, at, direction,
        Size(taken, inside, inside), Size((Term("as drawn", wide),), wide, wide - lost),
    )  # fmt: skip
    return feature, tool
