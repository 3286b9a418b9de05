"""What is changed by hand on the joint in hand of a form, and on no other."""

from PySide6.QtWidgets import QCheckBox

from anzel.app.edits import project_edits
from anzel.app.session import Session
from anzel.core.number_format import plain_length
from anzel.project.derive import solved_structure_of
from anzel.structure.model import FeatureKind
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import FoldingSection

_TITLES = {"wider": "Slots wider by", "deeper": "Slots deeper by", "moved": "Moved along by"}


class JointChangeFields(FoldingSection):
    """Fields for one joint; they stay when the form's own numbers change."""

    def __init__(self, session: Session) -> None:
        super().__init__("This joint alone")
        self._session = session
        self.fields = {name: self._field(name) for name in _TITLES}
        self.swapped = QCheckBox("Slotted from the other side")
        self.swapped.clicked.connect(self._swap)
        self.add(*self.fields.values(), self.swapped)

    def refresh(self) -> None:
        """Show what was changed on the joint in hand."""
        project, joint_id = self._session.project, self._session.selection.joint_id
        joint = next((j for j in solved_structure_of(project).joints if j.id == joint_id), None)
        has_slots = joint is not None and any(
            feature.kind is FeatureKind.SLOT for feature in joint.features
        )
        is_form = not (project.structure.has_free_plates or project.structure.has_drawings)
        self.setVisible(has_slots and is_form)
        slotted = {
            feature.piece for feature in (joint.features if joint is not None else ())
            if feature.kind is FeatureKind.SLOT
        }  # fmt: skip
        self.swapped.setVisible(len(slotted) == 2)
        self.swapped.setChecked(project_edits.joint_change_of(project, joint_id or "-").swapped)
        self.fields["moved"].setVisible(project.structure.moves_joints)
        for field in self.fields.values():
            field.refresh()
        if not project_edits.joint_change_of(project, joint_id or "-").is_nothing:
            self.head.setChecked(True)

    def _swap(self, swapped: bool) -> None:
        """The plates of the joint in hand change their parts, or take them back."""
        joint_id = self._session.selection.joint_id or "-"
        words = f"{joint_id} slotted from the other side" if swapped else f"{joint_id} as before"
        if not self._session.attempt(
            words, lambda p: project_edits.change_joint(p, joint_id, swapped=swapped)
        ):
            self.refresh()

    def _field(self, name: str) -> BoundField:
        def joint() -> str:
            return self._session.selection.joint_id or "-"

        return BoundField(
            self._session, _TITLES[name],
            lambda project: plain_length(
                getattr(project_edits.joint_change_of(project, joint()), name)
            ),
            lambda project, text: project_edits.type_joint_change(project, joint(), name, text),
            step=0.05 if name == "wider" else 1.0,
        )  # fmt: skip
