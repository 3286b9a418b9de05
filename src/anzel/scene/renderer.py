"""Pictures of the standing structure, drawn off screen by OpenGL 3.3.

No window is needed: the interface, the command line and the tests all get plain pixels. Where
there is no OpenGL the renderer says so (RendererError) and everything else goes on.
"""

from collections.abc import Mapping
from typing import Any

import moderngl
import numpy as np

from anzel.findings import MakerError
from anzel.geometry.placement import Vector
from anzel.scene.camera import Camera
from anzel.scene.cutting import WHOLE, Plane
from anzel.scene.look import Look
from anzel.scene.solids import Scene, SolidPiece

_FACES = """
#version 330 core
uniform mat4 view; uniform vec3 shift; uniform float flatten; uniform vec4 cut;
in vec3 at; in vec3 normal; out vec3 n;
void main() {
    vec3 p = at + shift;
    gl_ClipDistance[0] = dot(cut, vec4(p, 1.0));
    p = mix(p, vec3(p.xy + p.z * vec2(0.16, 0.10), -0.2), flatten);
    n = normal; gl_Position = view * vec4(p, 1.0);
}
"""
_SHADE = """
#version 330 core
uniform vec3 tint; uniform float flatten;
in vec3 n; out vec4 colour;
void main() {
    float key = max(dot(n, normalize(vec3(-0.35, -0.55, 0.75))), 0.0);
    float sky = 0.5 + 0.5 * n.z;
    vec3 lit = tint * (0.70 + 0.26 * key + 0.08 * sky);
    colour = vec4(mix(lit, tint, flatten), 1.0);
}
"""
_LINES = """
#version 330 core
uniform mat4 view; uniform vec3 shift; uniform vec4 cut;
in vec3 at;
void main() {
    gl_ClipDistance[0] = dot(cut, vec4(at + shift, 1.0));
    gl_Position = view * vec4(at + shift, 1.0);
    gl_Position.z -= 0.00005 * gl_Position.w;  // about half a mm in front of its own faces
}
"""
_INK = """
#version 330 core
uniform vec3 tint; out vec4 colour;
void main() { colour = vec4(tint, 1.0); }
"""


_CLIP_DISTANCE_0 = 0x3000


class RendererError(MakerError):
    """There is no OpenGL to draw with."""


class Renderer:
    """Keeps an OpenGL context and the uploaded scene between pictures. Not for threads."""

    def __init__(self) -> None:
        self.context = _context()
        self.context.enable_direct(_CLIP_DISTANCE_0)
        self.faces = self.context.program(vertex_shader=_FACES, fragment_shader=_SHADE)
        self.lines = self.context.program(vertex_shader=_LINES, fragment_shader=_INK)
        self.scene: Scene | None = None
        self.arrays: dict[str, tuple[moderngl.VertexArray, moderngl.VertexArray]] = {}
        self.target: moderngl.Framebuffer | None = None
        self.resolved: moderngl.Framebuffer | None = None

    def picture(
        self,
        scene: Scene,
        offsets: Mapping[str, Vector],
        camera: Camera,
        look: Look,
        size: tuple[int, int],
        cut: Plane = WHOLE,
    ) -> bytes:
        """RGBA bytes, rows from the top, of a picture `size` (width, height) pixels large. What
        lies behind the plane `cut` is left away."""
        self._upload(scene)
        target, resolved = self._targets(size)
        target.use()
        self.context.enable(moderngl.DEPTH_TEST)
        target.clear(*look.ground, 1.0)
        view = camera.matrix(size[0] / size[1]).T.astype("f4").tobytes()
        for program in (self.faces, self.lines):
            _uniform(program, "view").write(view)
            _uniform(program, "cut").value = cut
        shown = [piece for piece in scene.pieces if piece.name not in look.hidden]
        for flat in (1.0, 0.0):
            _uniform(self.faces, "flatten").value = flat
            for piece in shown:
                _uniform(self.faces, "shift").value = offsets[piece.name]
                _uniform(self.faces, "tint").value = (
                    look.shadow if flat else look.tints[piece.stock_id]
                )
                self.arrays[piece.name][0].render()
        for piece in shown:
            _uniform(self.lines, "shift").value = offsets[piece.name]
            _uniform(self.lines, "tint").value = (
                look.accent if piece.name in look.picked else look.edge
            )
            self.arrays[piece.name][1].render(moderngl.LINES)
        self.context.copy_framebuffer(resolved, target)
        pixels = np.frombuffer(resolved.read(components=4), dtype=np.uint8)
        return pixels.reshape(size[1], size[0], 4)[::-1].tobytes()

    def release(self) -> None:
        """Give the context and all it holds back."""
        self.context.release()

    def _upload(self, scene: Scene) -> None:
        if scene is self.scene:
            return
        for faces, lines in self.arrays.values():
            faces.release()
            lines.release()
        self.arrays = {piece.name: self._arrays(piece) for piece in scene.pieces}
        self.scene = scene

    def _arrays(self, piece: SolidPiece) -> tuple[moderngl.VertexArray, moderngl.VertexArray]:
        normals = np.repeat(piece.normals[:, None, :], 3, axis=1)
        corners = np.concatenate([piece.triangles, normals], axis=2).astype("f4")
        solid = self.context.buffer(corners.tobytes())
        edges = self.context.buffer(piece.edges.astype("f4").tobytes())
        return (
            self.context.vertex_array(self.faces, [(solid, "3f 3f", "at", "normal")]),
            self.context.vertex_array(self.lines, [(edges, "3f", "at")]),
        )

    def _targets(self, size: tuple[int, int]) -> tuple[moderngl.Framebuffer, moderngl.Framebuffer]:
        if self.target is None or self.resolved is None or self.target.size != size:
            for old in (self.target, self.resolved):
                if old is not None:
                    old.release()
            samples = min(4, self.context.max_samples)
            self.target = self.context.framebuffer(
                self.context.renderbuffer(size, samples=samples),
                self.context.depth_renderbuffer(size, samples=samples),
            )
            self.resolved = self.context.framebuffer(self.context.renderbuffer(size))
        return self.target, self.resolved


def _uniform(program: moderngl.Program, name: str) -> moderngl.Uniform:
    found = program[name]
    assert isinstance(found, moderngl.Uniform)
    return found


def _context() -> moderngl.Context:
    """A context of our own: by EGL without any window, else by whatever the system has."""
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
        mend=f"Everything else works. ({failures[0]})",
    )
