"""Hidden lines removed exactly: what each face hides of each other one, as areas of the sheet.

All faces are plane and the projection is parallel, so of two faces one is nearer on one side of a
straight line of the sheet: what B hides of A is B's area on the side where B is nearer [derived].
Visible lines and areas are what no face hides; nothing is rasterised.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from anzel.assembly.bodies import RigidBody
from anzel.geometry.placement import Vector
from anzel.geometry.segments import Floats
from anzel.illustration.eye import Eye
from anzel.illustration.faces import PlaneFace, faces_of, simplified

_NEARER = 2e-3
"""A face hides another where it is nearer by more than this, mm: plates that touch hide nothing."""
_SHORTEST = 1e-3
Said = Callable[[], None]


@dataclass(frozen=True, eq=False)
class VisibleFace:
    """What is seen of a face: its area and its lines on the sheet, mm."""

    owner: int
    is_wall: bool
    area: shapely.Geometry
    lines: shapely.Geometry


def visible_faces(
    bodies: Sequence[RigidBody], eye: Eye, offsets: Sequence[Vector], tolerance: float = 0.05,
    said: Said = lambda: None,
) -> list[VisibleFace]:  # fmt: skip
    """Return what is seen of bodies, each moved by its offset, mm.

    Outlines lose corners that would move a line by less than the tolerance, mm. `said` is called
    now and then, and may raise to end the work.
    """
    faces = [
        face
        for number, (body, moved) in enumerate(zip(bodies, offsets, strict=True))
        for flat in simplified(body.flats, tolerance)
        for face in faces_of(flat, number, eye, np.asarray(moved))
    ]
    if not faces:
        return []
    seen, hidden = [], _hidden_areas(faces, said)
    for at, face in enumerate(faces):
        if at % 64 == 0:
            said()
        seen.append(_visible(face, hidden.get(at, ())))
    return [each for each in seen if not each.area.is_empty or not each.lines.is_empty]


def _hidden_areas(faces: Sequence[PlaneFace], said: Said) -> dict[int, list[shapely.Geometry]]:
    """Return for each face, by number, the areas in which others are nearer."""
    areas = np.array([face.area for face in faces])
    far, near = shapely.STRtree(areas).query(areas)
    far, near = far[far != near], near[far != near]
    bounds, depths = shapely.bounds(areas), np.array([face.depth for face in faces])
    low = np.maximum(bounds[far, :2], bounds[near, :2])
    high = np.minimum(bounds[far, 2:], bounds[near, 2:])
    corners = np.stack(
        [low, np.stack([high[:, 0], low[:, 1]], axis=1), high,
         np.stack([low[:, 0], high[:, 1]], axis=1)], axis=1,
    )  # fmt: skip
    plane = depths[near] - depths[far]
    ahead = plane[:, :1] + np.einsum("nij,nj->ni", corners, plane[:, 1:]) - _NEARER
    hidden: dict[int, list[shapely.Geometry]] = {}
    for at in np.flatnonzero((ahead > 0).any(axis=1)).tolist():
        if at % 512 == 0:
            said()
        area = areas[near[at]]
        if (ahead[at] <= 0).any():
            area = shapely.intersection(area, shapely.Polygon(_clipped(corners[at], ahead[at])))
        if not area.is_empty:
            hidden.setdefault(int(far[at]), []).append(area)
    return hidden


def _visible(face: PlaneFace, hidden: Sequence[shapely.Geometry]) -> VisibleFace:
    if not hidden:
        return VisibleFace(face.owner, face.is_wall, face.area, face.lines)
    over = shapely.union_all(hidden)
    lines = _lines_of(shapely.difference(face.lines, over))
    return VisibleFace(face.owner, face.is_wall, shapely.difference(face.area, over), lines)


def _lines_of(shape: shapely.Geometry) -> shapely.Geometry:
    parts = [part for part in shapely.get_parts(shape) if part.length > _SHORTEST]
    return shapely.multilinestrings(parts) if parts else shapely.MultiLineString()


def _clipped(corners: Floats, ahead: Floats) -> list[tuple[float, float]]:
    """Return the corners of a rectangle's part in which a linear function is above nought."""
    kept: list[tuple[float, float]] = []
    for at in range(len(corners)):
        after = (at + 1) % len(corners)
        one, other = ahead[at], ahead[after]
        if one > 0:
            kept.append((float(corners[at][0]), float(corners[at][1])))
        if (one > 0) != (other > 0):
            x, y = corners[at] + (corners[after] - corners[at]) * one / (one - other)
            kept.append((float(x), float(y)))
    return kept
