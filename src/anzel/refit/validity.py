"""Validity of pieces after their sides have moved.

Outlines that neither cross nor touch themselves or one another.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence

import numpy as np
import shapely

from anzel.drawings.containment import NestedLoops, chord_points
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Floats
from anzel.refit.side_offset import Edges

_BATCH = 64
"""Loops looked at together: enough to be quick, few enough to take little memory."""


def newly_crossing(
    rings: NestedLoops,
    edges: Mapping[int, Edges],
    corners: Callable[[int], Floats | None] = lambda _: None,
) -> tuple[int, ...]:
    """Return the pieces that were valid and no longer are.

    `corners` may give the corners of a changed loop of straight edges at less cost than its edges.
    """

    def points(ring: int) -> Floats | Sequence[Point]:
        known = corners(ring)
        if known is not None:
            return known
        return chord_points([e for e in edges.get(ring, rings.loops[ring].segments) if e])

    changed = np.zeros(rings.pieces, dtype=bool)
    changed[[int(rings.piece_number[ring]) for ring in edges if rings.piece_number[ring] >= 0]] = (
        True
    )
    members = [
        r for r, piece in enumerate(rings.piece_number.tolist()) if piece >= 0 and changed[piece]
    ]
    members.sort(key=lambda ring: rings.piece_number[ring])
    bad: set[int] = set()
    for batch in _batches(rings, members):
        bad |= _unsound(rings, batch, [points(r) for r in batch])
    suspects = [r for r in members if rings.piece_number[r] in bad]
    before = _unsound(rings, suspects, [chord_points(rings.loops[r].segments) for r in suspects])
    return tuple(sorted(bad - before))


def _batches(rings: NestedLoops, members: Sequence[int]) -> Iterator[Sequence[int]]:
    """Yield runs of loops, sorted by piece, such that no piece is divided between two runs."""
    start = 0
    for at in range(1, len(members) + 1):
        ends = (
            at == len(members)
            or rings.piece_number[members[at]] != rings.piece_number[members[at - 1]]
        )
        if ends and (at - start >= _BATCH or at == len(members)):
            yield members[start:at]
            start = at


def _unsound(
    rings: NestedLoops, members: Sequence[int], corners: Sequence[Floats | Sequence[Point]]
) -> set[int]:
    """Return those pieces of some loops, given by their corners, that are no valid shape."""
    if not members:
        return set()
    owner = np.repeat(np.arange(len(corners)), [len(each) for each in corners])
    made = shapely.linearrings(np.concatenate(corners), indices=owner)
    piece, hole = rings.piece_number[list(members)], rings.is_hole[list(members)]
    order = np.lexsort((hole, piece))  # each piece's outline before its holes
    numbers, place = np.unique(piece[order], return_inverse=True)
    shapes = shapely.polygons(made[order], indices=place)
    return set(numbers[~shapely.is_valid(shapes)].tolist())
