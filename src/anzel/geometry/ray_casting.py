"""Intersections of rays and triangles.

Reference: Möller and Trumbore, Fast, minimum storage ray/triangle intersection, 1997.
"""

import numpy as np

from anzel.core.tolerances import RAY_AHEAD, RAY_IN_PLANE
from anzel.geometry.segments import Floats


def hit_distances(triangles: Floats, directions: Floats) -> Floats:
    """Return the distance along each ray to the nearest triangle.

    The (m, 3) rays start at the origin; triangles are (n, 3, 3). Distances are in lengths of the
    direction; infinite where a ray hits nothing.

    Returns
    -------
    (m,) float
    """
    a = triangles[:, 0]
    edge_one, edge_two = triangles[:, 1] - a, triangles[:, 2] - a
    # every triple product is turned so that the ray comes last: one matrix product each
    size = directions @ np.cross(edge_two, edge_one).T
    safe = np.where(np.abs(size) > RAY_IN_PLANE, size, np.inf)
    u = directions @ np.cross(edge_two, -a).T / safe
    beside = np.cross(-a, edge_one)
    v = directions @ beside.T / safe
    reach = (edge_two * beside).sum(axis=1)[None] / safe
    met = (u >= 0) & (v >= 0) & (u + v <= 1) & (reach > RAY_AHEAD) & np.isfinite(safe)
    return np.asarray(np.where(met, reach, np.inf).min(axis=1, initial=np.inf))
