"""What all steps have in common: a view, a panel beside it, and both kept up to date."""

from PySide6.QtWidgets import QHBoxLayout, QWidget

from anzel.app.listeners import Changed
from anzel.app.session import Session
from anzel.ui.widgets.common_widgets import Panel
from anzel.ui.widgets.picked_line import PickedLine


class StepPage(QWidget):
    """A step with its main view at the left and its panel at the right.

    The line on top of the panel names what is picked.
    """

    def __init__(self, session: Session, view: QWidget) -> None:
        super().__init__()
        self._session = session
        self.line = PickedLine()
        self._panel = Panel(self.line)
        self.line.up_wanted.connect(session.selection.pick_whole)
        self._fill_panel()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(view, 1)
        row.addWidget(self._panel)
        session.subscribe(self._changed)
        self.refresh()

    def refresh(self) -> None:
        """Show the project as it is now."""
        raise NotImplementedError

    def _fill_panel(self) -> None:
        """Put the step's settings into the panel."""
        raise NotImplementedError

    def _changed(self, changed: Changed) -> None:
        if changed in (Changed.PROJECT, Changed.SELECTION):
            self.refresh()
