"""The bar under a plate while a path is drawn on it: legs are typed, taken back and closed."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from anzel.app.number_display import shown
from anzel.app.typed_legs import EXAMPLES, typed_leg
from anzel.core.findings import ParameterError
from anzel.ui.views.unfinished_path import UnfinishedPath
from anzel.ui.widgets.common_widgets import button, quiet
from anzel.ui.widgets.flow_layout import FlowLayout


class LegBar(QWidget):
    """A line for the next leg, with what is wrong below it, and the ways out."""

    changed = Signal()
    closed = Signal()
    left = Signal()

    def __init__(self) -> None:
        super().__init__()
        self._path: UnfinishedPath | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 4, 10, 6)
        column.setSpacing(2)
        self.leg = QLineEdit()
        self.leg.setAccessibleName("The next leg")
        self.leg.returnPressed.connect(self._take)
        self.leg.textEdited.connect(self.refresh)
        column.addWidget(self.leg)
        row = FlowLayout(spacing=6)
        ways = {"Take back": self._take_back, "Close the path": self.closed.emit}
        for words, do in ways.items():
            each = button(words)
            each.clicked.connect(do)
            row.addWidget(each)
        leave = button("Leave", "Flat")
        leave.clicked.connect(self.left.emit)
        row.addWidget(leave)
        column.addLayout(row)
        self.says = quiet("")
        column.addWidget(self.says)

    def show_path(self, path: UnfinishedPath | None) -> None:
        """Take legs for a path, or none."""
        self._path = path
        self.setVisible(path is not None)
        self.leg.clear()
        self.refresh()

    def show_error(self, error: ParameterError) -> None:
        """Say what is wrong with the path."""
        self.says.setText(shown(f"{error.message} {error.hint}".strip()))

    def refresh(self) -> None:
        """Say what comes next."""
        corners = len(self._path.corners) if self._path is not None else 0
        is_first = corners == 0
        self.leg.setPlaceholderText("x 20 y 30" if is_first else EXAMPLES)
        self.says.setText(
            "Click the first corner, or type where it is. Alt leaves out all help." if is_first
            else "Click the next corner, or type its leg. Click the first corner to close the path."
        )  # fmt: skip

    def _take(self) -> None:
        if self._path is None:
            return
        if not self.leg.text().strip():
            self.closed.emit()
            return
        try:
            self._path.add(typed_leg(self.leg.text(), self._path.start, self._path.legs))
        except ParameterError as error:
            self.show_error(error)
            return
        self.leg.clear()
        self.refresh()
        self.changed.emit()

    def _take_back(self) -> None:
        if self._path is not None and not self._path.take_back():
            self.left.emit()
        self.refresh()
        self.changed.emit()
