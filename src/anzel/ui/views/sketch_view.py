"""A plate drawn large: points dragged, legs and openings picked, sizes standing on it.

While a point is dragged, the sketch is solved aside; the view shows the last solution that arrived.
"""

from collections.abc import Callable
from functools import partial
from math import hypot

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter

from anzel.app.number_display import shown_length, shown_measure
from anzel.app.selection import Thing, ThingKind
from anzel.geometry.rigid_transform import Point
from anzel.shape.outline_building import segments_of
from anzel.shape.sketch_changes import nearest_on
from anzel.shape.snapping import SnapTargets, snapped_place, targets_of
from anzel.structure.dimension import SEPARATOR, Dimension
from anzel.structure.line_work import PlateLine
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.theme import colour, font
from anzel.ui.views.dimension_lines import Chip, paint_dimension, paint_frame, size_words
from anzel.ui.views.line_painting import LinePaths, line_paths, paint_lines
from anzel.ui.views.neighbour_ghosts import paint_neighbours
from anzel.ui.views.picture_hand import PictureHand
from anzel.ui.views.picture_layer import PictureLayer, Proposal, paint_places, paint_proposal
from anzel.ui.views.sketch_content import SketchContent
from anzel.ui.views.sketch_painting import (
    Levels,
    paint_axes,
    paint_legs,
    paint_levels,
    paint_points,
    paint_region,
    places_in,
)
from anzel.ui.views.unfinished_path import ALIGN, UnfinishedPath
from anzel.ui.views.zoom_canvas import ZoomCanvas, adds

_REACH = 10.0
"""A click takes a point, a leg or an opening that is no further away, pixels."""
_FINE = 0.1
"""A fine nudge, as a share of the grid's step."""
_NUDGES = {
    Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1),
    Qt.Key.Key_Down: (0, -1),
}  # fmt: skip


