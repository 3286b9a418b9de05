"""Picking: the piece under the pointer."""

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from anzel.geometry.placement import Vector, add_scaled
from anzel.geometry.ray_casting import hit_distances

if TYPE_CHECKING:
    from anzel.scene.piece_meshes import Scene


def piece_under(
    scene: "Scene", offsets: Mapping[str, Vector], eye: Vector, direction: Vector,
    hidden: frozenset[str] = frozenset(),
) -> str | None:  # fmt: skip
    """Return the name of the nearest shown piece that a ray from the eye meets.

    None if it meets none.
    """
    return point_under(scene, offsets, eye, direction, hidden)[0] or None


def point_under(
    scene: "Scene", offsets: Mapping[str, Vector], eye: Vector, direction: Vector,
    hidden: frozenset[str] = frozenset(),
) -> tuple[str, Vector]:  # fmt: skip
    """Return the nearest shown piece that a ray from the eye meets, and the point where it does.

    ("", the eye) if it meets none. The point is where the piece stands together with the others.
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
    if nearest is None or not distances[nearest] < np.inf:
        return "", eye
    at = add_scaled(eye, direction, distances[nearest])
    return nearest, add_scaled(at, offsets[nearest], -1.0)
