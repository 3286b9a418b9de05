"""Interference: overlaps between the solids of the produced pieces, placed as they stand."""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import combinations

from anzel.structure.model import FitContext, SolvedStructure
from anzel.structure.solids import overlapping, produced_solid


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
    names = [piece.name for piece in solved.pieces]
    joint_of = {frozenset(p): j.id for j in solved.joints for p in combinations(j.pieces, 2)}
    pairs = (((names[a], names[b]), volume) for a, b, volume in overlapping(solids, least, said))
    return tuple(
        Interference(joint_of.get(frozenset(pair), ""), pair, volume) for pair, volume in pairs
    )
