"""Questions before something is written that may not be wanted."""

from pathlib import Path

from PySide6.QtWidgets import QMessageBox, QWidget


def may_write(window: QWidget, title: str, question: str) -> bool:
    """Return whether the maker wants it written nevertheless; the default is no."""
    buttons = QMessageBox.StandardButton
    answer = QMessageBox.question(
        window, title, question, buttons.Save | buttons.Cancel, buttons.Cancel
    )
    return answer == buttons.Save


def may_write_read_only(window: QWidget, path: Path) -> bool:
    """Return whether to write over a file that is marked as read-only."""
    return may_write(
        window, "Read-only", f"{path.name} is read-only.\n\nWrite over it all the same?"
    )
