"""The screen as a drawing backend: pages become painter paths, y up, in mm."""

from collections.abc import Sequence
from math import degrees

import shapely
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QPolygonF

from anzel.cutjob.cut_lines import CutLine
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import Contour, Region, Stroke
from anzel.geometry.segments import Arc, Cubic, Segment
from anzel.layout.layout import SheetPlan
from anzel.output.pages import Backend, Page, draw, page_of
from anzel.structure.line_work import LineOperation


class ScreenPaths(Backend):
    """Collects one filled outline per piece, and the lines on it by what is done along them."""

    def __init__(self) -> None:
        self.outlines: list[QPainterPath] = []
        self.lines: list[dict[LineOperation, QPainterPath]] = []
        self._owner: str | None = None

    def begin(self, page: Page) -> None:
        self._owner = None

    def contour(self, contour: Contour, line: CutLine) -> None:
        self._piece(line)
        self.outlines[-1].addPath(contour_path(contour))

    def open_path(self, path: OpenPath, line: CutLine) -> None:
        self._lines_of(line).addPath(segments_path(path.segments))

    def stroke(self, stroke: Stroke, line: CutLine) -> None:
        path = self._lines_of(line)
        path.moveTo(*stroke[0])
        for point in stroke[1:]:
            path.lineTo(*point)

    def _lines_of(self, line: CutLine) -> QPainterPath:
        self._piece(line)
        operation = LineOperation.CUT if line.operation.cuts else LineOperation(line.operation)
        return self.lines[-1].setdefault(operation, QPainterPath())

    def _piece(self, line: CutLine) -> None:
        if line.owner != self._owner:
            self._owner = line.owner
            outline = QPainterPath()
            outline.setFillRule(Qt.FillRule.OddEvenFill)
            self.outlines.append(outline)
            self.lines.append({})


def paths_of(plan: SheetPlan) -> ScreenPaths:
    """Return the paths of a plan's pieces, in the order they are laid."""
    backend = ScreenPaths()
    draw([page_of(plan, "screen")], backend)
    return backend


def contour_path(contour: Contour) -> QPainterPath:
    """Return an outline as a painter path; arcs stay arcs."""
    path = segments_path(contour.segments)
    path.closeSubpath()
    return path


def region_path(region: Region) -> QPainterPath:
    """Return a region, its holes open, as a painter path; arcs stay arcs."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for contour in region.contours:
        path.addPath(contour_path(contour))
    return path


def polygon_path(shape: shapely.Geometry, dx: float = 0.0, dy: float = 0.0) -> QPainterPath:
    """Return a shapely polygon, or several, shifted, as a painter path."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for part in shapely.get_parts(shape):
        for ring in (part.exterior, *part.interiors):
            path.addPolygon(QPolygonF([QPointF(x + dx, y + dy) for x, y in ring.coords]))
    return path


def segments_path(segments: Sequence[Segment]) -> QPainterPath:
    """Return edges end to end as an open painter path."""
    path = QPainterPath(QPointF(*segments[0].start))
    for segment in segments:
        if isinstance(segment, Arc):
            radius, (x, y) = segment.radius, segment.centre
            box = QRectF(x - radius, y - radius, 2 * radius, 2 * radius)
            # Qt's angles run with y downwards, ours with y upwards
            path.arcTo(box, -degrees(segment.start_angle), -degrees(segment.sweep))
        elif isinstance(segment, Cubic):
            _, first, second, end = segment.controls
            path.cubicTo(QPointF(*first), QPointF(*second), QPointF(*end))
        else:
            path.lineTo(*segment.end)
    return path
