"""Changes tried from a dialog: what is wrong is said there, not in the window behind it."""

from collections.abc import Callable

from PySide6.QtWidgets import QLabel

from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.project.model import Project


def attempt_in(
    says: QLabel, session: Session, words: str, edit: Callable[[Project], Project]
) -> bool:  # fmt: skip
    """Try a change; where it cannot be, say why in a label of the dialog, and return False."""
    done = session.attempt(words, edit)
    if not done:
        says.setText(shown(session.status.text))
    return done
