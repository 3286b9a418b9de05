"""What a view has painted, kept as a picture until something of it changes."""

from collections.abc import Callable

from PySide6.QtGui import QPainter, QPixmap
from PySide6.QtWidgets import QWidget

from anzel.app.number_display import number_format
from anzel.ui.theme import colour, is_dark, text_scale


class PaintedLayer:
    """A picture as large as its view, on paper."""

    def __init__(self, view: QWidget) -> None:
        self._view = view
        self._key: object = None
        self._picture = QPixmap()

    def paint_on(
        self, painter: QPainter, key: tuple[object, ...], paint: Callable[[QPainter], None]
    ) -> None:
        """Paint the picture, made anew by `paint` where the key is another one.

        The key names all that is painted but the view's size, the look and the way of numbers.
        """
        size, ratio = self._view.size(), self._view.devicePixelRatioF()
        whole = (*key, size, ratio, is_dark(), text_scale(), number_format())
        if whole != self._key:
            self._key = None
            self._picture = QPixmap(size * ratio)
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(colour("paper"))
            inner = QPainter(self._picture)
            inner.setRenderHints(painter.renderHints())
            try:
                paint(inner)
            finally:
                inner.end()
            self._key = whole
        painter.drawPixmap(0, 0, self._picture)
