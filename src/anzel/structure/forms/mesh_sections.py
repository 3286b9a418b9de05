"""Sections of a closed mesh by upright and level planes.

A mesh is kept as binary STL, triangles in single precision; corners in the same place are one.
manifold3d slices it. A section's edges are straight, as the mesh's are; corners that deviate less
than `MESH_STRAIGHT` from a straight line are left out.
"""

from collections.abc import Sequence
from functools import lru_cache
from math import cos, sin
from typing import TYPE_CHECKING, Literal

import numpy as np
import shapely

from anzel.core.asset import Asset
from anzel.core.tolerances import MESH_STRAIGHT
from anzel.geometry.regions import Contour, Region
from anzel.geometry.segments import Floats

if TYPE_CHECKING:
    from manifold3d import CrossSection, Manifold

Up = Literal["z", "y", "x"]
Section = tuple[Region, ...]

STL_HEADER = 84
STL_TRIANGLE = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("spare", "<u2")])
"""One triangle of a binary STL, 50 bytes, after the header [any description of the format]."""

_CRUMB = 0.5
"""A section smaller than this, mm², is where a plane only brushes the mesh."""

_AXES: dict[str, tuple[tuple[int, int], ...]] = {
    "z": ((0, 1), (1, 1), (2, 1)), "y": ((0, 1), (2, -1), (1, 1)), "x": ((1, 1), (2, 1), (0, 1)),
}  # fmt: skip
"""For east, north and up: which of the file's axes, and its sign."""


def proportions(mesh: Asset, up: Up) -> tuple[float, float, float]:
    """Return width, depth and height in the file's own measure."""
    corners = _corners(mesh, up)
    size = corners.max(axis=(0, 1)) - corners.min(axis=(0, 1))
    return float(size[0]), float(size[1]), float(size[2])


def uprights(mesh: Asset, up: Up, height: float, turn: float, ds: Sequence[float]) -> list[Section]:
    """Return the sections by planes whose normal is `turn` from east, each d off the axis.

    See `analytic_sections`.

    A family of planes together takes half as long as one by one.
    """
    solid = _turned(mesh, up, height, turn)
    return _regions([solid.slice(d) for d in ds])


def level(mesh: Asset, up: Up, height: float, z: float) -> Section:
    """Return the section at a height."""
    return _regions([_standing(mesh, up, height).slice(z)])[0]


def extent(mesh: Asset, up: Up, height: float, turn: float) -> tuple[float, float]:
    """Return how far the body reaches along a level direction, from and to."""
    box = _turned(mesh, up, height, turn).bounding_box()
    return box[2], box[5]


def solid(corners: Floats) -> "Manifold":
    """Return (n, 3, 3) triangles as a solid; its status says what is wrong with it."""
    from manifold3d import Manifold, Mesh  # only when a mesh is sliced

    points, index = np.unique(corners.reshape(-1, 3), axis=0, return_inverse=True)
    faces = index.reshape(-1, 3)
    flat = (
        (faces[:, 0] == faces[:, 1]) | (faces[:, 1] == faces[:, 2]) | (faces[:, 2] == faces[:, 0])
    )
    return Manifold(Mesh(points.astype(np.float32), faces[~flat].astype(np.uint32)))


def triangles(stl: bytes) -> Floats:
    """Return the corners in a binary STL.

    Returns
    -------
    (n, 3, 3) float
    """
    return np.frombuffer(stl, STL_TRIANGLE, offset=STL_HEADER)["corners"].astype(float)


def stl_of(corners: Floats) -> bytes:
    """Return a binary STL of (n, 3, 3) corners; viewers compute the normals from the winding."""
    records = np.zeros(len(corners), dtype=STL_TRIANGLE)
    records["corners"] = corners
    return bytes(STL_HEADER - 4) + len(corners).to_bytes(4, "little") + records.tobytes()


@lru_cache(maxsize=4)  # solids of a few megabytes: the present mesh and its takes
def _corners(mesh: Asset, up: Up) -> Floats:
    read = triangles(mesh.content)
    return np.stack([sign * read[..., axis] for axis, sign in _AXES[up]], axis=-1)


@lru_cache(maxsize=4)  # solids of a few megabytes: the present mesh and its takes
def _standing(mesh: Asset, up: Up, height: float) -> "Manifold":
    """Return the solid on the table, the middle of its box on the axis, scaled to the height."""
    corners = _corners(mesh, up)
    low, high = corners.min(axis=(0, 1)), corners.max(axis=(0, 1))
    foot = np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]])
    return solid((corners - foot) * (height / (high[2] - low[2])))


@lru_cache(maxsize=64)
def _turned(mesh: Asset, up: Up, height: float, turn: float) -> "Manifold":
    """Return the solid turned so that the planes' normal points up.

    X runs along them to the normal's left.
    """
    frame = [[-sin(turn), cos(turn), 0, 0], [0, 0, 1, 0], [cos(turn), sin(turn), 0, 0]]
    return _standing(mesh, up, height).transform(np.array(frame, dtype=float))


def _regions(sections: "Sequence[CrossSection]") -> list[Section]:
    """Return each section's regions; single rings are straightened all at once."""
    parts = [[p for p in each.decompose() if p.area() > _CRUMB] for each in sections]
    rings = [part.to_polygons() for each in parts for part in each]
    straight = iter(_straightened([own[0] for own in rings if len(own) == 1]))
    made = iter([next(straight) if len(own) == 1 else None for own in rings])
    return [tuple(_region(part, next(made)) for part in each) for each in parts]


def _straightened(rings: Sequence[Floats]) -> list[Floats | None]:
    """Return (n, 2) each, without corners nearer than `MESH_STRAIGHT` to a straight line.

    None for a ring that would then cross itself.
    """
    if not rings:
        return []
    number = np.repeat(np.arange(len(rings)), [len(ring) for ring in rings])
    closed = shapely.linearrings(np.concatenate(rings), indices=number)
    closed = shapely.simplify(closed, MESH_STRAIGHT, preserve_topology=False)
    sound = shapely.is_valid(shapely.polygons(closed))
    counts = np.cumsum(shapely.get_num_coordinates(closed))[:-1]
    corners = np.split(shapely.get_coordinates(closed), counts)
    return [each[:-1] if ok else None for each, ok in zip(corners, sound, strict=True)]


def _region(part: "CrossSection", ring: Floats | None) -> Region:
    """Return a part by its only ring; otherwise manifold3d decides what lies in what.

    Its outer rings run counter-clockwise and holes clockwise already.
    """
    if ring is not None:
        return Region(Contour.of_vertices(ring))
    rings = part.simplify(MESH_STRAIGHT).to_polygons()
    areas = [_area(each) for each in rings]
    outer = rings[areas.index(max(areas))]
    holes = [each for each, area in zip(rings, areas, strict=True) if area < -_CRUMB]
    return Region(Contour.of_vertices(outer), tuple(map(Contour.of_vertices, holes)))


def _area(ring: Floats) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2
