"""Interference: overlaps between the solids of the produced pieces, placed as they stand."""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from anzel.structure.model import FitContext, SolvedStructure
from anzel.structure.solids import produced_solid


@dataclass(frozen=True)
class Interference:
    """The overlap volume of two pieces, mm³."""

    joint: str
    pieces: tuple[str, str]
    volume: float


def collisions(
    solved: SolvedStructure,
    fit_context: FitContext,
    least: float,
    said: Callable[[str], None] = lambda text: None,
) -> tuple[Interference, ...]:
    """Return every pair of pieces that overlap by more than `least` mm³.

    The joint is "" where the two are not joined.

    `said` is called with the progress of the check and may raise to end it.
    """
    solids = [produced_solid(piece, fit_context) for piece in solved.pieces]
    names = [piece.name for piece in solved.pieces]
    boxes = np.array([solid.bounding_box() for solid in solids]).reshape(-1, 2, 3)
    joint_of = {frozenset(p): j.id for j in solved.joints for p in combinations(j.pieces, 2)}
    found = []
    for one, (low, high) in enumerate(boxes):
        said(f"proving {one + 1} of {len(solids)} …")
        later = boxes[one + 1 :]
        near = (later[:, 0] <= high).all(axis=1) & (later[:, 1] >= low).all(axis=1)
        for other in np.flatnonzero(near) + one + 1:
            volume = float((solids[one] ^ solids[other]).volume())
            if volume > least:
                pair = (names[one], names[other])
                found.append(Interference(joint_of.get(frozenset(pair), ""), pair, volume))
    return tuple(found)
