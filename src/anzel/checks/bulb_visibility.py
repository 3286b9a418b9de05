"""From how many directions a lamp's bulb is seen directly.

The bulb is a point. Rays go out from it evenly over the sphere (a Fibonacci lattice, common in
numerics, no single source); a ray that meets no produced piece lets the bulb be seen from there.
"""

from math import pi, sqrt

import numpy as np

from anzel.geometry.placement import Vector
from anzel.geometry.ray_casting import hit_distances
from anzel.geometry.segments import Floats
from anzel.structure.model import FitContext, SolvedStructure
from anzel.structure.solids import produced_solid, triangles_of

_RAYS = 800
_CHUNK = 100


def share_seen(solved: SolvedStructure, fit_context: FitContext, bulb: Vector) -> float:
    """Return the share of all directions, 0 to 1, from which the bulb is seen."""
    solids = [triangles_of(produced_solid(piece, fit_context)) for piece in solved.pieces]
    triangles = np.concatenate(solids) - np.array(bulb)
    directions = _sphere(_RAYS)
    free = [
        np.isinf(hit_distances(triangles, directions[start : start + _CHUNK])).sum()
        for start in range(0, _RAYS, _CHUNK)  # a part at a time, to bound the memory
    ]
    return float(sum(free)) / _RAYS


def _sphere(count: int) -> Floats:
    """Return (count, 3) unit vectors that are spread evenly over the sphere."""
    index = np.arange(count) + 0.5
    z = 1 - 2 * index / count
    angle = index * pi * (3 - sqrt(5))
    around = np.sqrt(1 - z * z)
    return np.column_stack([around * np.cos(angle), around * np.sin(angle), z])
