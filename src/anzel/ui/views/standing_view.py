"""The standing structure: orbit, pan, zoom, fit, pull apart; joints can be picked on it."""

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFont,
    QHideEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QWheelEvent,
)
from PySide6.QtWidgets import QToolTip, QWidget

from anzel.findings import MakerError
from anzel.geometry.placement import Vector, plus
from anzel.scene.apart import offsets_apart
from anzel.scene.camera import Camera
from anzel.scene.picking import piece_under
from anzel.scene.renderer import Look, Renderer, Rgb
from anzel.scene.solids import Scene, scene_of
from anzel.structure.plates import Build, Sheets
from anzel.ui.theme import colour, font

_REACH = 14.0
_CLICK = 4


class StandingView(QWidget):
    """Shows a build as it stands. Left drag orbits, middle or shift drag pans, wheel zooms."""

    joint_picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Standing structure")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(220, 200)
        self._renderer: Renderer | None = None
        self._missing = ""
        self._build: Build | None = None
        self._scene: Scene | None = None
        self._camera, self._follows = Camera(), True
        self._tints: dict[str, Rgb] = {}
        self._picked = ""
        self._apart = 0.0
        self._offsets: dict[str, Vector] = {}
        self._pressed: QPointF | None = None
        self._dragged = False

    def show_build(self, build: Build, sheets: Sheets, tints: dict[str, str], picked: str) -> None:
        """Show a build, keeping the maker's point of view."""
        if build is not self._build:
            self._build, self._scene = build, scene_of(build, sheets)
        self._tints = {stock: _rgb(QColor(tint)) for stock, tint in tints.items()}
        self._picked = picked
        self._moved()

    @property
    def apart(self) -> float:
        """How far the pieces are pulled apart, 0 to 1."""
        return self._apart

    def pull_apart(self, share: float) -> None:
        """Pull the pieces apart: 0 together, 1 well apart."""
        self._apart = share
        self._moved()

    def look_from(self, view: str) -> None:
        """Look from a named direction, everything in view."""
        self._camera = self._camera.looking_from(view)
        self.fit()

    def fit(self) -> None:
        """Everything in view, and keep it so."""
        self._follows = True
        self._moved()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        image = self._image()
        if image is None:
            painter.fillRect(self.rect(), colour("paper"))
            painter.setPen(colour("soft"))
            box = QRectF(self.rect()).adjusted(30, 30, -30, -30)
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(box, int(flags), self._missing)
        else:
            painter.drawImage(self.rect(), image)
            self._paint_marks(painter)
        if self.hasFocus():
            painter.setPen(colour("accent"))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()

    def _image(self) -> QImage | None:
        if self._scene is None or self._missing:
            return None
        try:
            if self._renderer is None:
                self._renderer = Renderer()
            ratio = self.devicePixelRatioF()
            size = (max(round(self.width() * ratio), 1), max(round(self.height() * ratio), 1))
            if self._follows:
                corners = self._scene.corners(self._offsets)
                self._camera = self._camera.fitted(corners, self.width() / max(self.height(), 1))
            pixels = self._renderer.picture(
                self._scene, self._offsets, self._camera, self._look(), size
            )
        except MakerError as error:
            self._missing = str(error)
            return None
        return QImage(pixels, *size, size[0] * 4, QImage.Format.Format_RGBA8888).copy()

    def _look(self) -> Look:
        picked = self._build.joints if self._build else ()
        names = frozenset(n for joint in picked if joint.id == self._picked for n in joint.pieces)
        plain = [_rgb(colour(name)) for name in ("paper", "well", "ink", "accent")]
        return Look(plain[0], plain[1], plain[2], plain[3], self._tints, names)

    def _moved(self) -> None:
        if self._scene is not None and self._build is not None:
            distance = self._apart * 0.55 * self._scene.size
            self._offsets = offsets_apart(self._build, distance)
        self.update()

    def _marks(self) -> list[tuple[str, QPointF]]:
        if self._build is None:
            return []
        return [
            (joint.id, QPointF(*self._camera.to_pixels(at, self.width(), self.height())))
            for joint in self._build.joints
            for at in (plus(joint.at, self._offsets[joint.pieces[0]]),)
        ]

    def _paint_marks(self, painter: QPainter) -> None:
        painter.setFont(font(7.5, QFont.Weight.DemiBold))
        for joint_id, at in self._marks():
            picked = joint_id == self._picked
            box = QRectF(at.x() - 10, at.y() - 8, 20, 16)
            painter.setPen(QPen(colour("accent"), 1.4))
            painter.setBrush(colour("accent") if picked else colour("sheet"))
            painter.drawRoundedRect(box, 8, 8)
            painter.setPen(colour("on_accent") if picked else colour("accent"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, joint_id)

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
            self._camera, self._follows = (
                self._camera.panned(moved.x(), -moved.y(), self.height()),
                False,
            )
        else:
            self._camera = self._camera.orbited(-moved.x() * 0.45, moved.y() * 0.45)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._pressed is not None and not self._dragged:
            near = self._mark_near(event.position())
            if near:
                self.joint_picked.emit(near)
        self._pressed = None

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
            self._camera = self._camera.orbited(*turns[key])
            self.update()
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
        """Give the drawing context back."""
        if self._renderer is not None:
            self._renderer.release()
            self._renderer = None

    def _zoom(self, factor: float) -> None:
        self._camera, self._follows = self._camera.zoomed(factor), False
        self.update()

    def _mark_near(self, position: QPointF) -> str:
        for joint_id, at in self._marks():
            if (at - position).manhattanLength() < _REACH:
                return joint_id
        return ""

    def _hover(self, position: QPointF) -> None:
        near = self._mark_near(position)
        self.setCursor(Qt.CursorShape.PointingHandCursor if near else Qt.CursorShape.ArrowCursor)
        if self._scene is None or self._missing:
            return
        ray = self._camera.ray(position.x(), position.y(), self.width(), self.height())
        name = piece_under(self._scene, self._offsets, *ray)
        if name and not near:
            QToolTip.showText(self.mapToGlobal(position.toPoint()), name, self)
        else:
            QToolTip.hideText()


def _rgb(value: QColor) -> Rgb:
    return (value.redF(), value.greenF(), value.blueF())
