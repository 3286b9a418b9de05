"""The renderer of the standing structure: pictures off screen by OpenGL 3.3.

No window is needed: the interface, the command line and the tests all get pixels. Without OpenGL
the renderer raises RendererError and everything else continues.
"""

from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import moderngl
import numpy as np

from anzel.core.findings import MakerError
from anzel.geometry.placement import Vector
from anzel.scene import shaders
from anzel.scene.camera import Camera
from anzel.scene.piece_meshes import Scene
from anzel.scene.render_request import RenderStyle
from anzel.scene.section_plane import WHOLE, Plane
from anzel.scene.shadow_map import ShadowMap, side_views, uniform
from anzel.scene.vertex_buffers import (
    DAY_FORMAT,
    DAY_NAMES,
    DUSK_FORMAT,
    DUSK_NAMES,
    LINE_FORMAT,
    LINE_NAMES,
    SHADOW_FORMAT,
    SHADOW_NAMES,
    vertex_buffers_of,
)

_CLIP_DISTANCE_0 = 0x3000
_SAMPLES = 4
_KEPT = 6
"""Scenes that stay uploaded: the structure's, fine and coarse, and those of a few takes."""
_TABLE_BELOW = -0.3
_DUSK = 0.22
"""How bright the surroundings are with the lamp on."""
_TABLE_CORNERS = np.array([-1, -1, 1, -1, -1, 1, 1, 1], dtype="f4")

Offsets = Mapping[str, Vector]


class RendererError(MakerError):
    """There is no OpenGL to draw with."""


@dataclass(frozen=True, eq=False)
class _Uploaded:
    """A scene as uploaded to the context."""

    offsets: Offsets
    style: RenderStyle
    solid: int
    buffers: tuple[moderngl.Buffer, ...]
    day: moderngl.VertexArray
    dusk: moderngl.VertexArray
    shadow: moderngl.VertexArray
    lines: moderngl.VertexArray

    def release(self) -> None:
        """Give its memory back."""
        for array in (self.day, self.dusk, self.shadow, self.lines):
            array.release()
        for buffer in self.buffers:
            buffer.release()


