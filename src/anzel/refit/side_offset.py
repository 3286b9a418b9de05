"""Offset of sides: corners move to where the offset sides meet, and everything else stays.

An offset is the distance that a side moves into the material, mm. The treatment of a corner moves
along with its corner unchanged. A curve that an offset side ends on keeps its shape: it is only
shortened or extended. An edge that its neighbour's offset consumes is removed.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

import numpy as np

from anzel.core.tolerances import OFFSET_CORNER
from anzel.geometry.regions import Indices
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segments import Floats, Line, Segment
from anzel.refit.side_intersection import OffsetSide, intersect_sides
from anzel.refit.sides import Sides, cross_products

Edges = list[Segment | None]
"""A loop's edges after the move; None for one that went."""


@dataclass(frozen=True)
class OffsetLoops:
    """The new edges of each loop that changed, and the sides that could not be moved."""

    edges: "ChangedLoops"
    unmovable: frozenset[int] = frozenset()


class ChangedLoops(Mapping[int, Edges]):
    """The new edges of loops; where corners only shift, they are made when they are asked for.

    A large drawing has many: kept, they would take as much memory as all that was read.
    """

    def __init__(
        self, shift: "_Offsets", members: dict[int, range], made: dict[int, Edges]
    ) -> None:  # fmt: skip
        self._shift, self._members, self._made = shift, members, made

    def __getitem__(self, loop: int) -> Edges:
        known = self._made.get(loop)
        return known if known is not None else _straight(self._shift, self._members[loop])

    def corners(self, loop: int) -> Floats | None:
        """Return (n, 2) the corners of a loop whose sharp corners only shift.

        None for any other loop.
        """
        members = self._members.get(loop)
        if members is None or loop in self._made:
            return None
        whole = slice(members[0], members[-1] + 1)
        return _shifted(self._shift, whole) if _is_sharp(self._shift, whole) else None

    def __iter__(self) -> Iterator[int]:
        return iter(self._members)

    def __len__(self) -> int:
        return len(self._members)


@dataclass
class _Offsets:
    """Offsets and corner shifts of all sides."""

    sides: Sides
    offset: Floats
    corner: Floats
    stuck: set[int] = field(default_factory=set)


def offset_sides(sides: Sides, offsets: Mapping[int, float]) -> OffsetLoops:
    """Return the loops after moving some sides.

    Sides that cannot be moved are named and stay; their loops are left out.
    """
    offset = np.zeros(len(sides.loop))
    offset[list(offsets)] = list(offsets.values())
    active = (offset != 0) | (offset[sides.after] != 0)
    corner, plain = _corners(sides, offset, active)
    shift = _Offsets(sides, offset, corner)
    difficult = set(sides.loop[active & ~plain].tolist()) | set(
        sides.loop[_reversed(sides, corner)].tolist()
    )
    made: dict[int, Edges] = {}
    changed: dict[int, range] = {}
    firsts = np.searchsorted(sides.loop, np.arange(len(sides.nested.loops) + 1)).tolist()
    for ring in np.unique(sides.loop[active]).tolist():
        members = range(firsts[ring], firsts[ring + 1])
        if ring in difficult:
            bent = _bent(shift, members)
            if bent is None:
                continue
            made[ring] = bent
        changed[ring] = members
    return OffsetLoops(ChangedLoops(shift, changed, made), frozenset(shift.stuck))


def _corners(sides: Sides, offset: Floats, active: np.ndarray) -> tuple[Floats, np.ndarray]:
    """Return the shift of the corner after each side, and whether it is a plain shift.

    The arrays are (n, 2) and (n,). With unit directions u, v of the two sides and offsets d, e to
    their left, the shift is (d v - e u) / (u × v).
    """
    after = sides.after
    u, v = sides.along, sides.along[after]
    slope = cross_products(u, v)
    plain = sides.is_line & sides.is_line[after] & (np.abs(slope) > OFFSET_CORNER)
    safe = np.where(plain, slope, 1.0)
    vector = (offset[:, None] * v - offset[after][:, None] * u) / safe[:, None]
    return np.where((plain & active)[:, None], vector, 0.0), plain


def _reversed(sides: Sides, corner: Floats) -> Indices:
    """Return the straight sides that would run backwards after the move."""
    run = sides.run + corner - corner[sides.before]
    touched = (corner != 0).any(axis=1) | (corner[sides.before] != 0).any(axis=1)
    return np.flatnonzero(touched & sides.is_line & ((run * sides.along).sum(axis=1) <= 0))


