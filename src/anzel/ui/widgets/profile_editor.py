"""The profile of a rib: points dragged with the mouse or moved with the arrow keys.

Points are shares of height (up) and radius (to the right). A drag is one step to undo. A double
click on the curve adds a point, Delete takes the picked one out.
"""

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from anzel.structure.forms.parts import joined
from anzel.ui.theme import colour, font

Point = tuple[float, float]
_EDGE, _REACH = 16.0, 11.0
_STEP = 0.01


class ProfileEditor(QWidget):
    """Shows and edits (height, radius) points."""

    changed = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(210)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Profile: page up and down pick a point, arrows move it")
        self._points: list[Point] = []
        self._smooth, self._aspect = True, 1.0
        self._picked, self._dragging = 0, False

    def show_profile(self, points: tuple[Point, ...], smooth: bool, aspect: float) -> None:
        """Show a profile; aspect is radius over height of the lamp."""
        self._points, self._smooth, self._aspect = sorted(points), smooth, aspect
        self._picked = min(self._picked, len(self._points) - 1)
        words = (f"{z:.2f} up, {r:.2f} out" for z, r in self._points)
        self.setAccessibleDescription("; ".join(words))
        self.update()

    def at(self, point: Point) -> QPointF:
        """Where a point is on the screen."""
        high = self.height() - 2 * _EDGE
        wide = min(high * self._aspect, self.width() - 2 * _EDGE)
        z, r = point
        return QPointF(_EDGE + r * wide, self.height() - _EDGE - z * high)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour("paper"))
        painter.setPen(QPen(colour("soft"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(self.at((0.0, 0.0)), self.at((1.0, 0.0)))
        painter.setPen(QPen(colour("ink"), 1.8))
        painter.drawPath(self._curve())
        for index, point in enumerate(self._points):
            painter.setBrush(colour("accent" if index == self._picked else "sheet"))
            painter.setPen(QPen(colour("accent"), 1.6))
            painter.drawEllipse(self.at(point), 5, 5)
        if self._points:
            z, r = self._points[self._picked]
            painter.setFont(font(8.5))
            painter.setPen(colour("soft"))
            box = QRectF(0, 2, self.width() - 6, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight, f"{z:.2f} up · {r:.2f} out")
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(colour("accent"))
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
        painter.end()

    def _curve(self) -> QPainterPath:
        path = QPainterPath()
        if len(self._points) < 2:
            return path
        on_screen = [self.at(point).toTuple() for point in self._points]
        segments = joined(on_screen, self._smooth)
        path.moveTo(*segments[0].start)
        for segment in segments:
            for step in range(1, 13):
                path.lineTo(*segment.point_at(step / 12))
        return path

    def mousePressEvent(self, event: QMouseEvent) -> None:
        near = [(self.at(p) - event.position()).manhattanLength() for p in self._points]
        if near and min(near) < _REACH:
            self._picked, self._dragging = near.index(min(near)), True
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._dragging:
            self._move(self._under(event.position()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._dragging:
            self._dragging = False
            self.changed.emit(tuple(self._points))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        added = self._under(event.position())
        self.changed.emit(tuple(sorted([*self._points, added])))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moves = {
            Qt.Key.Key_Up: (_STEP, 0.0), Qt.Key.Key_Down: (-_STEP, 0.0),
            Qt.Key.Key_Left: (0.0, -_STEP), Qt.Key.Key_Right: (0.0, _STEP),
        }  # fmt: skip
        key = Qt.Key(event.key())
        if key in moves and self._points:
            z, r = self._points[self._picked]
            up, out = moves[key]
            self._move((z + up, r + out))
            self.changed.emit(tuple(self._points))
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            step = 1 if key is Qt.Key.Key_PageUp else -1
            self._picked = (self._picked + step) % max(len(self._points), 1)
            self.update()
        elif key is Qt.Key.Key_Delete and len(self._points) > 2:
            self.changed.emit(tuple(p for i, p in enumerate(self._points) if i != self._picked))
        else:
            super().keyPressEvent(event)

    def _under(self, position: QPointF) -> Point:
        high = self.height() - 2 * _EDGE
        wide = min(high * self._aspect, self.width() - 2 * _EDGE)
        z = (self.height() - _EDGE - position.y()) / high
        return (round(z, 3), round((position.x() - _EDGE) / wide, 3))

    def _move(self, to: Point) -> None:
        """The picked point elsewhere, between its neighbours in height."""
        low = self._points[self._picked - 1][0] + _STEP if self._picked else 0.0
        last = self._picked == len(self._points) - 1
        high = 1.0 if last else self._points[self._picked + 1][0] - _STEP
        z, r = min(max(to[0], low), high), min(max(to[1], 0.0), 1.0)
        self._points[self._picked] = (round(z, 3), round(r, 3))
        self.update()
