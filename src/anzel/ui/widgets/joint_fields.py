"""The joints of a free structure: the picked one's own numbers, and why others cannot be."""

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from anzel.app.edits import free_structure_edits
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.core.immutable import field_title
from anzel.core.number_format import plain_figure
from anzel.project.derive import solved_structure_of
from anzel.structure.joints.registry import AnyKind, kind_of
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import button, clear, quiet
from anzel.ui.widgets.wheel_safe import Choice

_PLAY = {
    "play on both sides": "both",
    "play on the upper side only": "upper",
    "play on the lower side only": "lower",
}
_KEY_STEP = 1.0
"""Tabs differ by this from joint to joint, mm: more than any fit's clearance."""


class JointFields(QWidget):
    """One joint's fields."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._kind = ""
        self._play: Choice | None = None
        self.fields: dict[str, BoundField] = {}
        self._body = QVBoxLayout(self)
        self._body.setContentsMargins(0, 0, 0, 0)
        self._body.setSpacing(5)

    def refresh(self) -> None:
        """Show the picked joint."""
        project = self._session.project
        declared = free_structure_edits.joint_spec_of(project, self._session.selection.joint_id)
        self.setVisible(declared is not None)
        if declared is None:
            return
        if self._kind != f"{kind_of(declared)} {len(free_structure_edits.numbers_of(declared))}":
            self._make(declared)
        for field in self.fields.values():
            field.refresh()
        if self._play is not None and isinstance(declared, TabMortise):
            self._play.setCurrentIndex(self._play.findData(declared.play_side))

    def _make(self, declared: AnyKind) -> None:
        clear(self._body)
        numbers = free_structure_edits.numbers_of(declared)
        self._kind = f"{kind_of(declared)} {len(numbers)}"
        self.fields = {name: self._number(name) for name in numbers}
        for field in self.fields.values():
            self._body.addWidget(field)
        self._play = None
        if isinstance(declared, TabMortise):
            self._add_play()

    def _add_play(self) -> None:
        """Where a mortise's play lies, and how tabs are told apart."""
        self._play = Choice()
        self._play.setAccessibleName("Where the mortise's play lies")
        for words, value in _PLAY.items():
            self._play.addItem(words, value)
        self._play.activated.connect(self._take_play)
        key = button("Make all tabs different")
        key.setToolTip("Tabs of different widths, so that only the right piece fits each place")
        key.clicked.connect(self.key)
        self._body.addWidget(self._play)
        self._body.addWidget(key)

    def _take_play(self, index: int) -> None:
        assert self._play is not None
        joint_id, value = self._session.selection.joint_id, self._play.itemData(index)
        words = f"{joint_id} {self._play.itemText(index)}"
        self._session.attempt(
            words, lambda p: free_structure_edits.change_joint_numbers(p, joint_id, play_side=value)
        )

    def key(self) -> None:
        """Tabs of different widths, if they can be."""
        self._session.attempt(
            "Tabs told apart", lambda p: free_structure_edits.key_tabs(p, _KEY_STEP)
        )

    def _number(self, name: str) -> BoundField:
        unit, step = free_structure_edits.NUMBERS[name]
        session = self._session
        return BoundField(
            session,
            "Fingers" if name == "cells" else field_title(name),
            lambda project: _shown(
                free_structure_edits.joint_spec_of(project, session.selection.joint_id), name, unit
            ),
            lambda project, text: free_structure_edits.type_joint(
                project, session.selection.joint_id, name, text
            ),
            step=step,
            unit=unit if unit == "mm" else "",
        )


class JointTroubles(QWidget):
    """The joints that cannot be, each with a way out."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)

    def refresh(self) -> None:
        """Show what is wrong with joints now."""
        clear(self._column)
        findings = solved_structure_of(self._session.project).findings
        troubles = [finding for finding in findings if finding.code == "joint"]
        for finding in troubles:
            self._column.addWidget(self._trouble(finding.where, shown(f"▲ {finding}")))
        self.setVisible(bool(troubles))

    def _trouble(self, joint_id: str, words: str) -> QWidget:
        said = quiet(words)
        said.setObjectName("Error")
        out = button("Take it out")
        out.setAccessibleName(f"Take {joint_id} out")
        out.clicked.connect(lambda: self.take_out(joint_id))
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(said, 1)
        line.addWidget(out)
        return row

    def take_out(self, joint_id: str) -> None:
        """A joint out of the structure."""
        self._session.attempt(
            f"{joint_id} taken out", lambda p: free_structure_edits.remove_joint(p, joint_id)
        )


def _shown(declared: AnyKind | None, name: str, unit: str) -> str:
    if declared is None:
        return ""
    return plain_figure(free_structure_edits.numbers_of(declared).get(name, 0.0), unit)
