"""A picture of the standing structure as a PNG file, made without any window."""

import io

from anzel.project.assembly import assembly_of
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.scene.camera import Camera
from anzel.scene.offscreen import OffscreenRenderer
from anzel.scene.render_request import RenderRequest, RenderStyle, Rgb

_GROUND, _SHADOW, _EDGE, _ACCENT = "#f4efe4", "#e4dccb", "#26221c", "#0f6a5b"


def still_image(project: Project, view: str, apart: float, size: tuple[int, int]) -> bytes:
    """Return the structure from a named direction, pulled apart by a share on its proven ways.

    Raises RendererError.
    """
    from PIL import Image

    proven = assembly_of(project).partings if apart else ()

    tints = {stock: _rgb(tint) for stock, tint in project.tints.items()}
    look = RenderStyle(_rgb(_GROUND), _rgb(_SHADOW), _rgb(_EDGE), _rgb(_ACCENT), tints)
    camera = Camera().looking_from(view)
    request = RenderRequest(
        solved_structure_of(project), fit_context_of(project), apart, camera, True, look, size,
        proven=proven,
    )  # fmt: skip
    picture = OffscreenRenderer().render(request)
    buffer = io.BytesIO()
    Image.frombytes("RGBA", size, picture.pixels).convert("RGB").save(buffer, "PNG")
    return buffer.getvalue()


def _rgb(tint: str) -> Rgb:
    red, green, blue = (int(tint[at : at + 2], 16) / 255 for at in (1, 3, 5))
    return (red, green, blue)
