"""Suggestions of joints where plates meet, for the maker to accept.

Two plates meet along the line of their mid-planes. The suggestion follows from how each reaches
there, seen just outside the other's faces: a plate with sheet on both sides goes *through*, one
with sheet on one side *ends* there.

- through and through: slotted into one another; a mortise where one lies inside the other;
- ends at one that goes through: tabs and mortises, or a pin to turn on;
- both end: fingers along the common edge, overlapping slots, or tabs;
- lying in the same plane, one inside the other: a pocket;
- three going through one line: slotted a third each;
- three going through one point: two pairs slotted, and one plate goes through another.

Plates that meet at an angle too flat for any joint are told, with the angle that would do.
"""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import degrees

from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_number
from anzel.core.tolerances import ON_ONE_LINE
from anzel.geometry.placement import add_scaled, dot
from anzel.geometry.segments import Floats
from anzel.structure.free.edge_adjustment import dot_2d as flat_dot
from anzel.structure.free.joint_suggestion import JointSuggestion
from anzel.structure.free.joint_trios import with_threes
from anzel.structure.joints.corner_kinds import KIND_NAMES, as_corner
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.cutting_shapes import along
from anzel.structure.joints.finger_corner import FingerCorner
from anzel.structure.joints.line_intervals import Span, common_spans, merged_intervals
from anzel.structure.joints.pin import Pin
from anzel.structure.joints.pocket import Pocket
from anzel.structure.joints.registry import AnyKind, plates_of
from anzel.structure.joints.tab_mortise import TabMortise, shoulder_distance
from anzel.structure.joints.through_mortise import ThroughMortise
from anzel.structure.model import FitContext, Plate
from anzel.structure.plane_intersection import PlaneIntersection, intersect_planes

FLATTEST, STEEPEST = 20.0, 160.0
"""Plates that cross at less or more, degrees, are not slotted: the solver is proven between."""
_TABS_FROM = (17.5, 162.5)
_BESIDE = 0.3
"""How far outside the mate's faces a plate is looked for, mm."""
_SHORT = 2.0
"""One that ends this little before them counts as meeting: its edge will be brought there."""
_NARROW = 0.4
"""What is no wider than this share of its mate goes through a mortise rather than a slot."""
_TAB_PITCH, _WIDEST_TAB = 55.0, 30.0


@dataclass(frozen=True)
class _Extent:
    """How a plate reaches a line: intervals on it, and just outside the mate on either side."""

    middle: tuple[Span, ...]
    left: tuple[Span, ...]
    right: tuple[Span, ...]

    @property
    def anywhere(self) -> tuple[Span, ...]:
        """All intervals together."""
        return merged_intervals((*self.middle, *self.left, *self.right))

    def sides(self, stretch: Span) -> int:
        """Return on how many sides of the line there is sheet, along most of an interval."""
        most = 0.5 * (stretch[1] - stretch[0])
        return sum(_shared(side, stretch) > most for side in (self.left, self.right))


def suggest_joints(
    plates: Sequence[Plate], joints: Sequence[AnyKind], fit_context: FitContext
) -> tuple[JointSuggestion, ...]:
    """Return joints for all plates that meet and are not joined yet, in the plates' order.

    A plate that hinges bend comes once for each of its flat parts; of the places where two such
    plates meet, the first ones have the joints that are there.
    """
    joined = Counter(
        frozenset(pair) for joint in joints for pair in combinations(plates_of(joint), 2)
    )
    parts = Counter(plate.name for plate in plates)
    names = free_ids(joints)
    boxes = [_box(plate, fit_context) for plate in plates]
    found: list[JointSuggestion] = []
    crossings: dict[frozenset[str], tuple[PlaneIntersection, int]] = {}
    for (one, its_box), (other, box) in combinations(zip(plates, boxes, strict=True), 2):
        pair = frozenset((one.name, other.name))
        is_whole = parts[one.name] == parts[other.name] == 1
        if len(pair) < 2 or (joined[pair] and is_whole) or _apart(its_box, box):
            continue
        name = next(names)
        proposal = _flat(one, other, plates, name) or _meeting(one, other, fit_context, name)
        if proposal is None:
            continue
        if joined[pair]:
            joined[pair] -= 1
            continue
        if proposal.ways and isinstance(proposal.ways[0], CrossLap):
            crossings[pair] = (intersect_planes(one, other), len(found))
        found.append(proposal)
    return with_threes(plates, found, crossings)


