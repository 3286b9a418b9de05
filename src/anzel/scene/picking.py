"""Which piece is under the pointer."""

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from anzel.geometry.placement import Vector

if TYPE_CHECKING:
    from anzel.scene.solids import Scene, SolidPiece

Floats = NDArray[np.float64]


def piece_under(
    scene: "Scene", offsets: Mapping[str, Vector], eye: Vector, direction: Vector
) -> str | None:
    """The name of the nearest piece a ray from the eye meets, or None."""
    distances = {
        piece.name: _distance(piece, np.subtract(eye, offsets[piece.name]), np.array(direction))
        for piece in scene.pieces
    }
    nearest = min(distances, key=distances.__getitem__)
    return nearest if distances[nearest] < np.inf else None


def _distance(piece: "SolidPiece", eye: Floats, direction: Floats) -> float:
    """How far along a ray a piece is met (Möller and Trumbore, 1997); infinite if missed."""
    a = piece.triangles[:, 0].astype(float)
    side_one, side_two = piece.triangles[:, 1] - a, piece.triangles[:, 2] - a
    across = np.cross(direction, side_two)
    scale = np.einsum("ij,ij->i", side_one, across)
    safe = np.where(np.abs(scale) > 1e-12, scale, np.inf)
    u = eye - a
    first = np.einsum("ij,ij->i", u, across) / safe
    turned = np.cross(u, side_one)
    second = turned @ direction / safe
    reach = np.einsum("ij,ij->i", turned, side_two) / safe
    met = (first >= 0) & (second >= 0) & (first + second <= 1) & (reach > 0) & np.isfinite(safe)
    return float(reach[met].min()) if met.any() else float("inf")
