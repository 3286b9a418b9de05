"""Pictures of vectors written as PDF, SVG and PNG."""

import io
from collections.abc import Sequence
from xml.sax.saxutils import escape

import numpy as np
import shapely
from PIL import Image
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import getRegisteredFontNames, registerFont
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, Canvas

from anzel.core.typeface import font_files
from anzel.illustration.picture import Fill, Mark, Picture, Stroke
from anzel.output.pdf_pixels import page_pixels

_FONT = "Hanken Grotesk SemiBold"
PIXELS_PER_MM = 8.0
"""Of pictures made of pixels, about 200 to the inch."""
_DRAWN = ("LineString", "LinearRing")
_ANCHORS = {"start": "drawString", "middle": "drawCentredString", "end": "drawRightString"}


def pictures_as_pdf(pictures: Sequence[Picture], title: str) -> bytes:
    """Return a PDF with a page for each picture, as large as the picture."""
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pageCompression=1, invariant=1)
    canvas.setTitle(title)
    canvas.setCreator("Anzel")
    if _FONT not in getRegisteredFontNames():
        semi_bold = next(path for path in font_files() if "600" in path.name)
        registerFont(TTFont(_FONT, io.BytesIO(semi_bold.read_bytes())))
    for picture in pictures:
        canvas.setPageSize((picture.width * mm, picture.height * mm))
        canvas.scale(mm, mm)
        canvas.setLineCap(1)
        canvas.setLineJoin(1)
        for mark in picture.marks:
            _draw(canvas, mark)
        canvas.showPage()
    canvas.save()
    return buffer.getvalue()


def picture_as_png(picture: Picture, pixels_per_mm: float = PIXELS_PER_MM) -> bytes:
    """Return a picture as pixels."""
    pixels = page_pixels(pictures_as_pdf([picture], "Anzel"), 0, pixels_per_mm * 25.4)
    buffer = io.BytesIO()
    Image.fromarray(pixels[..., :3]).save(buffer, "PNG")
    return buffer.getvalue()


def picture_as_svg(picture: Picture) -> bytes:
    """Return a picture as SVG, true to size in mm."""
    size = f'width="{picture.width:g}mm" height="{picture.height:g}mm"'
    head = f'<svg xmlns="http://www.w3.org/2000/svg" {size} '
    head += f'viewBox="0 0 {picture.width:g} {picture.height:g}">'
    body = "".join(_element(mark, picture.height) for mark in picture.marks)
    return f"{head}\n{body}</svg>\n".encode()


def _draw(canvas: Canvas, mark: Mark) -> None:
    if isinstance(mark, Fill):
        canvas.setFillColor(HexColor(mark.colour))
        path = canvas.beginPath()
        for ring in _rings(mark.area):
            _trace(path, ring)
            path.close()
        canvas.drawPath(path, stroke=0, fill=1, fillMode=FILL_EVEN_ODD)
    elif isinstance(mark, Stroke):
        canvas.setStrokeColor(HexColor(mark.colour))
        canvas.setLineWidth(mark.width)
        path = canvas.beginPath()
        for line in _lines(mark.lines):
            _trace(path, line)
        canvas.drawPath(path)
    else:
        canvas.setFillColor(HexColor(mark.colour))
        canvas.setFont(_FONT, mark.size)
        getattr(canvas, _ANCHORS[mark.anchor])(*mark.at, mark.text)


def _trace(path: object, points: Sequence[tuple[float, float]]) -> None:
    path.moveTo(*points[0])  # type: ignore[attr-defined]
    for point in points[1:]:
        path.lineTo(*point)  # type: ignore[attr-defined]


def _element(mark: Mark, height: float) -> str:
    if isinstance(mark, Fill):
        runs = "".join(_run(ring, height) + "Z" for ring in _rings(mark.area))
        return f'<path fill="{mark.colour}" fill-rule="evenodd" d="{runs}"/>\n' if runs else ""
    if isinstance(mark, Stroke):
        runs = "".join(_run(line, height) for line in _lines(mark.lines))
        look = f'stroke="{mark.colour}" stroke-width="{mark.width:g}" stroke-linecap="round"'
        return f'<path fill="none" {look} stroke-linejoin="round" d="{runs}"/>\n' if runs else ""
    x, y = mark.at
    look = f'font-size="{mark.size:g}" font-weight="600" fill="{mark.colour}"'
    where = f'x="{x:.3f}" y="{height - y:.3f}" text-anchor="{mark.anchor}"'
    family = 'font-family="Hanken Grotesk, sans-serif"'
    return f"<text {where} {look} {family}>{escape(mark.text)}</text>\n"


def _run(points: Sequence[tuple[float, float]], height: float) -> str:
    return "M" + "L".join(f"{x:.3f} {height - y:.3f}" for x, y in points)


def _rings(area: shapely.Geometry) -> list[list[tuple[float, float]]]:
    polygons = [part for part in shapely.get_parts(area) if part.geom_type == "Polygon"]
    return [
        _points(ring)[:-1]
        for polygon in polygons
        for ring in (polygon.exterior, *polygon.interiors)
        if not ring.is_empty
    ]


def _lines(lines: shapely.Geometry) -> list[list[tuple[float, float]]]:
    parts = [part for part in shapely.get_parts(lines) if part.geom_type in _DRAWN]
    return [_points(line) for line in parts if not line.is_empty]


def _points(line: shapely.Geometry) -> list[tuple[float, float]]:
    return [(x, y) for x, y in np.asarray(line.coords)[:, :2].tolist()]
