"""Drag a plate in space with the pointer: from pixels to millimetres in the world."""

from math import floor

from anzel.core.tolerances import COINCIDENT
from anzel.geometry.placement import UP, Vector, add_scaled, cross, dot, unit
from anzel.scene.camera import Camera

_LOW = 18.0
"""Looking from lower than this, degrees, the table is too edge-on to carry something over it."""
_STEP = 1.0
_FURTHEST = 4000.0
Pixel = tuple[float, float]


def dragged(
    camera: Camera,
    anchor: Vector,
    start: Pixel,
    to: Pixel,
    size: tuple[int, int],
    *,
    upright: bool = False,
) -> Vector:
    """Return how far something goes when the pointer drags it, in whole mm.

    The pointer drags it at `anchor` from one pixel to another. It moves level over the table; with
    `upright` straight up or down; seen from low down, in the plane square to the line of sight.
    """
    back = unit(add_scaled(camera.eye, camera.target, -1.0))
    lateral = unit(cross(UP, back))
    low = abs(camera.elevation) < _LOW
    normal = unit((back[0], back[1], 0.0)) if upright or low else UP
    ends = [_on_plane(camera, pixel, size, anchor, normal) for pixel in (start, to)]
    if ends[0] is None or ends[1] is None:
        return (0.0, 0.0, 0.0)
    moved = add_scaled(ends[1], ends[0], -1.0)
    if upright:
        return (0.0, 0.0, _whole(moved[2]))
    if low:
        along = dot(moved, lateral)
        return (_whole(along * lateral[0]), _whole(along * lateral[1]), _whole(moved[2]))
    return (_whole(moved[0]), _whole(moved[1]), 0.0)


def nudge(azimuth: float, right: float, away: float, up: float) -> Vector:
    """Return a step in the picture as a step along the nearest axis of the table."""
    quarter = floor((azimuth + 45) / 90) % 4
    for _ in range((quarter + 1) % 4):
        right, away = -away, right
    return (right, away, up)


def _on_plane(
    camera: Camera, pixel: Pixel, size: tuple[int, int], anchor: Vector, normal: Vector
) -> Vector | None:
    """Return where the ray through a pixel meets a plane; None where it does not, or far away."""
    eye, way = camera.ray(*pixel, *size)
    steep = dot(way, normal)
    if abs(steep) < COINCIDENT:
        return None
    distance = dot(add_scaled(anchor, eye, -1.0), normal) / steep
    return add_scaled(eye, way, distance) if 0 < distance < _FURTHEST else None


def _whole(length: float) -> float:
    return round(length / _STEP) * _STEP + 0.0
