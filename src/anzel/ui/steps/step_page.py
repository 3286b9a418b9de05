"""What all steps have in common: a view, a panel beside it, and both kept up to date."""

from collections.abc import Set

from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget

from anzel.app.listeners import Changed
from anzel.app.session import Session
from anzel.ui.widgets.common_widgets import Panel
from anzel.ui.widgets.picked_line import PickedLine


class FollowingPage(QWidget):
    """A page that follows the session while it is seen, and catches up once it is shown again."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._missed: set[Changed] = set()

    def _follow(self) -> None:
        """Be told of changes from now on."""
        self._session.subscribe(self._heard)

    def _heard(self, changed: Changed) -> None:
        if self.isVisible():
            self._show_changes({changed})
        else:
            self._missed.add(changed)

    def catch_up(self) -> None:
        """Show what has changed while the page was not seen."""
        missed, self._missed = self._missed, set()
        self._show_changes(missed)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.catch_up()

    def refresh(self) -> None:
        """Show the project as it is now."""
        raise NotImplementedError

    def _show_changes(self, changes: Set[Changed]) -> None:
        if changes & {Changed.PROJECT, Changed.SELECTION}:
            self.refresh()


class StepPage(FollowingPage):
    """A step with its main view at the left and its panel at the right.

    The line on top of the panel names what is picked.
    """

    def __init__(self, session: Session, view: QWidget) -> None:
        super().__init__(session)
        self.line = PickedLine()
        self._panel = Panel(self.line)
        self.line.up_wanted.connect(session.selection.pick_whole)
        self._fill_panel()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(view, 1)
        row.addWidget(self._panel)
        self._follow()
        self.refresh()

    def _fill_panel(self) -> None:
        """Put the step's settings into the panel."""
        raise NotImplementedError