def _meeting(
    one: Plate, other: Plate, fit_context: FitContext, name: str
) -> JointSuggestion | None:
    """Return a joint where two mid-planes cross; None where the plates do not meet."""
    try:
        intersection = intersect_planes(one, other)
    except ParameterError:
        return None
    first, second = (
        _reach(one, other, intersection, fit_context),
        _reach(other, one, intersection, fit_context),
    )
    shared = common_spans(first.anywhere, second.anywhere)
    thick = max(fit_context.of(each.stock_id).measured_thickness for each in (one, other))
    stretch = max(shared, key=lambda span: span[1] - span[0], default=(0.0, 0.0))
    if stretch[1] - stretch[0] < 2 * thick:
        return None
    angle = degrees(intersection.angle)
    ways: tuple[AnyKind, ...] = ()
    match first.sides(stretch), second.sides(stretch):
        case 2, 2:
            ways = _through(one, other, first, second, name, thick, angle)
            ways = tuple(way for way in ways if _can_be(way, one, other, fit_context))
        case 1, 2 if _TABS_FROM[0] < angle < _TABS_FROM[1]:
            ways = _ending(one, other, intersection, stretch, thick, name)
        case 2, 1 if _TABS_FROM[0] < angle < _TABS_FROM[1]:
            ways = _ending(other, one, intersection, stretch, thick, name)
        case 1, 1 if _TABS_FROM[0] < angle < _TABS_FROM[1]:
            ways = _corner(one, other, intersection, stretch[1] - stretch[0], thick, name)
    why = "" if ways else _too_flat(angle, first.sides(stretch) + second.sides(stretch))
    if not ways and not why:
        return None
    at = intersection.at((stretch[0] + stretch[1]) / 2)
    return JointSuggestion((one.name, other.name), ways, at, why)


def _too_flat(angle: float, sides: int) -> str:
    """Return why plates that meet have no joint; "" where that is not for their angle."""
    least = FLATTEST if sides == 4 else _TABS_FROM[0]
    if sides < 2 or least < angle < 180.0 - least:
        return ""
    flat = plain_number(min(angle, 180.0 - angle), 1)
    return f"too flat for slots or tabs at {flat}°. {plain_number(least)}° will do."


def _corner(
    one: Plate, other: Plate, intersection: PlaneIntersection, length: float, thick: float,
    name: str,
) -> tuple[AnyKind, ...]:  # fmt: skip
    """Return the kinds of a corner, fingers first, led so that opposite sides of a box are alike.

    Along an edge that runs as one of the axes of space that plate leads whose normal runs as the
    next axis; so each of the six sides of a box leads at two of its edges.
    """
    edge = max(range(3), key=lambda axis: abs(intersection.axis[axis]))
    next_axis = abs(other.placement.normal[(edge + 1) % 3])
    leads = abs(one.placement.normal[(edge + 1) % 3]) >= next_axis
    first, second = (one, other) if leads else (other, one)
    cells = max(int(length / max(12.0, 3 * thick)), 3)
    fingers = FingerCorner(name, first.name, second.name, cells | 1)
    return (fingers, *(as_corner(fingers, kind, length) for kind in KIND_NAMES[1:]))


def _through(
    one: Plate, other: Plate, first: _Extent, second: _Extent, name: str, thick: float, angle: float
) -> tuple[AnyKind, ...]:
    """Return slots.

    And a mortise where one plate lies inside the other, first of all if it is narrow.
    """
    ways: list[AnyKind] = []
    if FLATTEST <= angle <= STEEPEST and common_spans(first.middle, second.middle):
        upper, lower = (one, other) if _mid(first) <= _mid(second) else (other, one)
        ways.append(CrossLap(name, upper.name, lower.name))
    for passing, inner, pierced, outer in (
        (one, first, other, second), (other, second, one, first),
    ):  # fmt: skip
        for low, high in outer.middle:
            if not inner.middle or not common_spans(inner.middle, ((low, high),)):
                continue
            start, end = inner.middle[0][0], inner.middle[-1][1]
            if low + thick < start and end < high - thick:
                narrow = end - start < _NARROW * (high - low)
                ways.insert(0 if narrow else 1, ThroughMortise(name, passing.name, pierced.name))
    return tuple(ways)


def _can_be(way: AnyKind, one: Plate, other: Plate, fit_context: FitContext) -> bool:
    """Return whether a joint through a plate can be made and brought together."""
    if not isinstance(way, ThroughMortise):
        return True
    try:
        way.solve({one.name: one, other.name: other}, fit_context)
    except ParameterError:
        return False
    return True


def _mid(reach: _Extent) -> float:
    """Return the middle of an extent.

    The plate that ends lower is slotted from above, for the shorter slots.
    """
    return reach.middle[0][0] + reach.middle[-1][1]


