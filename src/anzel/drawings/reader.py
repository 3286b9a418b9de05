"""Read a drawing of any format.

The reader of a format is loaded when it is first needed.
"""

from anzel.drawings.model import Drawing, DrawingError, Tell, no_progress

ENDINGS = (".svg", ".dxf")
LARGEST = 64 * 1024 * 1024


def read_drawing(
    content: bytes,
    name: str,
    units: str | None = None,
    scale: float = 1.0,
    tell: Tell = no_progress,
) -> Drawing:
    """Return the drawing in a file's content.

    The ending of the name tells the format. `units` (mm, in or px) overrides the unit of a file
    that states none, or a wrong one.

    Raises
    ------
    DrawingError
    """
    ending = name[name.rfind(".") :].lower()
    if len(content) > LARGEST:
        raise DrawingError(f"{name} is far too large for a drawing.")
    if ending == ".svg":
        from anzel.drawings.svg.source import read_svg

        return read_svg(content, name, units, scale, tell)
    if ending == ".dxf":
        from anzel.drawings.dxf.source import read_dxf

        return read_dxf(content, name, units, scale, tell)
    raise DrawingError(f"{name} is neither SVG nor DXF.", hint="Write it as one of these.")
