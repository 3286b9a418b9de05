"""The sheets of a job spread out to scale: pieces to drag, turn, nudge and pin.

A piece in hand is drawn where it would lie, with what it would be too near to; letting go pins it
there.
"""

from collections.abc import Iterator, Sequence
from functools import partial

import shapely
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFont,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QTransform,
)  # fmt: skip
from PySide6.QtWidgets import QToolTip

from anzel.app.number_display import shown_length, shown_measure
from anzel.app.views.layout_editor import DragPreview, LayoutEditor, PlacedSheet
from anzel.layout.layout import PlacedPiece, SheetPlan
from anzel.layout.sheet_settings import KeptPlacement
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.painting import paint_words
from anzel.ui.theme import colour, font, sheet_colour, text_scale
from anzel.ui.views.joint_markers import paint_pin
from anzel.ui.views.line_painting import paint_faces, paint_lines
from anzel.ui.views.painted_layer import PaintedLayer, PaintStep
from anzel.ui.views.screen_paths import polygon_path
from anzel.ui.views.sheet_paths import PiecePaths, SheetPaths, on_table
from anzel.ui.views.zoom_canvas import ZoomCanvas, adds

_STEP, _LARGE_STEP = 1.0, 10.0
_NUDGES = {
    Qt.Key.Key_Left: (-1.0, 0.0), Qt.Key.Key_Right: (1.0, 0.0),
    Qt.Key.Key_Up: (0.0, 1.0), Qt.Key.Key_Down: (0.0, -1.0),
}  # fmt: skip
_STEPS = {Qt.Key.Key_N: 1, Qt.Key.Key_B: -1}
Where = tuple[int, int]
"""The number of a sheet, and of a copy on it."""