def _ending(
    ending: Plate, mate: Plate, intersection: PlaneIntersection, stretch: Span, thick: float,
    name: str,
) -> tuple[AnyKind, ...]:  # fmt: skip
    """Return tabs of a plate that ends at another, or a pin near the start of its edge."""
    origin, edge = intersection.in_plate(ending)
    at = round(stretch[0] + flat_dot(origin, edge) + 1.5 * thick, 3)
    tabs = _tabs(ending, mate, intersection, stretch, name)
    return (tabs, Pin(name, ending.name, mate.name, at))


def _tabs(
    tabbed: Plate, mortised: Plate, intersection: PlaneIntersection, stretch: Span, name: str
) -> TabMortise:
    """Return tabs spread evenly along the interval, no wider than half of each one's share."""
    origin, edge = intersection.in_plate(tabbed)
    start, length = stretch[0] + flat_dot(origin, edge), stretch[1] - stretch[0]
    count = max(round(length / _TAB_PITCH), 1)
    share = length / count
    width = min(share / 2, _WIDEST_TAB)
    tabs = tuple((round(start + (i + 0.5) * share, 3), round(width, 1)) for i in range(count))
    return TabMortise(name, tabbed.name, mortised.name, tabs)


def _flat(one: Plate, other: Plate, plates: Sequence[Plate], name: str) -> JointSuggestion | None:
    """Return a pocket for a plate inside another in one plane.

    It has a lip where a layer is under it.
    """
    for insert, plate in ((one, other), (other, one)):
        if not _inside(insert, plate) or abs(_height(insert, plate)) > 0.5:
            continue
        below = (
            each
            for each in plates
            if each not in (one, other)
            and _inside(insert, each)
            and -15 < _height(each, plate) < -1
        )
        lower = next(below, None)
        seat = Pocket(name, insert.name, plate.name)
        lipped = [Pocket(name, insert.name, plate.name, lower=lower.name, lip=4.0)] if lower else []
        at = insert.placement.to_world(insert.region.shape.representative_point().coords[0])
        return JointSuggestion((insert.name, plate.name), (*lipped, seat), at)
    return None


def _inside(insert: Plate, plate: Plate) -> bool:
    """Return whether one plate lies parallel to the other, wholly inside its outline.

    Both must face the same way.
    """
    a, b = insert.placement, plate.placement
    if dot(a.normal, b.normal) < 1 - ON_ONE_LINE:
        return False
    home = plate.region.outer.polygon_shape
    corners = [b.to_plate(a.to_world(corner)) for corner in insert.region.outer.corners]
    return bool(home.contains_properly(type(home)(corners)))


def _height(plate: Plate, base: Plate) -> float:
    """Return how far a parallel plate's mid-plane is above the base's, mm."""
    return dot(
        add_scaled(plate.placement.origin, base.placement.origin, -1.0), base.placement.normal
    )


def _reach(
    plate: Plate, mate: Plate, intersection: PlaneIntersection, fit_context: FitContext
) -> _Extent:
    own, other = (fit_context.of(each.stock_id).measured_thickness for each in (plate, mate))
    beside = shoulder_distance(intersection.angle, own, other) + _BESIDE
    origin, direction = intersection.in_plate(plate)

    def spans(*asides: float) -> tuple[Span, ...]:
        lines = (along(origin, direction, 0.0, off) for off in asides)
        return merged_intervals(
            [span for line in lines for span in plate.region.spans(line, direction)]
        )

    far = beside + _SHORT
    return _Extent(spans(0.0), spans(beside, far), spans(-beside, -far))


def _shared(spans: tuple[Span, ...], stretch: Span) -> float:
    return sum(high - low for low, high in common_spans(spans, (stretch,)))


def free_ids(joints: Sequence[AnyKind]) -> Iterator[str]:
    """Yield joint ids that are not in use."""
    taken = {joint.id for joint in joints}
    number = 1
    while True:
        if f"J{number}" not in taken:
            yield f"J{number}"
        number += 1


def _box(plate: Plate, fit_context: FitContext) -> tuple[Floats, Floats]:
    """Return the plate's bounds in space, with half a sheet and a little around."""
    low, high = plate.region.bounds_in(plate.placement)
    air = fit_context.of(plate.stock_id).measured_thickness + _BESIDE + _SHORT
    return low - air, high + air


def _apart(one: tuple[Floats, Floats], other: tuple[Floats, Floats]) -> bool:
    return bool((one[0] > other[1]).any() or (other[0] > one[1]).any())
