"""The sides of a plate as a maker points at them: which one a point is on, and where it lies."""

from anzel.geometry.placement import Placement, Vector, add_scaled, dot
from anzel.structure.relations.records import BACK, BOTTOM, FRONT, LEFT, MIDDLES, RIGHT, TOP
from anzel.structure.relations.sides import PlateBody

_NEAR = 0.08
"""A point of a face so near to an edge means the edge: a share of the plate's smaller size."""
_LEAST = 2.5
"""It is at least this near, mm."""


def side_at(body: PlateBody, placement: Placement, at: Vector) -> str:
    """Return the name of the side of a plate that a point of its surface is on.

    Near the rim of a face the edge is meant, which is too thin to point at.
    """
    x, y = placement.to_plate(at)
    height = dot(add_scaled(at, placement.origin, -1.0), placement.normal)
    planes = {
        name: body.plane(name) for name in body.sides() if name not in (*MIDDLES, FRONT, BACK)
    }
    away = {
        name: abs(plane.height - plane.normal[0] * x - plane.normal[1] * y)
        for name, plane in planes.items()
    }
    nearest = min(away, key=away.__getitem__)
    left, low, right, high = body.region.bounds
    near = max(_LEAST, _NEAR * min(right - left, high - low))
    if away[nearest] < near or abs(height) < body.thickness / 2 - 1e-3:
        return nearest
    return FRONT if height > 0 else BACK


def side_lines(body: PlateBody, placement: Placement, side: str) -> tuple[Vector, ...]:
    """Return the corners of a side in space, in order: of a face its outline."""
    half = body.thickness / 2
    if side in (FRONT, BACK):
        level = half if side == FRONT else -half
        return tuple(placement.to_world(corner, level) for corner in body.region.outer.corners)
    left, low, right, high = body.region.bounds
    ends = {
        LEFT: ((left, low), (left, high)), RIGHT: ((right, low), (right, high)),
        BOTTOM: ((left, low), (right, low)), TOP: ((left, high), (right, high)),
    }.get(side)  # fmt: skip
    if ends is None:
        ends = body.ends_of(side)
    if ends is None:
        return ()
    start, end = ends
    return (
        placement.to_world(start, half), placement.to_world(end, half),
        placement.to_world(end, -half), placement.to_world(start, -half),
    )  # fmt: skip
