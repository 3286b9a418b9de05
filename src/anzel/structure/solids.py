"""Solids of pieces: what is left of each after cutting, as a shape and as a solid in its place.

The produced shape of a piece that is cut on the line recedes half the kerf at every edge; corners
stay sharp, as in the arithmetic of `materials.fits`. Where the cutter compensates for the kerf, the
produced shape is the drawn one. manifold3d computes the solids.
"""

from collections.abc import Callable, Iterator, Sequence
from typing import TYPE_CHECKING

import numpy as np
import shapely

from anzel.core.tolerances import COINCIDENT, FLATTEN
from anzel.geometry.placement import Placement
from anzel.geometry.segments import Floats
from anzel.materials.fits import KerfAt
from anzel.structure.model import FitContext, Piece

if TYPE_CHECKING:
    import manifold3d


def produced_shape(piece: Piece, fit_context: FitContext) -> shapely.Geometry:
    """Return what is left of a piece after cutting, as chords in the piece's coordinates."""
    recede = fit_context.of(piece.stock_id).kerf / 2
    if fit_context.kerf_at is not KerfAt.DRAWING or recede < COINCIDENT:
        return piece.region.shape
    return piece.region.shape.buffer(-recede, join_style="mitre", mitre_limit=10.0)


def flat_solid(shape: shapely.Geometry, thickness: float) -> "manifold3d.Manifold":
    """Return a flat shape extruded by half the thickness to either side of z = 0."""
    import manifold3d  # only when solids are made, not when the window starts

    rings = [
        ring
        for polygon in shapely.get_parts(shape)
        for ring in (polygon.exterior, *polygon.interiors)
    ]
    contours = [np.asarray(ring.coords)[:-1] for ring in rings]
    section = manifold3d.CrossSection(contours, manifold3d.FillRule.EvenOdd)
    return manifold3d.Manifold.extrude(section, thickness).translate((0, 0, -thickness / 2))


def standing_parts(
    piece: Piece, shape: shapely.Geometry
) -> tuple[tuple[shapely.Geometry, Placement], ...]:
    """Return the shape of a piece in its place; a bent piece facet by facet."""
    if not piece.bent:
        return ((shape, piece.placement),)
    parts = ((shape.intersection(facet.region.shape), facet.placement) for facet in piece.bent)
    return tuple((part, at) for part, at in parts if part.area > COINCIDENT)


def placed_solid(solid: "manifold3d.Manifold", at: Placement) -> "manifold3d.Manifold":
    """Return a solid of a plate's own coordinates in its place."""
    return solid.transform(np.column_stack([at.x_axis, at.y_axis, at.normal, at.origin]))


def united(parts: "Sequence[manifold3d.Manifold]") -> "manifold3d.Manifold":
    """Return one solid of several."""
    import manifold3d

    if len(parts) == 1:
        return parts[0]
    return manifold3d.Manifold.batch_boolean(list(parts), manifold3d.OpType.Add)


def produced_solid(piece: Piece, fit_context: FitContext) -> "manifold3d.Manifold":
    """Return the solid of a produced piece in its place."""
    standing = standing_parts(piece, produced_shape(piece, fit_context))
    return united([placed_solid(flat_solid(shape, piece.thickness), at) for shape, at in standing])


def overlapping(
    solids: "Sequence[manifold3d.Manifold]", least: float,
    said: Callable[[str], None] = lambda text: None,
) -> Iterator[tuple[int, int, float]]:  # fmt: skip
    """Yield the numbers of solids that overlap by more than `least` mm³, and by how much.

    Where curved faces touch, the chords that stand for them overlap in slivers; what is as thin as
    chords are off is a touch. A sliver's thickness is twice its volume by its surface [derived].

    `said` is called with the progress and may raise to end it.
    """
    boxes = np.array([solid.bounding_box() for solid in solids]).reshape(-1, 2, 3)
    for one, (low, high) in enumerate(boxes):
        said(f"proving {one + 1} of {len(solids)} …")
        later = boxes[one + 1 :]
        near = (later[:, 0] <= high).all(axis=1) & (later[:, 1] >= low).all(axis=1)
        for other in (np.flatnonzero(near) + one + 1).tolist():
            shared = solids[one] ^ solids[other]
            volume = float(shared.volume())
            if volume > least and 2 * volume > FLATTEN * float(shared.surface_area()):
                yield one, other, volume


def triangles_of(solid: "manifold3d.Manifold") -> Floats:
    """Return the corners of a solid's triangles.

    Returns
    -------
    (n, 3, 3) float
    """
    mesh = solid.to_mesh64()
    corners = np.asarray(mesh.vert_properties)[:, :3]
    return np.asarray(corners[np.asarray(mesh.tri_verts)])