class SketchView(ZoomCanvas):
    """Draws a sketch; says what was picked, and where a point shall go."""

    picked = Signal(object, bool)
    left = Signal()
    dimension_clicked = Signal(str)
    dragged = Signal(str, float, float)
    leg_dragged = Signal(str, float, float)
    dropped = Signal()
    cancelled = Signal()
    nudged = Signal(str, float, float)
    split_wanted = Signal(str, float)
    stepped = Signal(int)
    path_changed = Signal()
    path_closed = Signal()
    path_left = Signal()
    place_clicked = Signal(float, float)
    places_left = Signal()
    picture_moved = Signal(float, float)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(
            "Plate drawn large: arrows move the picked point, with Shift finely; N and B pick the "
            "next and the one before"
        )
        self.unfinished: UnfinishedPath | None = None
        self.step = 1.0  # of the grid, mm
        self.takes_places = False  # clicks tell places of the picture, and pick nothing
        self.places: tuple[Point, ...] = ()
        self.proposal: Proposal | None = None
        self._layer, self._hand = PictureLayer(), PictureHand()
        self._content_lines: tuple[PlateLine, ...] = ()
        self._lines: LinePaths = {}
        self._content: SketchContent | None = None
        self._chips: list[Chip] = []
        self._held = ""
        self._from: QPointF | None = None
        self._levels: Levels = (None, None)

    def show_content(self, content: SketchContent) -> None:
        """Show a sketch as it is now, or as it would be while a point is dragged."""
        is_new = self._content is None or self._content.plate != content.plate
        if is_new or content.lines != self._content_lines:
            self._content_lines, self._lines = content.lines, line_paths(content.lines)
        self._content = content
        if is_new:
            self.fit()
        elif not self._held:
            self.refit()
        self.update()

    def extent(self) -> QRectF:
        if self._content is None:
            return QRectF()
        x0, y0, x1, y1 = self._content.region.bounds
        air = 0.14 * max(x1 - x0, y1 - y0)
        return QRectF(x0 - air, y0 - air, x1 - x0 + 2 * air, y1 - y0 + 2 * air)

    def _places(self) -> dict[str, Point]:
        """Return where points and discs' centres are, by id."""
        assert self._content is not None
        return places_in(self._content.sketch)

    def paint_on(self, painter: QPainter) -> None:
        content = self._content
        if content is None:
            return
        if content.picture is not None:
            self._layer.paint(painter, self._hand.shown(content.picture), self.transform)
        paint_region(painter, content, self.transform)
        paint_lines(painter, self._lines, self.transform)
        if content.frame is not None:
            paint_frame(painter, content.frame, self.transform)
        paint_neighbours(painter, content.neighbours, self.transform)
        paint_levels(painter, self._levels, self)
        paint_axes(painter, content, self)
        paint_legs(painter, content, self)
        transform, words = self.transform, self._size_words()
        self._chips = [
            chip for dimension in content.dimensions
            if (chip := paint_dimension(painter, dimension, transform, words))
        ]  # fmt: skip
        if not content.is_fixed:
            paint_points(painter, content, self)
        if self.unfinished is not None:
            self.unfinished.paint(painter, self)
        paint_places(painter, self.places, self.transform)
        if self.proposal is not None:
            paint_proposal(painter, self.proposal, self.transform)
        painter.setFont(font(9, QFont.Weight.DemiBold))
        painter.setPen(colour("soft"))
        painter.drawText(QPointF(14, 24), f"{content.plate}, drawn large")

    def _size_words(self) -> Callable[[Dimension], str]:
        """Return what words a dimension has: a size as it holds, else the distance."""
        assert self._content is not None
        sizes = {size.name: size for size in self._content.sketch.sizes}

        def words(dimension: Dimension) -> str:
            size = sizes.get(dimension.field.rpartition(SEPARATOR)[2])
            return size_words(size) if size is not None else shown_length(dimension.length)

        return words

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the points, then the legs, then the openings and the sizes."""
        content = self._content
        if content is None or content.is_fixed:
            return []
        names = {thing.name for thing in content.picked}
        items = []
        for name, (x, y) in self._places().items():
            at = self.to_view(x, y)
            box = QRectF(at.x() - 5, at.y() - 5, 10, 10)
            words = f"{shown_length(x)} along x, {shown_measure(y)} along y"
            words += ", free" if name in content.free else ", held"
            items.append(self._item(name, box, words, name in names))
        for path in content.sketch.paths:
            for leg, segment in zip(path.legs, segments_of(path), strict=True):
                at = self.to_view(*segment.point_at(0.5))
                box = QRectF(at.x() - 5, at.y() - 5, 10, 10)
                words = f"{leg.kind.value}, {shown_measure(segment.length)} long"
                items.append(self._item(leg.id, box, words, leg.id in names))
        return items

    def _item(self, name: str, box: QRectF, words: str, is_picked: bool) -> AccessibleItem:
        thing = self._thing(name)
        return AccessibleItem(
            f"{thing.kind.value} {name}", box, Role.Button, is_picked, words,
            press=partial(self.picked.emit, thing, False),
        )  # fmt: skip

    def _thing(self, name: str) -> Thing:
        """Return the thing of an id."""
        assert self._content is not None
        sketch, plate = self._content.sketch, self._content.plate
        if name in sketch.places():
            return Thing(ThingKind.POINT, name, plate)
        if any(leg.id == name for path in sketch.paths for leg in path.legs):
            return Thing(ThingKind.LEG, name, plate)
        return Thing(ThingKind.OPENING, name, plate)

    def _under(self, position: QPointF) -> Thing | None:
        """Return the point, else the leg, else the opening at a place."""
        content = self._content
        if content is None or content.is_fixed:
            return None
        near = min(
            ((hypot(d.x(), d.y()), name) for name, at in self._places().items()
             for d in (self.to_view(*at) - position,)), default=(_REACH, ""),
        )  # fmt: skip
        if near[0] < _REACH and self._thing(near[1]).kind is ThingKind.POINT:
            return self._thing(near[1])
        at = self._mm(position)
        leg, _, off = nearest_on(content.sketch, at)
        if off * self.scale < _REACH:
            return self._thing(leg)
        for disc in content.sketch.discs:
            if hypot(disc.x - at[0], disc.y - at[1]) < disc.radius + _REACH / self.scale:
                return self._thing(disc.id)
        return None

    def _mm(self, position: QPointF) -> Point:
        place = self.transform.inverted()[0].map(position)
        return (place.x(), place.y())

    def pick_at(self, position: QPointF) -> None:
        """Pick what is at a place, unless it is among what is picked already."""
        thing = self._under(position)
        if thing is None:
            self.left.emit()
        elif self._content is not None and thing not in self._content.picked:
            self.picked.emit(thing, False)

    def show_proposal(self, proposal: Proposal | None) -> None:
        """Show shapes proposed from the picture, or none."""
        self.proposal = proposal
        self.update()

    def pick_proposal(self, x: float, y: float) -> None:
        """Pick the smallest proposed shape about a place, or drop it."""
        if self.proposal is not None:
            self.show_proposal(self.proposal.toggled((x, y)))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        picture = self._content.picture if self._content is not None else None
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if self._hand.press(picture, QPointF(*self._mm(event.position())), with_control=control):
            return
        if self.takes_places:
            super().mousePressEvent(event)
            return
        if self.unfinished is not None and event.button() == Qt.MouseButton.LeftButton:
            self._draw_with(self.unfinished, event)
            return
        thing = self._under(event.position())
        is_left = event.button() == Qt.MouseButton.LeftButton
        can_move = thing is not None and self._can_move(thing)
        if is_left and can_move and thing is not None and not self._chip_at(event.position()):
            self.setFocus()
            self._from = event.position()
            self.picked.emit(thing, adds(event))
            self._held = "" if adds(event) else thing.name
        else:
            super().mousePressEvent(event)

    def _draw_with(self, path: UnfinishedPath, event: QMouseEvent) -> None:
        self.setFocus()
        self._hover_path(path, event)
        done = path.click()
        self.path_changed.emit()
        if done:
            self.path_closed.emit()

    def _hover_path(self, path: UnfinishedPath, event: QMouseEvent) -> None:
        is_free = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        targets = self._targets()
        path.hover(self._mm(event.position()), targets, self.scale, self.step, is_free=is_free)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._hand.is_holding:
            self._hand.move(QPointF(*self._mm(event.position())))
            self.update()
            return
        if self.unfinished is not None and self._pressed is None:
            self._hover_path(self.unfinished, event)
            return
        if self._from is None or not self._held:
            super().mouseMoveEvent(event)
            return
        if (event.position() - self._from).manhattanLength() > 4:
            free = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
            if self._held in self._places():
                x, y = self._mm(event.position()) if free else self._snapped(event.position())
                self.dragged.emit(self._held, x, y)
            else:
                self.leg_dragged.emit(self._held, *self._moved_by(event.position(), free))

    def _can_move(self, thing: Thing) -> bool:
        """Whether a thing can be dragged: a point, a disc, or a leg with its two ends."""
        return thing.kind is ThingKind.LEG or thing.name in self._places()

    def _moved_by(self, position: QPointF, is_free: bool) -> Point:
        """Return how far the pointer has come since it was pressed, in whole steps of the grid."""
        assert self._from is not None
        (ax, ay), (bx, by) = self._mm(self._from), self._mm(position)
        step = 0.0 if is_free else self.step
        dx, dy = (round(d / step) * step if step else d for d in (bx - ax, by - ay))
        return dx, dy

    def _snapped(self, position: QPointF) -> Point:
        """Return a place that meets other things, at their level, or on the grid."""
        targets = self._targets(self._held)
        found = snapped_place(self._mm(position), None, targets, ALIGN / self.scale, self.step)
        self._levels = (found.level_x, found.level_y)
        return found.place

    def _targets(self, without: str = "") -> SnapTargets:
        """Return what a point can meet here."""
        assert self._content is not None
        return targets_of(
            self._content.sketch, without=without, neighbours=self._content.neighbour_edges
        )

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._hand.is_holding:
            self.picture_moved.emit(*self._hand.release())
            return
        if self._from is None:
            super().mouseReleaseEvent(event)
            return
        was_dragged = (event.position() - self._from).manhattanLength() > 4 and self._held
        self._from, self._held, self._levels = None, "", (None, None)
        if was_dragged:
            self.dropped.emit()
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.unfinished is not None:
            return  # the first of the two clicks has set the corner
        thing = self._under(event.position())
        if thing is None or self._content is None:
            super().mouseDoubleClickEvent(event)
        elif thing.kind is ThingKind.LEG:
            leg, t, _ = nearest_on(self._content.sketch, self._mm(event.position()))
            if 0 < t < 1:
                self.split_wanted.emit(leg, t)

    def clicked_at(self, position: QPointF, *, is_added: bool = False) -> None:
        if self.takes_places:
            self.place_clicked.emit(*self._mm(position))
            return
        chip = self._chip_at(position)
        thing = self._under(position)
        if chip is not None:
            self.dimension_clicked.emit(chip.field)
        elif thing is not None:
            self.picked.emit(thing, is_added)
        else:
            self.left.emit()

    def _chip_at(self, position: QPointF) -> Chip | None:
        return next((chip for chip in self._chips if chip.box.contains(position)), None)

    def hovered_at(self, position: QPointF) -> None:
        over = self._chip_at(position) is not None or self._under(position) is not None
        self.setCursor(Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.ArrowCursor)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if self.unfinished is not None and self._path_key(self.unfinished, key):
            return
        point = self._picked_point()
        if key == Qt.Key.Key_Escape and self._hand.is_holding:
            self._hand.release()
            self.update()
        elif key == Qt.Key.Key_Escape and self.takes_places:
            self.places_left.emit()
        elif key == Qt.Key.Key_Escape and self._held:
            self._from, self._held, self._levels = None, "", (None, None)
            self.cancelled.emit()
        elif key == Qt.Key.Key_Escape:
            self.left.emit()
        elif key in (Qt.Key.Key_N, Qt.Key.Key_B):
            self.stepped.emit(1 if key == Qt.Key.Key_N else -1)
        elif key in _NUDGES and point:
            fine = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
            step = self.step * (_FINE if fine else 1.0)
            x, y = self._places()[point]
            dx, dy = _NUDGES[key]
            self.nudged.emit(point, x + step * dx, y + step * dy)
        else:
            super().keyPressEvent(event)

    def _path_key(self, path: UnfinishedPath, key: Qt.Key) -> bool:
        """Return whether a key was one for the path."""
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.path_closed.emit()
        elif key == Qt.Key.Key_Backspace and path.take_back():
            self.path_changed.emit()
        elif key in (Qt.Key.Key_Escape, Qt.Key.Key_Backspace):
            self.path_left.emit()
        else:
            return False
        return True

    def _picked_point(self) -> str:
        content = self._content
        name = content.picked[-1].name if content is not None and content.picked else ""
        return name if name and name in self._places() else ""