class SheetsView(ZoomCanvas):
    """Draws a table of sheets; a moved piece says where it was put."""

    picked = Signal(object, bool)
    several_picked = Signal(list)
    left = Signal()
    put = Signal(object)
    unpin_wanted = Signal()
    sheet_dragged = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.band_drawn.connect(self._pick_within)
        self.setAccessibleName(
            "Sheets: N and B pick the next piece and the one before; arrows nudge it, "
            "R turns it, P pins it"
        )
        self._table = LayoutEditor((), 1.0, 1.0)
        self._tints: dict[str, str] = {}
        self.pieces, self._paths = PiecePaths(), list[SheetPaths]()
        self._layer, self._edition = PaintedLayer(self), 0
        self._all: Sequence[Where] = ()
        self._where: Where | None = None
        self._held: DragPreview | None = None
        self._turn_step = 90.0
        self._from: QPointF | None = None
        self._title_held: SheetPlan | None = None

    def show_table(
        self, table: LayoutEditor, tints: dict[str, str], names: dict[str, str], turn_step: float
    ) -> None:
        """Show sheets as they are laid now; `names` are the stocks'."""
        self._table, self._tints = table, tints
        self._turn_step, self._held = turn_step, None
        self._paths = self.pieces.of_sheets(table.sheets, names)
        self._edition, self._all = self._edition + 1, ()
        self.refit()

    def show_picked(self, places: Sequence[Where]) -> None:
        """Mark copies as picked; the last one is in hand."""
        self._all, self._where = places, places[-1] if places else None
        self.update()

    def extent(self) -> QRectF:
        return QRectF(0, 0, self._table.width, self._table.height)

    def paint_on(self, painter: QPainter) -> None:
        held = self._where if self._held is not None else None
        steps = partial(self._table_without, held)
        self._layer.paint_on(painter, (self._edition, held), self.transform, steps)
        for number, index in self._all:
            if (number, index) != held:
                self._paint_piece(painter, number, index, is_picked=True)
        for spread in self._table.sheets:
            for laid in spread.plan.placed:
                if laid.pinned:
                    x, y, _ = laid.piece.region.largest_inscribed_circle
                    at = laid.transform((x, y))
                    view = self.to_view(at[0] + spread.x, at[1] + spread.y)
                    paint_pin(painter, view + QPointF(0, -11))
        if self._held is not None:
            self._paint_held(painter, self._held)

    def _table_without(self, held: Where | None) -> Iterator[PaintStep]:
        """Yield what paints each sheet and each piece but that in hand, as if none were picked."""
        for number, spread in enumerate(self._table.sheets):
            yield partial(self._paint_sheet, spread=spread, paths=self._paths[number])
            for index in range(len(spread.plan.placed)):
                if (number, index) != held:
                    yield partial(self._paint_piece, number=number, index=index)

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the sheets, each followed by the pieces on it."""
        items = []
        for number, spread in enumerate(self._table.sheets):
            plan = spread.plan
            box = QRectF(
                self.to_view(spread.x, spread.y + plan.height),
                self.to_view(spread.x + plan.width, spread.y),
            )
            paths = self._paths[number]
            items.append(AccessibleItem(f"{paths.title}, {paths.used}", box, Role.ListItem))
            for index, laid in enumerate(plan.placed):
                items.append(self._accessible_piece(number, index, laid))
        return items

    def _accessible_piece(self, number: int, index: int, laid: PlacedPiece) -> AccessibleItem:
        spread, where = self._table.sheets[number], (number, index)
        x0, y0, x1, y1 = laid.region.bounds
        box = QRectF(
            self.to_view(spread.x + x0, spread.y + y1), self.to_view(spread.x + x1, spread.y + y0)
        )
        place = f"{shown_length(x0, 1)} from the left, {shown_measure(y0, 1)} from below"
        turned = f", turned {laid.turn:g}°" * bool(laid.turn) + ", pinned" * laid.pinned
        return AccessibleItem(
            f"{laid.piece.name} on sheet {spread.plan.number}", box, Role.Button,
            where in self._all, place + turned, press=lambda: self.pick(where),
        )  # fmt: skip

    def pick(self, where: Where) -> None:
        """Pick a copy by its sheet and its place on it."""
        self._where = where
        self.picked.emit(where, False)
        self.update()

    def pick_next(self, by: int) -> None:
        """Pick the next copy, or the previous with -1, from sheet to sheet in a circle."""
        every = [
            (number, index)
            for number, spread in enumerate(self._table.sheets)
            for index in range(len(spread.plan.placed))
        ]
        if every:
            at = every.index(self._where) + by if self._where in every else 0
            self.pick(every[at % len(every)])

    def pick_at(self, position: QPointF) -> None:
        """Pick the copy at a place, unless it is among those picked already."""
        where = self._table.at(self._on_table(position))
        if where is None:
            self.left.emit()
        elif where not in self._all:
            self.pick(where)

    def _paint_sheet(self, painter: QPainter, spread: PlacedSheet, paths: SheetPaths) -> None:
        plan, transform = spread.plan, self.transform
        style = Qt.PenStyle.DashLine if plan.is_scrap else Qt.PenStyle.SolidLine
        painter.setBrush(colour("sheet"))
        painter.setPen(QPen(colour("line"), 1.2, style))
        painter.drawPath(transform.map(paths.edge))
        painter.setPen(QPen(colour("line"), 0.8, Qt.PenStyle.DotLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(transform.map(paths.inside))
        corner = self.to_view(spread.x, spread.y + plan.height) + QPointF(1, -6)
        painter.setFont(font(9.5, QFont.Weight.DemiBold))
        painter.setPen(colour("ink"))
        room = max(plan.width * self.scale, 60.0)
        paint_words(painter, corner, paths.title, room)
        ahead = painter.fontMetrics().horizontalAdvance(paths.title) + 8
        painter.setFont(font(9))
        painter.setPen(colour("soft"))
        paint_words(painter, corner + QPointF(ahead, 0), paths.used, room - ahead)

    def _paint_piece(
        self, painter: QPainter, number: int, index: int, *, is_picked: bool = False
    ) -> None:
        spread = self._table.sheets[number]
        laid = spread.plan.placed[index]
        outline, lines = self.pieces.of_piece(laid)
        transform = on_table(laid, spread) * self.transform
        tint = sheet_colour(self._tints.get(laid.piece.stock_id, "#e8d3ad"))
        painter.setPen(QPen(colour("accent" if is_picked else "ink"), 2.2 if is_picked else 1.0))
        painter.setBrush(tint)
        painter.drawPath(transform.map(outline))
        paint_lines(painter, lines, transform)
        paint_faces(painter, laid, QTransform.fromTranslate(spread.x, spread.y) * self.transform)
        self._paint_name(painter, spread, laid)

    def _paint_name(self, painter: QPainter, spread: PlacedSheet, laid: PlacedPiece) -> None:
        """The piece's name where it has most room, if it has enough."""
        x, y, radius = laid.piece.region.largest_inscribed_circle
        at = laid.transform((x, y))
        painter.setFont(font(8.5, QFont.Weight.Medium))
        text = laid.piece.name + (" ⇋" if laid.transform.over else "")
        half = painter.fontMetrics().horizontalAdvance(text) / 2
        if half < radius * self.scale * 1.5 + 5.0:
            painter.setPen(colour("ink"))
            middle = self.to_view(at[0] + spread.x, at[1] + spread.y)
            painter.drawText(middle + QPointF(-half, 4), text)

    def _paint_held(self, painter: QPainter, held: DragPreview) -> None:
        bad = bool(held.clashing)
        tint = QColor(colour("warn" if bad else "accent"))
        painter.setPen(QPen(tint, 2.2))
        tint.setAlpha(60)
        painter.setBrush(tint)
        painter.drawPath(self.transform.map(polygon_path(held.polygon)))
        text = f"{shown_length(held.place.x, 1)}, {shown_length(held.place.y, 1)}"
        if bad:
            text = f"▲ too near to {', '.join(held.clashing[:3])}"
        box = held.polygon.bounds
        at = self.to_view((box[0] + box[2]) / 2, box[1]) + QPointF(0, 16)
        painter.setFont(font(9, QFont.Weight.DemiBold))
        half = painter.fontMetrics().horizontalAdvance(text) / 2
        painter.fillRect(QRectF(at.x() - half - 5, at.y() - 12, 2 * half + 10, 17), colour("sheet"))
        painter.setPen(colour("warn" if bad else "ink"))
        painter.drawText(at - QPointF(half, 0), text)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        where = self._table.at(self._on_table(event.position()))
        if event.button() == Qt.MouseButton.LeftButton and where is not None:
            self.setFocus()
            self._where, self._from = where, event.position()
            self.picked.emit(where, adds(event))
            self.update()
        else:
            self._title_held = self._title_at(event.position())
            super().mousePressEvent(event)

    def _title_at(self, position: QPointF) -> SheetPlan | None:
        """Return the sheet whose title is at a place."""
        for spread in self._table.sheets:
            plan = spread.plan
            corner = self.to_view(spread.x, spread.y + plan.height)
            high = 18 * text_scale()
            box = QRectF(corner.x(), corner.y() - high, plan.width * self.scale, high)
            if box.contains(position) and plan.placed:
                return plan
        return None

    def clicked_at(self, position: QPointF, *, is_added: bool = False) -> None:
        self.left.emit()

    def _pick_within(self, box: QRectF) -> None:
        inside = [
            (number, index)
            for number, spread in enumerate(self._table.sheets)
            for index, polygon in enumerate(spread.polygons)
            if box.contains(_box_of(polygon, spread))
        ]
        if inside:
            self.several_picked.emit(inside)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._title_held is not None and event.buttons():
            plan, self._title_held, self._pressed = self._title_held, None, None
            self.sheet_dragged.emit(plan)
            return
        if self._from is None or self._where is None:
            super().mouseMoveEvent(event)
            return
        way = event.position() - self._from
        if self._held is not None or way.manhattanLength() > 4:
            dx, dy = way.x() / self.scale, -way.y() / self.scale
            self._held = self._table.drag_preview(self._where, dx, dy)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._title_held = None
        if self._from is None:
            super().mouseReleaseEvent(event)
            return
        held, self._from, self._held = self._held, None, None
        if held is not None:
            self.put.emit(held.place)
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape and self._held is not None:
            self._held = self._from = None
            self.update()
        elif key == Qt.Key.Key_Escape:
            self.left.emit()
        elif key in _STEPS:
            self.pick_next(_STEPS[key])
        elif self._where is None:
            super().keyPressEvent(event)
        elif key in _NUDGES:
            large = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            step = _LARGE_STEP if large else _STEP
            dx, dy = _NUDGES[key]
            self.put.emit(self._table.drag_preview(self._where, dx * step, dy * step).place)
        elif key == Qt.Key.Key_R:
            self.put.emit(self._table.drag_preview(self._where, 0.0, 0.0, self._turn_step).place)
        elif key == Qt.Key.Key_P:
            self._pin(self._table.laid(self._where))
        else:
            super().keyPressEvent(event)

    def _pin(self, laid: PlacedPiece) -> None:
        assert self._where is not None
        if laid.pinned:
            self.unpin_wanted.emit()
        else:
            place: KeptPlacement = self._table.drag_preview(self._where, 0.0, 0.0).place
            self.put.emit(place)

    def hovered_at(self, position: QPointF) -> None:
        where = self._table.at(self._on_table(position))
        if where is None and self._title_at(position) is not None:
            self.setCursor(Qt.CursorShape.OpenHandCursor)
            told = "Drag the sheet out of the window to have it as a file"
            QToolTip.showText(self.mapToGlobal(position.toPoint()), told, self)
            return
        shape = Qt.CursorShape.OpenHandCursor if where else Qt.CursorShape.ArrowCursor
        self.setCursor(shape)
        if where is None:
            QToolTip.hideText()
            return
        laid = self._table.laid(where)
        width, height = laid.piece.region.size
        size = f"{shown_length(width, 1)} × {shown_measure(height, 1)}"
        words = [laid.piece.name, size]
        words += [f"turned {laid.turn:g}°"] if laid.turn else []
        words += ["turned over"] if laid.transform.over else []
        words += ["pinned"] if laid.pinned else []
        QToolTip.showText(self.mapToGlobal(position.toPoint()), " · ".join(words), self)

    def _on_table(self, position: QPointF) -> tuple[float, float]:
        at = self.transform.inverted()[0].map(position)
        return (at.x(), at.y())


def _box_of(polygon: shapely.Polygon, spread: PlacedSheet) -> QRectF:
    left, low, right, high = polygon.bounds
    return QRectF(left + spread.x, low + spread.y, right - left, high - low)
