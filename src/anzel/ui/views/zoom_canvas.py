"""A flat view that zooms about the pointer, pans and fits; subclasses decide what it shows."""

from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt, Signal
from PySide6.QtGui import (
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QTransform,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from anzel.ui.painting import painting
from anzel.ui.theme import colour
from anzel.ui.views.rubber_band import RubberBand

_PADDING = 18.0
_CLICK = 4


class ZoomCanvas(QWidget):
    """Shows mm, y up.

    Subclasses give `extent`, `paint_on` and `clicked_at`. `band_drawn` says that a rubber band was
    drawn, mm, round what shall be picked.
    """

    band_drawn = Signal(QRectF)
    resized = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(150, 120)
        self._scale, self._offset = 1.0, QPointF()
        self._follows = True
        self._pressed: QPointF | None = None
        self._panned = False
        self._band = RubberBand(self, Qt.KeyboardModifier.ShiftModifier)

    def extent(self) -> QRectF:
        """Return what must be in view when everything is, mm."""
        raise NotImplementedError

    def paint_on(self, painter: QPainter) -> None:
        """Draw; the painter works in pixels, `to_view` turns mm into them."""
        raise NotImplementedError

    def clicked_at(self, position: QPointF, *, is_added: bool = False) -> None:
        """The maker clicked, position in pixels; with Shift or Ctrl to add to what is picked."""

    def fit(self) -> None:
        """Everything in view, and keep it so while the view changes size."""
        self.show_box(self.extent())
        self._follows = True

    def show_box(self, box: QRectF) -> None:
        """A part in view, mm, as large as there is room for."""
        room = QSizeF(self.width() - 2 * _PADDING, self.height() - 2 * _PADDING)
        if box.width() > 0 and box.height() > 0 and room.width() > 0 and room.height() > 0:
            self._scale = min(room.width() / box.width(), room.height() / box.height())
            middle = QPointF(self.width() / 2, self.height() / 2)
            shift = QPointF(box.center().x() * self._scale, -box.center().y() * self._scale)
            self._offset = middle - shift
        self._follows = False
        self.update()

    def refit(self) -> None:
        """Fit again if the maker has not chosen a view of their own."""
        if self._follows:
            self.fit()
        self.update()

    @property
    def scale(self) -> float:
        """Pixels per mm."""
        return self._scale

    @property
    def transform(self) -> QTransform:
        """From mm, y up, to pixels."""
        return QTransform(self._scale, 0, 0, -self._scale, self._offset.x(), self._offset.y())

    def to_view(self, x: float, y: float) -> QPointF:
        """Return a point in mm as pixels."""
        return self.transform.map(QPointF(x, y))

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), colour("paper"))
            self.paint_on(painter)
            paint_focus(painter, self)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self.refit()
        self.resized.emit()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._zoom(1.0015 ** event.angleDelta().y(), event.position())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pressed, self._panned = event.position(), False
        self._band.press(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._pressed is None:
            self.hovered_at(event.position())
            return
        if self._band.move(event):
            return
        moved = event.position() - self._pressed
        if self._panned or moved.manhattanLength() > _CLICK:
            self._panned, self._follows = True, False
            self._offset += moved
            self._pressed = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        is_left = event.button() == Qt.MouseButton.LeftButton
        band = self._band.release(event)
        if band is not None:
            self.band_drawn.emit(self.transform.inverted()[0].mapRect(band))
        elif self._pressed is not None and not self._panned and is_left:
            self.clicked_at(event.position(), is_added=adds(event))
        self._pressed = None
        self.unsetCursor()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.fit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        match event.key():
            case Qt.Key.Key_Plus | Qt.Key.Key_Equal:
                self.zoom(1.25)
            case Qt.Key.Key_Minus:
                self.zoom(0.8)
            case Qt.Key.Key_Home:
                self.fit()
            case _:
                super().keyPressEvent(event)

    def zoom(self, factor: float) -> None:
        """Go nearer to the middle, or farther."""
        self._zoom(factor, QPointF(self.width() / 2, self.height() / 2))

    def hovered_at(self, position: QPointF) -> None:
        """The pointer rests here, in pixels."""

    def _zoom(self, factor: float, about: QPointF) -> None:
        factor = min(max(self._scale * factor, 0.05), 400.0) / self._scale
        self._scale *= factor
        self._offset = about + (self._offset - about) * factor
        self._follows = False
        self.update()


def adds(event: QMouseEvent) -> bool:
    """Return whether a click adds to what is picked instead of replacing it."""
    modifiers = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier
    return bool(event.modifiers() & modifiers)


def paint_focus(painter: QPainter, view: QWidget) -> None:
    """A thin frame round a view that has the keyboard."""
    if view.hasFocus():
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(colour("accent"))
        painter.drawRect(QRectF(view.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
