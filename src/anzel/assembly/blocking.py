"""Blocking: which bodies stand in the way of which along a direction.

The relation is that of the directional blocking graph for translations to infinity (Wilson and
Latombe, Geometric reasoning about mechanical assembly, 1994): body j blocks body i in direction d
where the solid that i sweeps along d meets j. A set of bodies can be taken away in direction d if
none of them is blocked by a body outside of the set. The answer is kept for each pair and
direction, so a body that is taken away changes nothing for the others.
"""

from collections.abc import Iterable, Sequence
from functools import cached_property

import numpy as np
import shapely

from anzel.assembly.bodies import AXES, Bodies, Flat, RigidBody
from anzel.assembly.sweeps import could_meet, surely_meets, sweep_meets
from anzel.core.tolerances import COINCIDENT, OVERLAP_VOLUME, SQUARE
from anzel.geometry.placement import Vector, cross, dot, scaled, unit
from anzel.geometry.segments import Floats
from anzel.structure.solids import overlapping

_AIR = 5.0
"""Pieces start this far, mm, from where a plane square to their way parts them from the rest."""


class Blocking:
    """Who blocks whom among bodies, found when first asked for."""

    def __init__(self, bodies: Bodies) -> None:
        self.bodies = bodies.all
        boxes = np.array([body.box for body in self.bodies]).reshape(-1, 2, 3)
        whole = float(np.ptp(boxes, axis=(0, 1)).sum()) if len(boxes) else 0.0
        self.reach = 2.0 * whole + 1.0
        self._near: dict[int, list[int]] = {}
        for one, other in bodies.joined:
            self._near.setdefault(one, []).append(other)
            self._near.setdefault(other, []).append(one)
        self._witness: dict[tuple[int, Vector], int] = {}
        self._meets: dict[tuple[int, int, Vector], bool] = {}
        self._extents: dict[Vector, Floats] = {}
        self._columns: dict[tuple[int, Vector], shapely.Geometry] = {}

    def is_free(self, body: int, direction: Vector, among: int) -> bool:
        """Return whether one body can be taken away from some (a bit mask) along a direction."""
        witness = self._witness.get((body, direction))
        if witness is not None and among >> witness & 1:
            return False
        for other in self._possibly(body, direction):
            if among >> other & 1 and self.meets(body, other, direction):
                self._witness[body, direction] = other
                return False
        return True

    def closure(self, body: int, direction: Vector, among: int) -> int:
        """Return the least set, as a bit mask, that goes with a body along a direction."""
        whole = self.lumps[body] & among
        waiting = members(whole)
        while waiting and whole != among:
            mover = waiting.pop()
            for other in self._possibly(mover, direction):
                if among & ~whole & 1 << other and self.meets(mover, other, direction):
                    more = self.lumps[other] & among & ~whole
                    whole |= more
                    waiting += members(more)
        return whole

    def meets(self, body: int, other: int, direction: Vector) -> bool:
        """Return whether what one body sweeps along a unit direction meets another one."""
        key = (body, other, direction)
        if key not in self._meets:
            passes = self._passes(body, other, direction)
            self._meets[key] = not passes and self.meets_on_way(
                body, other, scaled(direction, self.reach)
            )
        return self._meets[key]

    def meets_on_way(self, body: int, other: int, way: Vector) -> bool:
        """Return whether one body meets another on a way of its own length, mm."""
        return bodies_meet(self.bodies[body], self.bodies[other], way)

    @cached_property
    def lumps(self) -> tuple[int, ...]:
        """For each body the bit mask of all that hang together with it, because they overlap."""
        masks = [1 << at for at in range(len(self.bodies))]
        for one, other in self.overlaps:
            whole = masks[one] | masks[other]
            for each in members(whole):
                masks[each] = whole
        return tuple(masks)

    @cached_property
    def overlaps(self) -> tuple[tuple[int, int], ...]:
        """The pairs of bodies that overlap as they stand, by more than float dust."""
        solids = [body.solid for body in self.bodies]
        return tuple((one, other) for one, other, _ in overlapping(solids, OVERLAP_VOLUME))

    def extents(self, direction: Vector) -> Floats:
        """Return (n, 2) the least and greatest coordinate of each body along a direction."""
        if direction not in self._extents:
            spans = [body.corners @ np.array(direction) for body in self.bodies]
            self._extents[direction] = np.array([(span.min(), span.max()) for span in spans])
        return self._extents[direction]

    def _possibly(self, body: int, direction: Vector) -> list[int]:
        """Return the others that are not wholly behind or beside a body; its mates first."""
        spans = self.extents(direction)
        could = spans[:, 1] > spans[body, 0] + COINCIDENT
        for axis in _across(direction, self.bodies[body]):
            beside = self.extents(axis)
            could &= (beside[:, 1] > beside[body, 0] + COINCIDENT) & (
                beside[:, 0] < beside[body, 1] - COINCIDENT
            )
        could[body] = False
        found = np.flatnonzero(could).tolist()
        near = self._near.get(body, [])
        return sorted(found, key=lambda other: other not in near)

    def _passes(self, body: int, other: int, direction: Vector) -> bool:
        """Return whether a body surely passes another, by bounds alone."""
        for axis in _across(direction, self.bodies[other]):
            spans = self.extents(axis)
            if spans[other, 1] <= spans[body, 0] + COINCIDENT:
                return True
            if spans[other, 0] >= spans[body, 1] - COINCIDENT:
                return True
        return self._slides_past(body, other, direction)

    def _slides_past(self, body: int, other: int, direction: Vector) -> bool:
        """Return whether one upright plate surely slides past another that it crosses.

        Where the direction lies in the planes of both, their slabs share a bar along it. Only what
        each has within that bar can meet: one is past the other if its lowest there is above the
        other's highest. Sufficient at any angle, and necessary at a right one [derived].
        """
        one, its = self.bodies[body].flats, self.bodies[other].flats
        if len(one) > 1 or len(its) > 1:
            return False
        a, b = one[0], its[0]
        if any(abs(dot(flat.placement.normal, direction)) > SQUARE for flat in (a, b)):
            return False
        sine = dot(cross(a.placement.normal, b.placement.normal), direction)
        if abs(sine) < 0.05:
            return False
        low = self._within_bar(body, a, b, sine, direction)
        high = self._within_bar(other, b, a, sine, direction)
        return bool(low.is_empty or high.is_empty or low.bounds[1] >= high.bounds[3] - COINCIDENT)

    def _within_bar(
        self, body: int, own: Flat, mate: Flat, sine: float, direction: Vector
    ) -> shapely.Geometry:
        """Return what a plate has in the bar that it shares with another; heights along it."""
        column = self._columns.get((body, direction))
        across = cross(own.placement.normal, direction)
        if column is None:
            column = self._columns[body, direction] = _upright(own, across, direction)
        at, normal = mate.placement.origin, mate.placement.normal
        # The mate's mid-plane crosses this plate's where (p - at) · normal = 0.
        base = np.asarray(own.placement.origin)
        base = base - np.asarray(across) * dot(own.placement.origin, across)
        where = float(dot(at, normal) - base @ np.asarray(normal)) / dot(across, normal)
        cosine = abs(dot(own.placement.normal, normal))
        half = (mate.thickness + own.thickness * cosine) / 2 / abs(sine) - COINCIDENT
        return shapely.clip_by_rect(column, where - half, -self.reach, where + half, self.reach)


