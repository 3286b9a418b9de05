"""DXF in millimetres ($INSUNITS 4), one layer per operation, true arcs and circles.

An outline of lines and arcs is one closed polyline with bulges, a circle a CIRCLE. An outline with
cubic curves is a chain of LINE, ARC and SPLINE entities that share their end points: no DXF entity
holds all three. By choice cubics are arcs instead, off by no more than `tolerances.ARCS_OFF`, so
that every outline is one closed polyline; the file says so. Release R12 knows no splines: there a
cubic is a run of chords, off by no more than `tolerances.FLATTEN`. It keeps no properties either,
so each page's first entity carries its facts.
"""

import io
from collections import OrderedDict
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from itertools import pairwise
from math import degrees
from threading import Lock

from ezdxf import units
from ezdxf._options import options
from ezdxf.colors import RGB, aci2rgb, rgb2int
from ezdxf.document import Drawing
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.layouts.layout import Modelspace
from ezdxf.lldxf.const import VALID_DXF_LINEWEIGHTS

from anzel.core.tolerances import ARCS_OFF
from anzel.cutjob.cut_lines import CutLine
from anzel.cutjob.operations import DxfRelease, Operation, Pens
from anzel.geometry.arcs_of_curve import arcs_of_curve
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import BridgedContour, Contour, Stroke
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment
from anzel.output.pages import Backend, Page, draw
from anzel.output.svg_writer import PAGE_GAP

_WRITING = Lock()


def dxf_bytes(pages: Sequence[Page], pens: Pens) -> bytes:
    """Return a DXF file with all pages side by side."""
    release = pens.dxf
    with _without_time_and_random_ids():
        document = Drawing.new(release.version)
    document.units = units.MM
    for operation in Operation:
        name = pens.layer(operation)
        layers = document.layers  # the maker may mean layer 0, or one for two operations
        layer = layers.get(name) if name in layers else layers.add(name)
        colour = RGB.from_hex(pens.colour(operation))
        layer.color = nearest_index(colour)
        if release is not DxfRelease.R12:
            layer.rgb = colour
            layer.dxf.lineweight = _line_weight(pens.pen(operation).width)
    if release is not DxfRelease.R12:
        _tell(document, pages, *([_IN_ARCS] if release is DxfRelease.ARCS else []))
    document.appids.add(APPLICATION)
    draw(pages, _DxfBackend(document.modelspace(), pens))
    # the library takes them from a set, whose order differs from run to run
    document.classes.add_required_classes(release.version)
    classes = sorted(document.classes.classes.items())
    document.classes.classes = OrderedDict(classes)
    text = io.StringIO()
    with _without_time_and_random_ids():
        document.write(text)
    # in the code page that the header names; what that does not hold, as DXF writes it in ASCII
    return text.getvalue().encode(document.output_encoding, "dxfreplace")


@contextmanager
def _without_time_and_random_ids() -> Iterator[None]:
    """Have the library write the same header for the same content.

    Its option for that is one for the whole process, so one file is written at a time.
    """
    with _WRITING:
        before = options.write_fixed_meta_data_for_testing
        options.write_fixed_meta_data_for_testing = True
        try:
            yield
        finally:
            options.write_fixed_meta_data_for_testing = before


_IN_ARCS = f"free curves as arcs, off by no more than {ARCS_OFF:g} mm"


def _tell(document: Drawing, pages: Sequence[Page], *more: str) -> None:
    """Write notes and metadata as the document's own properties."""
    notes = dict.fromkeys([*(n for page in pages for n in page.notes), *more])
    for number, note in enumerate(notes, 1):
        document.header.custom_vars.append(f"Note {number}", note)
    for page in pages:
        for name, value in page.metadata:
            document.header.custom_vars.append(f"{page.name}: {name}", value)


def nearest_index(colour: RGB) -> int:
    """Return the colour of DXF's palette that comes nearest; R12 knows no others."""

    def off(index: int) -> int:
        return sum((a - b) ** 2 for a, b in zip(aci2rgb(index), colour, strict=True))

    return min(range(1, 250), key=off)


def _line_weight(width: float) -> int:
    """Return the next of DXF's line weights, hundredths of a mm."""
    return min(VALID_DXF_LINEWEIGHTS, key=lambda weight: abs(weight - width * 100))


