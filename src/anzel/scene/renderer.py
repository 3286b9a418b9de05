"""The renderer of the standing structure: pictures off screen by OpenGL 3.3.

No window is needed: the interface, the command line and the tests all get pixels. Without OpenGL
the renderer raises RendererError and everything else continues.
"""

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
    FACE_FORMAT,
    FACE_NAMES,
    LINE_FORMAT,
    LINE_NAMES,
    vertex_buffers_of,
)

_CLIP_DISTANCE_0 = 0x3000
_SAMPLES = 4
_RUN = 6_000
"""So many corners are drawn in one call: whole triangles and whole lines."""
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

    scene: Scene
    offsets: Offsets
    style: RenderStyle
    solid: int
    buffers: tuple[moderngl.Buffer, moderngl.Buffer]
    faces: moderngl.VertexArray
    lines: moderngl.VertexArray


class Renderer:
    """Keeps an OpenGL context and the uploaded scene between pictures.

    It is not thread-safe.
    """

    def __init__(self) -> None:
        self.context = _context()
        self.context.enable_direct(_CLIP_DISTANCE_0)
        program = self.context.program
        self.faces = program(vertex_shader=shaders.FACES, fragment_shader=shaders.SHADE)
        self.lines = program(vertex_shader=shaders.LINES, fragment_shader=shaders.INK)
        self._kept_scenes: dict[bool, _Uploaded] = {}
        self._lamplight: ShadowMap | None = None
        self._lit: Vector | None = None
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
        shown = self._upload(scene, offsets, style, plain)
        if style.lamp is not None:
            self._light(shown, style.lamp)
        target, resolved = self._targets(size, 0 if plain else _SAMPLES)
        target.use()
        self.context.enable(moderngl.DEPTH_TEST)
        dusk = _DUSK if style.lamp else 1.0
        red, green, blue = (channel * dusk for channel in style.ground)
        target.clear(red, green, blue, 1.0)
        view = camera.matrix(size[0] / size[1]).T.astype("f4").tobytes()
        for program in (self.faces, self.lines):
            uniform(program, "view").write(view)
            uniform(program, "cut").value = cut
        uniform(self.faces, "dark").value = style.shadow
        uniform(self.lines, "dark").value = (red, green, blue)
        uniform(self.lines, "strength").value = 0.25 if style.lamp else 1.0
        if style.lamp is not None:
            self._aim(self.faces, style.lamp, scene.size)
            self._draw_table(view, style, style.lamp, scene.size, (red, green, blue))
        else:
            uniform(self.faces, "lamp").value = (0.0, 0.0, 0.0, 0.0)
            if camera.elevation >= 0:  # from below the shadow would hide the underside
                self._draw_faces(shown, flatten=1.0)
        self._draw_faces(shown, flatten=0.0)
        self._draw(shown.lines, moderngl.LINES)
        self.context.copy_framebuffer(resolved, target)
        pixels = np.frombuffer(resolved.read(components=4), dtype=np.uint8)
        return pixels.reshape(size[1], size[0], 4)[::-1].tobytes()

    def release(self) -> None:
        """Release the context and all it holds."""
        self.context.release()

    def _draw_faces(self, shown: "_Uploaded", flatten: float) -> None:
        uniform(self.faces, "flatten").value = flatten
        self._draw(shown.faces, moderngl.TRIANGLES)

    def _draw(self, rows: moderngl.VertexArray, mode: int) -> None:
        """Draw in runs, and wait for each.

        A call holds Python's interpreter until it is done, so the window could not move meanwhile.
        """
        for first in range(0, rows.vertices, _RUN):
            rows.render(mode, min(_RUN, rows.vertices - first), first=first)
            self.context.finish()

    def _upload(
        self, scene: Scene, offsets: Offsets, look: RenderStyle, plain: bool
    ) -> "_Uploaded":
        """Return the uploaded pieces, uploading them unless they are there already."""
        kept = self._kept_scenes.get(plain)
        if kept is not None:
            same = scene is kept.scene and offsets == kept.offsets
            if same and look.same_pieces(kept.style):
                return kept
            for old in (kept.faces, kept.lines, *kept.buffers):
                old.release()
        batch = vertex_buffers_of(scene, offsets, look)
        # a buffer of nothing cannot be made
        pairs = ((batch.faces, 13), (batch.lines, 9))
        faces, lines = (
            self.context.buffer(rows.tobytes() or bytes(4 * columns)) for rows, columns in pairs
        )
        made = _Uploaded(
            scene, dict(offsets), look, batch.solid, (faces, lines),
            self.context.vertex_array(self.faces, [(faces, FACE_FORMAT, *FACE_NAMES)]),
            self.context.vertex_array(self.lines, [(lines, LINE_FORMAT, *LINE_NAMES)]),
        )  # fmt: skip
        self._kept_scenes[plain] = made
        self._lit = None
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
        if self._lit != lamp:
            self.context.enable(moderngl.DEPTH_TEST)
            self._lamplight.render(shown.buffers[0], "3f 12x 3f 16x", shown.solid, lamp)
            self._lit = lamp

    def _aim(self, program: moderngl.Program, lamp: Vector, size: float) -> None:
        assert self._lamplight is not None
        self._lamplight.atlas.use(0)
        uniform(program, "lamp").value = (*lamp, 1.0)
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
            old.release()
        target = self.context.framebuffer(
            self.context.renderbuffer(size, samples=samples),
            self.context.depth_renderbuffer(size, samples=samples),
        )
        self._kept[samples] = (target, self.context.framebuffer(self.context.renderbuffer(size)))
        return self._kept[samples]


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
