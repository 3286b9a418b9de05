"""Clearing: one plate trimmed where another only grazes it.

Plates have thickness: where two slices' mid-planes meet outside their outlines, their corners may
still be in the same place. There is nothing to lap there, so one is cut back along the other's
whole breadth. No joint comes of it.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from math import fsum

from anzel.stock.fits import crossing_terms
from anzel.structure.joints.spans import Span
from anzel.structure.joints.tools import along, strip
from anzel.structure.meeting import Meeting, meet
from anzel.structure.plates import Edit, Plate, Sheets, Solved

_SAMPLES = 5
"""Lines across a plate's breadth on which its outline is looked at."""


@dataclass(frozen=True)
class Clearing:
    """Declares that a plate is trimmed where another passes."""

    trimmed: str
    passing: str

    def solve(self, plates: Mapping[str, Plate], sheets: Sheets) -> Solved:
        """The joint among the plates. Raises ParameterError where it cannot be."""
        return None, solve(self, plates[self.trimmed], plates[self.passing], sheets)


def solve(clearing: Clearing, trimmed: Plate, passing: Plate, sheets: Sheets) -> tuple[Edit, ...]:
    """What is cut from the trimmed plate; nothing where the other does not come near."""
    meeting = meet(trimmed, passing)
    reached = grazed(trimmed, passing, meeting, sheets)
    if not reached:
        return ()
    own, other = (sheets.of(plate.stock_id).measured_thickness for plate in (trimmed, passing))
    rule = sheets.rule(trimmed.stock_id)
    width = rule.opening(*crossing_terms(other, own, meeting.angle)).drawn
    ease = max(rule.clearance, 0.0)
    origin, direction = meeting.in_plate(trimmed)
    tools = tuple(strip(origin, direction, low - ease, high + ease, width) for low, high in reached)
    return (Edit(trimmed.name, cut=tools),)


def grazed(trimmed: Plate, passing: Plate, meeting: Meeting, sheets: Sheets) -> tuple[Span, ...]:
    """Where along the meeting line both plates' breadths are, whatever their middles do."""
    ours = _breadth(trimmed, passing, meeting, sheets)
    theirs = _breadth(passing, trimmed, meeting, sheets)
    both = ((max(a[0], b[0]), min(a[1], b[1])) for a in ours for b in theirs)
    if not any(high > low for low, high in both):
        return ()
    return theirs


def _breadth(plate: Plate, mate: Plate, meeting: Meeting, sheets: Sheets) -> tuple[Span, ...]:
    """Where a plate reaches along the line, anywhere across the other's breadth: one interval."""
    own, other = (sheets.of(each.stock_id).measured_thickness for each in (plate, mate))
    wide = fsum(term.value for term in crossing_terms(other, own, meeting.angle))
    origin, direction = meeting.in_plate(plate)
    spans: list[Span] = []
    for index in range(_SAMPLES):
        aside = wide * (index / (_SAMPLES - 1) - 0.5)
        spans += plate.region.spans(along(origin, direction, 0.0, aside), direction)
    if not spans:
        return ()
    return ((min(low for low, _ in spans), max(high for _, high in spans)),)
