"""Sides of loops: straight runs and curves, with treated corners between them.

A *side* is a straight run or a curve that stands for itself. Everything between two sides is the
*treatment* of their corner: a fillet, a chamfer or a relief. It moves along with the corner
unchanged.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from anzel.core.tolerances import ROUNDING, VANISHING
from anzel.drawings.containment import Flags, NestedLoops
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Floats, Line, Segment
from anzel.refit.corners import LARGEST_NOTCH, treated

_SQUARE_ENOUGH = np.cos(np.radians(65))
"""Loops of straight edges that turn by 65° to 115° at every corner have no treatments."""
Numbers = NDArray[np.signedinteger[Any]]
"""Numbers of sides and loops: there are never more, and large drawings have many."""


@dataclass(frozen=True)
class Sides:
    """All sides of all loops, (n,) arrays in drawing order; the sides of one loop are consecutive.

    `loop` is the loop, `first` and `count` the edges of the side, `after` and `before` the
    neighbours. `end` (n, 2) is the corner at its end: where its line meets the neighbour's,
    whatever the treatment. `along` (n, 2) is its direction; for a curve, of its chord.
    """

    nested: NestedLoops
    loop: Numbers
    first: Numbers
    count: Numbers
    is_line: Flags
    after: Numbers
    before: Numbers
    end: Floats
    along: Floats

    def start(self, which: "slice | Numbers | int" = slice(None)) -> Floats:
        """Return the corners at which some sides start: (n, 2), of one side (2,)."""
        return np.asarray(self.end[self.before[which]])

    @property
    def run(self) -> Floats:
        """(n, 2) the way from corner to corner, mm."""
        return np.asarray(self.end - self.start())

    @cached_property
    def length(self) -> Floats:
        """(n,) the length from corner to corner, mm."""
        return np.asarray(np.hypot(*self.run.T))

    def turns(self) -> Floats:
        """Return (n,) the turn from each side to the next, degrees, left positive."""
        leaving = np.where(self.is_line[:, None], self.along, self._tangent(-1))
        coming = np.where(self.is_line[:, None], self.along, self._tangent(0))[self.after]
        dot = (leaving * coming).sum(axis=1)
        return np.asarray(np.degrees(np.arctan2(cross_products(leaving, coming), dot)))

    def _tangent(self, which: int) -> Floats:
        """Return (n, 2) the direction of each curve at its start or end; zeros for lines."""
        found = np.zeros_like(self.along)
        for side in np.flatnonzero(~self.is_line):
            segments = self.edges(int(side))
            found[side] = tangent(segments[which], at_end=which == -1)
        return found

    def edges(self, side: int) -> list[Segment]:
        """Return the edges of a side."""
        segments = self.nested.loops[int(self.loop[side])].segments
        first = int(self.first[side])
        return [segments[(first + i) % len(segments)] for i in range(int(self.count[side]))]

    def treatment(self, side: int) -> list[int]:
        """Return the numbers of the edges between a side and the next, in their loop."""
        total = len(self.nested.loops[int(self.loop[side])].segments)
        begin = int(self.first[side] + self.count[side]) % total
        stop = int(self.first[self.after[side]])
        gap = (stop - begin) % total
        return [(begin + i) % total for i in range(gap)]


def sides_of(rings: NestedLoops) -> Sides:
    """Return the sides of every loop."""
    plain = _plain([loop.segments for loop in rings.loops])
    tables = [
        _sides_of_loop(loop.segments, plain=bool(is_plain))
        for loop, is_plain in zip(rings.loops, plain, strict=True)
    ]
    ring = np.repeat(np.arange(len(tables), dtype=np.int32), [len(each) for each in tables])
    table = np.concatenate(tables or [np.zeros((0, 3), np.int32)])
    first, count, is_line = table[:, 0].copy(), table[:, 1].copy(), table[:, 2].astype(bool)
    after, before = _neighbours(ring)
    real_start, real_end = _ends(rings, ring, first, count, after)
    along = real_end - real_start
    along /= np.maximum(np.hypot(*along.T), VANISHING)[:, None]
    treated_corner = _has_treatment(rings, ring, first, count, after)
    corner = np.where(
        (treated_corner & is_line & is_line[after])[:, None],
        _crossing(real_end, along, real_start[after], along[after]),
        np.where(is_line[:, None], real_end, real_start[after]),
    )
    return Sides(rings, ring, first, count, is_line, after, before, corner, along)


def tangent(segment: Segment, *, at_end: bool) -> tuple[float, float]:
    """Return a curve's direction at one end, length 1; an arc's by its radius."""
    if isinstance(segment, Arc):
        tip, (cx, cy) = segment.end if at_end else segment.start, segment.centre
        way = -1.0 if segment.clockwise else 1.0
        x, y = way * (cy - tip[1]), way * (tip[0] - cx)
        size = max(np.hypot(x, y), 1e-15)
        return (x / size, y / size)
    near = segment.point_at(1 - 1e-4 if at_end else 1e-4)
    tip = segment.end if at_end else segment.start
    x, y = (tip[0] - near[0], tip[1] - near[1]) if at_end else (near[0] - tip[0], near[1] - tip[1])
    size = max(np.hypot(x, y), 1e-15)
    return (x / size, y / size)


def cross_products(one: Floats, other: Floats) -> Floats:
    """Return the cross products of rows of two (n, 2) arrays.

    Returns
    -------
    (n,) float
    """
    return np.asarray(one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0])


def _sides_of_loop(segments: tuple[Segment, ...], *, plain: bool) -> Numbers:
    """Return (n, 3) first edge, count of edges, whether straight, for every side of a loop."""
    if not plain:
        return np.array(treated(segments), dtype=np.int32).reshape(-1, 3)
    table = np.ones((len(segments), 3), dtype=np.int32)
    table[:, 0] = np.arange(len(segments))
    return table


def _plain(loops: Sequence[tuple[Segment, ...]]) -> Flags:
    """Return (n,) which loops have straight edges, sharp corners, and no relief notch possibly."""
    straight = [len(loop) > 2 and all(type(s) is Line for s in loop) for loop in loops]
    found = np.array(straight, dtype=bool)
    own = [loop for loop, is_straight in zip(loops, straight, strict=True) if is_straight]
    if not own:
        return found
    points = np.array([c for loop in own for s in loop for c in s.start]).reshape(-1, 2)
    counts = [len(loop) for loop in own]
    before, after = _neighbours(np.repeat(np.arange(len(own)), counts))[::-1]
    along = points[after] - points
    square = (along * along).sum(axis=1)
    dot = (along * along[before]).sum(axis=1)
    slanted = dot * dot > _SQUARE_ENOUGH**2 * square * square[before]
    short = square <= LARGEST_NOTCH**2
    odd = slanted | (short & short[before])
    found[found] = ~np.logical_or.reduceat(odd, np.cumsum([0, *counts[:-1]]))
    return found


def _ends(
    rings: NestedLoops, ring: Numbers, first: Numbers, count: Numbers, after: Numbers
) -> tuple[Floats, Floats]:
    """Return (n, 2) where the sides' own edges start, and (n, 2) where they end."""
    starts: list[float] = []
    apart: dict[int, Point] = {}
    """The ends of sides that do not lead to where the next one starts."""
    stops = np.cumsum(np.bincount(ring, minlength=len(rings.loops))).tolist()
    at = 0
    for loop, stop in zip(rings.loops, stops, strict=True):
        segments = loop.segments
        if stop - at == len(segments):  # each edge is a side
            shift = int(first[at])
            starts += [c for s in segments[shift:] + segments[:shift] for c in s.start]
        else:
            own = zip(first[at:stop].tolist(), count[at:stop].tolist(), strict=True)
            for side, (f, c) in enumerate(own, start=at):
                starts += segments[f].start
                apart[side] = segments[(f + c - 1) % len(segments)].end
        at = stop
    start = np.array(starts, float).reshape(-1, 2)
    end = start[after]
    if apart:
        end[list(apart)] = list(apart.values())
    return start, end


def _neighbours(ring: Numbers) -> tuple[Numbers, Numbers]:
    """Return (n,) the side after and (n,) the side before, round each loop."""
    number = np.arange(len(ring), dtype=np.int32)
    after, before = number + 1, number - 1
    if len(ring):
        starts = np.flatnonzero(np.r_[True, ring[1:] != ring[:-1]])
        stops = np.r_[starts[1:], len(ring)] - 1
        after[stops], before[starts] = starts, stops
    return after, before


def _has_treatment(
    rings: NestedLoops, ring: Numbers, first: Numbers, count: Numbers, after: Numbers
) -> Flags:
    totals = np.array([len(loop.segments) for loop in rings.loops], dtype=np.int64)[ring]
    return np.asarray((first + count - first[after]) % totals != 0)


def _crossing(p: Floats, u: Floats, q: Floats, v: Floats) -> Floats:
    """Return (n, 2) where lines p + s u and q + t v meet; p where they do not."""
    slope = cross_products(u, v)
    safe = np.where(np.abs(slope) > ROUNDING, slope, 1.0)
    t = np.where(np.abs(slope) > ROUNDING, cross_products(q - p, v) / safe, 0.0)
    return np.asarray(p + t[:, None] * u)
