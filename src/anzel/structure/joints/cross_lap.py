"""Cross-lap: two plates slotted into one another along the line where their mid-planes meet.

The *overlap* is the part of that line inside both outlines. The plate slotted *from above* loses
its upper part down to the split point, the other its lower part up to it. Width by
stock.fits.crossing_terms; both floors lie on the split point, deepened by the relief.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from math import fsum

from anzel.findings import ParameterError
from anzel.geometry.motion import Point
from anzel.geometry.outlines import Contour, Region
from anzel.geometry.placement import Vector
from anzel.stock.fits import FitName, Size, Term, crossing_terms
from anzel.structure.joints.tools import along, need_width, strip
from anzel.structure.meeting import Meeting, meet
from anzel.structure.plates import Edit, Feature, FeatureKind, Joint, Plate, Sheets, Solved

Span = tuple[float, float]
_BEYOND = 1.0
"""How far a slot's tool reaches out of the outline, mm; it leaves no trace."""


@dataclass(frozen=True)
class CrossLap:
    """Declares a cross-lap. `split` is the share of the overlap cut from above; `up` is which way
    that is (None: upwards in space)."""

    id: str
    from_above: str
    from_below: str
    split: float = 0.5
    relief: float = 0.0
    up: Vector | None = None
    fit: FitName | None = None

    def solve(self, plates: Mapping[str, Plate], sheets: Sheets) -> Solved:
        """The joint among the plates. Raises ParameterError where it cannot be."""
        return solve(self, plates[self.from_above], plates[self.from_below], sheets)


def solve(
    lap: CrossLap, above: Plate, below: Plate, sheets: Sheets
) -> tuple[Joint, tuple[Edit, ...]]:
    """The slots of a cross-lap. Raises ParameterError where the plates cannot be lapped."""
    meeting = meet(above, below, lap.up)
    spans = {plate.name: spans_of(plate, meeting) for plate in (above, below)}
    overlaps = common_spans(spans[above.name], spans[below.name])
    if not overlaps:
        raise ParameterError(
            f"{above.name} and {below.name} do not reach each other.",
            mend="Move them together or leave the joint out.",
        )
    features: list[Feature] = []
    edits = []
    for plate, mate, sign in ((above, below, 1), (below, above, -1)):
        slots = [
            _slot(lap, plate, mate, sheets, meeting, spans[plate.name], overlap, sign)
            for overlap in overlaps
        ]
        features += [feature for feature, _ in slots]
        edits.append(Edit(plate.name, cut=tuple(tool for _, tool in slots)))
    low, high = overlaps[0][0], overlaps[-1][1]
    joint = Joint(
        lap.id,
        f"{above.name} × {below.name}",
        (above.name, below.name),
        meeting.angle,
        meeting.at((low + high) / 2),
        meeting.axis,
        tuple(features),
        lap.fit,
    )
    return joint, tuple(edits)


def _slot(
    lap: CrossLap,
    plate: Plate,
    mate: Plate,
    sheets: Sheets,
    meeting: Meeting,
    spans: tuple[Span, ...],
    overlap: Span,
    sign: int,
) -> tuple[Feature, Contour]:
    """One plate's slot through one overlap; `sign` is +1 when it opens upwards."""
    own, other = sheets.of(plate.stock_id), sheets.of(mate.stock_id)
    rule = sheets.rule(plate.stock_id, lap.fit)
    taken = crossing_terms(other.measured_thickness, own.measured_thickness, meeting.angle)
    width = need_width(rule.opening(*taken), plate, rule)
    split = overlap[1] - lap.split * (overlap[1] - overlap[0])
    floor = split - sign * lap.relief
    island = next(span for span in spans if span[0] <= split <= span[1])
    mouth = island[1] if sign > 0 else island[0]
    depth = rule.step(
        Term("mouth to split point", sign * (mouth - split)), Term("relief", lap.relief)
    )
    origin, direction = meeting.in_plate(plate)
    direction = (sign * direction[0], sign * direction[1])
    reach = reach_of(plate, spans, island, sign)
    start, end = sign * floor, sign * mouth
    inside = fsum(term.value for term in taken)
    feature = Feature(
        FeatureKind.SLOT, plate.name, mate.name, lap.id, width, depth,
        along(origin, direction, (start + end) / 2), direction, Size(taken, inside, inside),
    )  # fmt: skip
    return feature, strip(origin, direction, start, end + reach, width.drawn)


def reach_of(plate: Plate, spans: tuple[Span, ...], island: Span, sign: int) -> float:
    """How far the tool may run on past the mouth: clear of the outline, short of an island."""
    index = spans.index(island) + sign
    if 0 <= index < len(spans):
        gap = spans[index][0] - island[1] if sign > 0 else island[0] - spans[index][1]
        return gap / 2
    left, low, right, high = plate.region.bounds
    return right - left + high - low + _BEYOND


def spans_of(plate: Plate, meeting: Meeting) -> tuple[Span, ...]:
    """Where a meeting line runs inside a plate."""
    return _spans_in(plate.region, *meeting.in_plate(plate))


@lru_cache(maxsize=16384)
def _spans_in(region: Region, origin: Point, direction: Point) -> tuple[Span, ...]:
    """Where a line runs inside an outline: unchanged while only thicknesses change."""
    return tuple(region.spans(origin, direction))


def common_spans(first: tuple[Span, ...], second: tuple[Span, ...]) -> tuple[Span, ...]:
    """The stretches inside both lists of intervals."""
    both = ((max(a[0], b[0]), min(a[1], b[1])) for a in first for b in second)
    return tuple(span for span in both if span[1] - span[0] > 1e-6)
