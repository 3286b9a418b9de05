"""The shadow map of a lamp: six square views from it in one atlas of distances."""

import moderngl
import numpy as np
from numpy.typing import NDArray

from anzel.geometry.placement import Vector
from anzel.scene.shaders import DISTANCE, FROM_LAMP
from anzel.scene.vertex_buffers import SHADOW_FORMAT, SHADOW_NAMES

_TILE = 640
_NEAR, _FAR = 1.0, 20_000.0
_SIDES = (
    ((1, 0, 0), (0, 0, 1)), ((-1, 0, 0), (0, 0, 1)), ((0, 1, 0), (0, 0, 1)),
    ((0, -1, 0), (0, 0, 1)), ((0, 0, 1), (0, 1, 0)), ((0, 0, -1), (0, 1, 0)),
)  # fmt: skip
"""Where each view looks, and which way is up in it."""


class ShadowMap:
    """Keeps the atlas.

    It belongs to the thread of its context.
    """

    def __init__(self, context: moderngl.Context) -> None:
        self._context = context
        self._program = context.program(vertex_shader=FROM_LAMP, fragment_shader=DISTANCE)
        size = (3 * _TILE, 2 * _TILE)
        self.atlas = context.texture(size, 1, dtype="f4")
        self.atlas.filter = (moderngl.NEAREST, moderngl.NEAREST)
        depth = context.depth_renderbuffer(size)
        self._target = context.framebuffer([self.atlas], depth)

    def render(self, faces: moderngl.Buffer, corners: int, lamp: Vector) -> None:
        """Render the distances from the lamp to the first `corners` of the faces."""
        layout = [(faces, SHADOW_FORMAT, *SHADOW_NAMES)]
        array = self._context.vertex_array(self._program, layout)
        self._target.use()
        self._target.clear(_FAR, 0.0, 0.0, 1.0)
        uniform(self._program, "lamp").value = lamp
        for number, side in enumerate(side_views(lamp)):
            tile = (number % 3 * _TILE, number // 3 * _TILE, _TILE, _TILE)
            self._target.viewport = tile
            uniform(self._program, "side").write(side.T.astype("f4").tobytes())
            array.render(vertices=corners)
        array.release()


def side_views(lamp: Vector) -> list[NDArray[np.float64]]:
    """Return the (4, 4) matrices of the six views, a right angle wide each."""
    clip = np.zeros((4, 4))
    clip[0, 0] = clip[1, 1] = 1.0
    clip[2, 2] = (_FAR + _NEAR) / (_NEAR - _FAR)
    clip[2, 3] = 2 * _FAR * _NEAR / (_NEAR - _FAR)
    clip[3, 2] = -1.0
    made = []
    for ahead, up in _SIDES:
        back = -np.array(ahead, dtype=float)
        right = np.cross(up, back)
        view = np.eye(4)
        view[:3, :3] = np.array([right, up, back])
        view[:3, 3] = -view[:3, :3] @ np.array(lamp)
        made.append(clip @ view)
    return made


def uniform(program: moderngl.Program, name: str) -> moderngl.Uniform:
    """Return a uniform of a program by its name."""
    found = program[name]
    assert isinstance(found, moderngl.Uniform)
    return found
