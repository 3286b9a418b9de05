"""Sliding what lies in a container together: what a packer leaves between items is closed."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from math import cos, pi

import numpy as np

from anzel.core.tolerances import SLIDING
from anzel.geometry.prepared import prepared
from anzel.nesting.compaction import Obstacles, edges_of
from anzel.nesting.problem import NestingProblem, PlacedItem, translated
from anzel.nesting.validation import slid_too_near

_FINE = 32
"""Chords to a quarter turn of a grown corner, whose chords do not come nearer than the spacing."""
_ROUNDS = 4
"""Times that all items are slid; after that hardly anything moves. Measured on packed strips."""


def slid_together(
    problem: NestingProblem, placed: Sequence[PlacedItem], axis: int,
    stopped: Callable[[], bool] = lambda: False,
) -> tuple[PlacedItem, ...]:  # fmt: skip
    """Return the items of one copy of a container, slid to lower values along an axis.

    In turn they slide along the other one, which makes way. What would come too near to another or
    leave the container stays; so does what is left to slide once it is `stopped`.
    """
    items, inner = list(placed), problem.inner[placed[0].container]
    polygons = [problem.polygon(each) for each in items]
    spacing, round_spacing = problem.spacing, problem.spacing / cos(pi / 4 / _FINE)
    edges = [
        edges_of(polygon.buffer(round_spacing, quad_segs=_FINE) if spacing else polygon)
        for polygon in polygons
    ]
    walls = edges_of(inner)
    inside = prepared(inner.buffer(SLIDING))
    for way in (axis, 1 - axis) * (_ROUNDS - 1) + (axis,):
        for at in np.argsort([polygon.bounds[way] for polygon in polygons]).tolist():
            if stopped():
                return tuple(items)
            here = polygons[at]
            others = [*edges[:at], *edges[at + 1 :]]
            most = here.bounds[way] - inner.bounds[way]
            run = Obstacles(np.concatenate([walls, *others])).free_distance(here, way, most)
            dx, dy = (-run, 0.0) if way == 0 else (0.0, -run)
            there = translated(here, dx, dy)
            neighbours = [*polygons[:at], *polygons[at + 1 :]]
            is_sound = not slid_too_near(there, neighbours, spacing) and inside.covers(there)
            if run > 0 and is_sound:
                polygons[at], edges[at] = there, edges[at] + np.array([dx, dy, dx, dy])
                items[at] = replace(items[at], x=items[at].x + dx, y=items[at].y + dy)
    return tuple(items)
