"""The lines of a found drawing that outline nothing: what becomes of each kind, asked once.

Living hinges among them are bent by an angle that the maker types.
"""

from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from anzel.app.edits import drawing_edits, drawn_hinge_edits
from anzel.app.edits.drawing_edits import DrawingView
from anzel.app.edits.drawn_hinge_edits import HingeView
from anzel.app.number_display import shown_measure
from anzel.app.session import Session
from anzel.core.number_format import plain_figure
from anzel.drawings.model import label_in_words
from anzel.project.model import Project
from anzel.structure.forms.drawn_lines import LineGroup
from anzel.structure.line_work import LineWish
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import clear, quiet, section
from anzel.ui.widgets.wheel_safe import Choice

_WORDS = {
    None: "not decided: left out", LineWish.CUT: "cut", LineWish.SCORE: "scored",
    LineWish.ENGRAVE: "engraved", LineWish.AREA: "engraved as areas",
    LineWish.LEAVE_OUT: "left out",
}  # fmt: skip
_MOST = 8
"""So many kinds are shown; the command line has them all."""


class LinePanel(QWidget):
    """A choice for each label."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._name = session, ""
        self._shown: tuple[tuple[LineGroup, ...], tuple[HingeView, ...]] = ((), ())
        self.bends: dict[str, BoundField] = {}
        self.choices: dict[str, Choice] = {}
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(4)

    def show_drawing(self, each: DrawingView) -> None:
        """Show the lines of a drawing, and what becomes of them now."""
        groups = drawing_edits.line_groups_of(each)
        hinges = drawn_hinge_edits.hinges_of(self._session.project, each.name)
        self.setVisible(bool(groups or hinges))
        if (self._name, self._shown) == (each.name, (groups, hinges)):
            return
        self._name, self._shown = each.name, (groups, hinges)
        clear(self._column)
        self.choices, self.bends = {}, {}
        if hinges:
            self._column.addWidget(section("Living hinges"))
        for hinge in hinges[:_MOST]:
            self._add_hinge(hinge)
        if groups:
            self._column.addWidget(section("Lines on its pieces"))
        for group in groups[:_MOST]:
            self._add(group)
        if len(groups) > _MOST:
            self._column.addWidget(quiet(f"and {len(groups) - _MOST} kinds more"))

    def _add_hinge(self, hinge: HingeView) -> None:
        name, hinge_id = self._name, hinge.id
        radius = hinge.inner_radius
        inside = "" if radius is None else f", round {shown_measure(radius, 1)} inside"
        field = BoundField(
            self._session, f"{hinge.piece} bent by",
            lambda p: plain_figure(_angle(p, name, hinge_id), "°"),
            lambda p, text: drawn_hinge_edits.bend_hinge(p, name, hinge_id, text), unit="°",
            step=15,
        )  # fmt: skip
        field.refresh()
        self.bends[hinge_id] = field
        self._column.addWidget(field)
        self._column.addWidget(quiet(f"Hinge {hinge_id}{inside}"))

    def _add(self, group: LineGroup) -> None:
        many = f"{group.count} line{'s' * (group.count != 1)}"
        label = label_in_words(group.label)
        self._column.addWidget(quiet(f"{many} “{label}”, {shown_measure(group.length, 0)}"))
        choice = Choice()
        choice.setAccessibleName(f"What becomes of {many} {label}")
        for wish, words in _WORDS.items():
            if wish is not None or group.wish is None:
                choice.addItem(words, wish)
        choice.setCurrentIndex(choice.findData(group.wish))
        choice.activated.connect(partial(self._take, group.label))
        self.choices[group.label] = choice
        self._column.addWidget(choice)

    def _take(self, label: str, index: int) -> None:
        wish, name = self.choices[label].itemData(index), self._name
        if wish is None:
            return
        self._session.attempt(
            f"Lines {_WORDS[LineWish(wish)]}",
            lambda p: drawing_edits.decide_lines(p, name, label, LineWish(wish)),
        )


def _angle(project: Project, name: str, hinge_id: str) -> float:
    hinges = drawn_hinge_edits.hinges_of(project, name)
    return next((hinge.angle for hinge in hinges if hinge.id == hinge_id), 0.0)
