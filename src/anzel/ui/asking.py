"""Asking before something is written that may not be wanted."""

from PySide6.QtWidgets import QMessageBox, QWidget


def may_write(window: QWidget, title: str, question: str) -> bool:
    """Whether the maker wants it written all the same; not, unless they say so."""
    buttons = QMessageBox.StandardButton
    answer = QMessageBox.question(
        window, title, question, buttons.Save | buttons.Cancel, buttons.Cancel
    )
    return answer == buttons.Save
