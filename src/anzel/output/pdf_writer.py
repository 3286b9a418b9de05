"""PDF at 1:1: a page per sheet, exactly as large as the sheet.

A last page holds the notes, and a ruler to check that the print is true to size.
"""

import io
from collections.abc import Sequence
from itertools import pairwise
from math import ceil, cos, pi, sin, tan

from reportlab.lib.colors import HexColor
from reportlab.lib.units import inch, mm
from reportlab.lib.utils import ImageReader, simpleSplit
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, Canvas
from reportlab.pdfgen.pathobject import PDFPathObject

from anzel.core.tolerances import ROUNDING
from anzel.cutjob.cut_lines import CutLine
from anzel.cutjob.operations import Pens
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import BridgedContour, Contour, Stroke
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Segment
from anzel.output.pages import Backend, Page, draw
from anzel.structure.engraved_picture import EngravedPicture

_NOTES_WIDTH, _NOTES_LEAST = 120.0, 30.0
"""The page of notes: its width and the least of its height, mm."""
_WIDE = _NOTES_WIDTH * mm
_NOTE_LINE, _RULER_ROOM = 3.2, 22.0
_FONT, _SIZE = "Helvetica", 7
_EIGHTH_TURN = pi / 4
"""PDF has no arcs; a cubic over an eighth turn is within 5e-6 of the radius of a true one."""


def pdf_bytes(pages: Sequence[Page], pens: Pens) -> bytes:
    """Return a PDF file with a page per sheet."""
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pageCompression=1, invariant=1)
    canvas.setTitle(" + ".join(page.name for page in pages))
    canvas.setSubject("; ".join(dict.fromkeys(n for page in pages for n in page.notes)))
    canvas.setKeywords([f"{page.name}: {k} {v}" for page in pages for k, v in page.metadata])
    canvas.setCreator("Anzel")
    draw(pages, _PdfBackend(canvas, pens))
    _notes_page(canvas, pages)
    canvas.save()
    return buffer.getvalue()


class PageMarks(Backend):
    """Draws lines on a canvas whose unit is 1 mm."""

    def __init__(self, canvas: Canvas, pens: Pens) -> None:
        self.canvas, self.pens = canvas, pens

    def contour(self, contour: Contour, line: CutLine) -> None:
        """Draw a closed outline."""
        path = self._begin(line)
        _trace(path, contour.segments)
        path.close()
        self.canvas.drawPath(path)

    def bridged(self, outline: BridgedContour, line: CutLine) -> None:
        """Draw an outline with gaps."""
        path = self._begin(line)
        for run in outline.runs:
            _trace(path, run)
        self.canvas.drawPath(path)

    def open_path(self, path: OpenPath, line: CutLine) -> None:
        """Draw an open path."""
        traced = self._begin(line)
        _trace(traced, path.segments)
        self.canvas.drawPath(traced)

    def picture(self, picture: EngravedPicture, line: CutLine) -> None:
        """Draw a picture at its true size, clipped to its piece."""
        (ax, ay), (bx, by), _, (dx, dy) = picture.corners
        self.canvas.saveState()
        if picture.within is not None:
            clip = self.canvas.beginPath()
            for contour in picture.within.contours:
                _trace(clip, contour.segments)
                clip.close()
            self.canvas.clipPath(clip, stroke=0, fill=0, fillMode=FILL_EVEN_ODD)
        self.canvas.transform(bx - ax, by - ay, dx - ax, dy - ay, ax, ay)
        image = ImageReader(io.BytesIO(picture.file.content))
        self.canvas.drawImage(image, 0, 0, 1, 1, mask="auto")
        self.canvas.restoreState()

    def stroke(self, stroke: Stroke, line: CutLine) -> None:
        """Draw an open run of points."""
        path = self._begin(line)
        path.moveTo(*stroke[0])
        for point in stroke[1:]:
            path.lineTo(*point)
        self.canvas.drawPath(path)

    def _begin(self, line: CutLine) -> PDFPathObject:
        pen = self.pens.pen(line.operation)
        self.canvas.setStrokeColor(HexColor(pen.colour))
        self.canvas.setLineWidth(pen.width)
        return self.canvas.beginPath()


