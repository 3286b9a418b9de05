"""The profiles of a rib lamp in the panel: which curve, its points, a way to draw it large."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QVBoxLayout

from anzel.app.edits import profile_curve_edits
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.structure.forms.rib_lamp import RibLamp
from anzel.ui.widgets.common_widgets import button
from anzel.ui.widgets.curve_canvas import Curve, Paper
from anzel.ui.widgets.curve_editor import CurveEditor
from anzel.ui.widgets.thing_page import ThingPage


class ProfilePanel(ThingPage):
    """Chooses between outer edge, inner edge and second rib, and edits the chosen one."""

    large_wanted = Signal()

    def __init__(self, session: Session, *, large: bool = False) -> None:
        super().__init__()
        self._session, self._is_large = session, large
        self._which = "profile"
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        row = QHBoxLayout()
        row.setSpacing(2)
        self._choices = QButtonGroup(self)
        for which, words in profile_curve_edits.WHICH.items():
            choice = button(words, "Flat")
            choice.setCheckable(True)
            choice.setChecked(which == self._which)
            choice.clicked.connect(lambda _=False, which=which: self.choose(which))
            self._choices.addButton(choice)
            row.addWidget(choice)
        column.addLayout(row)
        self.editor = CurveEditor()
        self.editor.canvas.setFixedHeight(230) if not large else None
        self.editor.changed.connect(self._take)
        column.addWidget(self.editor, 1)
        last = QHBoxLayout()
        self.alike = button("", "Flat")
        self.alike.clicked.connect(self._drop)
        self.large = button("Draw large, over a picture…", "Flat")
        self.large.clicked.connect(self.large_wanted)
        self.large.setVisible(not large)
        last.addWidget(self.alike)
        last.addStretch(1)
        last.addWidget(self.large)
        column.addLayout(last)

    def choose(self, which: str) -> None:
        """Show another curve."""
        if self._is_large:
            self._which = which
            self.refresh()
        else:
            self._session.selection.pick(Thing(ThingKind.CURVE, which))

    def refresh(self) -> None:
        """Show the chosen curve as it is now, the others faint behind it."""
        lamp = self._session.project.structure
        if not isinstance(lamp, RibLamp):
            return
        picked = self._session.selection.one(ThingKind.CURVE)
        if picked is not None and not self._is_large:
            self._which = picked.name
        at = list(profile_curve_edits.WHICH).index(self._which)
        self._choices.buttons()[at].setChecked(True)
        others = tuple(
            profile_curve_edits.curve_of(lamp, which)
            for which in profile_curve_edits.WHICH
            if which != self._which and (which != "second" or lamp.second)
        )
        paper = Paper(limits=(lamp.radius, lamp.height), ghosts=others, traced=lamp.traced)
        self.editor.show_curve(profile_curve_edits.curve_of(lamp, self._which), paper)
        own = self._which != "profile" and bool(getattr(lamp, self._which))
        self.alike.setText("Follow the outer edge" if self._which == "inner" else "Like the first")
        self.alike.setVisible(own)

    def _take(self, points: Curve) -> None:
        which, words = self._which, profile_curve_edits.WHICH[self._which].capitalize()
        if not self._session.attempt(
            words, lambda p: profile_curve_edits.change_curve(p, which, points)
        ):
            self.refresh()

    def _drop(self) -> None:
        which = self._which
        words = f"No own {profile_curve_edits.WHICH[which]}"
        self._session.attempt(words, lambda p: profile_curve_edits.remove_curve(p, which))