def until_apart(moving: Iterable[RigidBody], rest: Iterable[RigidBody], direction: Floats) -> float:
    """Return how far bodies move along a unit direction until they stand clear of the rest, mm.

    A plane square to the direction lies between them then, and some air.
    """
    end = max(float((body.corners @ direction).max()) for body in rest)
    start = min(float((body.corners @ direction).min()) for body in moving)
    return max(end - start, 0.0) + _AIR


def members(mask: int) -> list[int]:
    """Return the numbers in a bit mask."""
    found = []
    while mask:
        low = mask & -mask
        found.append(low.bit_length() - 1)
        mask ^= low
    return found


def mask_of(numbers: Sequence[int]) -> int:
    """Return the bit mask of some numbers."""
    return sum(1 << number for number in numbers)


def bodies_meet(moving: RigidBody, other: RigidBody, way: Vector) -> bool:
    """Return whether what a body sweeps along a way meets another by more than float dust.

    The body that the way suits better is swept: the other one, moved the other way, meets the same.
    """
    if _cost(other, way) < _cost(moving, way):
        moving, other, way = other, moving, scaled(way, -1.0)
    pairs = [
        (flat, mate) for flat in moving.flats for mate in other.flats
        if could_meet(flat, way, mate)
    ]  # fmt: skip
    return any(surely_meets(flat, way, mate) for flat, mate in pairs) or any(
        sweep_meets(flat, way, mate) for flat, mate in pairs
    )


def _cost(body: RigidBody, way: Vector) -> int:
    """Return how many of a body's flats a way crosses neither flat nor square."""
    direction = unit(way)
    slants = [abs(dot(flat.placement.normal, direction)) for flat in body.flats]
    return sum(SQUARE < slant < 1 - SQUARE for slant in slants)


def _across(direction: Vector, body: RigidBody) -> list[Vector]:
    """Return unit directions square to one, such as may part a body from others."""
    axes = [*AXES, *(flat.placement.normal for flat in body.flats[:2])]
    found: list[Vector] = []
    for axis in axes:
        each = cross(direction, axis)
        size = dot(each, each) ** 0.5
        if size > 0.05:
            one = scaled(each, 1.0 / size)
            found.append((round(one[0], 12), round(one[1], 12), round(one[2], 12)))
    return list(dict.fromkeys(found))


def _upright(flat: Flat, across: Vector, direction: Vector) -> shapely.Geometry:
    """Return a flat's shape in coordinates of the world: across and along a direction."""
    at = flat.placement
    turn = np.array([across, direction]) @ np.array([at.x_axis, at.y_axis]).T
    shift = np.array([across, direction]) @ np.asarray(at.origin)
    matrix = [*turn.ravel().tolist(), *shift.tolist()]
    return shapely.affinity.affine_transform(flat.shape, matrix)
