"""The edits so far as a list: pick one to go back, or forward again, to where it stood."""

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QListWidget, QVBoxLayout, QWidget

from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.core.wording import counted
from anzel.ui.theme import colour
from anzel.ui.widgets.common_widgets import heading, quiet
from anzel.ui.widgets.deferred_call import after_event


class HistoryDialog(QDialog):
    """Every edit a line; what was taken back stands below the present one."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self.setWindowTitle("History")
        self.resize(420, 460)
        self._session = session
        self.rows = QListWidget()
        self.rows.setAccessibleName("Edits")
        self.rows.itemActivated.connect(
            lambda item: after_event(self, lambda: self.go_to(self.rows.row(item)))
        )
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(heading("History"))
        column.addWidget(quiet("Double click an edit, or press Enter, to go back to it."))
        if gone := session.document.history.forgotten:
            column.addWidget(quiet(f"{counted(gone, 'older edit')} took too much memory to keep."))
        column.addWidget(self.rows, 1)
        column.addWidget(buttons)
        self._fill()

    def go_to(self, at: int) -> None:
        """Make the project what it was after that edit."""
        self._session.go_back_to(at)
        self._fill()

    def _fill(self) -> None:
        history = self._session.document.history
        self.rows.clear()
        for at, edit in enumerate(history.edits):
            self.rows.addItem(shown(edit) or "As it was opened")
            if at > history.at and (item := self.rows.item(at)) is not None:
                item.setForeground(colour("soft"))
        self.rows.setCurrentRow(history.at)
