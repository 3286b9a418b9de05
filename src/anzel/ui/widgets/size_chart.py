"""The sizes that recur in a drawing, as columns to pick from: what was it made for?"""

from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFont, QKeyEvent, QMouseEvent, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip, QWidget

from anzel.app.number_display import shown_length, shown_measure
from anzel.refit.thickness_estimation import ThicknessEvidence
from anzel.ui.accessibility import AccessibleItem, Role
from anzel.ui.painting import painting
from anzel.ui.theme import colour, font
from anzel.ui.views.zoom_canvas import paint_focus

_HEIGHT = 92
_FOOT = 20.0
_WIDEST = 46.0


class SizeChart(QWidget):
    """One column a size, as high as it has evidence; a click takes or leaves it."""

    toggled = Signal(float)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(_HEIGHT)
        self.setAccessibleName("Sizes that recur")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self._sizes: Sequence[ThicknessEvidence] = ()
        self._chosen: Sequence[float] = ()
        self._at = 0

    def show_sizes(self, sizes: Sequence[ThicknessEvidence], chosen: Sequence[float]) -> None:
        """Show sizes, smallest first, and which of them the drawing was made for."""
        self._sizes, self._chosen = sizes, chosen
        self.setAccessibleDescription("; ".join(f"{shown_measure(e.value)}: {e}" for e in sizes))
        self.update()

    def is_chosen(self, value: float) -> bool:
        """Return whether a size is one that the drawing was made for."""
        return any(abs(value - each) < 0.26 for each in self._chosen)

    def accessible_items(self) -> list[AccessibleItem]:
        """Return the sizes, with how often each recurs."""
        return [
            AccessibleItem(
                f"{shown_measure(each.value)}, {each}", box, Role.CheckBox,
                self.is_chosen(each.value),
                press=partial(self.toggled.emit, each.value),
            )
            for box, each in zip(self._boxes(), self._sizes, strict=False)
        ]  # fmt: skip

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            if not self._sizes:
                painter.setPen(colour("soft"))
                painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "No size recurs.")
            most = max((each.count for each in self._sizes), default=1)
            for at, (box, each) in enumerate(zip(self._boxes(), self._sizes, strict=True)):
                high = max(3.0, (box.height() - 16) * each.count / most)
                column = QRectF(box.left() + 6, box.bottom() - high, box.width() - 12, high)
                chosen = self.is_chosen(each.value)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(colour("accent" if chosen else "line"))
                painter.drawRoundedRect(column, 2, 2)
                painter.setPen(colour("ink" if chosen else "soft"))
                weight = QFont.Weight.DemiBold if chosen else QFont.Weight.Normal
                painter.setFont(font(8.5, weight))
                count = QRectF(box.left(), column.top() - 15, box.width(), 14)
                painter.drawText(count, Qt.AlignmentFlag.AlignCenter, str(each.count))
                foot = QRectF(box.left() - 4, box.bottom() + 2, box.width() + 8, _FOOT - 4)
                painter.drawText(foot, Qt.AlignmentFlag.AlignCenter, shown_length(each.value))
                if self.hasFocus() and at == self._at:
                    painter.setPen(QPen(colour("accent"), 1))
                    painter.setBrush(Qt.BrushStyle.NoBrush)
                    painter.drawRect(box.adjusted(1, 0, -1, 0))
            base = self.height() - _FOOT
            painter.setPen(colour("line"))
            painter.drawLine(QPointF(0, base), QPointF(self.width(), base))
            paint_focus(painter, self)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for at, box in enumerate(self._boxes()):
            if box.left() <= event.position().x() < box.right():
                self._at = at
                self.toggled.emit(self._sizes[at].value)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        for box, each in zip(self._boxes(), self._sizes, strict=True):
            if box.left() <= event.position().x() < box.right():
                words = f"{shown_measure(each.value, 3)}: {each}"
                QToolTip.showText(event.globalPosition().toPoint(), words, self)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None and self._sizes:
            self._at = (self._at + step) % len(self._sizes)
            self.update()
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return) and self._sizes:
            self.toggled.emit(self._sizes[self._at].value)
        else:
            super().keyPressEvent(event)

    def _boxes(self) -> list[QRectF]:
        count = max(len(self._sizes), 1)
        wide = min(self.width() / count, _WIDEST)
        high = self.height() - _FOOT
        return [QRectF(at * wide, 0, wide, high) for at in range(len(self._sizes))]
