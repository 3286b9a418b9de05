"""The offer at the start of work that an earlier window left unsaved.

What is opened is kept anew before the earlier window's copy is removed.
"""

from collections.abc import Callable, Sequence

from PySide6.QtWidgets import QMessageBox, QWidget

from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.core.error_boundary import error_boundary
from anzel.core.findings import MakerError
from anzel.storage.recovery_store import RecoverableProject
from anzel.ui.modal import run

Keep = Callable[[Callable[[], None]], None]
"""Keeps the work in hand, and makes a call once it is kept."""


def offer(
    window: QWidget, session: Session, found: Sequence[tuple[RecoverableProject, str]], keep: Keep
) -> None:
    """Ask about the newest, then the others, until one is opened or all are decided.

    Beside each stands how it differs from its file.
    """
    for each, difference in found:
        box = QMessageBox(window)
        box.setWindowTitle("Unsaved work was found")
        box.setText(
            f"“{each.name}” was not saved when Anzel ended on {each.when:%Y-%m-%d at %H:%M}."
        )
        box.setInformativeText(shown(difference))
        recover = box.addButton("Open it", QMessageBox.ButtonRole.AcceptRole)
        later = box.addButton("Keep it for later", QMessageBox.ButtonRole.RejectRole)
        discard = box.addButton("Throw it away", QMessageBox.ButtonRole.DestructiveRole)
        box.setDefaultButton(recover)
        box.setEscapeButton(later)
        run(box)
        if box.clickedButton() is discard:
            each.discard()
        elif box.clickedButton() is recover and _opened(window, session, each):
            keep(each.discard)
            return


def _opened(window: QWidget, session: Session, found: RecoverableProject) -> bool:
    try:
        with error_boundary("it opened unsaved work"):
            session.recover(found.project(), found.saved_as)
    except MakerError as error:
        QMessageBox.warning(window, "This work cannot be opened", shown(str(error)))
        return False
    return True
