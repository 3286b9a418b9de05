"""The standing structure: orbit, pan, zoom, fit, pull apart; joints can be picked on it."""

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QHideEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QMenu, QToolTip, QWidget

from anzel.app.latest import Latest
from anzel.findings import MakerError
from anzel.geometry.placement import Vector, plus
from anzel.scene.camera import EYES, Camera
from anzel.scene.cutting import depth, entry
from anzel.scene.look import MANY_PIECES, Look, Rgb, Wanted
from anzel.scene.picking import piece_under
from anzel.structure.plates import Build, Sheets
from anzel.ui.courier import Courier
from anzel.ui.theme import colour
from anzel.ui.views.joint_mark import MANY, REACH, paint_mark
from anzel.ui.views.zoom_canvas import paint_focus

if TYPE_CHECKING:
    from anzel.scene.picture import Picture

_CLICK = 4
_START_MS = 40
_STILL_MS = 180
"""The eye stands still when it has not moved for this long."""


def open_studio() -> Callable[[Wanted], "Picture"]:
    """Make a studio in the calling thread and give the function that takes its pictures."""
    from anzel.scene.picture import Studio  # starts OpenGL's packages, so only when needed

    return Studio().take


class StandingView(QWidget):
    """Shows a build as it stands. Left drag orbits, middle or shift drag pans, wheel zooms."""

    joint_picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Standing structure")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(220, 200)
        self._courier = Courier(self)
        self._drawing: Latest[Wanted, Picture] | None = None
        self._asked: Wanted | None = None
        self._shown: Picture | None = None
        self._image = QImage()
        self._stale, self._released = True, False
        self.missing = ""
        self._solved: tuple[Build, Sheets] | None = None
        self._camera, self._follows = Camera(), True
        self._tints: dict[str, Rgb] = {}
        self._lit_through: frozenset[str] = frozenset()
        self._bulb: Vector | None = None
        self._lamp_on = False
        self._picked = ""
        self._apart, self._cut = 0.0, 0.0
        self._hidden: frozenset[str] = frozenset()
        self._pressed: QPointF | None = None
        self._dragged = False
        self._still = QTimer(self)
        self._still.setSingleShot(True)
        self._still.setInterval(_STILL_MS)
        self._still.timeout.connect(self._redraw)

    def show_build(
        self,
        build: Build,
        sheets: Sheets,
        tints: dict[str, str],
        picked: str,
        *,
        bulb: Vector | None = None,
        lit_through: frozenset[str] = frozenset(),
    ) -> None:
        """Show a build, keeping the maker's point of view; a lamp's bulb, and which stocks glow."""
        self._solved = (build, sheets)
        self._bulb, self._lit_through = bulb, lit_through
        self._tints = {stock: _rgb(QColor(tint)) for stock, tint in tints.items()}
        self._picked = picked
        self._redraw()

    @property
    def apart(self) -> float:
        """How far the pieces are pulled apart, 0 to 1."""
        return self._apart

    def pull_apart(self, share: float) -> None:
        """Pull the pieces apart: 0 together, 1 well apart."""
        self._apart = share
        self._redraw()

    def look_from(self, view: str) -> None:
        """Look from a named direction, everything in view; or as somebody at the table does."""
        if view in EYES:
            self._camera, self._follows = self._camera.at_eye(view), False
            self._redraw()
            return
        self._camera = self._camera.looking_from(view)
        self.fit()

    def cut_open(self, share: float) -> None:
        """Leave a share of the whole away, towards the eye."""
        self._cut = share
        self._redraw()

    @property
    def is_parallel(self) -> bool:
        """Whether parallel lines stay parallel."""
        return self._camera.parallel

    def in_parallel(self, parallel: bool) -> None:
        """Parallel lines stay parallel, or run together with distance."""
        self._camera = self._camera.in_parallel(parallel)
        self._redraw()

    def turn_lamp(self, on: bool) -> None:
        """The lamp on, in the dusk, or daylight."""
        self._lamp_on = on
        self._redraw()

    @property
    def hidden(self) -> frozenset[str]:
        """The pieces left out."""
        return self._hidden

    def leave_out(self, pieces: frozenset[str]) -> None:
        """Leave pieces out of the picture."""
        self._hidden = pieces
        self._redraw()

    def fit(self) -> None:
        """Everything in view, and keep it so."""
        self._follows = True
        self._redraw()

    @property
    def is_moving(self) -> bool:
        """Whether the eye is on its way: pictures are plainer meanwhile if much is drawn."""
        return self._still.isActive() and self._is_much

    @property
    def _is_much(self) -> bool:
        return self._solved is not None and len(self._solved[0].pieces) > MANY_PIECES

    def _redraw(self) -> None:
        self._stale = True
        self.update()

    def _move_eye(self, camera: Camera, *, follows: bool) -> None:
        self._camera, self._follows = camera, follows
        self._still.start()
        self._redraw()

    def paintEvent(self, event: QPaintEvent) -> None:
        # the first picture starts OpenGL, which takes a while: the window shall stand before that
        QTimer.singleShot(0 if self._drawing else _START_MS, self, self._ask)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour("paper"))
        if self._shown is not None and not self.missing:
            painter.drawImage(self.rect(), self._image)
            self._paint_marks(painter)
        else:
            painter.setPen(colour("soft"))
            box = QRectF(self.rect()).adjusted(30, 30, -30, -30)
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(box, int(flags), self.missing)
        paint_focus(painter, self)
        painter.end()

    @property
    def is_drawn(self) -> bool:
        """Whether what is on view is the present state, or cannot be drawn at all."""
        if self.missing:
            return True
        shown = self._shown.wanted if self._shown else None
        settled = not self._stale and not self.is_moving
        return settled and shown is not None and shown == self._asked

    def _ask(self) -> None:
        """Have the present state drawn, unless that is under way already."""
        self._stale = False
        if self._solved is None or self.missing or self._released:
            return
        ratio = self.devicePixelRatioF()
        size = (max(round(self.width() * ratio), 1), max(round(self.height() * ratio), 1))
        wanted = Wanted(
            *self._solved, self._apart, self._camera, self._follows, self._look(), size, self._cut,
            self.is_moving,
        )  # fmt: skip
        if wanted != self._asked:
            self._asked = wanted
            if self._drawing is None:
                self._drawing = Latest(
                    open_studio,
                    answered=self._arrived,
                    failed=self._cannot_draw,
                    deliver=self._courier.deliver,
                )
            self._drawing.ask(wanted)

    def _arrived(self, picture: "Picture") -> None:
        width, height = picture.wanted.size
        image = QImage(picture.pixels, width, height, width * 4, QImage.Format.Format_RGBA8888)
        self._shown, self._image = picture, image.copy()
        if picture.wanted == self._asked and self._follows:
            # the fitted camera is where the next turn starts from; it needs no new picture
            self._camera = picture.camera
            self._asked = replace(picture.wanted, camera=picture.camera)
            self._shown = replace(picture, wanted=self._asked)
        self.update()

    def _cannot_draw(self, error: MakerError) -> None:
        self.missing = str(error)
        self.update()

    def _look(self) -> Look:
        joints = self._solved[0].joints if self._solved else ()
        names = frozenset(n for joint in joints if joint.id == self._picked for n in joint.pieces)
        plain = [_rgb(colour(name)) for name in ("paper", "well", "ink", "accent")]
        lamp = self._bulb if self._lamp_on else None
        return Look(
            plain[0], plain[1], plain[2], plain[3], self._tints, names, self._hidden,
            self._lit_through, lamp,
        )  # fmt: skip

    def _marks(self) -> list[tuple[str, QPointF]]:
        """Each joint's mark where the picture on view shows it; none where it is cut away."""
        if self._shown is None or self._shown.wanted.plain:
            return []
        shown = self._shown
        places = [
            (joint.id, at)
            for joint in shown.wanted.build.joints
            for at in (plus(joint.at, shown.offsets[joint.pieces[0]]),)
            if depth(shown.cut, at) >= 0 and not self._hidden.issuperset(joint.pieces)
        ]
        seen = shown.camera.all_to_pixels([at for _, at in places], self.width(), self.height())
        return [(name, QPointF(x, y)) for (name, _), (x, y) in zip(places, seen, strict=True)]

    def _paint_marks(self, painter: QPainter) -> None:
        if self._shown is not None and self._shown.wanted.look.lamp is not None:
            return  # with the lamp on one looks at the light
        marks = sorted(self._marks(), key=lambda mark: mark[0] == self._picked)
        crowded = len(marks) > MANY
        for joint_id, at in marks:
            picked = joint_id == self._picked
            paint_mark(painter, at, joint_id, picked=picked, crowded=crowded)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pressed, self._dragged = event.position(), False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pressed is None:
            self._hover(event.position())
            return
        moved = event.position() - self._pressed
        if not self._dragged and moved.manhattanLength() <= _CLICK:
            return
        self._dragged, self._pressed = True, event.position()
        shift = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        if shift or event.buttons() & Qt.MouseButton.MiddleButton:
            panned = self._camera.panned(moved.x(), -moved.y(), self.height())
            self._move_eye(panned, follows=False)
        else:
            turned = self._camera.orbited(-moved.x() * 0.45, moved.y() * 0.45)
            self._move_eye(turned, follows=self._follows)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._pressed is not None and not self._dragged:
            near = self._mark_near(event.position())
            if near:
                self.joint_picked.emit(near)
        self._pressed = None

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """Hide the piece under the pointer, or show all again."""
        menu = QMenu(self)
        name = self._piece_at(QPointF(event.pos()))
        if name:
            menu.addAction(f"Hide {name}", lambda: self.leave_out(self._hidden | {name}))
            menu.addAction(f"Only {name}", lambda: self.leave_out(self._all() - {name}))
        everything = menu.addAction("Show all pieces", lambda: self.leave_out(frozenset()))
        everything.setEnabled(bool(self._hidden))
        menu.exec(event.globalPos())

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.fit()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._zoom(1.0012 ** event.angleDelta().y())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        turns = {
            Qt.Key.Key_Left: (-8, 0),
            Qt.Key.Key_Right: (8, 0),
            Qt.Key.Key_Up: (0, 8),
            Qt.Key.Key_Down: (0, -8),
        }
        key = Qt.Key(event.key())
        if key in turns:
            self._move_eye(self._camera.orbited(*turns[key]), follows=self._follows)
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self._zoom(1.2)
        elif key == Qt.Key.Key_Minus:
            self._zoom(1 / 1.2)
        elif key == Qt.Key.Key_Home:
            self.fit()
        else:
            super().keyPressEvent(event)

    def hideEvent(self, event: QHideEvent) -> None:
        self._pressed = None

    def release(self) -> None:
        """Stop drawing for good and give the drawing context back."""
        self._released = True
        if self._drawing is not None:
            self._drawing.close()
            self._drawing = None

    def _zoom(self, factor: float) -> None:
        self._move_eye(self._camera.zoomed(factor), follows=False)

    def _mark_near(self, position: QPointF) -> str:
        for joint_id, at in self._marks():
            if (at - position).manhattanLength() < REACH:
                return joint_id
        return ""

    def _hover(self, position: QPointF) -> None:
        near = self._mark_near(position)
        self.setCursor(Qt.CursorShape.PointingHandCursor if near else Qt.CursorShape.ArrowCursor)
        name = self._piece_at(position)
        if name and not near:
            QToolTip.showText(self.mapToGlobal(position.toPoint()), name, self)
        else:
            QToolTip.hideText()

    def _piece_at(self, position: QPointF) -> str:
        """The name of the piece shown at a place, or nothing."""
        if self._shown is None or self.missing:
            return ""
        shown = self._shown
        eye, way = shown.camera.ray(position.x(), position.y(), self.width(), self.height())
        start = entry(shown.cut, eye, way)
        return piece_under(shown.scene, shown.offsets, start, way, hidden=self._hidden) or ""

    def _all(self) -> frozenset[str]:
        pieces = self._solved[0].pieces if self._solved else ()
        return frozenset(piece.name for piece in pieces)


def _rgb(value: QColor) -> Rgb:
    return (value.redF(), value.greenF(), value.blueF())
