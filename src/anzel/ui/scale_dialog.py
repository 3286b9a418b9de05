"""The dialog that scales the whole: by a factor, to a size, or as large as fits.

Shown before it is taken.
"""

from collections.abc import Callable

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from anzel.app.background import Background, Newest, Task
from anzel.app.edits import project_edits
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.app.views.take_words import figure_words
from anzel.core.findings import MakerError
from anzel.core.number_format import UNIT, format_length, plain_length
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.project.rescale import (
    by_factor,
    fits_bed,
    fits_bounds,
    fits_sheets,
    largest,
    overall,
    to_size,
)
from anzel.project.takes import figures_of
from anzel.ui.attempts import attempt_in
from anzel.ui.widgets.common_widgets import button, heading, quiet, section
from anzel.ui.widgets.flow_layout import FlowLayout
from anzel.ui.widgets.measure_field import MeasureField


class ScaleDialog(QDialog):
    """Tries a scale in the background, shows before and after, and takes it on request."""

    def __init__(self, parent: QWidget, session: Session, jobs: Background) -> None:
        super().__init__(parent)
        self.setWindowTitle("Scale the whole")
        self.setMinimumWidth(560)
        self._session = session
        self._counting, self._job = Newest(jobs), Newest(jobs)
        for job in (self._counting, self._job):
            self.finished.connect(lambda _, job=job: job.cancel())
        self._before = session.project
        self._tried: Project | None = None
        self.fields = {
            "factor": MeasureField("By a factor", self._by_factor, unit=""),
            "width": MeasureField("To a width of", self._to("width")),
            "depth": MeasureField("To a depth of", self._to("depth")),
            "height": MeasureField("To a height of", self._to("height")),
        }
        self.bed = button("As large as the bed takes")
        self.bed.clicked.connect(lambda: self._try(lambda p: largest(p, fits_bed)))
        self.sheet = button("As large as the sheets take")
        self.sheet.clicked.connect(lambda: self._try(lambda p: largest(p, fits_sheets)))
        self.bounds = button("As large as its bounds let it be")
        self.bounds.clicked.connect(lambda: self._try(lambda p: largest(p, fits_bounds)))
        self.bounds.setVisible(session.project.bounds.are_set)
        fitting = FlowLayout(spacing=6)
        for each in (self.bed, self.sheet, self.bounds):
            fitting.addWidget(each)
        self._says, self._now, self._then = quiet(""), QLabel(), QLabel()
        column = QVBoxLayout(self)
        column.addWidget(heading("Scale the whole"))
        column.addWidget(quiet(_stays(session.project)))
        for field in self.fields.values():
            column.addWidget(field)
        column.addLayout(fitting)
        column.addLayout(self._figures())
        column.addWidget(self._says)
        column.addWidget(self._buttons())
        self.fields["factor"].show_value("1")

    def _figures(self) -> QHBoxLayout:
        """Before and after, side by side; the sizes to start from in the fields."""
        figures = QHBoxLayout()
        for title, label in (("Before", self._now), ("After", self._then)):
            side = QVBoxLayout()
            side.addWidget(section(title))
            side.addWidget(label)
            side.addStretch(1)
            figures.addLayout(side, 1)
        before = self._before
        self._now.setText("Counting …")
        self._counting.start(lambda _: _words(before), done=self._now.setText, failed=self._failed)
        size = overall(solved_structure_of(self._before), fit_context_of(self._before))
        for axis in ("width", "depth", "height"):
            self.fields[axis].show_value(plain_length(getattr(size, axis), 1))
        return figures

    def _buttons(self) -> QDialogButtonBox:
        buttons = QDialogButtonBox()
        self.take = buttons.addButton("Take it", QDialogButtonBox.ButtonRole.AcceptRole)
        self.take.setEnabled(False)
        buttons.addButton(QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self._take)
        buttons.rejected.connect(self.reject)
        return buttons

    @property
    def is_working(self) -> bool:
        """Whether a scale is being tried, or the present one counted."""
        return self._counting.is_working or self._job.is_working

    def _by_factor(self, text: str) -> None:
        factor = project_edits.typed_number(text, "factor")
        by_factor(self._before, factor)  # what cannot be is said at its field
        self._try(lambda project: by_factor(project, factor))

    def _to(self, axis: str) -> Callable[[str], None]:
        def attempt(text: str) -> None:
            wanted = project_edits.typed_length(text, axis)
            self._try(lambda project: to_size(project, axis, wanted))

        return attempt

    def _try(self, scale: Callable[[Project], Project]) -> None:
        self._says.setText("Trying …")
        self.take.setEnabled(False)
        before = self._before

        def work(progress: Task) -> tuple[Project, str]:
            scaled = scale(before)
            progress.report("Counting …")
            return scaled, _words(scaled)

        self._job.start(work, done=self._show, failed=self._failed)

    def _show(self, found: tuple[Project, str]) -> None:
        self._tried, words = found
        self._then.setText(words)
        self._says.setText("")
        self.take.setEnabled(True)

    def _failed(self, error: MakerError) -> None:
        self._says.setText(shown(f"▲ {error}"))

    def _take(self) -> None:
        tried = self._tried
        if tried is not None and attempt_in(self._says, self._session, "Scaled", lambda _: tried):
            self.accept()


def _stays(project: Project) -> str:
    """Return what scaling leaves alone."""
    held = ", ".join(name.replace("_", " ") for name in sorted(project.structure.held))
    return f"Sheets, kerf and fits stay{', and so do: ' + held if held else ''}."


def _words(project: Project) -> str:
    """Overall size and what it takes."""
    size = overall(solved_structure_of(project), fit_context_of(project))
    sides = " × ".join(format_length(side, 1) for side in (size.width, size.depth, size.height))
    return shown(f"{sides} {UNIT}\n{figure_words(figures_of(project))}")
