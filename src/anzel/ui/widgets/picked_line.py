"""The line on top of a panel: it names what is picked, and leads one level up."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from anzel.ui.widgets.common_widgets import button, heading


class PickedLine(QWidget):
    """The name of the picked thing; above it the way up, and to the next of its kind."""

    up_wanted = Signal()
    stepped = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.up = button("", "Flat")
        self.up.setToolTip("One level up (Esc in a view)")
        self.up.clicked.connect(self.up_wanted)
        self._steps = [button(words, "Flat") for words in ("◂", "▸")]
        row = QHBoxLayout()
        row.setSpacing(2)
        row.addWidget(self.up)
        row.addStretch(1)
        for by, name, step in zip((-1, 1), ("Previous", "Next"), self._steps, strict=True):
            step.setAccessibleName(f"{name} of its kind")
            step.setToolTip(f"{name} of its kind")
            step.clicked.connect(lambda _=False, by=by: self.stepped.emit(by))
            row.addWidget(step)
        self.title = heading("")
        self._above = QWidget()
        row.setContentsMargins(0, 0, 0, 0)
        self._above.setLayout(row)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 8, 14, 0)
        column.setSpacing(0)
        column.addWidget(self._above)
        column.addWidget(self.title)

    def show_picked(self, title: str, above: str = "", *, can_step: bool = False) -> None:
        """Show what is picked and what it is a part of; nothing is above the whole."""
        had_focus = self.up.hasFocus() or any(step.hasFocus() for step in self._steps)
        self.title.setText(title)
        self.up.setText(f"‹ {above}")
        self.up.setAccessibleName(f"Up to {above}")
        self.up.setVisible(bool(above))
        self._above.setVisible(bool(above) or can_step)
        for step in self._steps:
            step.setVisible(can_step)
        if above and had_focus and not self.focusWidget():
            self.up.setFocus()
