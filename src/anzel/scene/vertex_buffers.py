"""All pieces in a few large arrays.

So a picture needs a handful of draw calls, however many pieces there are.
"""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from anzel.geometry.placement import Vector
from anzel.scene.piece_meshes import Floats, PieceMesh, Scene
from anzel.scene.render_request import RenderStyle
from anzel.scene.shaders import SHADOW_SLANT

DUSK_FORMAT, DUSK_NAMES = "3f 3f 3f 3f 1f", ("at", "normal", "shift", "tint", "glow")
DAY_FORMAT, DAY_NAMES = "3f 3f 3f 3f 4x", ("at", "normal", "shift", "tint")
SHADOW_FORMAT, SHADOW_NAMES = "3f 12x 3f 16x", ("at", "shift")
LINE_FORMAT, LINE_NAMES = "3f 3f 3f", ("at", "shift", "tint")


@dataclass(frozen=True, eq=False)
class VertexBuffers:
    """(n, 13) corners of faces, the first `solid` of them opaque; (m, 9) ends of edges.

    The table's shadow is that of the corners numbered in `shadow`, three for each triangle.
    """

    faces: Floats
    solid: int
    shadow: NDArray[np.uint32]
    lines: Floats


_NEW = 0.42
"""Share of the accent in the tint of a piece that stands out as new."""


def vertex_buffers_of(
    scene: Scene, offsets: Mapping[str, Vector], style: RenderStyle
) -> VertexBuffers:
    """Return the shown pieces in their places and colours."""
    shown = [piece for piece in scene.pieces if piece.name not in style.hidden]
    shown.sort(key=lambda piece: piece.stock_id in style.lit_through)
    faces = [_faces(piece, offsets[piece.name], style) for piece in shown]
    solid = sum(
        len(rows)
        for piece, rows in zip(shown, faces, strict=True)
        if piece.stock_id not in style.lit_through
    )
    lines = [_lines(piece, offsets[piece.name], style) for piece in shown]
    corners = _joined(faces, 13)
    return VertexBuffers(corners, solid, _casting(corners), _joined(lines, 9))


def _casting(corners: Floats) -> NDArray[np.uint32]:
    """Return the numbers of the corners of triangles that face the light, each place once.

    A closed solid casts the shadow of that side, and a processor that draws asks for each corner.
    """
    towards_light = np.array([-SHADOW_SLANT[0], -SHADOW_SLANT[1], 1.0], dtype=np.float32)
    is_lit = corners[:, 3:6] @ towards_light > 0
    places = np.ascontiguousarray(corners[is_lit, :3] + corners[is_lit, 6:9])
    bare = places.view(np.dtype((np.void, places.itemsize * 3))).ravel()
    _, first, which = np.unique(bare, return_index=True, return_inverse=True)
    casting: NDArray[np.uint32] = np.flatnonzero(is_lit)[first][which].astype(np.uint32)
    return casting


def _faces(piece: PieceMesh, offset: Vector, style: RenderStyle) -> Floats:
    glow = float(piece.stock_id in style.lit_through)
    tint = np.array(style.tints[piece.stock_id])
    if piece.name in style.new:
        tint += _NEW * (np.array(style.accent) - tint)
    same = np.array([*offset, *tint, glow], dtype=np.float32)
    corners = piece.triangles.reshape(-1, 3)
    normals = np.repeat(piece.normals, 3, axis=0)
    return np.hstack([corners, normals, np.broadcast_to(same, (len(corners), 7))])


def _lines(piece: PieceMesh, offset: Vector, style: RenderStyle) -> Floats:
    ink = style.accent if piece.name in style.picked else style.edge
    same = np.array([*offset, *ink], dtype=np.float32)
    ends = piece.edges.reshape(-1, 3)
    return np.hstack([ends, np.broadcast_to(same, (len(ends), 6))])


def _joined(parts: list[Floats], columns: int) -> Floats:
    return np.concatenate(parts) if parts else np.zeros((0, columns), dtype=np.float32)
