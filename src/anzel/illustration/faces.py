"""The faces of flats that an eye sees: polygons on the sheet, each with its depth.

A flat has one large face towards the eye, and a wall along every edge whose outside is towards it.
Of these, edges between two chords of a curve are not drawn.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import cos, radians

import numpy as np
import shapely

from anzel.assembly.bodies import Flat
from anzel.geometry.segments import Floats
from anzel.illustration.eye import Eye

_EDGE_ON = 1e-6
"""A face whose normal has less than this towards the eye is seen as a line."""
_CREASE = cos(radians(20.0))
"""Neighbouring walls that turn by less are chords of one curve."""


@dataclass(frozen=True, eq=False)
class PlaneFace:
    """A plane face on the sheet: its area, its drawn lines, and its depth c + ax + by, mm.

    The greater depth is nearer to the eye. `owner` is the number of its body.
    """

    area: shapely.Geometry
    lines: shapely.Geometry
    depth: tuple[float, float, float]
    owner: int
    is_wall: bool


def faces_of(flat: Flat, owner: int, eye: Eye, moved: Floats) -> Iterator[PlaneFace]:
    """Yield the faces of a flat that is moved by a vector, mm."""
    at = flat.placement
    axes = np.array([at.x_axis, at.y_axis, at.normal])
    origin = np.asarray(at.origin) + moved
    towards = float(axes[2] @ eye.axes[2])
    half = flat.thickness / 2
    front = half if towards > 0 else -half
    has_front = abs(towards) > _EDGE_ON
    for polygon in shapely.get_parts(flat.shape):
        turned = shapely.geometry.polygon.orient(polygon)
        rings = [np.asarray(ring.coords)[:-1] for ring in (turned.exterior, *turned.interiors)]
        if has_front:
            seen = [_seen(ring, front, origin, axes, eye) for ring in rings]
            area = shapely.Polygon(seen[0][:, :2], [ring[:, :2] for ring in seen[1:]])
            yield PlaneFace(area, area.boundary, _depth(axes[2], seen[0][0], eye), owner, False)
        for ring in rings:
            yield from _walls(ring, front, has_front, (origin, axes), owner, eye)


def _walls(
    ring: Floats, front: float, has_front: bool, frame: tuple[Floats, Floats], owner: int, eye: Eye
) -> Iterator[PlaneFace]:
    origin, axes = frame
    ends = np.roll(ring, -1, axis=0)
    steps = ends - ring
    lengths = np.hypot(*steps.T)
    out = np.stack([steps[:, 1], -steps[:, 0]], axis=1) / lengths[:, None]
    normals = out @ axes[:2]
    towards = normals @ eye.axes[2]
    near = _seen(ring, front, origin, axes, eye)
    far = _seen(ring, -front, origin, axes, eye)
    turns = (out * np.roll(out, 1, axis=0)).sum(axis=1)  # at the start of each edge
    for at in np.flatnonzero(towards > _EDGE_ON).tolist():
        after, before = (at + 1) % len(ring), at - 1
        corners = [near[at], near[after], far[after], far[at]]
        area = shapely.Polygon([corner[:2] for corner in corners])
        drawn = [(far[at][:2], far[after][:2])]
        if not has_front:
            drawn.append((near[at][:2], near[after][:2]))
        if turns[at] < _CREASE or towards[before] <= _EDGE_ON:
            drawn.append((near[at][:2], far[at][:2]))
        if turns[after] < _CREASE or towards[after] <= _EDGE_ON:
            drawn.append((near[after][:2], far[after][:2]))
        lines = shapely.multilinestrings([shapely.LineString(line) for line in drawn])
        if area.area > _EDGE_ON:
            yield PlaneFace(area, lines, _depth(normals[at], near[at], eye), owner, True)


def _seen(ring: Floats, height: float, origin: Floats, axes: Floats, eye: Eye) -> Floats:
    """Return (n, 3) the corners of a ring on the sheet, with their depths."""
    world = origin + ring @ axes[:2] + height * axes[2]
    seen: Floats = world @ eye.axes.T
    return seen


def _depth(normal: Floats, corner: Floats, eye: Eye) -> tuple[float, float, float]:
    """Return the depth of a plane by its place on the sheet: normal · (p - corner) = 0."""
    x, y, z = eye.axes @ normal
    a, b = -x / z, -y / z
    return float(corner[2] - a * corner[0] - b * corner[1]), float(a), float(b)


def simplified(flats: Sequence[Flat], tolerance: float) -> list[Flat]:
    """Return flats with no more corners than a picture can show, mm."""
    return [Flat(flat.shape.simplify(tolerance), flat.thickness, flat.placement) for flat in flats]
