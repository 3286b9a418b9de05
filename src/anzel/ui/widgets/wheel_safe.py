"""Choices and sliders that ignore the wheel until they have been clicked."""

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QFocusEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QComboBox, QSlider, QWidget

if TYPE_CHECKING:
    _AnyWidget = QWidget
else:
    _AnyWidget = object  # two classes of Qt have no common heir


class _WheelAfterClick(_AnyWidget):
    """Takes the wheel only between a click and the loss of focus."""

    _was_clicked = False

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._was_clicked = True
        super().mousePressEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        if event.reason() != Qt.FocusReason.PopupFocusReason:
            self._was_clicked = False
        super().focusOutEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self._was_clicked:
            super().wheelEvent(event)
        else:
            event.ignore()  # whatever scrolls behind it takes the wheel


class Choice(_WheelAfterClick, QComboBox):
    """A drop-down choice."""

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def setAccessibleName(self, name: str) -> None:
        """Name the choice, and describe it so: on Linux Qt tells its value as its name."""
        super().setAccessibleName(name)
        self.setAccessibleDescription(name)


class Slider(_WheelAfterClick, QSlider):
    """A level slider."""

    def __init__(self) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
