"""How pieces part by a proven order: which of two leaves the other, and in which direction."""

from collections.abc import Iterable

import numpy as np

from anzel.assembly.records import AssemblyProof, AssemblyStep
from anzel.geometry.placement import Vector, add_scaled, norm, scaled, unit

Parting = tuple[str, str, Vector]
"""Two pieces, and the way in which the second leaves the first."""


def partings_of(
    proof: AssemblyProof, pairs: Iterable[tuple[str, str]]
) -> tuple[Parting, ...]:  # fmt: skip
    """Return how each of some pairs of pieces parts; none for pairs that hold one another."""
    steps_of: dict[str, list[int]] = {}
    for number, step in enumerate(proof.steps):
        for name in step.pieces if step.moves else ():
            steps_of.setdefault(name, []).append(number)
    found = []
    for one, other in pairs:
        numbers = sorted({*steps_of.get(one, ()), *steps_of.get(other, ())}, reverse=True)
        partings = (_parting(proof.steps[number], one, other) for number in numbers)
        parting = next((each for each in partings if each is not None), None)
        if parting is not None:
            found.append(parting)
    return tuple(found)


def _parting(step: AssemblyStep, one: str, other: str) -> Parting | None:
    """Return how two pieces part in a step; None where they go in as one."""
    still: Vector = (0.0, 0.0, 0.0)
    ways = {name: scaled(m.direction, -m.distance) for m in step.moves for name in m.pieces}
    apart = add_scaled(ways.get(one, still), ways.get(other, still), -1.0)
    if norm(apart) < np.finfo(float).eps:
        return None
    if one in ways:
        return other, one, unit(apart)
    return one, other, unit(scaled(apart, -1.0))
