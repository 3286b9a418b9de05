"""Living hinges: fields of many alike slits that let a sheet bend.

Nothing goes into such slits, however wide they are drawn, so a field is held as one. Slits may be
straight or wavy, holes or open at the edge of the piece.
"""

from dataclasses import dataclass
from math import sqrt

import numpy as np

from anzel.core.linked_groups import linked_groups
from anzel.drawings.containment import Flags, chord_points
from anzel.geometry.regions import Indices
from anzel.geometry.segments import Floats
from anzel.refit.local_shapes import LocalShapes
from anzel.refit.mates import could_mates, tab_lengths

_FEWEST = 6
"""Slits in a field. Common practice, no source."""
_WEB = 2.0
"""The web between slits side by side is narrower than this many of their widths..."""
_NARROW_WEB = 3.0
"""...and than this, mm. Common practice, no source: links of a hinge must twist."""
_STAGGERED_WEB = 8.0
"""Between slits that are staggered, as those of a hinge are, it may be as wide as this, mm."""
_STAGGER = 0.2
"""Neighbours are staggered where one lies ahead of the other by this share of its length."""
_TO_AND_FRO = 0.2
"""Neighbours of a hinge are staggered both ways, each at least this share."""
_SLENDER = 4.0
"""A slit is longer than this many of its widths."""
_ALIKE, _ABOUT = 0.05, 0.12
"""Slits are alike whose widths differ by no more than this, mm or share: a wavy one's is a mean."""


@dataclass(frozen=True)
class SlitFields:
    """The slits of living hinges: the `loops` of closed ones, and the `sides` of open ones."""

    loops: frozenset[int]
    sides: frozenset[int]
    slits: int


@dataclass(frozen=True)
class _Slits:
    """Slender openings: (n, 2) their middles and directions, (n,) their widths and lengths.

    `loop` (n,) is the loop of a closed one, else -1; `side` (n,) the floor of an open one, else -1.
    """

    middle: Floats
    along: Floats
    wide: Floats
    long: Floats
    loop: Indices
    side: Indices

    def __len__(self) -> int:
        return len(self.wide)


def slit_fields(shapes: LocalShapes) -> SlitFields:
    """Return the slits that belong to living hinges."""
    slits = _slits(shapes)
    if len(slits) < _FEWEST:
        return SlitFields(frozenset(), frozenset(), 0)
    one, other, stagger = _neighbours(slits)
    size = len(slits)
    group = linked_groups(np.stack([one, other], 1), size)
    large = np.bincount(group, minlength=size)[group] >= _FEWEST
    ahead, behind = (
        np.bincount(group[one], weights=stagger == way, minlength=size)[group] for way in (1, -1)
    )
    # to and fro, as in a hinge, not ever further, as slots that lean or go along a slope
    staggered = np.minimum(ahead, behind) > _TO_AND_FRO * (ahead + behind)
    large &= staggered | ~could_mates(slits.long, tab_lengths(shapes))  # mortises in a row
    large &= staggered | (slits.side < 0)  # slots in a comb are no hinge
    sides = shapes.sides
    floors = slits.side[large & (slits.side >= 0)]
    open_ones = np.concatenate([floors, sides.before[floors], sides.after[floors]])
    loops = slits.loop[large & (slits.loop >= 0)]
    return SlitFields(
        frozenset(loops.tolist()), frozenset(open_ones.tolist()), int(np.count_nonzero(large))
    )


def _slits(shapes: LocalShapes) -> _Slits:
    sides, holes, notches = shapes.sides, shapes.holes, shapes.notches
    slender = holes.long > _SLENDER * holes.wide
    side = holes.side[slender]
    opposite = sides.after[sides.after[side]]
    closed = _Slits(
        (sides.start(side) + sides.end[side] + sides.start(opposite) + sides.end[opposite]) / 4,
        sides.along[side], holes.wide[slender], holes.long[slender], sides.loop[side],
        np.full(len(side), -1),
    )  # fmt: skip
    deep = (notches.long > _SLENDER / 2 * notches.wide) & ~sides.nested.is_hole[
        sides.loop[notches.side]
    ]
    floor, depth = notches.side[deep], notches.long[deep]
    in_field = _could_alternate(shapes, floor)  # a comb is told at once, however many slots it has
    floor, depth, deep[deep] = floor[in_field], depth[in_field], in_field
    inwards = sides.along[sides.before[floor]]
    opened = _Slits(
        (sides.start(floor) + sides.end[floor]) / 2 - inwards * depth[:, None] / 2,
        inwards, notches.wide[deep], depth, np.full(len(floor), -1), floor,
    )  # fmt: skip
    wavy = _wavy(shapes, set(sides.loop[holes.side].tolist()))
    return _joined([closed, opened, wavy])


