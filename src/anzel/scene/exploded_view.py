"""Exploded view: each piece moved back along the direction in which it is inserted.

At every joint the second piece stands off the first along its way out, and what merely rests on
something is lifted off it. The pieces move as little as that allows: least squares under
inequalities, by Hildreth's row-action method (any text on quadratic programming).
"""

from collections.abc import Iterable
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from anzel.assembly.partings import Parting
from anzel.core.tolerances import COINCIDENT, EXPLODED, VANISHING
from anzel.geometry.placement import UP, Vector, add_scaled, unit
from anzel.structure.model import FeatureKind, Joint, SolvedStructure

_STILL: Vector = (0.0, 0.0, 0.0)
_PASSES = 400
_TOUCHING = 0.6
"""What is no further apart than this, mm, lies on one another."""
_MANY = 60


def exploded_offsets(
    solved: SolvedStructure, distance: float, proven: tuple[Parting, ...] = ()
) -> dict[str, Vector]:
    """Return the offset of each piece, mm.

    At every joint the two pieces stand `distance` apart, on the ways that are `proven` where those
    are known; the first piece stays.
    """
    if distance <= 0:
        return {piece.name: _STILL for piece in solved.pieces}
    x, y, z = (distance * _apart(solved, proven)).T.tolist()
    return {p.name: (x[n], y[n], z[n]) for n, p in enumerate(solved.pieces)}


@lru_cache(maxsize=8)  # the present structure and its takes
def _apart(solved: SolvedStructure, proven: tuple[Parting, ...]) -> NDArray[np.float64]:
    """Return (pieces, 3) the offsets for a distance of 1; they grow in proportion."""
    number = {piece.name: index for index, piece in enumerate(solved.pieces)}
    rows = [(number[a], number[b], np.array(way)) for a, b, way in _partings(solved, proven)]
    moved = np.zeros((len(number), 3))
    pull = [0.0] * len(rows)
    for _ in range(_PASSES):
        worst = 0.0
        for index, (first, second, way) in enumerate(rows):
            lacking = 1.0 - float((moved[second] - moved[first]) @ way)
            step = max(lacking / 2, -pull[index])
            if abs(step) > VANISHING:
                pull[index] += step
                moved[second] += step * way
                moved[first] -= step * way
            worst = max(worst, abs(step))
        if worst < EXPLODED:
            break
    apart: NDArray[np.float64] = moved - moved[0]
    return apart


def _partings(solved: SolvedStructure, proven: tuple[Parting, ...]) -> Iterable[Parting]:
    known = {frozenset(parting[:2]): parting for parting in proven}
    for joint in solved.joints:
        for first, second in joint.separations:
            parting = known.get(frozenset((first, second)))
            yield parting or (first, second, _way_out(joint, first, solved))
    together = {frozenset(pair) for joint in solved.joints for pair in joint.separations}
    names = [piece.name for piece in solved.pieces]
    jointed = {name for pair in together for name in pair}
    loose = np.array([name not in jointed for name in names])
    boxes = np.array([p.region.bounds_in(p.placement, p.thickness / 2) for p in solved.pieces])
    for lower, upper in _resting(boxes, loose):
        if frozenset((names[lower], names[upper])) not in together:
            yield names[lower], names[upper], UP


def _resting(boxes: NDArray[np.float64], loose: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """Return pairs of which the second lies on the first, by their (n, 2, 3) boxes.

    Where nothing joins one of them to anything, it is enough that the second is over the first.
    """
    low, high = boxes[:, 0], boxes[:, 1]
    over = (low[:, None, :2] < high[None, :, :2]).all(axis=2)
    on_top = np.abs(high[:, None, 2] - low[None, :, 2]) < _TOUCHING
    middle = (low[:, 2] + high[:, 2]) / 2
    higher = middle[:, None] + COINCIDENT < middle[None, :]
    if loose.sum() > _MANY:
        loose = np.zeros_like(loose)  # a heap, in which what is over what says nothing
    merely = higher & (loose[:, None] | loose[None, :])
    pairs = np.argwhere(over & over.T & (on_top | merely))
    return [(lower, upper) for lower, upper in pairs.tolist() if lower != upper]


def _way_out(joint: Joint, first: str, solved: SolvedStructure) -> Vector:
    """Return the direction in which the joint's next piece leaves this one."""
    placement = solved.piece(first).placement
    for feature in reversed(joint.features_on(first)):
        if feature.kind not in (FeatureKind.MORTISE, FeatureKind.POCKET):
            x, y = feature.along
            way = add_scaled(add_scaled(_STILL, placement.x_axis, x), placement.y_axis, y)
            return unit(way)
    return placement.normal
