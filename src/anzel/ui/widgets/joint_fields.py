"""The joints of a free structure: the picked one's own numbers, and why others cannot be."""

from collections.abc import Callable

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from anzel.app.edits import joint_edits
from anzel.app.number_display import shown
from anzel.app.selection import ThingKind
from anzel.app.session import Session
from anzel.core.immutable import field_title
from anzel.core.number_format import plain_figure
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.structure.joints.corner_kinds import KIND_NAMES, corner_kind, led_by_other
from anzel.structure.joints.corner_lap import CornerLap
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.registry import AnyKind, kind_of
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.joints.three_lap import ThreeLap
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import button, clear, quiet
from anzel.ui.widgets.wheel_safe import Choice

_PLAY = {
    "play on both sides": "both",
    "play on the upper side only": "upper",
    "play on the lower side only": "lower",
}
_TITLES = {"cells": "Fingers", "beyond": "Past the corner"}
_KEY_STEP = 1.0
"""Tabs differ by this from joint to joint, mm: more than any fit's clearance."""


class JointFields(QWidget):
    """One joint's fields."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._kind = ""
        self._play: Choice | None = None
        self._corner: Choice | None = None
        self.fields: dict[str, BoundField] = {}
        self._body = QVBoxLayout(self)
        self._body.setContentsMargins(0, 0, 0, 0)
        self._body.setSpacing(5)

    def refresh(self) -> None:
        """Show the picked joint."""
        project = self._session.project
        declared = joint_edits.joint_spec_of(project, self._session.selection.joint_id)
        self.setVisible(declared is not None)
        if declared is None:
            return
        if self._kind != self._kind_of(declared):
            self._make(declared)
        for field in self.fields.values():
            field.refresh()
        if self._play is not None and isinstance(declared, TabMortise):
            self._play.setCurrentIndex(self._play.findData(declared.play_side))

        if self._corner is not None:
            self._corner.setCurrentIndex(self._corner.findData(corner_kind(declared)))

    @staticmethod
    def _kind_of(declared: AnyKind) -> str:
        """Return what the fields depend on."""
        numbers = len(joint_edits.numbers_of(declared))
        is_corner = corner_kind(declared) is not None
        return f"{kind_of(declared)} {numbers} {is_corner} {_other_words(declared)}"

    def _make(self, declared: AnyKind) -> None:
        clear(self._body)
        numbers = joint_edits.numbers_of(declared)
        self._kind = self._kind_of(declared)
        self.fields = {name: self._number(name) for name in numbers}
        for field in self.fields.values():
            self._body.addWidget(field)
        self._play = self._corner = None
        if isinstance(declared, TabMortise):
            self._add_play()
        if corner_kind(declared) is not None:
            self._add_corner()
        if led_by_other(declared) is not declared:
            other = button(_other_words(declared))
            other.setToolTip("The plates change their parts: which is slotted from above, or leads")
            other.clicked.connect(
                lambda: self._for_all("led by the other", joint_edits.lead_by_other)
            )
            self._body.addWidget(other)

    def _add_corner(self) -> None:
        """The kind of a corner."""
        self._corner = Choice()
        self._corner.setAccessibleName("Kind of corner")
        for kind in KIND_NAMES:
            self._corner.addItem(f"corner: {kind}", kind)
        self._corner.activated.connect(
            lambda index: self._for_all(
                f"as {KIND_NAMES[index]}",
                lambda p, joint: joint_edits.turn_into_corner(p, joint, KIND_NAMES[index]),
            )
        )
        self._body.addWidget(self._corner)

    @property
    def _joints(self) -> tuple[str, ...]:
        """The picked joints, or the one in hand; what is changed here is changed on all."""
        selection = self._session.selection
        return selection.names(ThingKind.JOINT) or (selection.joint_id,)

    def _for_all(self, done: str, edit: Callable[[Project, str], Project]) -> None:
        """An edit of every picked joint, or of the one in hand."""
        joints = self._joints

        def make(project: Project) -> Project:
            own = dict.fromkeys(joint_edits.base_id(project, joint) for joint in joints)
            for joint in own:
                project = edit(project, joint)
            return project

        words = joints[0] if len(joints) == 1 else f"{len(joints)} joints"
        if not self._session.attempt(f"{words} {done}", make):
            self.refresh()

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
            words, lambda p: joint_edits.change_joint_numbers(p, joint_id, play_side=value)
        )

    def key(self) -> None:
        """Tabs of different widths, if they can be."""
        self._session.attempt("Tabs told apart", lambda p: joint_edits.key_tabs(p, _KEY_STEP))

    def _number(self, name: str) -> BoundField:
        unit, step = joint_edits.NUMBERS[name]
        session = self._session
        return BoundField(
            session,
            _TITLES.get(name, field_title(name)),
            lambda project: _shown(
                joint_edits.joint_spec_of(project, session.selection.joint_id), name, unit
            ),
            lambda project, text: joint_edits.type_joints(project, self._joints, name, text),
            step=step,
            unit=unit if unit == "mm" else "",
            path=lambda: (
                f"joint {joint_edits.base_id(session.project, session.selection.joint_id)}/{name}"
            ),
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
            f"{joint_id} taken out", lambda p: joint_edits.remove_joint(p, joint_id)
        )


def _other_words(declared: AnyKind) -> str:
    """Return what a joint's plates do when they change their parts."""
    if isinstance(declared, CrossLap | CornerLap):
        return f"{declared.from_below} from above"
    if isinstance(declared, ThreeLap):
        return f"{declared.lowest} to the top"
    return "The other one leads"


def _shown(declared: AnyKind | None, name: str, unit: str) -> str:
    if declared is None:
        return ""
    return plain_figure(joint_edits.numbers_of(declared).get(name, 0.0), unit)
