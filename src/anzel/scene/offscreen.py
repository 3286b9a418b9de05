"""From a solved structure to a picture of it, in one call.

Meshing, exploding, fitting and drawing happen together. So a view can have them done on another
thread, and shows only what belongs together.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from anzel.geometry.placement import Vector, add_scaled
from anzel.scene.camera import Camera
from anzel.scene.exploded_view import exploded_offsets
from anzel.scene.piece_meshes import Scene, scene_of
from anzel.scene.render_request import MANY_PIECES, RenderRequest
from anzel.scene.renderer import Renderer
from anzel.scene.section_plane import Plane, section_plane_facing
from anzel.structure.model import FitContext, SolvedStructure

Corners = NDArray[np.float64]
_COARSE = 0.001
"""In plainer pictures outlines stray by no more than this share of the whole's size."""
_FURTHEST = 0.55
"""Pieces wholly pulled apart stand this share of the structure's size from one another."""


@dataclass(frozen=True, eq=False)
class RenderedPicture:
    """RGBA bytes with rows from the top, with the request they answer and the camera."""

    pixels: bytes
    request: RenderRequest
    scene: Scene
    offsets: dict[str, Vector]
    camera: Camera
    cut: Plane


class OffscreenRenderer:
    """Renders pictures and keeps the last mesh.

    It belongs to the thread that made it.
    """

    def __init__(self) -> None:
        self._renderer = Renderer()
        self._meshed: tuple[SolvedStructure, FitContext, Scene, Scene] | None = None
        self._placed: tuple[Scene, float, dict[str, Vector], Corners] | None = None

    def render(self, wanted: RenderRequest) -> RenderedPicture:
        """Return the requested picture.

        Raises
        ------
        RendererError
            Where there is no OpenGL.
        """
        scene, plain = self._scenes(wanted)
        offsets, corners = self._apart(plain, wanted)
        if wanted.dragged is not None and wanted.dragged[0] in offsets:
            name, by = wanted.dragged
            offsets = {**offsets, name: add_scaled(offsets[name], by)}
        camera = self.fitted(wanted) if wanted.fit else wanted.camera
        cut = section_plane_facing(corners, camera, wanted.cut_open)
        pixels = self._renderer.picture(
            plain if wanted.plain else scene, offsets, camera, wanted.style, wanted.size, cut,
            plain=wanted.plain,
        )  # fmt: skip
        return RenderedPicture(pixels, wanted, scene, offsets, camera, cut)

    def fitted(self, wanted: RenderRequest) -> Camera:
        """Return the camera in the requested direction that has everything in view."""
        _, corners = self._apart(self._scenes(wanted)[1], wanted)
        return wanted.camera.fitted(corners, wanted.size[0] / wanted.size[1])

    def _apart(self, scene: Scene, wanted: RenderRequest) -> tuple[dict[str, Vector], Corners]:
        """Return the places of the pieces and their corners, kept while only the camera moves."""
        if self._placed is None or self._placed[:2] != (scene, wanted.apart):
            offsets = exploded_offsets(wanted.solved, wanted.apart * _FURTHEST * scene.size)
            self._placed = (scene, wanted.apart, offsets, scene.corners(offsets))
        return self._placed[2:]

    def _scenes(self, wanted: RenderRequest) -> tuple[Scene, Scene]:
        """Return the scene, and a coarser one of the same pieces if there are many."""
        if self._meshed is not None:
            build, sheets, scene, plain = self._meshed
            if build is wanted.solved and sheets == wanted.fit_context:
                return scene, plain
        scene = plain = scene_of(wanted.solved, wanted.fit_context)
        if len(scene.pieces) > MANY_PIECES:
            plain = scene_of(wanted.solved, wanted.fit_context, _COARSE * scene.size)
        self._meshed = (wanted.solved, wanted.fit_context, scene, plain)
        return scene, plain
