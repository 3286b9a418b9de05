"""The largest size of a design: of each piece, and of the whole; and the offer to make it fit."""

from PySide6.QtCore import Signal

from anzel.app.edits import project_edits
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.core.number_format import plain_length
from anzel.project.bounds import Bounds, findings_on_bounds
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import FoldingSection, button, quiet

_TITLES = {
    "piece_width": "A piece, at most", "piece_height": "by", "width": "Width of the whole",
    "depth": "Depth of the whole", "height": "Height of the whole",
}  # fmt: skip


class BoundsPanel(FoldingSection):
    """A fold of the page of the whole; 0 is no bound."""

    fit_wanted = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__("Largest size")
        self._session = session
        self.fields = {name: self._field(name) for name in Bounds.model_fields}
        self.add(quiet("0 is no bound."), *self.fields.values())
        self._says = quiet("")
        self._says.setObjectName("Error")
        self.fit = button("Make it fit…", "Primary")
        self.fit.clicked.connect(self.fit_wanted.emit)
        self.add(self._says, self.fit)

    def refresh(self) -> None:
        """Show the bounds as they are now, and what goes beyond them."""
        project = self._session.project
        for field in self.fields.values():
            field.refresh()
        beyond = (
            findings_on_bounds(project, solved_structure_of(project))
            if project.bounds.are_set else []
        )  # fmt: skip
        more = f" And {len(beyond) - 1} more." if len(beyond) > 1 else ""
        first = f"▲ {beyond[0].where}: {beyond[0].message}{more}" if beyond else ""
        self._says.setText(shown(first))
        for widget in (self._says, self.fit):
            widget.setVisible(bool(beyond))
        if beyond and not self.head.isChecked():
            self.head.setChecked(True)

    def _field(self, name: str) -> BoundField:
        def get(project: Project) -> str:
            return plain_length(getattr(project.bounds, name))

        return BoundField(
            self._session, _TITLES[name], get,
            lambda project, text: project_edits.type_bound(project, name, text),
        )  # fmt: skip