class _PdfBackend(PageMarks):
    def __init__(self, canvas: Canvas, pens: Pens) -> None:
        super().__init__(canvas, pens)
        self.started = False

    def begin(self, page: Page) -> None:
        if self.started:
            self.canvas.showPage()
        self.started = True
        self.canvas.setPageSize((page.width * mm, page.height * mm))
        self.canvas.scale(mm, mm)


def _notes_page(canvas: Canvas, pages: Sequence[Page]) -> None:
    """Draw the last page: names and notes of all pages, each note once, over a ruler."""
    canvas.showPage()
    names = " + ".join(page.name for page in pages)
    notes = [note for page in pages for note in page.notes]
    words = (names, *dict.fromkeys(notes))
    lines = [line for word in words for line in simpleSplit(word, _FONT, _SIZE, 0.9 * _WIDE)]
    height = max(_NOTES_LEAST, _RULER_ROOM + _NOTE_LINE * len(lines))
    canvas.setPageSize((_NOTES_WIDTH * mm, height * mm))
    ruler(canvas, 100, base=8.0)
    canvas.setFont(_FONT, _SIZE)
    for number, line in enumerate(lines, start=1):
        canvas.drawString(6 * mm, (height - 3 - _NOTE_LINE * number) * mm, line)
    canvas.showPage()


def _trace(path: PDFPathObject, segments: Sequence[Segment]) -> None:
    """Run a path along segments."""
    path.moveTo(*segments[0].start)
    for segment in segments:
        if isinstance(segment, Arc):
            for curve in _cubics(segment):
                path.curveTo(*curve.control1, *curve.control2, *curve.end)
        elif isinstance(segment, Cubic):
            path.curveTo(*segment.control1, *segment.control2, *segment.end)
        else:
            path.lineTo(*segment.end)


def _cubics(arc: Arc) -> list[Cubic]:
    """Return cubics that stand in for an arc, an eighth of a turn each at most."""
    count = ceil(abs(arc.sweep) / _EIGHTH_TURN)
    step = arc.sweep / count
    reach = arc.radius * 4 / 3 * tan(step / 4)

    def lever(t: float, sign: float) -> Point:
        angle = arc.start_angle + t * arc.sweep
        x, y = arc.point_at(t)
        return (x - sign * reach * sin(angle), y + sign * reach * cos(angle))

    stops = [index / count for index in range(count + 1)]
    return [
        Cubic(arc.point_at(a), lever(a, 1), lever(b, -1), arc.point_at(b))
        for a, b in pairwise(stops)
    ]


def ruler(
    canvas: Canvas, room: float, *, left: float = 6.0, base: float = 13.0, metric: bool = True
) -> None:
    """Draw a ruler of at most `room` mm, its end at (left, base).

    It has a tick each millimetre, or each sixteenth of an inch.
    """
    unit, longest, ticks = (mm, 100, 10) if metric else (inch, 4, 16)
    step = unit if metric else unit / ticks
    length = min(int(room * mm / unit + ROUNDING) // _ROUND[metric] * _ROUND[metric], longest)
    count = round(length * unit / step)
    canvas.setLineWidth(0.1 * mm)
    x, y = left * mm, base * mm
    canvas.line(x, y, x + length * unit, y)
    for tick in range(count + 1):
        height = 4.0 if tick % ticks == 0 else 2.8 if tick % (ticks // 2) == 0 else 1.8
        canvas.line(x + tick * step, y, x + tick * step, y + height * mm)
    canvas.setFont("Helvetica", 6)
    words = f"This line measures {length} {'mm' if metric else 'in'} when printed at 100 %."
    canvas.drawString(x, y + 5 * mm, words)


_ROUND = {True: 50, False: 1}
"""A ruler is a multiple of so many units long."""