def _straight(shift: _Offsets, members: range) -> Edges:
    """Return a loop whose corners only shift."""
    sides = shift.sides
    loop = sides.nested.loops[int(sides.loop[members[0]])]
    whole = slice(members[0], members[-1] + 1)
    if _is_sharp(shift, whole):
        starts = [(x, y) for x, y in _shifted(shift, whole).tolist()]
        return list(map(Line, starts, [*starts[1:], starts[0]]))
    edges: Edges = list(loop.segments)
    corners = shift.corner[whole].tolist()
    first = sides.first[whole].tolist()
    count = sides.count[whole].tolist()
    total = len(edges)
    for at, (dx, dy) in enumerate(corners):
        before = corners[at - 1]
        if not (dx or dy or before[0] or before[1]):
            continue
        follower = first[(at + 1) % len(first)]
        run = [(first[at] + i) % total for i in range(count[at])]
        within = _inner_shift(shift, members[at]) if len(run) > 1 else (0.0, 0.0)
        for place, number in enumerate(run):
            segment = loop.segments[number]
            head = before if place == 0 else within
            tail = (dx, dy) if place == len(run) - 1 else within
            edges[number] = Line(
                translated_point(segment.start, head), translated_point(segment.end, tail)
            )
        if dx or dy:
            stop = (follower - first[at] - count[at]) % total
            for i in range(stop):
                number = (first[at] + count[at] + i) % total
                edges[number] = translated_segment(loop.segments[number], (dx, dy))
    return edges


def _is_sharp(shift: _Offsets, whole: slice) -> bool:
    """Return whether every edge of a loop is straight and a side."""
    sides = shift.sides
    loop = sides.nested.loops[int(sides.loop[whole.start])]
    return whole.stop - whole.start == len(loop.segments) and bool(sides.is_line[whole].all())


def _shifted(shift: _Offsets, whole: slice) -> Floats:
    """Return (n, 2) the shifted corners at which the sides of a loop start."""
    before = shift.sides.before[whole]
    return np.asarray(shift.sides.end[before] + shift.corner[before])


def _inner_shift(shift: _Offsets, side: int) -> Point:
    """Return the shift of points within a side: across it."""
    (x, y), distance = shift.sides.along[side].tolist(), float(shift.offset[side])
    return (-y * distance, x * distance)


def _bent(shift: _Offsets, members: range) -> Edges | None:
    """Return a loop with curves at moved corners or consumed edges; None if one is stuck."""
    sides = shift.sides
    bends = [OffsetSide(sides, side, float(shift.offset[side])) for side in members]
    while True:
        for one, other in zip(bends, [*bends[1:], bends[0]], strict=True):
            if one.next is other:
                continue
            one.next = other
            rests = not one.offset and not other.offset
            if rests and int(sides.after[one.side]) == other.side:
                continue
            if not intersect_sides(one, other):
                shift.stuck.update(each.side for each in (one, other) if each.offset)
                return None
        gone = next((at for at, bend in enumerate(bends) if bend.is_reversed), None)
        if gone is None:
            break
        around = (bends[gone - 1], bends[(gone + 1) % len(bends)])
        if len(bends) < 4 or bends[gone].offset or all(each.offset for each in around):
            shift.stuck.update(each.side for each in (bends[gone], *around) if each.offset)
            return None
        del bends[gone]
    return _assembled(shift, bends)


def _assembled(shift: _Offsets, bends: list[OffsetSide]) -> Edges:
    sides = shift.sides
    loop = sides.nested.loops[int(sides.loop[bends[0].side])]
    edges: Edges = [None] * len(loop.segments)
    for bend in bends:
        for number, segment in bend.edges():
            edges[number] = segment
        if bend.is_treated:
            for number in sides.treatment(bend.side):
                segment = loop.segments[number]
                vector = bend.vector_after
                edges[number] = translated_segment(segment, vector) if any(vector) else segment
    return edges


def translated_point(point: Point, vector: "Point | list[float]") -> Point:
    """Return a translated point."""
    return (point[0] + vector[0], point[1] + vector[1])


def translated_segment(segment: Segment, vector: "Point | list[float]") -> Segment:
    """Return a translated segment."""
    return segment.moved(RigidTransform().translated(*vector))
