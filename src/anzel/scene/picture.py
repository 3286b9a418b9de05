"""From a build to a picture of it: everything a standing view asks for, in one call.

Meshing, pulling apart, fitting and drawing happen together, so that a view can have them done
on another thread and only ever shows what belongs together.
"""

from dataclasses import dataclass

from anzel.geometry.placement import Vector
from anzel.scene.apart import offsets_apart
from anzel.scene.camera import Camera
from anzel.scene.cutting import Plane, facing
from anzel.scene.look import Wanted
from anzel.scene.renderer import Renderer
from anzel.scene.solids import Scene, scene_of
from anzel.structure.plates import Build, Sheets

_FURTHEST = 0.55
"""Pieces wholly pulled apart stand this share of the structure's size from one another."""


@dataclass(frozen=True, eq=False)
class Picture:
    """RGBA bytes with rows from the top, and what they show from where."""

    pixels: bytes
    wanted: Wanted
    scene: Scene
    offsets: dict[str, Vector]
    camera: Camera
    cut: Plane


class Studio:
    """Makes pictures; keeps the last mesh. Belongs to the thread that made it."""

    def __init__(self) -> None:
        self._renderer = Renderer()
        self._meshed: tuple[Build, Sheets, Scene] | None = None

    def take(self, wanted: Wanted) -> Picture:
        """The picture wanted. Raises RendererError where there is no OpenGL."""
        scene = self._scene(wanted)
        offsets = offsets_apart(wanted.build, wanted.apart * _FURTHEST * scene.size)
        camera = wanted.camera
        if wanted.fit:
            camera = camera.fitted(scene.corners(offsets), wanted.size[0] / wanted.size[1])
        cut = facing(scene.corners(offsets), camera, wanted.cut_open)
        pixels = self._renderer.picture(scene, offsets, camera, wanted.look, wanted.size, cut)
        return Picture(pixels, wanted, scene, offsets, camera, cut)

    def _scene(self, wanted: Wanted) -> Scene:
        if self._meshed is not None:
            build, sheets, scene = self._meshed
            if build is wanted.build and sheets == wanted.sheets:
                return scene
        scene = scene_of(wanted.build, wanted.sheets)
        self._meshed = (wanted.build, wanted.sheets, scene)
        return scene
