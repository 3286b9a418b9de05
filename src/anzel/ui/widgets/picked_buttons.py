"""Buttons for all that can be done to what is picked."""

from PySide6.QtWidgets import QPushButton, QWidget

from anzel.app.picked_actions import PickedAction, actions_for
from anzel.app.session import Session
from anzel.ui.widgets.common_widgets import button, clear
from anzel.ui.widgets.flow_layout import FlowLayout


class PickedButtons(QWidget):
    """One flat button for each action of the table that applies."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: tuple[PickedAction, ...] = ()
        self._row = FlowLayout(self)
        self._row.setContentsMargins(0, 6, 0, 0)

    def refresh(self) -> None:
        """Show what can be done now."""
        wanted = tuple(action for action in actions_for(self._session) if action.in_panel)
        if wanted != self._shown:
            self._shown = wanted
            clear(self._row)
            for action in wanted:
                self._row.addWidget(self._button(action))

    def _button(self, action: PickedAction) -> QPushButton:
        made = button(action.title.replace("&", ""))
        made.clicked.connect(lambda: action.do(self._session))
        return made
