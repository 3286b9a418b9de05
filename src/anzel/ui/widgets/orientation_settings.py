"""Settings of orientations: distances, turns, the grain, turning over; and releasing placements."""

from PySide6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from anzel.app.edits import layout_edits, project_edits
from anzel.app.session import Session
from anzel.core.number_format import plain_length
from anzel.layout.sheet_settings import TurnSteps
from anzel.materials.material import Faces, Grain
from anzel.project.model import Project
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import button, choice_row
from anzel.ui.widgets.wheel_safe import Choice


class OrientationSettings(QWidget):
    """Bound to the project's sheet settings."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.fields = {
            "spacing": self._field("Between pieces", "spacing"),
            "margin": self._field("From the sheet's edge", "margin"),
        }
        self._turns = Choice()
        self._turns.setAccessibleName("Turns allowed")
        for turns in TurnSteps:
            self._turns.addItem(f"Turns: {turns.value}", turns)
        self._turns.activated.connect(self._choose_turns)
        self._grain = QCheckBox("Long sides with the grain")
        self._over = QCheckBox("May be turned over, where both faces are alike")
        self._grain.clicked.connect(lambda on: self._set("Grain", follow_grain=on))
        self._over.clicked.connect(lambda on: self._set("Turning over", turn_over=on))
        again, hold = button("Lay all again"), button("Pin all")
        again.setToolTip("Let every pin go and lay everything anew")
        again.clicked.connect(
            lambda: session.attempt("Laid again", layout_edits.release_placements)
        )
        hold.clicked.connect(self._pin_all)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        for widget in (*self.fields.values(), self._turns, self._grain, self._over):
            column.addWidget(widget)
        column.addLayout(choice_row(again, hold))

    def refresh(self) -> None:
        """Show the settings as they are now."""
        project = self._session.project_with_pending
        for field in self.fields.values():
            field.refresh()
        self._turns.setCurrentIndex(self._turns.findData(project.sheets.turns))
        self._grain.setChecked(project.sheets.follow_grain)
        self._over.setChecked(project.sheets.turn_over)
        used = project.stocks_in_use
        self._grain.setEnabled(any(stock.grain is not Grain.NONE for stock in used))
        self._over.setEnabled(any(stock.faces is Faces.ALIKE for stock in used))

    def _field(self, label: str, field: str) -> BoundField:
        def put(project: Project, text: str) -> Project:
            return project_edits.change_sheets(
                project, **{field: project_edits.typed_length(text, field)}
            )

        return BoundField(
            self._session, label, lambda project: plain_length(getattr(project.sheets, field)), put
        )

    def _choose_turns(self, index: int) -> None:
        turns = TurnSteps(self._turns.itemData(index))
        self._set(f"Turns: {turns.value}", turns=turns)

    def _pin_all(self) -> None:
        if self._session.layouts is None:
            self._session.status.show("▲ The pieces are still being laid. Pin them when they lie.")
        else:
            self._session.attempt("All pinned", _pin_all)

    def _set(self, label: str, **changes: object) -> None:
        self._session.attempt(
            label, lambda project: project_edits.change_sheets(project, **changes)
        )
        self.refresh()


def _pin_all(project: Project) -> Project:
    for stock in project.stocks_in_use:
        project = layout_edits.pin_all(project, stock.id)
    return project
