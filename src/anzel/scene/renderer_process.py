"""Pictures drawn beside the window: OpenGL holds Python's interpreter for as long as it draws."""

from collections import OrderedDict
from collections.abc import Mapping
from functools import cache
from itertools import count
from weakref import WeakKeyDictionary

from anzel.core.findings import MakerError
from anzel.geometry.placement import Vector
from anzel.helpers.process import Helper
from anzel.scene.camera import Camera
from anzel.scene.piece_meshes import Scene
from anzel.scene.render_request import RenderStyle
from anzel.scene.renderer import Renderer
from anzel.scene.section_plane import WHOLE, Plane

HELPER = Helper("pictures", "anzel.scene.renderer_process")
_KEPT = 6
"""Scenes that the helper remembers."""

_scenes: OrderedDict[int, Scene] = OrderedDict()
"""In the helper: the scenes that were sent."""
_numbers: "WeakKeyDictionary[Scene, int]" = WeakKeyDictionary()
_next_number = count(1)


class UnknownSceneError(MakerError):
    """The helper does not have the scene any more."""


@cache
def _renderer() -> Renderer:
    return Renderer()


def picture_there(number: int, scene: Scene | None, *request: object) -> bytes:
    """Draw a picture; this runs in the helper.

    Raises
    ------
    UnknownSceneError
        Where the scene has to be sent.
    """
    if scene is not None:
        _scenes[number] = scene
        while len(_scenes) > _KEPT:
            _scenes.popitem(last=False)
    if number not in _scenes:
        raise UnknownSceneError("The scene is not there.")
    _scenes.move_to_end(number)
    *how, plain = request
    return _renderer().picture(_scenes[number], *how, plain=plain)  # type: ignore[arg-type]


class RendererProcess:
    """Draws as `Renderer` does, in the helper process."""

    def picture(
        self, scene: Scene, offsets: Mapping[str, Vector], camera: Camera, style: RenderStyle,
        size: tuple[int, int], cut: Plane = WHOLE, *, plain: bool = False,
    ) -> bytes:  # fmt: skip
        """Return a picture; see `Renderer.picture`."""
        is_new = scene not in _numbers
        number = _numbers.setdefault(scene, next(_next_number))
        request = (dict(offsets), camera, style, size, cut, plain)
        if not is_new:
            try:
                return HELPER.call(picture_there, number, None, *request)
            except UnknownSceneError:
                pass
        return HELPER.call(picture_there, number, scene, *request)
