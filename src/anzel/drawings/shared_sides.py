"""Pieces that share a side or a corner, drawn as loose edges: the faces of the graph of edges.

Where three or more ends meet, an end does not tell which edge goes on from it. The edges then
bound faces in the plane, and each bounded face is a piece. Edges that bound none stay open.

Source: faces are traced by turning at each node to the next edge clockwise (a doubly connected
edge list; de Berg et al., Computational Geometry, 3rd edition, 2.2).
"""

from collections import defaultdict
from collections.abc import Sequence
from math import atan2

import numpy as np

from anzel.core.linked_groups import linked_groups
from anzel.drawings.model import DrawnPath
from anzel.geometry.regions import Indices
from anzel.geometry.rigid_transform import Point

Link = tuple[int, bool]
"""A drawn path, and whether it is run backwards."""
_JUNCTION = 3
_A_LITTLE = 0.02
"""The share of an edge after which its direction is looked at: where two part tangentially, they
are apart by then."""


def shared_faces(
    drawn_paths: Sequence[DrawnPath], loose: Sequence[int], largest_gap: float
) -> list[list[Link]]:
    """Return the bounded faces among loose paths of which three or more ends meet somewhere.

    Each is a ring of links, counter-clockwise. A path may be in two of them, once in each
    direction. Only paths of one label bound a face together.
    """
    if len(loose) < _JUNCTION:
        return []
    found: list[list[Link]] = []
    by_label: dict[str, list[int]] = defaultdict(list)
    for path in loose:
        by_label[drawn_paths[path].label].append(path)
    for paths in by_label.values():
        nodes = _nodes(drawn_paths, paths, largest_gap)
        for part in _with_junctions(nodes):
            own = {paths[i]: (int(nodes[i, 0]), int(nodes[i, 1])) for i in part}
            found += _faces(drawn_paths, own)
    return found


def _nodes(drawn_paths: Sequence[DrawnPath], paths: Sequence[int], gap: float) -> Indices:
    """Return (n, 2) the nodes at which paths start and end: ends within a gap are one node."""
    from scipy.spatial import cKDTree  # loading it would delay the window

    ends = np.array(
        [(drawn_paths[i].segments[0].start, drawn_paths[i].segments[-1].end) for i in paths]
    ).reshape(-1, 2)
    pairs = cKDTree(ends).query_pairs(gap, output_type="ndarray").reshape(-1, 2)
    return linked_groups(pairs, len(ends)).reshape(-1, 2)


def _with_junctions(nodes: Indices) -> list[list[int]]:
    """Return the numbers of the paths of each connected part that has a junction."""
    count = int(nodes.max()) + 1
    degree = np.bincount(nodes.ravel(), minlength=count)
    part = linked_groups(nodes, count)
    wanted = np.unique(part[degree >= _JUNCTION])
    own = part[nodes[:, 0]]
    return [np.flatnonzero(own == each).tolist() for each in wanted]


def _faces(
    drawn_paths: Sequence[DrawnPath], ends: dict[int, tuple[int, int]]
) -> list[list[Link]]:  # fmt: skip
    """Return the bounded faces of a graph, given the nodes at the ends of each path."""
    ends = {path: pair for path, pair in ends.items() if pair[0] != pair[1]}
    while True:
        ends = _without_dangling(ends)
        rings = _traced(drawn_paths, ends)
        both = {path for ring in rings for path, back in ring if (path, not back) in set(ring)}
        if not both:
            return [ring for ring in rings if _area(drawn_paths, ring) > 0]
        ends = {path: pair for path, pair in ends.items() if path not in both}


def _without_dangling(ends: dict[int, tuple[int, int]]) -> dict[int, tuple[int, int]]:
    while True:
        degree: dict[int, int] = defaultdict(int)
        for pair in ends.values():
            for node in pair:
                degree[node] += 1
        left = {p: pair for p, pair in ends.items() if min(degree[node] for node in pair) > 1}
        if len(left) == len(ends):
            return ends
        ends = left


def _traced(
    drawn_paths: Sequence[DrawnPath], ends: dict[int, tuple[int, int]]
) -> list[list[Link]]:  # fmt: skip
    """Return the rings round all faces, bounded or not, each with its face on the left."""
    leaving: dict[int, list[tuple[float, Link]]] = defaultdict(list)
    for path, (start, end) in ends.items():
        for node, backwards in ((start, False), (end, True)):
            leaving[node].append((_heading(drawn_paths[path], backwards), (path, backwards)))
    follower: dict[Link, Link] = {}
    for around in leaving.values():
        around.sort()
        for at, (_, (path, backwards)) in enumerate(around):
            follower[path, not backwards] = around[at - 1][1]
    rings, seen = [], set()
    for first in follower:
        if first in seen:
            continue
        ring = [first]
        while (link := follower[ring[-1]]) != first:
            ring.append(link)
        seen.update(ring)
        rings.append(ring)
    return rings


def _heading(path: DrawnPath, backwards: bool) -> float:
    """Return the direction in which a path leaves one of its ends, radians."""
    edge = path.segments[-1] if backwards else path.segments[0]
    tip = edge.end if backwards else edge.start
    near = edge.point_at(1 - _A_LITTLE if backwards else _A_LITTLE)
    return atan2(near[1] - tip[1], near[0] - tip[0])


def _area(drawn_paths: Sequence[DrawnPath], ring: Sequence[Link]) -> float:
    """Return the signed area within a ring's chords, mm²; counter-clockwise is positive."""
    points: list[Point] = []
    for path, backwards in ring:
        own = [s.point_at(k / 8) for s in drawn_paths[path].segments for k in range(9)]
        points += own[::-1] if backwards else own
    x, y = np.array(points).T
    return float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum()) / 2
