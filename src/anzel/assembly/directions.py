"""Directions to try for bodies that the directions of their joints leave locked.

A body that is free to move at all against flat faces is free along an edge of the cone of its free
directions, or there is a line in all the faces: where two faces' planes meet [Wilson and Latombe
1994: the arrangement of contact planes on the sphere of directions]. So all pairs of faces are
crossed.
"""

from collections.abc import Sequence
from itertools import combinations

import numpy as np
import shapely

from anzel.assembly.bodies import Flat, RigidBody, distinct
from anzel.geometry.placement import Vector, cross, dot

_MOST_FACES = 14
_LEAST_EDGE = 2.0
"""Straight edges shorter than this, mm, are chords of curves."""


def directions_for_locked(bodies: Sequence[RigidBody]) -> tuple[Vector, ...]:
    """Return the lines in which planes of faces meet, and their normals."""
    normals: list[Vector] = []
    for body in bodies:
        for flat in body.flats:
            for normal in (flat.placement.normal, *_edge_normals(flat)):
                if all(abs(dot(normal, other)) < 1 - 1e-9 for other in normals):
                    normals.append(normal)
    normals = normals[:_MOST_FACES]
    lines = [cross(a, b) for a, b in combinations(normals, 2)]
    return distinct([*normals, *(line for line in lines if dot(line, line) > 1e-6)])


def _edge_normals(flat: Flat) -> list[Vector]:
    """Return the directions square to a flat's longer straight edges, in its plane."""
    found: dict[tuple[float, float], float] = {}
    for polygon in shapely.get_parts(flat.shape):
        for ring in (polygon.exterior, *polygon.interiors):
            steps = np.diff(np.asarray(ring.coords), axis=0)
            lengths = np.hypot(*steps.T)
            for step, length in zip(steps, lengths, strict=True):
                if length > _LEAST_EDGE:
                    x, y = (step / length).round(6).tolist()
                    key = (x, y) if (x, y) > (-x, -y) else (-x, -y)
                    found[key] = found.get(key, 0.0) + float(length)
    longest = sorted(found, key=lambda key: -found[key])[:4]
    return [flat.placement.direction_to_world((-y, x, 0.0)) for x, y in longest]
