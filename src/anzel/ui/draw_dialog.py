"""A dialog to draw a profile large, over a picture to trace.

Placed, turned, faded, scaled by two points.
"""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QInputDialog,
    QVBoxLayout,
    QWidget,
)

from anzel.app.edits import profile_curve_edits
from anzel.app.edits.project_edits import typed_length, typed_number
from anzel.app.foreign_files import read_apart
from anzel.app.listeners import Changed
from anzel.app.number_display import number_format, shown, shown_share
from anzel.app.session import Session
from anzel.core.findings import MakerError
from anzel.core.number_format import plain_figure, plain_length, plain_measure
from anzel.project.model import Project
from anzel.ui.attempts import attempt_in
from anzel.ui.file_choice import PICTURES, choose_file
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import PANEL_WIDTH, button, heading, quiet, section
from anzel.ui.widgets.profile_panel import ProfilePanel
from anzel.ui.widgets.text_wide import TextWide
from anzel.ui.widgets.wheel_safe import Slider

_HOW = (
    "Drag points; a double click on the curve adds one, on a point makes it a corner or smooth. "
    f"Arrows move the picked point by {plain_measure(1)}, with Shift by {plain_length(0.1)}; "
    "Delete takes it out."
)


class DrawDialog(QDialog):
    """One large profile panel, and the picture's tools beside it."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        self.setWindowTitle("Draw the profile")
        self.resize(1000, 700)
        self._session = session
        self._ends: list[tuple[float, float]] = []
        self.profile = ProfilePanel(session, large=True)
        self.profile.editor.canvas.touched.connect(self._touched)
        row = QHBoxLayout(self)
        row.addWidget(self.profile, 1)
        row.addWidget(self._tools())
        QShortcut(QKeySequence.StandardKey.Undo, self, session.undo)
        QShortcut(QKeySequence.StandardKey.Redo, self, session.redo)
        session.subscribe(self._changed)
        self.finished.connect(lambda _: session.unsubscribe(self._changed))
        self.refresh()

    def _tools(self) -> QWidget:
        tools = QWidget()
        TextWide(tools, PANEL_WIDTH - 60)
        column = QVBoxLayout(tools)
        self._says = quiet(shown(_HOW))
        column.addWidget(heading("Profile"))
        column.addWidget(self._says)
        column.addWidget(section("A picture to trace"))
        choose = button("Choose a picture…")
        choose.clicked.connect(self._choose)
        column.addWidget(choose)
        self._of_picture = QWidget()
        inner = QVBoxLayout(self._of_picture)
        inner.setContentsMargins(0, 0, 0, 0)
        self.fields = {
            "x": self._field("Middle, out", "x", "mm"), "y": self._field("Middle, up", "y", "mm"),
            "turn": self._field("Turned", "turn", "°"),
        }  # fmt: skip
        for field in self.fields.values():
            inner.addWidget(field)
        inner.addWidget(quiet("faded"))
        self.faded = Slider()
        self.faded.setRange(0, 100)
        self.faded.setAccessibleName("Picture faded")
        self.faded.sliderReleased.connect(self._fade)
        inner.addWidget(self.faded)
        self.scale = button("Scale by two points…")
        self.scale.setToolTip("Touch two places of the picture whose distance you know")
        self.scale.clicked.connect(self._start_scaling)
        away = button("Take the picture away")
        away.clicked.connect(self._take_away)
        inner.addWidget(self.scale)
        inner.addWidget(away)
        column.addWidget(self._of_picture)
        column.addStretch(1)
        done = button("Done", "Primary")
        done.clicked.connect(self.accept)
        column.addWidget(done)
        return tools

    def _field(self, label: str, name: str, unit: str) -> BoundField:
        def put(project: Project, text: str) -> Project:
            read = typed_length if unit == "mm" else typed_number
            return profile_curve_edits.change_traced_picture(project, **{name: read(text, name)})

        def get(project: Project) -> str:
            traced = profile_curve_edits.lamp_of(project).traced
            return plain_figure(getattr(traced, name), unit) if traced else ""

        return BoundField(self._session, label, get, put, unit=unit)

    def _changed(self, changed: Changed) -> None:
        if changed is Changed.PROJECT:
            self.refresh()

    def refresh(self) -> None:
        """Show the profile and the picture's numbers as they are now."""
        if not self._session.project.structure.has_profile_curves:
            self.reject()
            return
        self.profile.refresh()
        traced = profile_curve_edits.lamp_of(self._session.project).traced
        self._of_picture.setVisible(traced is not None)
        if traced is not None:
            self.faded.setValue(round(traced.faded * 100))
            for field in self.fields.values():
                field.refresh()

    def _choose(self) -> None:
        path = choose_file(self, "A picture to trace", PICTURES)
        if path is not None:
            self.take_picture(path)

    def take_picture(self, path: Path) -> None:
        """Put a picture under the drawing."""
        self._session.attempt_aside(
            path.name,
            lambda p: (read_apart(profile_curve_edits.add_traced_picture, p, path), None),
            lambda _: self._says.clear(), lambda error: self._says.setText(shown(f"▲ {error}")),
        )  # fmt: skip

    def _attempt(self, words: str, edit: Callable[[Project], Project]) -> None:
        attempt_in(self._says, self._session, words, edit)

    def _take_away(self) -> None:
        self._attempt("Picture away", profile_curve_edits.remove_traced_picture)

    def _fade(self) -> None:
        share = self.faded.value() / 100
        words = f"Picture faded {shown_share(share)}"
        self._attempt(words, lambda p: profile_curve_edits.change_traced_picture(p, faded=share))

    def _start_scaling(self) -> None:
        self._ends = []
        self.profile.editor.canvas.touching = True
        self._says.setText("Touch the first of two places whose distance you know.")

    def _touched(self, x: float, y: float) -> None:
        self._ends.append((x, y))
        if len(self._ends) < 2:
            self._says.setText("Now touch the second place.")
            return
        self.profile.editor.canvas.touching = False
        self._says.setText(shown(_HOW))
        text, taken = QInputDialog.getText(self, "Scale the picture", "They are apart by")
        if taken:
            self.scale_by(text)

    def scale_by(self, text: str) -> None:
        """Scale the picture so that the two touched places are that far apart."""
        one, other = self._ends
        try:
            length = typed_length(number_format().typed(text), "length")
        except MakerError as error:
            self._says.setText(shown(f"▲ {error}"))
            return
        self._attempt(
            "Picture scaled",
            lambda p: profile_curve_edits.scale_traced_picture(p, one, other, length),
        )
