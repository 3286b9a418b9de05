"""The standing structure under the maker's hands: orbit, pan, zoom, pick, drag a plate."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QHideEvent, QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QToolTip

from anzel.geometry.placement import Vector, add_scaled
from anzel.scene.dragging import dragged, nudge
from anzel.scene.picking import point_under
from anzel.scene.section_plane import ray_entry
from anzel.ui.views.joint_markers import REACH
from anzel.ui.views.rubber_band import RubberBand
from anzel.ui.views.view3d_canvas import View3DCanvas
from anzel.ui.views.zoom_canvas import adds

_CLICK = 4
NUDGES = {
    Qt.Key.Key_Left: (-1.0, 0.0, 0.0), Qt.Key.Key_Right: (1.0, 0.0, 0.0),
    Qt.Key.Key_Up: (0.0, 1.0, 0.0), Qt.Key.Key_Down: (0.0, -1.0, 0.0),
    Qt.Key.Key_PageUp: (0.0, 0.0, 1.0), Qt.Key.Key_PageDown: (0.0, 0.0, -1.0),
}  # fmt: skip
"""With Shift these keys move the picked plate by a millimetre: to the right, away, up."""


class View3D(View3DCanvas):
    """Left drag orbits, middle or shift drag pans, wheel zooms; Ctrl draws a rubber band.

    Where plates are `movable`, a drag on the picked one carries it over the table, with Alt up and
    down.
    """

    joint_picked = Signal(str, bool)
    piece_picked = Signal(str, bool)
    pieces_picked = Signal(list)
    left = Signal()
    plate_moved = Signal(str, object)
    offer_taken = Signal(int)
    side_picked = Signal(str, object)
    """The piece, and the point of space on it; "" where there is none: the table."""

    def __init__(self) -> None:
        super().__init__()
        self.movable = self.picks_sides = False
        self._pressed: QPointF | None = None
        self._grasped: QPointF | None = None
        self._dragged = False
        self._band = RubberBand(self, Qt.KeyboardModifier.ControlModifier)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pressed, self._dragged = event.position(), False
        left = event.button() is Qt.MouseButton.LeftButton
        shift = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        self._grasped = None
        if self._band.press(event):
            return
        if left and not shift and self.movable and not self._apart and not self.picks_sides:
            near = (
                self._mark_near(event.position()) or self._offer_near(event.position()) is not None
            )
            under = "" if near else self._piece_at(event.position())
            if under and under == self._carriable:
                self._grasped = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pressed is None:
            self._hover(event.position())
            return
        if self._band.move(event):
            return
        moved = event.position() - self._pressed
        if not self._dragged and moved.manhattanLength() <= _CLICK:
            return
        self._dragged, self._pressed = True, event.position()
        if self._grasped is not None:
            upright = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
            self._carry(self._grasped, event.position(), upright=upright)
            return
        shift = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        if shift or event.buttons() & Qt.MouseButton.MiddleButton:
            panned = self._camera.panned(moved.x(), -moved.y(), self.height())
            self._move_eye(panned, follows=False)
        else:
            turned = self._camera.orbited(-moved.x() * 0.45, moved.y() * 0.45)
            self._move_eye(turned, follows=self._follows)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        is_left = event.button() == Qt.MouseButton.LeftButton
        band = self._band.release(event)
        if band is not None:
            self._pick_within(band)
        elif self._pressed is not None and not self._dragged and is_left:
            self._click(event.position(), is_added=adds(event))
        elif self._carried is not None:
            self.plate_moved.emit(*self._carried)
        self._pressed = self._grasped = None

    def _pick_within(self, band: QRectF) -> None:
        """Pick the pieces whose middle is seen within a rubber band."""
        if self._shown is None:
            return
        shown = self._shown
        pieces = [p for p in shown.request.solved.pieces if p.name not in self._hidden]
        middles = []
        for piece in pieces:
            left, low, right, high = piece.region.bounds
            at = piece.placement.to_world(((left + right) / 2, (low + high) / 2))
            middles.append(add_scaled(at, shown.offsets[piece.name]))
        seen = shown.camera.all_to_pixels(middles, self.width(), self.height())
        names = [p.name for p, (x, y) in zip(pieces, seen, strict=True) if band.contains(x, y)]
        if names:
            self.pieces_picked.emit(names)

    def _click(self, position: QPointF, *, is_added: bool = False) -> None:
        """Pick what is there: a joint, a joint offered, a piece, or else the whole."""
        if self.picks_sides:
            name, at = self._hit_at(position)
            self.side_picked.emit(name, at)
            return
        near, offer = self._mark_near(position), self._offer_near(position)
        if near:
            self.joint_picked.emit(near, is_added)
        elif offer is not None:
            self.offer_taken.emit(offer)
        elif name := self._piece_at(position):
            self.piece_picked.emit(name, is_added)
        else:
            self.left.emit()

    def pick_at(self, position: QPointF) -> None:
        """Pick what is at a place, unless it is among what is picked already."""
        near, name = self._mark_near(position), self._piece_at(position)
        if not (near in self._picked if near else name in self._pieces):
            if near or name:
                self._click(position)
            else:
                self.left.emit()

    @property
    def _carriable(self) -> str:
        """The plate that a drag carries: the only one picked."""
        return self._pieces[0] if len(self._pieces) == 1 else ""

    def _carry(self, start: QPointF, to: QPointF, *, upright: bool) -> None:
        """The picked plate goes along with the pointer, until it is let go."""
        if self._shown is None or self._solved is None:
            return
        held = next((p for p in self._solved[0].pieces if p.name == self._carriable), None)
        if held is None:  # undone while it is in the maker's hand
            return
        places = ((start.x(), start.y()), (to.x(), to.y()))
        size = (self.width(), self.height())
        by = dragged(self._shown.camera, held.placement.origin, *places, size, upright=upright)
        self._carried = (self._carriable, by)
        self._redraw()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.fit()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.zoom(1.0012 ** event.angleDelta().y())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        turns = {
            Qt.Key.Key_Left: (-8, 0),
            Qt.Key.Key_Right: (8, 0),
            Qt.Key.Key_Up: (0, 8),
            Qt.Key.Key_Down: (0, -8),
        }
        key = Qt.Key(event.key())
        shift = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        if shift and self.movable and self._carriable and key in NUDGES:
            self.plate_moved.emit(self._carriable, nudge(self._camera.azimuth, *NUDGES[key]))
        elif key in turns:
            self._move_eye(self._camera.orbited(*turns[key]), follows=self._follows)
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom(1.2)
        elif key == Qt.Key.Key_Minus:
            self.zoom(1 / 1.2)
        elif key == Qt.Key.Key_Home:
            self.fit()
        elif key == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def joint_chosen(self, joint_id: str) -> None:
        self.joint_picked.emit(joint_id, False)

    def piece_chosen(self, name: str) -> None:
        self.piece_picked.emit(name, False)

    def hideEvent(self, event: QHideEvent) -> None:
        self._pressed = self._grasped = self._carried = None

    def zoom(self, factor: float) -> None:
        """Go nearer, or farther."""
        self._move_eye(self._camera.zoomed(factor), follows=False)

    def _mark_near(self, position: QPointF) -> str:
        names, places = self._marks()
        away = np.abs(places - position.toTuple()).sum(axis=1)
        return names[away.argmin()] if len(away) and away.min() < REACH else ""

    def _offer_near(self, position: QPointF) -> int | None:
        """Return the number of the joint offered at a place."""
        for number, at in enumerate(self._offers()):
            if (at - position).manhattanLength() < REACH:
                return number
        return None

    def _hover(self, position: QPointF) -> None:
        near = self._mark_near(position)
        self.setCursor(Qt.CursorShape.PointingHandCursor if near else Qt.CursorShape.ArrowCursor)
        name = self._piece_at(position)
        if name and not near:
            QToolTip.showText(self.mapToGlobal(position.toPoint()), name, self)
        else:
            QToolTip.hideText()

    def _piece_at(self, position: QPointF) -> str:
        """Return the name of the piece shown at a place, or nothing."""
        return self._hit_at(position)[0]

    def _hit_at(self, position: QPointF) -> tuple[str, Vector]:
        """Return the piece shown at a place, or "", and the point of it that is seen there."""
        if self._shown is None or self.missing:
            return "", (0.0, 0.0, 0.0)
        shown = self._shown
        eye, way = shown.camera.ray(position.x(), position.y(), self.width(), self.height())
        start = ray_entry(shown.cut, eye, way)
        return point_under(shown.scene, shown.offsets, start, way, hidden=self._hidden)
