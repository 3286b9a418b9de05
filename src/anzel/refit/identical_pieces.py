"""Identical pieces, also turned or mirrored.

A decision about a feature of one piece applies to the matching feature of every congruent piece.
"""

import numpy as np

from anzel.core.tolerances import CONGRUENT
from anzel.drawings.containment import chord_points
from anzel.geometry.segments import Floats
from anzel.refit.refit import Refit


def congruent_features(refit: Refit, feature_id: str) -> frozenset[str]:
    """Return the ids of a feature and of the matching feature on every congruent piece."""
    own = next(each.feature for each in refit.decisions if each.feature.id == feature_id)
    outlines = _outlines(refit)
    found = {feature_id}
    for piece, outline in outlines.items():
        if piece == own.piece:
            continue
        map_ = _onto(outlines[own.piece], outline)
        if map_ is None:
            continue
        turn, shift = map_
        place = np.array(own.at) @ turn + shift
        alike = (e.feature for e in refit.decisions if e.feature.piece == piece)
        found |= {
            other.id
            for other in alike
            if other.kind is own.kind and np.hypot(*(np.array(other.at) - place)) < 5 * CONGRUENT
        }
    return frozenset(found)


def _outlines(refit: Refit) -> dict[int, Floats]:
    """Return (n, 2) the outline's corners of each piece, as drawn."""
    rings = refit.analysis.nested
    return {
        int(rings.piece_number[number]): np.array(chord_points(loop.segments))
        for number, loop in enumerate(rings.loops)
        if not rings.is_hole[number] and rings.piece_number[number] >= 0
    }


def _onto(one: Floats, other: Floats) -> tuple[Floats, Floats] | None:
    """Return (turn, shift) that takes the corners of one outline onto another's: p @ turn + shift.

    None if there is none.

    The lengths of edges in order say where one ring starts on the other, forwards or mirrored. The
    map is the best rigid one (Kabsch 1976, by singular values).
    """
    if len(one) != len(other):
        return None
    for mirrored in (False, True):
        ring = other[::-1] if mirrored else other
        for start in _starts(_lengths(one), _lengths(ring)):
            target = np.roll(ring, -start, axis=0)
            middle, goal = one.mean(axis=0), target.mean(axis=0)
            u, _, v = np.linalg.svd((one - middle).T @ (target - goal))
            turn = u @ v
            if np.abs((one - middle) @ turn + goal - target).max() < CONGRUENT:
                return turn, goal - middle @ turn
    return None


def _lengths(corners: Floats) -> Floats:
    return np.asarray(np.hypot(*(np.roll(corners, -1, axis=0) - corners).T))


def _starts(one: Floats, other: Floats) -> list[int]:
    """Return where a ring of lengths can start so that it matches another."""
    likely = np.flatnonzero(np.abs(other - one[0]) < CONGRUENT)
    return [int(s) for s in likely if np.abs(np.roll(other, -s) - one).max() < CONGRUENT]
