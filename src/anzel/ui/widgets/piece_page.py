"""The picked piece of a form: its size, its sheet, and the joints it is in."""

from PySide6.QtWidgets import QListWidgetItem, QVBoxLayout, QWidget

from anzel.app.number_display import shown_length, shown_measure
from anzel.app.selection import ThingKind
from anzel.app.session import Session
from anzel.project.derive import solved_structure_of
from anzel.ui.widgets.common_widgets import fill_rows, named_list, quiet, section

_ROWS = 8


class PiecePage(QWidget):
    """What a piece is; its outline follows from the form."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._joint_ids: list[str] = []
        self._says = quiet("")
        self.joints = named_list("Joints of the piece")
        self.joints.itemActivated.connect(self._pick)
        self.joints.itemClicked.connect(self._pick)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        for widget in (self._says, section("Its joints"), self.joints):
            column.addWidget(widget)

    def refresh(self) -> None:
        """Show the picked piece as it is now."""
        thing = self._session.selection.one(ThingKind.PIECE)
        if thing is None:
            return
        project = self._session.project
        solved = solved_structure_of(project)
        piece = solved.piece(thing.name)
        width, height = piece.region.size
        times = f", needed {piece.count} times" if piece.count != 1 else ""
        self._says.setText(
            f"{shown_length(width)} × {shown_measure(height)}, "
            f"from {project.stock(piece.stock_id).name}{times}."
        )
        joints = [joint for joint in solved.joints if thing.name in joint.pieces]
        self._joint_ids = [joint.id for joint in joints]
        fill_rows(self.joints, [f"{joint.id}   {joint.title}" for joint in joints], _ROWS)

    def _pick(self, item: QListWidgetItem) -> None:
        self._session.selection.pick_joint(self._joint_ids[self.joints.row(item)])
