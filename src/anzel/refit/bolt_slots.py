"""Slots for a bolt and its nut: a narrow way from the edge, with a pocket across it.

Their sizes are those of the bolt, whatever the sheet, so each is held as a whole.
"""

import numpy as np
import shapely

from anzel.refit.local_shapes import LocalShapes

_SHALLOW = 1.5
"""A pocket for a nut is at most this many times as deep as wide."""
_FACING = 4.0
"""The opposite pocket is nearer than this many widths of the pocket."""


def bolt_slot_sides(shapes: LocalShapes) -> tuple[frozenset[int], int]:
    """Return the sides that belong to slots for bolts and nuts, and how many slots there are.

    A pocket is a shallow notch that faces another part of its own outline so closely that nothing
    could be brought into it.
    """
    sides, notches = shapes.sides, shapes.notches
    shallow = (notches.long <= _SHALLOW * notches.wide) & ~notches.round
    floor = notches.side[shallow]
    if not len(floor):
        return frozenset(), 0
    wide, deep = notches.wide[shallow], notches.long[shallow]
    middle = (sides.start(floor) + sides.end[floor]) / 2
    out = -sides.along[sides.before[floor]]
    mouth = middle + out * (1.02 * deep[:, None] + 1e-3)
    rays = shapely.linestrings(np.stack([mouth, mouth + out * (_FACING * wide)[:, None]], axis=1))
    edges = shapely.linestrings(np.stack([sides.start(), sides.end], axis=1))
    ray, edge = shapely.STRtree(edges).query(rays, predicate="intersects")
    own = sides.loop[floor[ray]] == sides.loop[edge]
    facing = floor[np.unique(ray[own])].tolist()
    pockets = [each for each in facing if _has_fellow(shapes, each, facing)]
    if not pockets:
        return frozenset(), 0
    held = {s for f in pockets for s in (int(sides.before[f]), f, int(sides.after[f]))}
    while True:
        more = {
            s
            for f in notches.side.tolist() if f not in held
            for wall, outer in (
                (int(sides.before[f]), int(sides.before[sides.before[f]])),
                (int(sides.after[f]), int(sides.after[sides.after[f]])),
            )
            if outer in held
            for s in (int(sides.before[f]), f, int(sides.after[f]), wall)
        }  # fmt: skip
        if more <= held:
            return frozenset(held), len(pockets) // 2
        held |= more


def _has_fellow(shapes: LocalShapes, floor: int, facing: list[int]) -> bool:
    """Return whether a pocket has another opposite: its floor runs the other way, as wide."""
    sides = shapes.sides
    return any(
        sides.loop[other] == sides.loop[floor]
        and float(sides.along[other] @ sides.along[floor]) < -0.99
        and abs(sides.length[other] - sides.length[floor]) < 0.05
        for other in facing
    )