def _could_alternate(shapes: LocalShapes, floor: Indices) -> Flags:
    """Return (n,) whether open slits are in a piece with holes, or open in several directions."""
    sides, rings = shapes.sides, shapes.sides.nested
    loop = sides.loop[floor]
    has_hole = np.isin(rings.piece_number[loop], rings.piece_number[rings.is_hole])
    inwards = sides.along[sides.before[floor]]
    count = np.bincount(loop, minlength=len(rings.loops))
    x, y = (np.bincount(loop, weights=each, minlength=len(rings.loops)) for each in inwards.T)
    return np.asarray(has_hole | (np.hypot(x, y) < count - 0.5)[loop])


def _joined(parts: list[_Slits]) -> _Slits:
    return _Slits(
        *(np.concatenate([getattr(part, name) for part in parts])
          for name in ("middle", "along", "wide", "long", "loop", "side"))
    )  # fmt: skip


def _wavy(shapes: LocalShapes, rectangular: set[int]) -> _Slits:
    """Return the slender holes of any other shape, as rectangles of their area and outline."""
    found = []
    rings = shapes.sides.nested
    for ring in np.flatnonzero(rings.is_hole).tolist():
        if ring in rectangular:
            continue
        points = np.array(chord_points(rings.loops[ring].segments))
        after = np.roll(points, -1, axis=0)
        half = float(np.hypot(*(after - points).T).sum()) / 2
        area = abs(float((points[:, 0] * after[:, 1] - points[:, 1] * after[:, 0]).sum())) / 2
        if half * half <= 4 * area:
            continue
        wide = (half - sqrt(half * half - 4 * area)) / 2
        if half - wide > _SLENDER * wide:
            spread = points - points.mean(axis=0)
            along = np.linalg.svd(spread, full_matrices=False)[2][0]
            ahead = spread @ along
            middle = points.mean(axis=0) + along * (ahead.max() + ahead.min()) / 2
            found.append((*middle, *along, wide, float(np.ptp(ahead)), ring))
    table = np.array(found, float).reshape(-1, 7)
    nothing = np.full(len(table), -1)
    return _Slits(
        table[:, :2], table[:, 2:4], table[:, 4], table[:, 5], table[:, 6].astype(int), nothing
    )


def _neighbours(slits: _Slits) -> tuple[Indices, Indices, Indices]:
    """Return pairs of alike parallel slits with only a web between, and how they are staggered.

    1 and -1 are the two ways in which one lies ahead of the one beside it, 0 is not at all.
    """
    near = _close_pairs(slits)
    one, other = near[:, 0], near[:, 1]
    u, v = slits.along[one], slits.along[other]
    parallel = np.abs(u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]) < np.sin(np.radians(2))
    step = slits.middle[other] - slits.middle[one]
    along, across = (step * u).sum(axis=1), step[:, 0] * u[:, 1] - step[:, 1] * u[:, 0]
    ahead, apart = np.abs(along), np.abs(across)
    wide = (slits.wide[one] + slits.wide[other]) / 2
    web = apart - wide
    beside = parallel & (web > 0) & (ahead < (slits.long[one] + slits.long[other]) / 2)
    beside &= np.abs(slits.wide[one] - slits.wide[other]) < np.maximum(_ALIKE, _ABOUT * wide)
    shorter = np.minimum(slits.long[one], slits.long[other])
    staggered = beside & (ahead > _STAGGER * shorter) & (web <= _STAGGERED_WEB)
    tight = beside & (web <= np.minimum(_WEB * wide, _NARROW_WEB))
    kept = staggered | tight
    way = np.where(staggered, np.sign(along * across), 0).astype(np.int64)
    return one[kept], other[kept], way[kept]


def _close_pairs(slits: _Slits) -> Indices:
    """Return (m, 2) pairs of slits whose middles could be those of neighbours.

    The plane is squeezed along each common direction, so that a search round each slit finds only
    what lies beside it.
    """
    from scipy.spatial import cKDTree  # loading it would delay the window

    heading = np.degrees(np.arctan2(slits.along[:, 1], slits.along[:, 0])) % 180
    order = np.argsort(heading)
    breaks = np.flatnonzero(np.diff(heading[order]) > 1.0) + 1
    pairs = []
    groups = np.split(order, breaks)
    if len(groups) > 1 and heading[groups[0][0]] + 180 - heading[groups[-1][-1]] <= 1.0:
        groups = [np.concatenate([groups[-1], groups[0]]), *groups[1:-1]]
    for group in groups:
        way = slits.along[group[0]]
        ahead, across = slits.middle[group] @ way, slits.middle[group] @ np.array([-way[1], way[0]])
        beside = float(slits.wide[group].max()) + _STAGGERED_WEB
        squeezed = np.stack([ahead * beside / max(float(slits.long[group].max()), 1e-6), across], 1)
        found = cKDTree(squeezed).query_pairs(1.5 * beside, output_type="ndarray")
        pairs.append(group[found.reshape(-1, 2)])
    return np.concatenate(pairs)
