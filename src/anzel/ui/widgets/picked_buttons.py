"""Buttons for all that can be done to what is picked."""

from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from anzel.app.picked_actions import PickedAction, actions_for
from anzel.app.session import Session
from anzel.ui.widgets.common_widgets import button, clear

_IN_A_ROW = 2


class PickedButtons(QWidget):
    """One flat button for each action of the table that applies."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: tuple[PickedAction, ...] = ()
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 6, 0, 0)
        self._grid.setSpacing(3)

    def refresh(self) -> None:
        """Show what can be done now."""
        wanted = actions_for(self._session)
        if wanted != self._shown:
            self._shown = wanted
            clear(self._grid)
            for number, action in enumerate(wanted):
                self._grid.addWidget(self._button(action), *divmod(number, _IN_A_ROW))

    def _button(self, action: PickedAction) -> QPushButton:
        made = button(action.title.replace("&", ""))
        made.clicked.connect(lambda: action.do(self._session))
        return made