OPEN = " open"
"""Said behind the operation of a line that is no part of an outline."""
APPLICATION = "ANZEL"
"""Extended data under this name gives each entity its page's and its piece's name."""


class _DxfBackend(Backend):
    def __init__(self, space: Modelspace, pens: Pens) -> None:
        self.space, self.pens = space, pens
        self.left, self.next_left = 0.0, 0.0

    def begin(self, page: Page) -> None:
        self.left = self.next_left
        self.next_left += page.width + PAGE_GAP
        self.page = page.name
        old = self.pens.dxf is DxfRelease.R12
        self.facts = [f"{name}={value}" for name, value in page.metadata] if old else []
        self.outlines = 0

    def contour(self, contour: Contour, line: CutLine) -> None:
        if contour.is_circle and isinstance(only := contour.segments[0], Arc):
            layer = self._layer(line)
            circle = self.space.add_circle(self._at(only.centre), only.radius, dxfattribs=layer)
            circle.set_xdata(APPLICATION, self._names(line))
        else:
            self._run(contour.segments, line, closed=True)

    def bridged(self, outline: BridgedContour, line: CutLine) -> None:
        self.outlines += 1
        for run in outline.runs:
            self._run(run, line, closed=False)

    def open_path(self, path: OpenPath, line: CutLine) -> None:
        self._run(path.segments, line, closed=False)

    def stroke(self, stroke: Stroke, line: CutLine) -> None:
        self._polyline([(*self._at(p), 0.0) for p in stroke], line, closed=False)

    def _run(self, run: Sequence[Segment], line: CutLine, *, closed: bool) -> None:
        segments = [edge for segment in run for edge in self._known(segment)]
        if any(isinstance(segment, Cubic) for segment in segments):
            for segment in segments:
                entity = self._entity(segment, self._layer(line))
                entity.set_xdata(APPLICATION, self._names(line))
            return
        points = [(*self._at(s.start), s.bulge if isinstance(s, Arc) else 0.0) for s in segments]
        if not closed:
            points.append((*self._at(segments[-1].end), 0.0))
        self._polyline(points, line, closed=closed)

    def _known(self, segment: Segment) -> list[Segment]:
        """Return a segment as this release can hold it."""
        if self.pens.dxf is DxfRelease.R2010 or not isinstance(segment, Cubic):
            return [segment]
        if self.pens.dxf is DxfRelease.ARCS:
            return list(arcs_of_curve(segment))
        count = segment.chord_count()
        inner = [segment.point_at(step / count) for step in range(1, count)]
        return [Line(a, b) for a, b in pairwise([segment.start, *inner, segment.end])]

    def _polyline(
        self, points: list[tuple[float, float, float]], mark: CutLine, *, closed: bool
    ) -> None:  # fmt: skip
        add = self.space.add_lwpolyline
        if self.pens.dxf is DxfRelease.R12:
            add = self.space.add_polyline2d  # type: ignore[assignment]
        line = add(points, format="xyb", close=closed, dxfattribs=self._layer(mark))
        line.set_xdata(APPLICATION, self._names(mark))

    def _layer(self, line: CutLine) -> dict[str, str | int]:
        """Return the layer of an operation.

        With its own colour where it shares the layer with another operation.
        """
        name = self.pens.layer(line.operation)
        if sum(self.pens.layer(each) == name for each in Operation) == 1:
            return {"layer": name}
        colour = RGB.from_hex(self.pens.colour(line.operation))
        own: dict[str, str | int] = {"layer": name, "color": nearest_index(colour)}
        if self.pens.dxf is not DxfRelease.R12:
            own["true_color"] = rgb2int(colour)
        return own

    def _names(self, mark: CutLine) -> list[tuple[int, str]]:
        """Return page, piece, operation, the number of a bridged outline, and metadata."""
        number = f" {self.outlines}" if isinstance(mark.line, BridgedContour) else ""
        number = OPEN if isinstance(mark.line, OpenPath) else number
        words = [self.page, mark.owner, mark.operation.value + number, *self.facts]
        self.facts = []
        return [(1000, word[:255]) for word in words]

    def _entity(self, segment: Segment, layer: dict[str, str | int]) -> DXFGraphic:
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
