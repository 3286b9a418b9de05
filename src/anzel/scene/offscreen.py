"""From a solved structure to a picture of it, in one call.

Meshing, exploding, fitting and drawing happen together. So a view can have them done on another
thread, and shows only what belongs together.
"""

import time
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from anzel.geometry.placement import Vector, add_scaled
from anzel.scene.camera import Camera
from anzel.scene.exploded_view import exploded_offsets
from anzel.scene.piece_meshes import Scene, plainer, scene_of
from anzel.scene.render_request import RenderRequest, RenderStyle
from anzel.scene.renderer import Renderer
from anzel.scene.section_plane import Plane, section_plane_facing
from anzel.structure.model import FitContext, SolvedStructure

Corners = NDArray[np.float64]
_COARSE = 0.001
"""In plainer pictures outlines stray by no more than this share of the whole's size."""
_ROOM = 1.6
"""A structure that is being built has room for so many times its own size."""
_FURTHEST = 0.55
"""Pieces wholly pulled apart stand this share of the structure's size from one another."""


class Draws(Protocol):
    """What draws a scene: a renderer here, or in a process of its own."""

    def picture(
        self, scene: Scene, offsets: Mapping[str, Vector], camera: Camera, style: RenderStyle,
        size: tuple[int, int], cut: Plane, *, plain: bool,
    ) -> bytes:  # fmt: skip
        """Return RGBA bytes; see `Renderer.picture`."""


@dataclass(frozen=True, eq=False)
class RenderedPicture:
    """RGBA bytes with rows from the top, with the request they answer and the camera.

    Drawing took so many `seconds`.
    """

    pixels: bytes
    request: RenderRequest
    scene: Scene
    offsets: dict[str, Vector]
    camera: Camera
    cut: Plane
    seconds: float = 0.0


class OffscreenRenderer:
    """Renders pictures and keeps the last mesh.

    It belongs to the thread that made it. Without another renderer it draws in this process.
    """

    def __init__(self, renderer: Draws | None = None) -> None:
        self._renderer = renderer or Renderer()
        self._meshed: tuple[SolvedStructure, FitContext, Scene, Scene | None] | None = None
        self._placed: tuple[Scene, object, dict[str, Vector], Corners] | None = None

    def render(self, request: RenderRequest) -> RenderedPicture:
        """Return the requested picture.

        Raises
        ------
        RendererError
            Where there is no OpenGL.
        """
        scene, plain = self._scenes(request)
        offsets, corners = self._apart(scene, request)
        if request.dragged is not None and request.dragged[0] in offsets:
            name, by = request.dragged
            offsets = {**offsets, name: add_scaled(offsets[name], by)}
        camera = self.fitted(request) if request.fit else request.camera
        cut = section_plane_facing(corners, camera, request.cut_open)
        begun = time.perf_counter()
        pixels = self._renderer.picture(
            plain if request.plain else scene, offsets, camera, request.style, request.size, cut,
            plain=request.plain,
        )  # fmt: skip
        seconds = time.perf_counter() - begun
        return RenderedPicture(pixels, request, scene, offsets, camera, cut, seconds)

    def fitted(self, request: RenderRequest) -> Camera:
        """Return the camera in the requested direction that has everything in view."""
        _, corners = self._apart(self._scenes(request)[0], request)
        return request.camera.fitted(corners, request.size[0] / request.size[1])

    def _apart(self, scene: Scene, request: RenderRequest) -> tuple[dict[str, Vector], Corners]:
        """Return the places of the pieces and their outermost corners.

        They are kept while only the camera moves.
        """
        key = (request.apart, request.proven, request.placed)
        if self._placed is None or self._placed[0] is not scene or self._placed[1] != key:
            offsets = exploded_offsets(
                request.solved, request.apart * _FURTHEST * scene.size, request.proven
            )
            corners = scene.outermost(offsets)
            if request.placed is not None:
                offsets = {**offsets, **dict(request.placed)}
                corners = _with_room(corners)
            self._placed = (scene, key, offsets, corners)
        return self._placed[2:]

    def _scenes(self, request: RenderRequest) -> tuple[Scene, Scene]:
        """Return the scene, and a coarser one of the same pieces if that is asked for."""
        kept = self._meshed
        if kept is None or kept[0] is not request.solved or kept[1] != request.fit_context:
            scene = scene_of(request.solved, request.fit_context)
            kept = (request.solved, request.fit_context, scene, None)
        scene, plain = kept[2:]
        if plain is None and request.plain:
            plain = plainer(scene, request.solved, request.fit_context, _COARSE * scene.size)
        self._meshed = (request.solved, request.fit_context, scene, plain)
        return scene, plain or scene


def _with_room(corners: Corners) -> Corners:
    """Return corners with room for what comes in from all sides."""
    middle = (corners.min(axis=0) + corners.max(axis=0)) / 2
    roomy: Corners = middle + (corners - middle) * _ROOM
    return roomy
