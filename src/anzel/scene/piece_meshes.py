"""Meshes of the standing pieces: triangles and edges of the produced pieces, in world mm."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from anzel.core.tolerances import SEAM_DEPTH
from anzel.geometry.placement import Placement, Vector
from anzel.geometry.prepared import prepared
from anzel.geometry.regions import Region
from anzel.structure.line_work import LineOperation, lines_within
from anzel.structure.model import FitContext, Piece, SolvedStructure
from anzel.structure.solids import flat_solid, produced_shape, standing_parts, triangles_of

Floats = NDArray[np.float32]
_LIFT = 0.02
"""Lines lie so far above their face, mm, that it does not hide them."""
_SHARP = 0.35
"""A fold sharper than this, radians, is drawn as an edge; gentler ones belong to a curve."""
_WORTH_IT = 0.7
"""Share of its corners that a plainer outline keeps at most."""


@dataclass(frozen=True, eq=False)
class PieceMesh:
    """One piece: (n, 3, 3) triangles, (n, 3) normals, (m, 2, 3) edges, all float32, world mm.

    No corner lies outside the hull of its (k, 3) `outermost` ones.
    """

    name: str
    stock_id: str
    triangles: Floats
    normals: Floats
    edges: Floats
    outermost: Floats


@dataclass(frozen=True, eq=False)
class Scene:
    """All pieces, and the diagonal of the bounding box of the whole, mm."""

    pieces: tuple[PieceMesh, ...]
    size: float

    def outermost(self, offsets: Mapping[str, Vector]) -> NDArray[np.float64]:
        """Return (n, 3) the corners of the hull of all pieces, each moved by its offset."""
        import manifold3d  # not when the window starts

        corners = np.concatenate([p.outermost + np.array(offsets[p.name]) for p in self.pieces])
        hull = manifold3d.Manifold.hull_points(corners).to_mesh().vert_properties
        return np.asarray(hull, dtype=np.float64)


def scene_of(solved: SolvedStructure, fit_context: FitContext) -> Scene:
    """Return the meshes of a solved structure."""
    pieces = tuple(_solid(piece, produced_shape(piece, fit_context)) for piece in solved.pieces)
    corners = np.concatenate([piece.triangles.reshape(-1, 3) for piece in pieces])
    return Scene(pieces, float(np.linalg.norm(np.ptp(corners, axis=0))))


def plainer(scene: Scene, solved: SolvedStructure, fit_context: FitContext, coarse: float) -> Scene:
    """Return coarser meshes of a scene, whose outlines may stray by `coarse`, mm.

    Pieces that would hardly have fewer corners stay as they are, and so does a scene of such.
    """
    pieces = list(scene.pieces)
    for number, piece in enumerate(solved.pieces):
        fine = produced_shape(piece, fit_context)
        shape = fine.simplify(coarse)
        if shapely.get_num_coordinates(shape) < _WORTH_IT * shapely.get_num_coordinates(fine):
            pieces[number] = _solid(piece, shape, fine)
    return scene if tuple(pieces) == scene.pieces else Scene(tuple(pieces), scene.size)


def _solid(
    piece: Piece, shape: shapely.Geometry, fine: shapely.Geometry | None = None
) -> PieceMesh:
    """Return the mesh of a piece's shape, which may be a plainer one of the `fine` shape.

    A corner is drawn sharp where it is sharp in the fine shape.
    """
    inside = prepared(shape.buffer(-SEAM_DEPTH)) if piece.bent else None
    sharp = None if fine is None else _sharp_corners(fine)
    corners, outlines, outermost = [], [], []
    for part, at in standing_parts(piece, shape):
        axes, origin = np.array([at.x_axis, at.y_axis, at.normal]), np.array(at.origin)
        corners.append(triangles_of(flat_solid(part, piece.thickness)) @ axes + origin)
        outlines.append(_outline_edges(part, piece.thickness, inside, sharp) @ axes + origin)
        hull = shapely.get_coordinates(shapely.convex_hull(part))
        for height in (-piece.thickness / 2, piece.thickness / 2):
            outermost.append(_at(hull, height) @ axes + origin)
    for region, at in _faces(piece):
        axes, origin = np.array([at.x_axis, at.y_axis, at.normal]), np.array(at.origin)
        outlines.append(_lines_on(piece, region) @ axes + origin)
    world = np.concatenate(corners)
    edge_one, edge_two = world[:, 1] - world[:, 0], world[:, 2] - world[:, 0]
    normals = np.cross(edge_one, edge_two)
    sizes = np.linalg.norm(normals, axis=1, keepdims=True)
    normals = normals / np.where(sizes > 0, sizes, 1)
    parts = (world, normals, np.concatenate(outlines), np.concatenate(outermost))
    return PieceMesh(piece.name, piece.stock_id, *(each.astype(np.float32) for each in parts))


def _faces(piece: Piece) -> list[tuple[Region | None, Placement]]:
    """Return the flat parts of a piece's face; None is all of it."""
    if not piece.bent:
        return [(None, piece.placement)]
    return [(facet.region, facet.placement) for facet in piece.bent]


