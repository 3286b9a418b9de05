"""Relief trim: one plate trimmed where another only grazes it.

Plates have thickness: where two slices' mid-planes meet outside their outlines, their corners may
still overlap. There is nothing to lap there, so one is cut back along the other's whole breadth. No
joint comes of it.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from math import fsum
from typing import ClassVar

from anzel.materials.fits import crossing_terms
from anzel.structure.joints.cutting_shapes import along, strip
from anzel.structure.joints.line_intervals import Span, common_spans, merged_intervals, spans_of
from anzel.structure.model import FitContext, OutlineChange, Plate, Solved
from anzel.structure.plane_intersection import PlaneIntersection, intersect_planes

_SAMPLES = 5
"""Lines across a plate's breadth on which its outline is looked at."""
_SLACK = 0.5
"""How much further is cleared than was found, for what lies between those lines, mm."""


@dataclass(frozen=True)
class ReliefTrim:
    """A plate that is trimmed where another passes."""

    id: ClassVar[str] = ""
    trimmed: str
    passing: str

    def solve(self, plates: Mapping[str, Plate], fit_context: FitContext) -> Solved:
        """Return the joint among the plates.

        Raises
        ------
        ParameterError
            Where it cannot be.
        """
        return None, solve(self, plates[self.trimmed], plates[self.passing], fit_context)


def solve(
    clearing: ReliefTrim, trimmed: Plate, passing: Plate, fit_context: FitContext
) -> tuple[OutlineChange, ...]:
    """Return what is cut from the trimmed plate; nothing where the other does not come near."""
    intersection = intersect_planes(trimmed, passing)
    reached = partial_overlaps(trimmed, passing, intersection, fit_context)
    if not reached:
        return ()
    own, other = (fit_context.of(plate.stock_id).measured_thickness for plate in (trimmed, passing))
    rule = fit_context.rule(trimmed.stock_id)
    width = rule.opening(*crossing_terms(other, own, intersection.angle)).drawn
    ease = max(rule.clearance, 0.0)
    origin, direction = intersection.in_plate(trimmed)
    tools = tuple(strip(origin, direction, low - ease, high + ease, width) for low, high in reached)
    return (OutlineChange(trimmed.name, cut=tools),)


def partial_overlaps(
    trimmed: Plate, passing: Plate, intersection: PlaneIntersection, fit_context: FitContext
) -> tuple[Span, ...]:
    """Return the intervals of the common line to be cleared.

    Where both plates' breadths are, but not both their middles.

    Where they also cross in the same interval, only what they share goes.
    """
    ours = _breadths(trimmed, passing, intersection, fit_context)
    theirs = _breadths(passing, trimmed, intersection, fit_context)
    crossed = common_spans(spans_of(trimmed, intersection), spans_of(passing, intersection))
    found = []
    for low, high in theirs:
        clear = not any(_meet((low, high), span) for span in crossed)
        for own in ours:
            shared = (max(low, own[0]), min(high, own[1]))
            if shared[0] < shared[1] and not any(_meet(shared, span) for span in crossed):
                found.append((low, high) if clear else (shared[0] - _SLACK, shared[1] + _SLACK))
    return tuple(dict.fromkeys(found))


def _meet(one: Span, other: Span) -> bool:
    return one[0] < other[1] and other[0] < one[1]


def _breadths(
    plate: Plate, mate: Plate, intersection: PlaneIntersection, fit_context: FitContext
) -> list[Span]:
    """Return where a plate reaches along the line, anywhere across the other's breadth."""
    own, other = (fit_context.of(each.stock_id).measured_thickness for each in (plate, mate))
    wide = fsum(term.value for term in crossing_terms(other, own, intersection.angle))
    origin, direction = intersection.in_plate(plate)
    spans: list[Span] = []
    for index in range(_SAMPLES):
        lateral = wide * (index / (_SAMPLES - 1) - 0.5)
        spans += plate.region.spans(along(origin, direction, 0.0, lateral), direction)
    return list(merged_intervals(spans))