class Renderer:
    """Keeps an OpenGL context and the uploaded scene between pictures.

    It is not thread-safe.
    """

    def __init__(self) -> None:
        self.context = _context()
        program = self.context.program
        self.day = program(vertex_shader=shaders.DAY, fragment_shader=shaders.PLAIN)
        self.shadow = program(vertex_shader=shaders.SHADOW, fragment_shader=shaders.PLAIN)
        self.dusk = program(vertex_shader=shaders.DUSK, fragment_shader=shaders.LAMPLIT)
        self.lines = program(vertex_shader=shaders.LINES, fragment_shader=shaders.INK)
        self._kept_scenes: OrderedDict[Scene, _Uploaded] = OrderedDict()
        self._lamplight: ShadowMap | None = None
        self._lit: tuple[_Uploaded, Vector] | None = None
        self._kept: dict[int, tuple[moderngl.Framebuffer, moderngl.Framebuffer]] = {}

    def picture(
        self,
        scene: Scene,
        offsets: Offsets,
        camera: Camera,
        style: RenderStyle,
        size: tuple[int, int],
        cut: Plane = WHOLE,
        *,
        plain: bool = False,
    ) -> bytes:
        """Return RGBA bytes, rows from the top, of a picture `size` (width, height) pixels large.

        What lies behind the section plane `cut` is cut away. A `plain` picture is quicker and
        coarser.
        """
        shown = self._upload(scene, offsets, style)
        if style.lamp is not None:
            self._light(shown, style.lamp)
        target, resolved = self._targets(size, 0 if plain else _SAMPLES)
        target.use()
        self.context.enable(moderngl.DEPTH_TEST)
        dusk = _DUSK if style.lamp else 1.0
        red, green, blue = (channel * dusk for channel in style.ground)
        target.clear(red, green, blue, 1.0)
        view = camera.matrix(size[0] / size[1]).T.astype("f4").tobytes()
        for program in (self.day, self.shadow, self.dusk, self.lines):
            uniform(program, "view").write(view)
            uniform(program, "cut").value = cut
        uniform(self.lines, "dark").value = (red, green, blue)
        uniform(self.lines, "strength").value = 0.25 if style.lamp else 1.0
        self._cull(cut)
        if style.lamp is not None:
            self._aim(self.dusk, style.lamp, scene.size)
            self._draw_table(view, style, style.lamp, scene.size, (red, green, blue))
            shown.dusk.render(moderngl.TRIANGLES)
        else:
            if camera.elevation >= 0:  # from below the shadow would hide the underside
                uniform(self.shadow, "dark").value = style.shadow
                shown.shadow.render(moderngl.TRIANGLES)
            shown.day.render(moderngl.TRIANGLES)
        shown.lines.render(moderngl.LINES)
        self.context.copy_framebuffer(resolved, target)
        pixels = np.frombuffer(resolved.read(components=4), dtype=np.uint8)
        return pixels.reshape(size[1], size[0], 4)[::-1].tobytes()

    def release(self) -> None:
        """Release the context and all it holds."""
        self.context.release()

    def _cull(self, cut: Plane) -> None:
        """Leave out what cannot be seen: of whole solids their backs."""
        is_whole = cut == WHOLE
        (self.context.enable if is_whole else self.context.disable)(moderngl.CULL_FACE)
        (self.context.disable_direct if is_whole else self.context.enable_direct)(_CLIP_DISTANCE_0)

    def _upload(self, scene: Scene, offsets: Offsets, look: RenderStyle) -> "_Uploaded":
        """Return the uploaded pieces, uploading them unless they are there already."""
        kept = self._kept_scenes.get(scene)
        if kept is not None and offsets == kept.offsets and look.same_pieces(kept.style):
            self._kept_scenes.move_to_end(scene)
            return kept
        if kept is not None:
            self._kept_scenes.pop(scene).release()
        while len(self._kept_scenes) >= _KEPT:
            self._kept_scenes.popitem(last=False)[1].release()
        batch = vertex_buffers_of(scene, offsets, look)
        # a buffer of nothing cannot be made
        pairs = ((batch.faces, 13), (batch.lines, 9), (batch.shadow, 3))
        faces, lines, casting = (
            self.context.buffer(rows.tobytes() or bytes(4 * columns)) for rows, columns in pairs
        )
        array = self.context.vertex_array
        made = self._kept_scenes[scene] = _Uploaded(
            dict(offsets), look, batch.solid, (faces, lines, casting),
            array(self.day, [(faces, DAY_FORMAT, *DAY_NAMES)]),
            array(self.dusk, [(faces, DUSK_FORMAT, *DUSK_NAMES)]),
            array(self.shadow, [(faces, SHADOW_FORMAT, *SHADOW_NAMES)], index_buffer=casting),
            array(self.lines, [(lines, LINE_FORMAT, *LINE_NAMES)]),
        )  # fmt: skip
        return made

    def _light(self, shown: "_Uploaded", lamp: Vector) -> None:
        """Update the shadow map, unless it is up to date."""
        if self._lamplight is None:
            self._lamplight = ShadowMap(self.context)
            self._table_program = self.context.program(
                vertex_shader=shaders.TABLE, fragment_shader=shaders.TABLE_SHADE
            )
            corners = self.context.buffer(_TABLE_CORNERS.tobytes())
            self._table = self.context.vertex_array(self._table_program, [(corners, "2f", "at")])
        if self._lit != (shown, lamp):
            self.context.enable(moderngl.DEPTH_TEST)
            self.context.disable(moderngl.CULL_FACE)
            self._lamplight.render(shown.buffers[0], shown.solid, lamp)
            self._lit = shown, lamp

    def _aim(self, program: moderngl.Program, lamp: Vector, size: float) -> None:
        assert self._lamplight is not None
        self._lamplight.atlas.use(0)
        uniform(program, "lamp").value = lamp
        sides = b"".join(side.T.astype("f4").tobytes() for side in side_views(lamp))
        uniform(program, "sides").write(sides)
        uniform(program, "nearest").value = 0
        uniform(program, "reach").value = size

    def _draw_table(
        self,
        view: bytes,
        style: RenderStyle,
        lamp: Vector,
        size: float,
        dark: tuple[float, float, float],
    ) -> None:
        program = self._table_program
        self._aim(program, lamp, size)
        uniform(program, "view").write(view)
        uniform(program, "table").value = (lamp[0], lamp[1], 2.2 * size, _TABLE_BELOW)
        uniform(program, "dark").value = dark
        uniform(program, "ground").value = style.ground
        self._table.render(moderngl.TRIANGLE_STRIP)

    def _targets(
        self, size: tuple[int, int], samples: int
    ) -> tuple[moderngl.Framebuffer, moderngl.Framebuffer]:
        samples = min(samples, self.context.max_samples)
        if samples in self._kept and self._kept[samples][0].size == size:
            return self._kept[samples]
        for old in self._kept.pop(samples, ()):
            _release(old)
        target = self.context.framebuffer(
            self.context.renderbuffer(size, samples=samples),
            self.context.depth_renderbuffer(size, samples=samples),
        )
        self._kept[samples] = (target, self.context.framebuffer(self.context.renderbuffer(size)))
        return self._kept[samples]


def _release(target: moderngl.Framebuffer) -> None:
    """Give a target's memory back, and that of what it draws on, which does not go with it."""
    for drawn_on in (*target.color_attachments, target.depth_attachment):
        if drawn_on is not None:
            drawn_on.release()
    target.release()


def _context() -> moderngl.Context:
    """Return a context of our own: by EGL without a window, or by what the system has."""
    failures = []
    without_window = {"backend": "egl", "libegl": "libEGL.so.1", "libgl": "libGL.so.1"}
    choices: tuple[dict[str, Any], ...] = (without_window, {})
    for options in choices:
        try:
            return moderngl.create_standalone_context(require=330, **options)
        except Exception as error:  # the loaders raise a plain Exception each
            failures.append(str(error))
    raise RendererError(
        "The standing view needs OpenGL 3.3, which this computer does not offer.",
        hint=f"Everything else works. ({failures[0]})",
    )
