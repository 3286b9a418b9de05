"""Picking: the piece under the pointer."""

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from anzel.geometry.placement import Vector
from anzel.geometry.ray_casting import hit_distances

if TYPE_CHECKING:
    from anzel.scene.piece_meshes import Scene


def piece_under(
    scene: "Scene",
    offsets: Mapping[str, Vector],
    eye: Vector,
    direction: Vector,
    hidden: frozenset[str] = frozenset(),
) -> str | None:
    """Return the name of the nearest shown piece that a ray from the eye meets.

    None if it meets none.
    """
    ray = np.array([direction])
    distances = {
        piece.name: float(
            hit_distances(
                piece.triangles.astype(float) - np.subtract(eye, offsets[piece.name]), ray
            )[0]
        )
        for piece in scene.pieces
        if piece.name not in hidden
    }
    nearest = min(distances, key=distances.__getitem__, default=None)
    return nearest if nearest is not None and distances[nearest] < np.inf else None
