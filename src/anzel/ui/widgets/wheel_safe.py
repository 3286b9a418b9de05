"""Choices and sliders that ignore the wheel until they have been clicked."""

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import QComboBox, QSlider, QWidget


class _WheelAfterClick(QObject):
    """Lets the wheel reach a widget only between a click on it and its loss of focus."""

    def __init__(self, widget: QWidget) -> None:
        super().__init__(widget)
        self._was_clicked = False
        widget.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        widget.installEventFilter(self)

    def eventFilter(self, widget: QObject, event: QEvent) -> bool:
        match event.type():
            case QEvent.Type.MouseButtonPress:
                self._was_clicked = True
            case QEvent.Type.FocusOut:
                popup = Qt.FocusReason.PopupFocusReason
                if isinstance(event, QFocusEvent) and event.reason() != popup:
                    self._was_clicked = False
            case QEvent.Type.Wheel if not self._was_clicked:
                event.ignore()  # whatever scrolls behind it takes the wheel
                return True
        return False


class Choice(QComboBox):
    """A drop-down choice."""

    def __init__(self) -> None:
        super().__init__()
        _WheelAfterClick(self)

    def setAccessibleName(self, name: str) -> None:
        """Name the choice, and describe it so: on Linux Qt tells its value as its name."""
        super().setAccessibleName(name)
        self.setAccessibleDescription(name)


class Slider(QSlider):
    """A level slider."""

    def __init__(self) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        _WheelAfterClick(self)
