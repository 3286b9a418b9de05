"""A corner's treatment: sharp, round, chamfered or relieved, and by how much."""

from collections.abc import Callable

from PySide6.QtWidgets import QVBoxLayout, QWidget

from anzel.app.edits import project_edits
from anzel.app.session import Session
from anzel.core.number_format import plain_length
from anzel.project.model import Project
from anzel.shape.sketch import Corner, CornerKind
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.wheel_safe import Choice

_WORDS = {
    CornerKind.SHARP: "sharp", CornerKind.ROUND: "round", CornerKind.CHAMFER: "chamfered",
    CornerKind.RELIEF: "relieved by a hole",
}  # fmt: skip
_USUAL = 3.0
Get = Callable[[Project], Corner]
Put = Callable[[Project, Corner], Project]


class CornerPanel(QWidget):
    """A choice and a size; `get` and `put` say whose corner it is."""

    def __init__(self, session: Session, title: str, get: Get, put: Put) -> None:
        super().__init__()
        self._session, self._title, self._get, self._put = session, title, get, put
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.kind = Choice()
        self.kind.setAccessibleName(title)
        for kind, words in _WORDS.items():
            self.kind.addItem(f"{title}: {words}", kind.value)
        self.kind.activated.connect(self._take_kind)
        self.size_field = BoundField(
            session, "By",
            lambda project: plain_length(get(project).size),
            lambda project, text: put(project, get(project).with_changes(
                size=project_edits.typed_length(text, "size"))),
        )  # fmt: skip
        column.addWidget(self.kind)
        column.addWidget(self.size_field)

    def refresh(self) -> None:
        """Show the corner as it is now."""
        corner = self._get(self._session.project)
        self.kind.setCurrentIndex(self.kind.findData(corner.kind.value))
        self.size_field.setVisible(corner.kind is not CornerKind.SHARP)
        self.size_field.refresh()

    def _take_kind(self, index: int) -> None:
        kind = CornerKind(self.kind.itemData(index))

        def make(project: Project) -> Project:
            size = self._get(project).size or _USUAL
            corner = Corner() if kind is CornerKind.SHARP else Corner(kind=kind, size=size)
            return self._put(project, corner)

        if not self._session.attempt(f"{self._title}: {_WORDS[kind]}", make):
            self.refresh()
