"""What to expect of a joint: the spread of its clearance against the limits of its class.

Above, the picked joint's most doubtful contact: the curve of the clearances it may come out with,
filled where it is right and hatched where it is not; below the axis the worst case and the
root-sum-square. Below that every joint as a bar: too tight, right, too loose.
"""

from collections.abc import Callable
from functools import partial
from math import exp

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QBrush,
    QFont,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
)
from PySide6.QtWidgets import QWidget

from anzel.app.number_display import shown_length, shown_share, ticks, unit
from anzel.app.views.forecast_summary import ForecastSummary
from anzel.checks.forecast import JointForecast
from anzel.materials.fits import FitName
from anzel.materials.uncertainty import class_limits
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.painting import paint_ticks, paint_words, painting
from anzel.ui.theme import colour, font, text_scale
from anzel.ui.views.zoom_canvas import paint_focus

_EDGE, _ROW = 28.0, 30.0
_SHORTEST_BAR = 90.0
_STEPS = 160


class ForecastView(QWidget):
    """Draws the forecast; a click on a joint's bar picks it, arrows pick the next."""

    joint_picked = Signal(str)
    stepped = Signal(int)
    left = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumSize(150, 120)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Forecast: clearances to expect")
        self._project: Project | None = None
        self._chances: ForecastSummary | None = None
        self._picked, self._at = "", 0

    def show_chances(self, project: Project, chances: ForecastSummary | None, picked: str) -> None:
        """Show chances, or that they are being worked out."""
        self._project, self._chances, self._picked = project, chances, picked
        joints = chances.now.joints if chances else ()
        self._at = next((at for at, each in enumerate(joints) if each.joint == picked), 0)
        if chances is not None:
            words = (f"{j.joint} right {shown_share(j.right, 1)}" for j in chances.now.joints)
            self.setAccessibleDescription("; ".join(words))
        self.update()

    @property
    def picked(self) -> JointForecast | None:
        """The forecast of the picked joint."""
        joints = self._chances.now.joints if self._chances else ()
        return next((joint for joint in joints if joint.joint == self._picked), None)

    def row_of(self, index: int) -> QRectF:
        """Return where the bar of the n-th joint is drawn."""
        row, top = _ROW * text_scale(), self._top
        first = self._first(self._room)
        return QRectF(_EDGE, top + (index - first) * row, self.width() - 2 * _EDGE, row - 8)

    @property
    def _top(self) -> float:
        """Where the bars begin."""
        return self.height() * 0.66 + 18 + 18 * text_scale()

    @property
    def _room(self) -> int:
        """The number of bars that there is room for."""
        return max(int((self.height() - self._top) // (_ROW * text_scale())), 1)

    def _first(self, room: int) -> int:
        """Return the first joint in sight, so that the picked one is among so many."""
        many = len(self._chances.now.joints) if self._chances else 0
        return max(min(self._at - room // 2, many - room), 0)

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the joints with their chances."""
        joints = self._chances.now.joints if self._chances else ()
        return [
            AccessibleItem(
                f"{self._titled(joint)}, right {shown_share(joint.right, 1)}",
                self.row_of(index), Role.Button, joint.joint == self._picked,
                f"too tight {shown_share(joint.too_tight, 1)}, "
                f"too loose {shown_share(joint.too_loose, 1)}",
                press=partial(self.joint_picked.emit, joint.joint),
            )
            for index, joint in enumerate(joints)
        ]  # fmt: skip

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for index, joint in enumerate(self._chances.now.joints if self._chances else ()):
            if self.row_of(index).contains(event.position()):
                self.joint_picked.emit(joint.joint)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1}
        if (step := steps.get(Qt.Key(event.key()))) is not None:
            self.stepped.emit(step)
        elif event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), colour("paper"))
            paint_focus(painter, self)
            picked = self.picked
            if picked is None or self._chances is None:
                painter.setPen(colour("soft"))
                painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "Working out …")
            else:
                self._caption(
                    painter, 26, f"{self._titled(picked)}: the clearance to expect ({unit()})"
                )
                self._curve(painter, picked, self._chances)
                bottom, many = self.height(), len(self._chances.now.joints)
                words = "Every joint" if many < 2 else f"Every joint, {many} in all: ↑ ↓"
                self._caption(painter, self.height() * 0.66 + 18, words)
                top = self.height() * 0.66 + 18
                first = self._first(self._room)
                for index in range(first, min(first + self._room + 1, many)):
                    box = self.row_of(index)
                    if top < box.top() and box.bottom() < bottom:
                        self._bar(painter, self._chances.now.joints[index], box)

    def _titled(self, joint: JointForecast) -> str:
        """Return a joint's number and its two pieces."""
        assert self._project
        joints = solved_structure_of(self._project).joints
        title = next((each.title for each in joints if each.id == joint.joint), "")
        return f"{joint.joint}  {title}"

    def _caption(self, painter: QPainter, y: float, text: str) -> None:
        painter.setFont(font(9, QFont.Weight.DemiBold))
        painter.setPen(colour("soft"))
        paint_words(painter, QPointF(16, y), text, self.width() - 24)

    def _curve(self, painter: QPainter, joint: JointForecast, chances: ForecastSummary) -> None:
        contact = joint.contact
        middle, spread = (
            contact.expected(chances.uncertainties),
            contact.uncertainty(chances.uncertainties),
        )
        worst = contact.worst_case(chances.uncertainties)
        low = min(worst[0], middle - 4 * spread, contact.limits[0] - 0.02)
        high = max(worst[1], middle + 4 * spread, min(contact.limits[1], middle + 0.3) + 0.02)
        below = 46 + 66 * text_scale()
        base, tall = self.height() * 0.66 - below, self.height() * 0.66 - below - 78

        def x(clearance: float) -> float:
            return _EDGE + (clearance - low) / (high - low) * (self.width() - 2 * _EDGE)

        self._classes(painter, x, base, tall, (low, high))
        steps = [low + (high - low) * step / _STEPS for step in range(_STEPS + 1)]
        points = [
            QPointF(x(c), base - tall * exp(-(((c - middle) / spread) ** 2) / 2)) for c in steps
        ]
        outline = QPainterPath(QPointF(points[0].x(), base))
        for point in points:
            outline.lineTo(point)
        outline.lineTo(QPointF(points[-1].x(), base))
        left, right = x(max(contact.limits[0], low)), x(min(contact.limits[1], high))
        self._fill(painter, outline, (left, right), QBrush(colour("accent")))
        hatch = QBrush(colour("warn"), Qt.BrushStyle.BDiagPattern)
        self._fill(painter, outline, (0, left), hatch)
        self._fill(painter, outline, (right, self.width()), hatch)
        painter.setPen(QPen(colour("ink"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(points)
        self._axis(painter, x, base, (low, high))
        self._bracket(painter, x, base + 26 + 18 * text_scale(), worst, "worst case")
        about = (middle - 2 * spread, middle + 2 * spread)
        low_y = base + 32 + 40 * text_scale()
        self._bracket(painter, x, low_y, about, "root-sum-square, 95 %")

    def _fill(
        self, painter: QPainter, path: QPainterPath, between: tuple[float, float], brush: QBrush
    ) -> None:
        painter.save()
        wide = between[1] - between[0]
        painter.setClipRect(QRectF(between[0], 0, wide, self.height()))
        painter.fillPath(path, brush)
        painter.restore()

    def _classes(
        self,
        painter: QPainter,
        x: Callable[[float], float],
        base: float,
        tall: float,
        ends: tuple[float, float],
    ) -> None:
        """The classes as zones along the axis, the one in use tinted."""
        assert self._project
        assert self.picked
        fits = self._project.fits
        shift = self.picked.contact.limits[0] - class_limits(fits, fits.in_use)[0]
        top = base - tall - 22
        for name in FitName:
            low, high = (limit + shift for limit in class_limits(fits, name))
            left, right = x(max(low, ends[0])), x(min(high, ends[1]))
            if right - left < 1:
                continue
            zone = QRectF(left, top, right - left, base - top)
            if name is fits.in_use:
                painter.fillRect(zone, colour("accent_soft"))
            painter.setPen(QPen(colour("line"), 1, Qt.PenStyle.DashLine))
            for edge in (left, right):
                painter.drawLine(QPointF(edge, top), QPointF(edge, base))
            painter.setPen(colour("ink" if name is fits.in_use else "soft"))
            painter.setFont(font(9, QFont.Weight.DemiBold))
            if right - left > 34 * text_scale():
                words = QRectF(left, top + 2, right - left, 16 * text_scale())
                painter.drawText(words, Qt.AlignmentFlag.AlignCenter, name.value)

    def _axis(
        self,
        painter: QPainter,
        x: Callable[[float], float],
        base: float,
        ends: tuple[float, float],
    ) -> None:
        painter.setPen(QPen(colour("ink"), 1))
        painter.drawLine(QPointF(x(ends[0]), base), QPointF(x(ends[1]), base))
        painter.setFont(font(8.5))
        found = list(ticks(ends[0], ends[1], 14))
        for tick, _ in found:
            painter.drawLine(QPointF(x(tick), base), QPointF(x(tick), base + 5))
        places = [(x(tick), figures) for tick, figures in found]
        paint_ticks(painter, places, base + 6, (0.0, self.width()))

    def _bracket(
        self,
        painter: QPainter,
        x: Callable[[float], float],
        y: float,
        between: tuple[float, float],
        text: str,
    ) -> None:
        painter.setPen(QPen(colour("ink"), 1.4))
        left, right = x(between[0]), x(between[1])
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        for edge in (left, right):
            painter.drawLine(QPointF(edge, y - 5), QPointF(edge, y + 5))
        painter.setFont(font(8.5))
        painter.setPen(colour("soft"))
        words = f"{text}: {shown_length(between[0], 3)} to {shown_length(between[1], 3)}"
        wide = painter.fontMetrics().horizontalAdvance(words)
        begin = min(max((left + right - wide) / 2, 4.0), max(self.width() - wide - 4.0, 4.0))
        painter.drawText(QPointF(begin, y + 3 + painter.fontMetrics().ascent()), words)

    def _bar(self, painter: QPainter, joint: JointForecast, box: QRectF) -> None:
        picked = joint.joint == self._picked
        painter.setFont(font(9, QFont.Weight.DemiBold if picked else QFont.Weight.Normal))
        painter.setPen(colour("ink"))
        low = box.top() + 15 * text_scale()
        painter.drawText(QPointF(box.left(), low), joint.joint)
        tight, right, loose = (
            shown_share(share, 1) for share in (joint.too_tight, joint.right, joint.too_loose)
        )
        words = f"tight {tight} · right {right} · loose {loose}"
        painter.setFont(font(8.5))
        reserve = painter.fontMetrics().horizontalAdvance(words) + 12
        ahead = 28 + 20 * text_scale()
        wide = box.width() - ahead - reserve
        if wide < _SHORTEST_BAR:  # the words go, which the panel says of the picked joint, too
            words, wide = shown_share(joint.right, 1), box.width() - ahead - 60 * text_scale()
        bar = QRectF(box.left() + ahead, box.top() + 3, wide, 15)
        left = bar.left()
        for share, brush in (
            (joint.too_tight, QBrush(colour("warn"), Qt.BrushStyle.BDiagPattern)),
            (joint.right, QBrush(colour("accent"))),
            (joint.too_loose, QBrush(colour("soft"), Qt.BrushStyle.FDiagPattern)),
        ):
            painter.fillRect(QRectF(left, bar.top(), share * bar.width(), bar.height()), brush)
            left += share * bar.width()
        painter.setPen(QPen(colour("ink"), 1.6 if picked else 0.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(bar)
        painter.setPen(colour("ink"))
        painter.drawText(QPointF(bar.right() + 10, low), words)
