"""DXF R2010 in millimetres ($INSUNITS 4), one layer per operation, true arcs and circles.

An outline of lines and arcs is one closed LWPOLYLINE with bulges, a circle a CIRCLE. An outline
with cubic curves is a chain of LINE, ARC and SPLINE entities that share their end points: no
DXF entity holds all three.
"""

import io
from collections.abc import Sequence
from math import degrees

from ezdxf import units
from ezdxf.colors import RGB
from ezdxf.document import Drawing
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.layouts.layout import Modelspace

from anzel.files.drawing import Backend, Mark, Page, draw
from anzel.files.svg import PAGE_GAP
from anzel.geometry.curves import Arc, Cubic, Segment
from anzel.geometry.motion import Point
from anzel.geometry.outlines import Contour, Stroke
from anzel.sheets.operations import Operation, Pens


def dxf_bytes(pages: Sequence[Page], pens: Pens) -> bytes:
    """A DXF file with all pages side by side."""
    document = Drawing.new("R2010")
    document.units = units.MM
    for operation in Operation:
        layer = document.layers.add(operation.value)
        layer.rgb = RGB.from_hex(pens.colour(operation))
    for number, note in enumerate(dict.fromkeys(n for page in pages for n in page.notes), 1):
        document.header.custom_vars.append(f"Note {number}", note)
    for page in pages:
        for name, value in page.facts:
            document.header.custom_vars.append(f"{page.name}: {name}", value)
    document.appids.add(APPLICATION)
    draw(pages, _Dxf(document.modelspace()))
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode("utf-8")


APPLICATION = "ANZEL"
"""Extended data under this name gives each entity its page's and its piece's name."""


class _Dxf(Backend):
    def __init__(self, space: Modelspace) -> None:
        self.space = space
        self.left, self.next_left = 0.0, 0.0

    def begin(self, page: Page) -> None:
        self.left = self.next_left
        self.next_left += page.width + PAGE_GAP
        self.page = page.name

    def contour(self, contour: Contour, mark: Mark) -> None:
        layer = {"layer": mark.operation.value}
        names = self._names(mark)
        if contour.is_circle and isinstance(only := contour.segments[0], Arc):
            circle = self.space.add_circle(self._at(only.centre), only.radius, dxfattribs=layer)
            circle.set_xdata(APPLICATION, names)
        elif any(isinstance(segment, Cubic) for segment in contour.segments):
            for segment in contour.segments:
                self._entity(segment, layer).set_xdata(APPLICATION, names)
        else:
            points = [
                (*self._at(s.start), s.bulge if isinstance(s, Arc) else 0.0)
                for s in contour.segments
            ]
            line = self.space.add_lwpolyline(points, format="xyb", close=True, dxfattribs=layer)
            line.set_xdata(APPLICATION, names)

    def stroke(self, stroke: Stroke, mark: Mark) -> None:
        points = [self._at(point) for point in stroke]
        line = self.space.add_lwpolyline(points, dxfattribs={"layer": mark.operation.value})
        line.set_xdata(APPLICATION, self._names(mark))

    def _names(self, mark: Mark) -> list[tuple[int, str]]:
        return [(1000, self.page), (1000, mark.owner)]

    def _entity(self, segment: Segment, layer: dict[str, str]) -> DXFGraphic:
        start, end = self._at(segment.start), self._at(segment.end)
        if isinstance(segment, Arc):
            first = degrees(segment.start_angle)
            angles = (first, first + degrees(segment.sweep))
            centre = self._at(segment.centre)
            low, high = min(angles), max(angles)
            return self.space.add_arc(centre, segment.radius, low, high, dxfattribs=layer)
        if isinstance(segment, Cubic):
            controls = [self._at(point) for point in segment.controls]
            return self.space.add_open_spline(controls, degree=3, dxfattribs=layer)
        return self.space.add_line(start, end, dxfattribs=layer)

    def _at(self, point: Point) -> Point:
        return (point[0] + self.left, point[1])
