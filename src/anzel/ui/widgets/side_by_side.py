"""Two views side by side, or one above the other in a narrow window; either can stand alone."""

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QSplitter, QToolButton, QWidget

from anzel.ui.theme import icon

_NARROW = 430
"""Below this width the views stand one above the other."""
_EDGE = 6
_PLACED = (QEvent.Type.Resize, QEvent.Type.Show, QEvent.Type.StyleChange)


class SideBySide(QSplitter):
    """A splitter of two views, each with a button that shows it alone."""

    def __init__(self, name: str, first: QWidget, second: QWidget, titles: tuple[str, str]) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self.setObjectName(name)
        self.setHandleWidth(5)
        self._views = (first, second)
        self._buttons: dict[QWidget, QToolButton] = {}
        for view, title in zip(self._views, titles, strict=True):
            self.addWidget(view)
            self._buttons[view] = self._button(view, title)
        self.setSizes([400, 420])

    def _button(self, view: QWidget, title: str) -> QToolButton:
        made = QToolButton(view)
        made.setObjectName("Flat")
        made.setCheckable(True)
        made.setAccessibleName(f"{title} alone")
        made.setToolTip(f"{title} alone, or both")
        made.clicked.connect(lambda on: self.show_alone(view if on else None))
        view.installEventFilter(self)
        return made

    def show_alone(self, view: QWidget | None) -> None:
        """Show one view alone, or both for None."""
        for each in self._views:
            each.setVisible(view in (None, each))
            self._buttons[each].setChecked(each is view)

    def switch_alone(self, number: int) -> None:
        """Show the first or second view alone, or both again."""
        view = self._views[number]
        self.show_alone(None if self._buttons[view].isChecked() else view)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(watched, QWidget) and event.type() in _PLACED:
            made = self._buttons[watched]
            made.setIcon(icon("alone", "soft"))
            size = made.sizeHint()
            made.move(watched.width() - size.width() - _EDGE, _EDGE)
        return super().eventFilter(watched, event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        narrow = self.width() < _NARROW
        self.setOrientation(Qt.Orientation.Vertical if narrow else Qt.Orientation.Horizontal)
