"""Found drawings made to fit: the new outline over a ghost of the old, and what moved in colour.

Pointing at an edge says how long it is; a click beside Ctrl starts measuring between two points.
"""

from collections.abc import Iterator, Sequence
from functools import partial
from math import hypot

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import QToolTip

from anzel.app.edits.drawing_edits import DrawingView
from anzel.app.number_display import shown, shown_length, shown_measure
from anzel.core.number_format import format_length
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Segment
from anzel.refit.refit import Decision, Outcome
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.theme import colour, font, sheet_colour
from anzel.ui.views.line_painting import paint_lines
from anzel.ui.views.painted_layer import PaintedLayer, PaintStep
from anzel.ui.views.refit_paths import Mark, RefitPaths, refit_paths
from anzel.ui.views.zoom_canvas import ZoomCanvas

_REACH = 14.0
_NEAR_EDGE = 7.0


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
        self.setAccessibleName("The drawing, refitted")
        self._shown: Sequence[DrawingView] = ()
        self._tint = "#e8d3ad"
        self._picked = ("", "")
        self._paths = refit_paths(())
        self._layer = PaintedLayer(self)
        self._measured: list[Segment] | None = None
        self._from: Point | None = None
        self._pointer: Point | None = None

    def show_drawings(
        self, drawings: Sequence[DrawingView], paths: RefitPaths, tint: str, picked: tuple[str, str]
    ) -> None:
        """Show drawings as they are now."""
        if paths is not self._paths:
            self._measured = None
        self._shown, self._paths, self._tint, self._picked = drawings, paths, tint, picked
        self.refit()

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
        return self._paths.bounds

    def paint_on(self, painter: QPainter) -> None:
        self._layer.paint_on(painter, (self._paths, self._tint), self.transform, self._drawings)
        for at, name, decision in self._paths.marks:
            if (name, decision.feature.id) == self._picked:
                painter.setPen(QPen(colour("accent"), 2.4))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(self.to_view(*at), 13, 13)
        self._paint_measure(painter)

    def _drawings(self) -> Iterator[PaintStep]:
        """Yield what paints the drawings, from the ground up."""
        paths, to_pixels, style = self._paths, self.transform, Qt.PenStyle
        view, soft = QRectF(self.rect()), colour("soft")
        for path in paths.pieces:
            yield partial(self._paint_outline, path=path)
        yield from paths.unused.steps(to_pixels, view, QPen(soft, 1, style.DashDotLine))
        yield lambda painter: paint_lines(painter, paths.lines, to_pixels)
        yield from paths.ghosts.steps(to_pixels, view, QPen(soft, 1, style.DotLine))
        yield from paths.moved.steps(to_pixels, view, QPen(colour("accent"), 1.8))
        yield self._paint_marks
        yield self._paint_caption

    def _paint_outline(self, painter: QPainter, path: QPainterPath) -> None:
        painter.setPen(QPen(colour("ink"), 1.0))
        painter.setBrush(sheet_colour(self._tint))
        painter.drawPath(self.transform.map(path))

    def _paint_caption(self, painter: QPainter) -> None:
        painter.setFont(font(9, QFont.Weight.DemiBold))
        painter.setPen(colour("soft"))
        unused = "; dash-dotted, lines of no outline" if self._paths.unused else ""
        words = f"As it will be cut; dotted, as it was drawn{unused}"
        painter.drawText(QPointF(14, 24), words)

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the features, with their old and new sizes."""
        items = []
        for at, name, decision in self._paths.marks:
            place, where = self.to_view(*at), (name, decision.feature.id)
            items.append(AccessibleItem(
                self._words(decision).replace("\n", ", "),
                QRectF(place.x() - 7, place.y() - 7, 14, 14), Role.Button, where == self._picked,
                press=partial(self.feature_picked.emit, *where),
            ))  # fmt: skip
        return items

    def _paint_marks(self, painter: QPainter) -> None:
        """Only what is not simply changed needs a mark: mended, held, doubtful."""
        painter.setPen(QPen(colour("warn"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for at in self._paths.mended:
            painter.drawEllipse(self.to_view(*at), 5, 5)
        for at, _, decision in self._paths.marks:
            if decision.feature.uncertainty and not decision.moved:
                self._chip(painter, self.to_view(*at), "?", "warn")
            elif decision.outcome is Outcome.HELD:
                self._chip(painter, self.to_view(*at), "held", "soft")

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
        elif step is not None and self._paths.marks:
            ids = [(name, d.feature.id) for _, name, d in self._paths.marks]
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

    def _mark_near(self, position: QPointF) -> Mark | None:
        near = [
            ((self.to_view(*mark[0]) - position).manhattanLength(), at)
            for at, mark in enumerate(self._paths.marks)
        ]
        distance, at = min(near, default=(_REACH, 0))
        return self._paths.marks[at] if distance < _REACH else None

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
