"""Find: type a part of a name, and go there."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from anzel.app.search import Match, search
from anzel.app.session import Session
from anzel.ui.widgets.common_widgets import quiet


class FindDialog(QDialog):
    """A field and, below it, what it finds; Enter goes to the picked one."""

    def __init__(self, parent: QWidget, session: Session, go: Callable[[Match], None]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Find")
        self.resize(420, 460)
        self._session, self._go = session, go
        self._found: list[Match] = []
        self.typed = QLineEdit()
        self.typed.setAccessibleName("What to find")
        self.typed.setPlaceholderText("A piece, joint, size, sheet or command")
        self.typed.textChanged.connect(lambda _: self._search())
        self.typed.returnPressed.connect(self.go)
        self.rows = QListWidget()
        self.rows.setAccessibleName("What was found")
        self.rows.itemActivated.connect(lambda _: self.go())
        column = QVBoxLayout(self)
        column.addWidget(self.typed)
        column.addWidget(self.rows, 1)
        column.addWidget(quiet("Up and down pick, Enter goes there."))
        self._search()

    def go(self) -> None:
        """Go to the picked one, and close."""
        row = self.rows.currentRow()
        if 0 <= row < len(self._found):
            self.accept()
            self._go(self._found[row])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
        if event.key() in steps and self.rows.count():
            row = self.rows.currentRow() + steps[Qt.Key(event.key())]
            self.rows.setCurrentRow(min(max(row, 0), self.rows.count() - 1))
        else:
            super().keyPressEvent(event)

    def _search(self) -> None:
        self._found = search(self._session, self.typed.text())
        self.rows.clear()
        for each in self._found:
            self.rows.addItem(QListWidgetItem(f"{each.words}   {each.kind.value}"))
        self.rows.setCurrentRow(0)
