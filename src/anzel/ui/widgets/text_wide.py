"""Widths that follow the size of text."""

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QWidget

from anzel.ui.theme import text_scale, when_dressed


class TextWide(QObject):
    """Keeps a widget as wide as so many pixels are at the usual size of text."""

    def __init__(self, widget: QWidget, width: int) -> None:
        super().__init__(widget)
        self._widget, self._width = widget, width
        when_dressed(self._fit)
        self._fit()

    def _fit(self) -> None:
        self._widget.setFixedWidth(round(self._width * text_scale()))
