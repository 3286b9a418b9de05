"""A chooser for the fit of one joint: the project's, or a class of its own."""

from anzel.app.edits import project_edits
from anzel.app.session import Session
from anzel.materials.fits import FitName
from anzel.project.derive import solved_structure_of
from anzel.ui.widgets.wheel_safe import Choice

PROJECTS = "the project's fit"


class FitChoice(Choice):
    """Shows and changes the picked joint's fit."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setAccessibleName("Fit of this joint")
        self.addItem(PROJECTS, "")
        for fit in FitName:
            self.addItem(fit.value, fit.value)
        self.activated.connect(self.take)

    def refresh(self) -> None:
        """Show the picked joint's fit as it is now."""
        found = (
            j
            for j in solved_structure_of(self._session.project).joints
            if j.id == self._session.selection.joint_id
        )
        joint = next(found, None)
        self.setEnabled(joint is not None)
        fit = joint.fit if joint is not None else None
        self.setCurrentIndex(self.findData(fit.value if fit else ""))

    def take(self, index: int) -> None:
        """A fit chosen for the picked joint."""
        joint_id, value = self._session.selection.joint_id, self.itemData(index)
        fit = FitName(value) if value else None
        words = f"{joint_id} {value or PROJECTS}"
        if not self._session.attempt(
            words, lambda p: project_edits.choose_joint_fit(p, joint_id, fit)
        ):
            self.refresh()
