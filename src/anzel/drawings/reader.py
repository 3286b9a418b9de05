"""Reading a drawing whatever its format. Formats are loaded when one is met."""

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
    """The drawing in a file's content, told by the ending of its name; `units` (mm, in or px) says
    what one unit of it is where the file does not, or is wrong. Raises DrawingError."""
    ending = name[name.rfind(".") :].lower()
    if len(content) > LARGEST:
        raise DrawingError(f"{name} is far too large for a drawing.")
    if ending == ".svg":
        from anzel.drawings.svg.source import read_svg

        return read_svg(content, name, units, scale, tell)
    if ending == ".dxf":
        from anzel.drawings.dxf.reader import read_dxf

        return read_dxf(content, name, units, scale, tell)
    raise DrawingError(f"{name} is neither SVG nor DXF.", hint="Write it as one of these.")
