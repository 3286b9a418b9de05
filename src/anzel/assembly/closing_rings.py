"""Rings that close at once: every piece of it goes in at the same time, each from its outside.

Only a ring of walls counts: three plates or more that face outwards, each joined to two others of
it; more would take more hands than a maker has. Between neighbours i and j the joint leaves few
directions a_ij; the velocities v of the pieces are such that v_i - v_j is along one of them for
every pair. Going round, the λ_ij a_ij add up to nothing, which linear programming solves for λ ≥ 1
[derived]. What comes out is proven on the solids like every other move.
"""

from collections.abc import Iterator, Sequence
from itertools import pairwise, product

import networkx
import numpy as np

from anzel.assembly.blocking import Blocking, until_apart
from anzel.core.tolerances import COINCIDENT
from anzel.geometry.placement import Vector
from anzel.geometry.segments import Floats

_LONGEST = 64
_MOST_CHOICES = 64
_FACING = 0.5
"""A wall faces outwards where its normal has this share of the way out."""
Ring = dict[int, tuple[Vector, float]]
"""For each body the direction of its way in and its distance, mm."""


def closing_ring(
    blocking: Blocking, whole: Sequence[int], graph: "networkx.Graph[int]"
) -> Ring | None:
    """Return a ring among bodies that opens outwards all at once, if there is one."""
    among = graph.subgraph(whole)
    for cycle in networkx.minimum_cycle_basis(among):
        ring = _in_order(among.subgraph(cycle))
        if ring is None or not 3 <= len(ring) <= _LONGEST:
            continue
        rest = [each for each in whole if each not in ring]
        for velocities in _velocities(blocking, ring):
            opened = _opened(blocking, ring, rest, velocities)
            if opened is not None:
                return opened
    return None


def _in_order(cycle: "networkx.Graph[int]") -> list[int] | None:
    """Return the nodes of a cycle in order; None where some have more neighbours in it."""
    if any(degree != 2 for _, degree in cycle.degree()):
        return None
    return [a for a, _ in networkx.find_cycle(cycle)]


def _velocities(blocking: Blocking, ring: Sequence[int]) -> Iterator[Floats]:
    """Yield (n, 3) velocities that open a ring: straight outwards, then by its joints."""
    middles = np.array([blocking.bodies[at].middle for at in ring])
    out = middles - middles.mean(axis=0)
    axis = np.linalg.svd(out)[2][-1]
    out = out - np.outer(out @ axis, axis)
    lengths = np.linalg.norm(out, axis=1, keepdims=True)
    if (lengths < COINCIDENT).any():
        return
    out /= lengths
    normals = np.array([blocking.bodies[at].flats[0].placement.normal for at in ring])
    facing = (normals * out).sum(axis=1, keepdims=True)
    if (np.abs(facing) < _FACING).any() or any(len(blocking.bodies[at].flats) > 1 for at in ring):
        return
    yield out
    yield normals * np.sign(facing)
    yield from _by_joints(blocking, ring, out)


def _by_joints(blocking: Blocking, ring: Sequence[int], out: Floats) -> Iterator[Floats]:
    choices = []
    for at, (one, other) in enumerate(pairwise([*ring, ring[0]])):
        apart = out[at] - out[(at + 1) % len(ring)]
        ways = dict.fromkeys((*blocking.bodies[one].ways, *blocking.bodies[other].ways))
        free = [way for way in ways if not blocking.meets(one, other, way)]
        choices.append(sorted(free, key=lambda way: -float(np.dot(way, apart)))[:2])
    for tried, choice in enumerate(product(*choices)):
        if tried == _MOST_CHOICES:
            return
        found = _solved(np.array(choice), out)
        if found is not None:
            yield found


def _solved(ways: Floats, out: Floats) -> Floats | None:
    """Return velocities whose differences are along the ways, the most outward ones."""
    from scipy.optimize import linprog

    count = len(ways)
    solved = linprog(
        np.ones(count), A_eq=ways.T, b_eq=np.zeros(3), bounds=[(1.0, 50.0)] * count, method="highs"
    )
    if not solved.success:
        return None
    steps = ways * solved.x[:, None]
    velocities = -np.concatenate([np.zeros((1, 3)), np.cumsum(steps[:-1], axis=0)])
    velocities -= velocities.mean(axis=0)
    outward = (velocities * out).sum(axis=1)
    return velocities if (outward > COINCIDENT).all() else None


def _opened(
    blocking: Blocking, ring: Sequence[int], rest: Sequence[int], velocities: Floats
) -> Ring | None:
    """Return a ring's ways in where nothing meets on them; the first stays if nothing else does."""
    if not rest:
        velocities = velocities - velocities[0]
    moving = dict(zip(ring, velocities, strict=True))
    still = dict.fromkeys(rest, np.zeros(3))
    pairs = [
        (a, b, v - w)
        for at, (a, v) in enumerate(moving.items())
        for b, w in (*list(moving.items())[at + 1 :], *still.items())
    ]
    if any(np.linalg.norm(apart) < COINCIDENT for _, _, apart in pairs):
        return None
    reach = max(_time_apart(blocking, a, b, apart) for a, b, apart in pairs)
    for a, b, apart in pairs:
        if blocking.meets_on_way(a, b, tuple((apart * reach).tolist())):
            return None
    found: Ring = {}
    for at, velocity in moving.items():
        speed = float(np.linalg.norm(velocity))
        if speed > COINCIDENT:
            x, y, z = (-velocity / speed).tolist()
            found[at] = (x, y, z), speed * reach
    return found


def _time_apart(blocking: Blocking, one: int, other: int, apart: Floats) -> float:
    """Return how long two bodies take until a plane square to their way parts them."""
    speed = float(np.linalg.norm(apart))
    bodies = blocking.bodies
    return until_apart([bodies[one]], [bodies[other]], apart / speed) / speed
