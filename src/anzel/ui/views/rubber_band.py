"""A rubber band: drawn with Shift held over a flat view, with Ctrl over the standing one."""

from PySide6.QtCore import QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QRubberBand, QWidget

_LEAST = 4
"""A band smaller than this, in pixels, was a click."""


class RubberBand:
    """The band of one view."""

    def __init__(self, view: QWidget, key: Qt.KeyboardModifier) -> None:
        self._view, self._key = view, key
        self._from: QPointF | None = None
        self._shape: QRubberBand | None = None

    def press(self, event: QMouseEvent) -> bool:
        """Begin a band if the key is held; return whether it is."""
        held = bool(event.modifiers() & self._key)
        is_left = event.button() == Qt.MouseButton.LeftButton
        self._from = event.position() if held and is_left else None
        return self._from is not None

    def move(self, event: QMouseEvent) -> bool:
        """Draw the band up to here; return whether there is one."""
        if self._from is None:
            return False
        box = self._box(event.position())
        if max(box.width(), box.height()) >= _LEAST:
            if self._shape is None:
                self._shape = QRubberBand(QRubberBand.Shape.Rectangle, self._view)
            self._shape.setGeometry(box)
            self._shape.show()
        return True

    def release(self, event: QMouseEvent) -> QRectF | None:
        """End the band; return it in pixels, None for a click."""
        box = self._box(event.position()) if self._from is not None else QRect()
        self._from = None
        if self._shape is None:
            return None
        self._shape.hide()
        self._shape.deleteLater()
        self._shape = None
        return QRectF(box)

    def _box(self, to: QPointF) -> QRect:
        assert self._from is not None
        return QRectF(self._from, to).normalized().toRect()