def _lines_on(piece: Piece, region: Region | None) -> NDArray[np.float64]:
    """Return (m, 2, 3) what lies on a part of a piece: on its front, and cuts on its back, too."""
    half = piece.thickness / 2
    lines = piece.lines if region is None else lines_within(piece.lines, region)
    through = [line.path.stroke for line in lines if line.operation is LineOperation.CUT]
    faces = {
        is_back: [
            *(line.path.stroke for line in lines
              if line.is_back is is_back and line.operation is not LineOperation.CUT),
            *((*picture.corners, picture.corners[0]) for picture in piece.pictures
              if picture.is_back is is_back and region is None),
        ]
        for is_back in (False, True)
    }  # fmt: skip
    found = [
        np.stack([_at(points[:-1], height), _at(points[1:], height)], axis=1)
        for strokes, height in (
            ([*faces[False], *through], half + _LIFT),
            ([*faces[True], *through], -half - _LIFT),
        )
        for points in map(np.array, strokes)
    ]
    return np.concatenate(found) if found else np.zeros((0, 2, 3))


def _outline_edges(
    part: shapely.Geometry,
    thickness: float,
    inside: shapely.Geometry | None,
    sharp: NDArray[np.complex128] | None,
) -> NDArray[np.float64]:
    """Return (m, 2, 3) the outline on both faces, and an upright line at each sharp corner.

    There is none along seams, where a part of a bent piece continues `inside` the whole, and none
    at a corner that is not among the `sharp` ones, if they are told.
    """
    half, found = thickness / 2, []
    for polygon in shapely.get_parts(part):
        for ring in (polygon.exterior, *polygon.interiors):
            points = shapely.get_coordinates(ring)[:-1]
            after = np.roll(points, -1, axis=0)
            middle = (points + after) / 2
            seam = np.zeros(len(points), bool)
            if inside is not None:
                seam = shapely.contains_xy(inside, middle)
            for height in (-half, half):
                found.append(np.stack([_at(points, height), _at(after, height)], axis=1)[~seam])
            is_sharp = _is_sharp(points) & ~seam & ~np.roll(seam, 1)
            if sharp is not None:
                is_sharp &= np.isin(_as_complex(points), sharp)
            corners = points[is_sharp]
            found.append(np.stack([_at(corners, -half), _at(corners, half)], axis=1))
    return np.concatenate(found)


def _sharp_corners(shape: shapely.Geometry) -> NDArray[np.complex128]:
    """Return the sharp corners of all outlines of a shape, as complex numbers."""
    rings = shapely.get_rings(shapely.get_parts(shape))
    outlines = [shapely.get_coordinates(ring)[:-1] for ring in rings]
    return np.concatenate([_as_complex(points[_is_sharp(points)]) for points in outlines])


def _is_sharp(points: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Return at which of the corners of a closed outline it folds sharply."""
    step = np.roll(points, -1, axis=0) - points
    heading = np.arctan2(step[:, 1], step[:, 0])
    fold = np.abs((heading - np.roll(heading, 1) + np.pi) % (2 * np.pi) - np.pi)
    sharp: NDArray[np.bool_] = fold > _SHARP
    return sharp


def _as_complex(points: NDArray[np.float64]) -> NDArray[np.complex128]:
    return points[:, 0] + 1j * points[:, 1]


def _at(points: NDArray[np.float64], height: float) -> NDArray[np.float64]:
    return np.column_stack([points, np.full(len(points), height)])
