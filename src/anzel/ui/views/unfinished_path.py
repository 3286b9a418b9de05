"""A closed path that is being drawn corner by corner, with a rubber band to the pointer."""

from math import atan2, degrees, hypot
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen

from anzel.app.number_display import shown_measure, shown_plain_number
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Segment
from anzel.shape.path_drawing import DrawnLeg, drawn_segments
from anzel.shape.snapping import SnappedPlace, SnapTargets, snapped_place
from anzel.ui.theme import colour, font
from anzel.ui.views.screen_paths import segments_path

if TYPE_CHECKING:
    from anzel.ui.views.zoom_canvas import ZoomCanvas

ALIGN = 6.0
"""A point goes to what is no further off, pixels."""
_CLOSES = 10.0


class UnfinishedPath:
    """What has been drawn so far, and where the next corner would be."""

    def __init__(self, *, is_outline: bool) -> None:
        self.is_outline = is_outline
        self.start: Point | None = None
        self.legs: list[DrawnLeg] = []
        self._next: SnappedPlace | None = None

    @property
    def corners(self) -> list[Point]:
        """The corners so far, in order."""
        return [] if self.start is None else [self.start, *(leg.end for leg in self.legs)]

    def hover(
        self, at: Point, targets: SnapTargets, scale: float, step: float, *, is_free: bool
    ) -> None:
        """Have the next corner near a place; exactly there if the maker wants no help.

        `scale` is in pixels per mm, `step` the grid's, mm.
        """
        corners = self.corners
        last = corners[-1] if corners else None
        if is_free:
            self._next = SnappedPlace(at)
        elif self._closes(at, scale):
            self._next = SnappedPlace(corners[0])
        else:
            meets = targets.with_points(corners)
            self._next = snapped_place(at, last, meets, ALIGN / scale, step)

    def click(self) -> bool:
        """Set the corner where it would be; return whether that closes the path."""
        if self._next is None:
            return False
        place = self._next.place
        corners = self.corners
        if not corners:
            self.start = place
        elif place != corners[-1]:
            self.legs.append(DrawnLeg(place))
        return len(self.legs) > 1 and place == self.start

    def add(self, leg: DrawnLeg) -> None:
        """Add a leg that was typed; the first one is the first corner."""
        if self.start is None:
            self.start = leg.end
        else:
            self.legs.append(leg)

    def take_back(self) -> bool:
        """Take the last corner back; return False when there was none."""
        if self.legs:
            self.legs.pop()
            return True
        was_begun, self.start = self.start is not None, None
        return was_begun

    def _closes(self, at: Point, scale: float) -> bool:
        if self.start is None or len(self.legs) < 2:
            return False
        return hypot(at[0] - self.start[0], at[1] - self.start[1]) * scale < _CLOSES

    def paint(self, painter: QPainter, view: "ZoomCanvas") -> None:
        """Draw the path, the rubber band with its length and angle, and the levels it is at."""
        accent = QColor(colour("accent"))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(accent, 2))
        if self.start is not None and self.legs:
            path: list[Segment] = drawn_segments(self.start, self.legs)
            painter.drawPath(view.transform.map(segments_path(path)))
        if self._next is not None:
            self._paint_next(painter, view, self._next)
        painter.setPen(QPen(accent, 1.4))
        painter.setBrush(colour("sheet"))
        for corner in self.corners:
            at = view.to_view(*corner)
            painter.drawEllipse(at, 3.5, 3.5)

    def _paint_next(self, painter: QPainter, view: "ZoomCanvas", shown: SnappedPlace) -> None:
        at = view.to_view(*shown.place)
        thin = QPen(QColor(colour("accent")), 1, Qt.PenStyle.DashLine)
        painter.setPen(thin)
        if shown.level_x is not None:
            painter.drawLine(QPointF(at.x(), 0), QPointF(at.x(), view.height()))
        if shown.level_y is not None:
            painter.drawLine(QPointF(0, at.y()), QPointF(view.width(), at.y()))
        corners = self.corners
        words = f"{shown_measure(shown.place[0])}, {shown_measure(shown.place[1])}"
        if corners:
            painter.drawLine(view.to_view(*corners[-1]), at)
            dx, dy = (shown.place[axis] - corners[-1][axis] for axis in (0, 1))
            angle = shown_plain_number(degrees(atan2(dy, dx)), 1)
            words = f"{shown_measure(hypot(dx, dy))} at {angle}°"
        words += f", {shown.met}" if shown.met else ""
        self._paint_words(painter, at, words)

    @staticmethod
    def _paint_words(painter: QPainter, at: QPointF, words: str) -> None:
        painter.setFont(font(9))
        box = QRectF(painter.fontMetrics().boundingRect(words)).adjusted(-5, -3, 5, 3)
        box.moveTopLeft(at + QPointF(14, 10))
        path = QPainterPath()
        path.addRoundedRect(box, 4, 4)
        painter.fillPath(path, colour("sheet"))
        painter.setPen(colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
