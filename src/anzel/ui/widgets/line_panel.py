"""The lines of a found drawing that outline nothing: what becomes of each kind, asked once."""

from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from anzel.app.edits import drawing_edits
from anzel.app.edits.drawing_edits import DrawingView
from anzel.app.number_display import shown_measure
from anzel.app.session import Session
from anzel.structure.forms.drawn_lines import LineGroup
from anzel.structure.line_work import LineWish
from anzel.ui.widgets.common_widgets import clear, quiet, section
from anzel.ui.widgets.wheel_safe import Choice

_WORDS = {
    None: "not decided: left out", LineWish.CUT: "cut", LineWish.SCORE: "scored",
    LineWish.ENGRAVE: "engraved", LineWish.LEAVE_OUT: "left out",
}  # fmt: skip
_MOST = 8
"""So many kinds are shown; the command line has them all."""


class LinePanel(QWidget):
    """A choice for each label."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._name = session, ""
        self._shown: tuple[LineGroup, ...] = ()
        self.choices: dict[str, Choice] = {}
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(4)

    def show_drawing(self, each: DrawingView) -> None:
        """Show the lines of a drawing, and what becomes of them now."""
        groups = drawing_edits.line_groups_of(each)
        self.setVisible(bool(groups))
        if (self._name, self._shown) == (each.name, groups):
            return
        self._name, self._shown = each.name, groups
        clear(self._column)
        self.choices = {}
        self._column.addWidget(section("Lines on its pieces"))
        for group in groups[:_MOST]:
            self._add(group)
        if len(groups) > _MOST:
            self._column.addWidget(quiet(f"and {len(groups) - _MOST} kinds more"))

    def _add(self, group: LineGroup) -> None:
        many = f"{group.count} line{'s' * (group.count != 1)}"
        label = group.label.strip("/").replace("//", "/") or "without a name"
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
