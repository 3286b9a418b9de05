"""A structure at any moment of being built: what is there, what is on its way, and from where."""

from dataclasses import dataclass

import numpy as np

from anzel.assembly.records import AssemblyProof, AssemblyStep, way_in_words
from anzel.core.memo import latest
from anzel.geometry.placement import Vector, add_scaled, scaled
from anzel.project.assembly import known_assembly
from anzel.project.model import Project
from anzel.structure.model import SolvedStructure

_NEAREST, _FURTHEST = 0.2, 0.42
"""Pieces wait so far from their place, in shares of the whole's size."""
Boxes = dict[str, tuple[Vector, Vector]]


@dataclass(frozen=True)
class Moment:
    """What a moment looks like: the step, hidden pieces, offsets, mm, what is new, and its ways.

    `ways` lead from where the middle of what moves waits to its place.
    """

    step: int
    hidden: frozenset[str]
    placed: dict[str, Vector]
    new: tuple[str, ...]
    ways: tuple[tuple[Vector, Vector], ...]


def moment_of(proof: AssemblyProof, solved: SolvedStructure, time: float) -> Moment:
    """Return what a moment looks like.

    Step n, from 0, is under way from n to n + 1; at the end all is in place.
    """
    names = [piece.name for piece in solved.pieces]
    last = len(proof.steps)
    if time >= last:
        return Moment(last - 1, frozenset(), {}, (), ())
    number = max(int(time), 0)
    step = proof.steps[number]
    there = {
        name for each in proof.steps[: number + 1] if each.group == step.group
        for name in each.pieces
    }  # fmt: skip
    boxes, size = _boxes(solved)
    left = _eased(1.0 - (time - number))
    placed: dict[str, Vector] = {}
    ways: list[tuple[Vector, Vector]] = []
    for move in step.moves:
        far = min(max(move.distance, _NEAREST * size), _FURTHEST * size)
        away = scaled(move.direction, -far * left)
        placed |= dict.fromkeys(move.pieces, away)
        middle = _middle(move.pieces, boxes)
        if left > 0.02:
            ways.append((add_scaled(middle, away), middle))
    hidden = frozenset(names) - there
    return Moment(number, hidden, placed, step.pieces, tuple(ways))


def step_words(step: AssemblyStep) -> str:
    """Return a step in words: what comes in, and from where."""
    names = ", ".join(step.pieces[:3]) + " …" * (len(step.pieces) > 3)
    group = " (by itself)" if step.group else ""
    if not step.moves:
        return f"{names}{group}"
    ways = dict.fromkeys(way_in_words(move.direction) for move in step.moves)
    return f"{names} {' and '.join(list(ways)[:2])}{group}"


def piece_words(proof: AssemblyProof, name: str) -> str:
    """Return when and how a piece goes in; "" for one that the proof does not know."""
    number = proof.step_of(name)
    if number is None:
        return ""
    step = proof.steps[number]
    way = next((way_in_words(m.direction) for m in step.moves if name in m.pieces), "")
    return f"Goes in at step {number + 1} of {len(proof.steps)}{f', {way}' if way else ''}."


def goes_in(project: Project, name: str) -> str:
    """Return when and how a piece goes in, as far as the proof is known already."""
    known = known_assembly(project)
    return "" if known is None else piece_words(known.proof, name)


def _eased(share: float) -> float:
    """Return a share that starts and ends slowly (smoothstep)."""
    share = min(max(share, 0.0), 1.0)
    return share * share * (3.0 - 2.0 * share)


def _middle(names: tuple[str, ...], boxes: Boxes) -> Vector:
    low = np.min([boxes[name][0] for name in names], axis=0)
    high = np.max([boxes[name][1] for name in names], axis=0)
    x, y, z = ((low + high) / 2).tolist()
    return (x, y, z)


@latest
def _boxes(solved: SolvedStructure) -> tuple[Boxes, float]:
    """Return the box of each piece, and the size of the whole, mm."""
    boxes: Boxes = {}
    for piece in solved.pieces:
        low, high = piece.region.bounds_in(piece.placement, piece.thickness / 2)
        boxes[piece.name] = (tuple(low), tuple(high))
    corners = np.array(list(boxes.values())).reshape(-1, 3)
    return boxes, float(np.linalg.norm(np.ptp(corners, axis=0)))
