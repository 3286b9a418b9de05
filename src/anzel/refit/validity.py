"""Validity of pieces after their sides have moved.

Outlines that neither cross nor touch themselves or one another.
"""

from collections.abc import Iterator, Mapping, Sequence

import numpy as np
import shapely

from anzel.drawings.containment import NestedLoops, chord_points
from anzel.geometry.segments import Segment
from anzel.refit.side_offset import Edges

_BATCH = 64
"""Loops looked at together: enough to be quick, few enough to take little memory."""


def newly_crossing(rings: NestedLoops, edges: Mapping[int, Edges]) -> tuple[int, ...]:
    """Return the pieces that were valid and no longer are."""
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
        after = [[e for e in edges.get(r, rings.loops[r].segments) if e is not None] for r in batch]
        bad |= _unsound(rings, batch, after)
    suspects = [r for r in members if rings.piece_number[r] in bad]
    before = _unsound(rings, suspects, [rings.loops[r].segments for r in suspects])
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
    rings: NestedLoops, members: Sequence[int], loops: Sequence[Sequence[Segment]]
) -> set[int]:
    """Return those pieces of some loops that are no valid shape."""
    if not members:
        return set()
    corners = [chord_points(loop) for loop in loops]
    owner = np.repeat(np.arange(len(corners)), [len(each) for each in corners])
    made = shapely.linearrings([point for each in corners for point in each], indices=owner)
    piece, hole = rings.piece_number[list(members)], rings.is_hole[list(members)]
    order = np.lexsort((hole, piece))  # each piece's outline before its holes
    numbers, place = np.unique(piece[order], return_inverse=True)
    shapes = shapely.polygons(made[order], indices=place)
    return set(numbers[~shapely.is_valid(shapes)].tolist())
