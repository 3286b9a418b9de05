"""Found drawings made to fit: the new outline over a ghost of the old, and what moved in colour.

Pointing at an edge says how long it is; a click beside Ctrl starts measuring between two points.
"""

from collections.abc import Sequence
from functools import partial
from math import hypot

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import QToolTip

from anzel.app.edits.drawing_edits import DrawingView
from anzel.app.number_display import shown, shown_length, shown_measure
from anzel.core.number_format import format_length
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segments import Segment
from anzel.refit.refit import Decision, Outcome
from anzel.refit.refitted_regions import changed_edges, unused_lines, with_y_up
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.theme import colour, font, sheet_colour
from anzel.ui.views.line_painting import LinePaths, line_paths, paint_lines
from anzel.ui.views.screen_paths import region_path, segments_path
from anzel.ui.views.zoom_canvas import ZoomCanvas

_REACH = 14.0
_NEAR_EDGE = 7.0
_MOST_MENDS = 400


class RefitView(ZoomCanvas):
    """Draws drawings side by side.

    A click picks a feature, H or a double click holds it, P holds its whole piece. A small ring is
    where something was mended.
    """

    feature_picked = Signal(str, str)
    switched = Signal(str, str)
    piece_switched = Signal(str, str)
    left = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._lines: LinePaths = {}
        self.setAccessibleName("The drawing, refitted")
        self._shown: Sequence[DrawingView] = ()
        self._tint = "#e8d3ad"
        self._picked = ("", "")
        self._pieces: list[QPainterPath] = []
        self._ghosts = QPainterPath()
        self._moved = QPainterPath()
        self._unused = QPainterPath()
        self._marks: list[tuple[Point, str, Decision]] = []
        self._mended: list[Point] = []
        self._measured: list[Segment] | None = None
        self._from: Point | None = None
        self._pointer: Point | None = None

    def show_drawings(
        self, drawings: Sequence[DrawingView], tint: str, picked: tuple[str, str]
    ) -> None:
        """Show drawings as they are now."""
        if [each.regions for each in drawings] != [each.regions for each in self._shown]:
            self._rebuild(drawings)
        self._lines = line_paths(line for each in drawings for line in each.lines)
        self._shown, self._tint, self._picked = drawings, tint, picked
        self.refit()

    def _rebuild(self, drawings: Sequence[DrawingView]) -> None:
        self._pieces, self._marks, self._mended = [], [], []
        self._measured = None
        self._ghosts, self._moved, self._unused = QPainterPath(), QPainterPath(), QPainterPath()
        for each in drawings:
            motion = RigidTransform().translated(*each.shift)
            self._pieces += map(region_path, each.regions)
            for old, new in changed_edges(each.refit):
                self._ghosts.addPath(segments_path([s.moved(motion) for s in old]))
                self._moved.addPath(segments_path([s.moved(motion) for s in new]))
            for line in unused_lines(each.refit):
                self._unused.addPath(segments_path([s.moved(motion) for s in line]))
            repairs = each.refit.analysis.assembled.repairs
            places = [at for repair in repairs for at in repair.places][:_MOST_MENDS]
            self._mended += [motion(with_y_up(each.refit, at)) for at in places]
            self._marks += [
                (motion(with_y_up(each.refit, d.feature.at)), each.name, d)
                for d in each.refit.decisions
            ]

    @property
    def edges(self) -> list[Segment]:
        """Every edge as it lies, gathered when something is first measured."""
        if self._measured is None:
            self._measured = [
                segment
                for each in self._shown
                for region in each.regions
                for contour in region.contours
                for segment in contour.segments
            ]
        return self._measured

    def extent(self) -> QRectF:
        box = self._unused.boundingRect()
        for path in self._pieces:
            box = box.united(path.boundingRect())
        return box

    def paint_on(self, painter: QPainter) -> None:
        painter.setPen(QPen(colour("ink"), 1.0))
        painter.setBrush(sheet_colour(self._tint))
        for path in self._pieces:
            painter.drawPath(self.transform.map(path))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(colour("soft"), 1, Qt.PenStyle.DashDotLine))
        painter.drawPath(self.transform.map(self._unused))
        paint_lines(painter, self._lines, self.transform)
        painter.setPen(QPen(colour("soft"), 1, Qt.PenStyle.DotLine))
        painter.drawPath(self.transform.map(self._ghosts))
        painter.setPen(QPen(colour("accent"), 1.8))
        painter.drawPath(self.transform.map(self._moved))
        self._paint_marks(painter)
        self._paint_measure(painter)
        painter.setFont(font(9, QFont.Weight.DemiBold))
        painter.setPen(colour("soft"))
        unused = "" if self._unused.isEmpty() else "; dash-dotted, lines of no outline"
        words = f"As it will be cut; dotted, as it was drawn{unused}"
        painter.drawText(QPointF(14, 24), words)

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the features, with their old and new sizes."""
        items = []
        for at, name, decision in self._marks:
            place, where = self.to_view(*at), (name, decision.feature.id)
            items.append(AccessibleItem(
                self._words(decision).replace("\n", ", "),
                QRectF(place.x() - 7, place.y() - 7, 14, 14), Role.Button, where == self._picked,
                press=partial(self.feature_picked.emit, *where),
            ))  # fmt: skip
        return items

    def _paint_marks(self, painter: QPainter) -> None:
        """Only what is not simply changed needs a mark: mended, held, doubtful, picked."""
        painter.setPen(QPen(colour("warn"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for at in self._mended:
            painter.drawEllipse(self.to_view(*at), 5, 5)
        for at, name, decision in self._marks:
            place = self.to_view(*at)
            if (name, decision.feature.id) == self._picked:
                painter.setPen(QPen(colour("accent"), 2.4))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(place, 13, 13)
            if decision.feature.uncertainty and not decision.moved:
                self._chip(painter, place, "?", "warn")
            elif decision.outcome is Outcome.HELD:
                self._chip(painter, place, "held", "soft")

    def _chip(self, painter: QPainter, at: QPointF, text: str, tint: str) -> None:
        painter.setFont(font(8, QFont.Weight.DemiBold))
        wide = painter.fontMetrics().horizontalAdvance(text) + 9
        box = QRectF(at.x() - wide / 2, at.y() - 8, wide, 16)
        painter.setPen(QPen(colour(tint), 1))
        painter.setBrush(colour("sheet"))
        painter.drawRoundedRect(box, 8, 8)
        painter.setPen(colour(tint))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_measure(self, painter: QPainter) -> None:
        if self._from is None or self._pointer is None:
            return
        start, end = self.to_view(*self._from), self.to_view(*self._pointer)
        painter.setPen(QPen(colour("warn"), 1.4))
        painter.drawLine(start, end)
        for stop in (start, end):
            painter.drawEllipse(stop, 3, 3)
        size = hypot(self._pointer[0] - self._from[0], self._pointer[1] - self._from[1])
        self._chip(painter, (start + end) / 2, f"{shown_measure(size)}", "warn")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._from = self._corner_near(event.position()) if self._from is None else None
            self._pointer = self._from
            self.update()
            return
        super().mousePressEvent(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        mark = self._mark_near(event.position())
        if mark is None:
            super().mouseDoubleClickEvent(event)
        else:
            self.switched.emit(mark[1], mark[2].feature.id)

    def clicked_at(self, position: QPointF, *, is_added: bool = False) -> None:
        mark = self._mark_near(position)
        if mark is not None:
            self.feature_picked.emit(mark[1], mark[2].feature.id)
        else:
            self.left.emit()

    def pick_at(self, position: QPointF) -> None:
        """Pick the feature at a place."""
        self.clicked_at(position)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if event.key() == Qt.Key.Key_H and self._picked[1]:
            self.switched.emit(*self._picked)
        elif event.key() == Qt.Key.Key_P and self._picked[1]:
            self.piece_switched.emit(*self._picked)
        elif event.key() == Qt.Key.Key_Escape and self._from is not None:
            self._from = None
            self.update()
        elif event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        elif step is not None and self._marks:
            ids = [(name, d.feature.id) for _, name, d in self._marks]
            at = ids.index(self._picked) + step if self._picked in ids else 0
            self.feature_picked.emit(*ids[at % len(ids)])
        else:
            super().keyPressEvent(event)

    def hovered_at(self, position: QPointF) -> None:
        if self._from is not None:
            self._pointer = self._corner_near(position) or self._from
            self.update()
            return
        mark = self._mark_near(position)
        words = self._words(mark[2]) if mark is not None else self._edge_words(position)
        self.setCursor(Qt.CursorShape.PointingHandCursor if mark else Qt.CursorShape.ArrowCursor)
        if words:
            QToolTip.showText(self.mapToGlobal(position.toPoint()), words, self)
        else:
            QToolTip.hideText()

    def _words(self, decision: Decision) -> str:
        feature = decision.feature
        arrow = f"{shown_length(feature.drawn)} → {shown_length(decision.new)}"
        sizes = arrow if decision.moved else shown_length(feature.drawn)
        return shown(f"{feature.id}: {sizes} × {format_length(feature.length)}\n{decision.why}")

    def _edge_words(self, position: QPointF) -> str:
        x, y = self._at(position)
        reach = _NEAR_EDGE / self.scale
        near = [
            (_off(x, y, edge.start, edge.end), at)
            for at, edge in enumerate(self.edges)
            if _boxed(x, y, edge.start, edge.end, reach)
        ]
        distance, at = min(near, default=(reach, 0))
        return f"{shown_measure(self.edges[at].length)}" if distance < reach else ""

    def _at(self, position: QPointF) -> Point:
        place = self.transform.inverted()[0].map(position)
        return (place.x(), place.y())

    def _mark_near(self, position: QPointF) -> tuple[Point, str, Decision] | None:
        near = [
            ((self.to_view(*mark[0]) - position).manhattanLength(), at)
            for at, mark in enumerate(self._marks)
        ]
        distance, at = min(near, default=(_REACH, 0))
        return self._marks[at] if distance < _REACH else None

    def _corner_near(self, position: QPointF) -> Point | None:
        x, y = self._at(position)
        corners = (edge.start for edge in self.edges)
        return min(corners, key=lambda c: (c[0] - x) ** 2 + (c[1] - y) ** 2, default=None)


def _boxed(x: float, y: float, a: Point, b: Point, reach: float) -> bool:
    across = min(a[0], b[0]) - reach <= x <= max(a[0], b[0]) + reach
    return across and min(a[1], b[1]) - reach <= y <= max(a[1], b[1]) + reach


def _off(x: float, y: float, a: Point, b: Point) -> float:
    """Return how far a point is from a chord."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    size = dx * dx + dy * dy
    t = min(max(((x - a[0]) * dx + (y - a[1]) * dy) / size, 0.0), 1.0) if size else 0.0
    return hypot(x - a[0] - t * dx, y - a[1] - t * dy)
