"""The picked piece of a form: its size, its sheet, and the joints it is in."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QListWidgetItem, QVBoxLayout

from anzel.app.edits import opening_edits
from anzel.app.number_display import shown_length, shown_measure
from anzel.app.selection import ThingKind
from anzel.app.session import Session
from anzel.app.views.assembly_play import goes_in
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.shape.sketch import Corner
from anzel.ui.widgets.artwork_panel import ArtworkPanel
from anzel.ui.widgets.common_widgets import fill_rows, named_list, quiet, section
from anzel.ui.widgets.corner_panel import CornerPanel
from anzel.ui.widgets.openings_panel import OpeningsPanel
from anzel.ui.widgets.picture_panel import PicturePanel
from anzel.ui.widgets.thing_page import ThingPage

_ROWS = 8


class PiecePage(ThingPage):
    """What a piece is; its outline follows from the form."""

    picture_wanted = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._joint_ids: list[str] = []
        self._plate = ""
        self._says = quiet("")
        self.joints = named_list("Joints of the piece")
        self.joints.itemActivated.connect(self._pick)
        self.joints.itemClicked.connect(self._pick)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.openings = OpeningsPanel(session)
        self.corner = CornerPanel(session, "Free corners", self._corner, self._put_corner)
        self.alike = QCheckBox("Corners of all pieces alike")
        self.alike.setChecked(True)
        self.picture = PicturePanel(session)
        self.picture.wanted.connect(self.picture_wanted)
        self.artwork = ArtworkPanel(session)
        widgets = (
            self._says, section("Its joints"), self.joints, self.openings, self.corner, self.alike,
            self.artwork, self.picture,
        )  # fmt: skip
        for widget in widgets:
            column.addWidget(widget)

    def _corner(self, project: Project) -> Corner:
        wish = opening_edits.corner_of(project, self._plate)
        return wish.corner if wish is not None else Corner()

    def _put_corner(self, project: Project, corner: Corner) -> Project:
        return opening_edits.change_corners(
            project, self._plate, corner, alike=self.alike.isChecked()
        )

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
            f"from {project.stock(piece.stock_id).name}{times}. {goes_in(project, piece.name)}"
        )
        joints = [joint for joint in solved.joints if thing.name in joint.pieces]
        self._joint_ids = [joint.id for joint in joints]
        self._plate = opening_edits.plate_behind(project, thing.name)
        self.openings.show_plate(self._plate)
        self.artwork.show_plate(self._plate)
        self.picture.show_plate(self._plate)
        self.corner.refresh()
        self.alike.setVisible(opening_edits.alike_count(project, self._plate) > 1)
        fill_rows(self.joints, [f"{joint.id}   {joint.title}" for joint in joints], _ROWS)

    def _pick(self, item: QListWidgetItem) -> None:
        self._session.selection.pick_joint(self._joint_ids[self.joints.row(item)])
