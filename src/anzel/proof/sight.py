"""From how many directions a lamp's bulb is seen directly.

The bulb is a point. Rays go out from it evenly over the sphere (a Fibonacci lattice, common in
numerics, no single source); a ray that meets no produced piece lets the bulb be seen from there.
"""

from math import pi, sqrt

import numpy as np

from anzel.geometry.curves import Floats
from anzel.geometry.placement import Vector
from anzel.proof.interference import produced_solid
from anzel.structure.plates import Build, Sheets

_RAYS = 800
_CHUNK = 100


def share_seen(build: Build, sheets: Sheets, bulb: Vector) -> float:
    """The share of all directions, 0 to 1, from which the bulb is seen."""
    triangles = _triangles(build, sheets) - np.array(bulb)
    directions = _sphere(_RAYS)
    open_rays = sum(
        int((~_met(triangles, directions[start : start + _CHUNK])).sum())
        for start in range(0, _RAYS, _CHUNK)
    )
    return open_rays / _RAYS


def _triangles(build: Build, sheets: Sheets) -> Floats:
    """(n, 3, 3) the corners of all produced solids' triangles in the world."""
    found = []
    for piece in build.pieces:
        mesh = produced_solid(piece, sheets).to_mesh64()
        corners = np.asarray(mesh.vert_properties)[:, :3]
        found.append(corners[np.asarray(mesh.tri_verts)])
    return np.concatenate(found)


def _sphere(count: int) -> Floats:
    """(count, 3) unit vectors evenly over the sphere."""
    index = np.arange(count) + 0.5
    z = 1 - 2 * index / count
    angle = index * pi * (3 - sqrt(5))
    around = np.sqrt(1 - z * z)
    return np.column_stack([around * np.cos(angle), around * np.sin(angle), z])


def _met(triangles: Floats, directions: Floats) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """(m,) whether each ray from the origin meets a triangle (Möller and Trumbore, 1997)."""
    a = triangles[:, 0]
    edge_one, edge_two = triangles[:, 1] - a, triangles[:, 2] - a
    across = np.cross(directions[:, None, :], edge_two[None])
    size = (across * edge_one[None]).sum(axis=2)
    with np.errstate(divide="ignore", invalid="ignore"):
        u = (across * -a[None]).sum(axis=2) / size
        beside = np.cross(-a, edge_one)
        v = directions @ beside.T / size
        t = (edge_two * beside).sum(axis=1)[None] / size
    hit = (np.abs(size) > 1e-12) & (u >= 0) & (v >= 0) & (u + v <= 1) & (t > 1e-9)
    return np.asarray(hit.any(axis=1))
