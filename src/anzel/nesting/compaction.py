"""Compaction: how far a polygon can slide along an axis before it comes too near to others.

It is exact for polygons: two polygons first touch with a corner of one on an edge of the other, so
rays from every corner along the axis to the edges of the other tell the distance.
"""

import numpy as np
import shapely
from numpy.typing import NDArray

from anzel.core.tolerances import SLIMMER, TOUCHING

Floats = NDArray[np.float64]


class Obstacles:
    """Edges that nothing may slide across: of grown neighbours, and of a container's inside."""

    def __init__(self, edges: Floats | None = None) -> None:
        self._edges = np.empty((0, 4)) if edges is None else edges

    def add(self, polygon: shapely.Geometry) -> None:
        """Add the edges of a polygon."""
        self._edges = np.concatenate([self._edges, edges_of(polygon)])

    def free_distance(self, polygon: shapely.Polygon, axis: int, most: float) -> float:
        """Return how far (at most `most`) a polygon can go along an axis, to lower values."""
        a, b = axis, 1 - axis
        own = edges_of(polygon)
        middle = (own[:, b].min() + own[:, b].max()) / 2
        own[:, (b, 2 + b)] = middle + (own[:, (b, 2 + b)] - middle) * SLIMMER
        corners = own[:, :2]
        low, high = corners.min(axis=0), corners.max(axis=0)
        edges = self._edges
        least, greatest = (
            np.minimum(edges[:, :2], edges[:, 2:]),
            np.maximum(edges[:, :2], edges[:, 2:]),
        )
        near = (greatest[:, b] >= low[b]) & (least[:, b] <= high[b])
        near &= (greatest[:, a] >= low[a] - most) & (least[:, a] <= high[a])
        there = edges[near]
        if not len(there):
            return most
        others = there[:, :2]
        return min(
            most,
            _first_hit(corners, there, a, backward=True),
            _first_hit(others, own, a, backward=False),
        )


def edges_of(polygon: shapely.Geometry) -> Floats:
    """Return the start and the end of every edge.

    Returns
    -------
    (n, 4) float
    """
    found = [
        np.hstack([points[:-1], points[1:]])
        for part in shapely.get_parts(polygon)
        for ring in (part.exterior, *part.interiors)
        for points in [np.asarray(ring.coords)]
    ]
    return np.concatenate(found) if found else np.empty((0, 4))


def _first_hit(points: Floats, edges: Floats, axis: int, *, backward: bool) -> float:
    """Return the shortest distance from a point along an axis to an edge.

    `backward` is to lower values.
    """
    a, b = axis, 1 - axis
    low = np.minimum(edges[:, b], edges[:, 2 + b])
    high = np.maximum(edges[:, b], edges[:, 2 + b])
    order = np.argsort(points[:, b])
    levels = points[order, b]
    first = np.searchsorted(levels, low, side="right")
    count = np.maximum(np.searchsorted(levels, high, side="left") - first, 0)
    if not count.any():
        return np.inf
    edge = np.repeat(np.arange(len(edges)), count)
    point = order[np.arange(len(edge)) + np.repeat(first - (np.cumsum(count) - count), count)]
    there = edges[edge]
    share = (points[point, b] - there[:, b]) / (there[:, 2 + b] - there[:, b])
    met = there[:, a] + share * (there[:, 2 + a] - there[:, a])
    way = points[point, a] - met if backward else met - points[point, a]
    way = way[way > -TOUCHING]
    return max(float(way.min()), 0.0) if len(way) else np.inf
