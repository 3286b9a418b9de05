"""A curve through points on paper: dragged with the mouse, moved with the arrow keys; mm, y up.

A drag is one change. A double click on the curve adds a point, on a point makes it a corner or
smooth; Delete takes the picked one out, S does what the double click does.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
)
from PySide6.QtWidgets import QWidget

from anzel.app.number_display import shown_length, shown_measure
from anzel.structure.forms.common_outlines import joined
from anzel.structure.forms.profile import TracedPicture
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.painting import painting
from anzel.ui.theme import colour
from anzel.ui.views.zoom_canvas import paint_focus

CurvePoint = tuple[float, float, bool]
Curve = tuple[CurvePoint, ...]
_EDGE, _REACH = 18.0, 11.0
_STEP, _FINE = 1.0, 0.1
_DIGITS = 2


@dataclass(frozen=True)
class Paper:
    """What a curve is drawn on.

    Whether it closes, whether its points go upward in order within `limits` (right, up; from the
    origin), faint `ghosts` of other curves, a picture under it.
    """

    closed: bool = False
    limits: tuple[float, float] | None = None
    ghosts: tuple[Curve, ...] = ()
    traced: TracedPicture | None = None


class CurveCanvas(QWidget):
    """Shows and edits one curve."""

    changed = Signal(object)
    picked = Signal(int)
    touched = Signal(float, float)

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumHeight(200)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Curve: page up and down pick a point, arrows move it, S its corner")
        self._points: list[CurvePoint] = []
        self._paper = Paper()
        self._image = QImage()
        self._index, self._dragging = 0, False
        self._was: Curve = ()
        self.touching = False

    def show_curve(self, points: Curve, paper: Paper) -> None:
        """Show a curve on its paper."""
        if self._paper.traced != paper.traced:
            content = paper.traced.picture.content if paper.traced else b""
            self._image = QImage.fromData(content) if content else QImage()
        self._points, self._paper = list(points), paper
        self._index = min(self._index, max(len(points) - 1, 0))
        words = (f"{shown_length(x, 1)} out, {shown_length(y, 1)} up" for x, y, _ in points)
        self.setAccessibleDescription("; ".join(words))
        self.update()
        self.picked.emit(self._index)

    @property
    def point(self) -> CurvePoint | None:
        """The picked point."""
        return self._points[self._index] if self._points else None

    def put(self, point: CurvePoint) -> None:
        """The picked point elsewhere, or another kind; one change."""
        self._move(point)
        self.changed.emit(tuple(self._points))

    def at(self, x: float, y: float) -> QPointF:
        """Return where mm are on the screen."""
        scale, left, low = self._view()
        return QPointF(_EDGE + (x - left) * scale, self.height() - _EDGE - (y - low) * scale)

    def under(self, position: QPointF) -> tuple[float, float]:
        """Return the mm at a place on the screen."""
        scale, left, low = self._view()
        x = left + (position.x() - _EDGE) / scale
        y = low + (self.height() - _EDGE - position.y()) / scale
        return (round(x, _DIGITS), round(y, _DIGITS))

    def _view(self) -> tuple[float, float, float]:
        """(pixels per mm, least x, least y); still while a point is dragged."""
        shown = self._was if self._dragging else self._points
        if self._paper.limits:
            left = low = 0.0
            wide, high = self._paper.limits
        else:
            xs, ys = ([p[axis] for p in shown] or [0.0, 1.0] for axis in (0, 1))
            wide, high = (max(max(each) - min(each), 1.0) * 1.16 for each in (xs, ys))
            left = (max(xs) + min(xs) - wide) / 2
            low = (max(ys) + min(ys) - high) / 2
        room = (self.width() - 2 * _EDGE, self.height() - 2 * _EDGE)
        scale = max(min(room[0] / wide, room[1] / high), 1e-3)
        if self._paper.limits and room[0] / scale >= 2 * wide:
            left = -room[0] / scale / 2  # room for the other half as well
        if not self._paper.limits:
            left -= (room[0] / scale - wide) / 2
            low -= (room[1] / scale - high) / 2
        return scale, left, low

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the points of the curve."""
        items = []
        for index, (x, y, smooth) in enumerate(self._points):
            at = self.at(x, y)
            items.append(AccessibleItem(
                f"point {index + 1}, {shown_length(x, 1)} out, {shown_measure(y, 1)} up",
                QRectF(at.x() - 6, at.y() - 6, 12, 12), Role.Button, index == self._index,
                "smooth" if smooth else "a corner", press=partial(self.pick, index),
            ))  # fmt: skip
        return items

    def pick(self, index: int) -> None:
        """Pick a point."""
        self._index = index
        self.picked.emit(index)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), colour("paper"))
            self._paint_picture(painter)
            painter.setPen(QPen(colour("soft"), 1, Qt.PenStyle.DashLine))
            if self._paper.limits:
                right, high = self._paper.limits
                painter.drawLine(self.at(-right, 0), self.at(right, 0))
                painter.drawLine(self.at(0, 0), self.at(0, high))
            painter.setPen(QPen(colour("soft"), 1.2))
            for ghost in self._paper.ghosts:
                painter.drawPath(self._path(ghost))
            if self._paper.limits:
                painter.drawPath(self._path([(-x, y, smooth) for x, y, smooth in self._points]))
            painter.setPen(QPen(colour("ink"), 1.8))
            painter.drawPath(self._path(self._points))
            for index, (x, y, smooth) in enumerate(self._points):
                self._paint_point(painter, self.at(x, y), smooth, index == self._index)
            paint_focus(painter, self)

    def _paint_point(self, painter: QPainter, at: QPointF, smooth: bool, picked: bool) -> None:
        """Round where the curve is smooth, square at a corner."""
        painter.setBrush(colour("accent" if picked else "sheet"))
        painter.setPen(QPen(colour("accent"), 1.6))
        if smooth:
            painter.drawEllipse(at, 5, 5)
        else:
            painter.drawRect(QRectF(at.x() - 4.5, at.y() - 4.5, 9, 9))

    def _paint_picture(self, painter: QPainter) -> None:
        traced = self._paper.traced
        if traced is None or self._image.isNull():
            return
        scale = self._view()[0] * traced.mm_per_pixel
        painter.save()
        painter.setOpacity(1 - traced.faded)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.translate(self.at(traced.x, traced.y))
        painter.rotate(-traced.turn)
        painter.scale(scale, scale)
        painter.drawImage(QPointF(-self._image.width() / 2, -self._image.height() / 2), self._image)
        painter.restore()

    def _path(self, points: Sequence[CurvePoint]) -> QPainterPath:
        path = QPainterPath()
        if len(points) < 2:
            return path
        on_screen = [self.at(x, y).toTuple() for x, y, _ in points]
        closed = self._paper.closed and points is self._points
        segments = joined(on_screen, [smooth for *_, smooth in points], closed=closed)
        path.moveTo(*segments[0].start)
        for segment in segments:
            for step in range(1, 13):
                path.lineTo(*segment.point_at(step / 12))
        return path

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.touching:
            self.touched.emit(*self.under(event.position()))
            return
        near = self._near(event.position())
        if near is not None:
            self._was = tuple(self._points)
            self._index, self._dragging = near, True
            self.picked.emit(near)
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._dragging:
            x, y = self.under(event.position())
            self._move((x, y, self._points[self._index][2]))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._dragging:
            self._dragging = False
            if tuple(self._points) != self._was:
                self.changed.emit(tuple(self._points))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        near = self._near(event.position())
        if near is not None:
            self._index, self._dragging = near, False
            self._toggle()
            return
        x, y = self.under(event.position())
        self._index = self._place_for(x, y)
        self._points.insert(self._index, (x, y, True))
        self.changed.emit(tuple(self._points))

    def event(self, event: QEvent) -> bool:
        key = event.key() if isinstance(event, QKeyEvent) else None
        is_asked = event.type() == QEvent.Type.ShortcutOverride
        if is_asked and key == Qt.Key.Key_Delete:  # the point goes, not the plate
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moves = {
            Qt.Key.Key_Up: (0.0, 1.0), Qt.Key.Key_Down: (0.0, -1.0),
            Qt.Key.Key_Left: (-1.0, 0.0), Qt.Key.Key_Right: (1.0, 0.0),
        }  # fmt: skip
        key = Qt.Key(event.key())
        if key in moves and self._points:
            step = _FINE if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _STEP
            x, y, smooth = self._points[self._index]
            self.put((x + step * moves[key][0], y + step * moves[key][1], smooth))
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            step = 1 if key is Qt.Key.Key_PageUp else -1
            self._index = int(self._index + step) % max(len(self._points), 1)
            self.picked.emit(self._index)
            self.update()
        elif key is Qt.Key.Key_Delete and len(self._points) > (3 if self._paper.closed else 2):
            self.changed.emit(tuple(p for i, p in enumerate(self._points) if i != self._index))
        elif key is Qt.Key.Key_S and self._points:
            self._toggle()
        else:
            super().keyPressEvent(event)

    def _toggle(self) -> None:
        x, y, smooth = self._points[self._index]
        self.put((x, y, not smooth))

    def _near(self, position: QPointF) -> int | None:
        near = [(self.at(x, y) - position).manhattanLength() for x, y, _ in self._points]
        return near.index(min(near)) if near and min(near) < _REACH else None

    def _place_for(self, x: float, y: float) -> int:
        """Return where in the run a new point belongs: by height, or on the nearest edge."""
        if not self._paper.closed:
            return sum(point[1] < y for point in self._points)
        off = []
        for index, (ax, ay, _) in enumerate(self._points):
            bx, by, _ = self._points[(index + 1) % len(self._points)]
            size = (bx - ax) ** 2 + (by - ay) ** 2 or 1.0
            share = min(max(((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / size, 0), 1)
            off.append(abs(complex(ax + share * (bx - ax) - x, ay + share * (by - ay) - y)))
        return off.index(min(off)) + 1

    def _move(self, to: CurvePoint) -> None:
        """The picked point elsewhere; where points go upward in order, between its neighbours."""
        x, y, smooth = to
        if self._paper.limits:
            right, top = self._paper.limits
            last = self._index == len(self._points) - 1
            low = self._points[self._index - 1][1] + _FINE if self._index else 0.0
            high = top if last else self._points[self._index + 1][1] - _FINE
            x, y = min(max(x, 0.0), right), min(max(y, low), high)
        self._points[self._index] = (x, y, smooth)
        self.update()
