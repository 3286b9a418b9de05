"""The comparison of takes: pictures from one point of view, and their figures."""

from dataclasses import dataclass

from PySide6.QtCore import QSize
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import (
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QVBoxLayout,
    QWidget,
)

from anzel.app.background import Background, Newest, Task
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.app.views.take_words import figure_words
from anzel.core.findings import MakerError
from anzel.project.model import Project
from anzel.project.takes import (
    MOST_TAKES,
    TakeFigures,
    consequence_of_keeping,
    figures_of,
    keep_take,
    project_of_take,
    take_up,
)
from anzel.scene.camera import VIEWS
from anzel.ui.attempts import attempt_in
from anzel.ui.views.take_thumbnails import TakeThumbnails, TurnedLabel
from anzel.ui.widgets.common_widgets import button, clear, heading, quiet
from anzel.ui.widgets.wheel_safe import Slider

_SHOWN = QSize(280, 240)


@dataclass(frozen=True)
class _Column:
    """One variant, worked out; without a project there is trouble with it."""

    title: str
    project: Project | None
    figures: TakeFigures | None
    trouble: str = ""


class TakesDialog(QDialog):
    """The structure in hand and up to four takes, seen by one eye."""

    def __init__(self, parent: QWidget, session: Session, jobs: Background) -> None:
        super().__init__(parent)
        self.setWindowTitle("Takes, side by side")
        self._session = session
        self._job = Newest(jobs)
        self.finished.connect(lambda _: self._job.cancel())
        self._labels: list[TurnedLabel] = []
        self.pictures = TakeThumbnails(self, _SHOWN, arrived=self._drawn, failed=self._failed)
        self.finished.connect(lambda _: self.pictures.close())
        self.keep = button("Keep what is in hand as a take", "Primary")
        self.keep.clicked.connect(self._keep)
        self._apart = Slider()
        self._apart.setRange(0, 100)
        self._apart.setAccessibleName("Pull all apart")
        self._apart.valueChanged.connect(lambda value: self.pictures.pull_apart(value / 100))
        bar = QHBoxLayout()
        bar.addWidget(self.keep)
        for view in VIEWS:
            choice = button(view, "Flat")
            choice.clicked.connect(lambda _=False, view=view: self.pictures.look_from(view))
            bar.addWidget(choice)
        bar.addWidget(quiet("together"))
        bar.addWidget(self._apart, 1)
        bar.addWidget(quiet("apart"))
        self._says = quiet("")
        self._grid = QGridLayout()
        column = QVBoxLayout(self)
        column.addWidget(heading(f"What is in hand, and up to {MOST_TAKES} takes, to one scale"))
        column.addLayout(bar)
        column.addWidget(self._says)
        column.addLayout(self._grid, 1)
        self.refresh()

    @property
    def is_working(self) -> bool:
        """Whether numbers or pictures are being made."""
        return self._job.is_working or not self.pictures.is_drawn

    def refresh(self) -> None:
        """Work the variants out anew, in the background."""
        project = self._session.project
        self._says.setText("Working out …")

        def work(progress: Task) -> list[_Column]:
            columns = []
            for index in range(-1, len(project.takes)):
                title = "In hand" if index < 0 else project.takes[index].name
                progress.report(f"{title} …")
                columns.append(_column(project, index, title))
            return columns

        self._job.start(work, done=self._show, failed=self._failed, said=self._says.setText)

    def _show(self, columns: list[_Column]) -> None:
        self._says.setText("Drag a picture, and all of them turn.")
        clear(self._grid)
        self._labels = []
        for at, column in enumerate(columns):
            picture = TurnedLabel(_SHOWN, f"{column.title}, standing")
            picture.setText(column.trouble)
            picture.turned.connect(self.pictures.turn)
            picture.zoomed.connect(self.pictures.zoom)
            if column.project is not None:
                self._labels.append(picture)
            self._grid.addWidget(heading(column.title), 0, at)
            self._grid.addWidget(picture, 1, at)
            figures = QLabel(shown(figure_words(column.figures)) if column.figures else "")
            figures.setAccessibleName(f"{column.title} in numbers")
            self._grid.addWidget(figures, 2, at)
            if at:
                up = button("Take it up again")
                up.clicked.connect(lambda _=False, index=at - 1: self._take_up(index))
                self._grid.addWidget(up, 3, at)
        self.pictures.show([c.project for c in columns if c.project is not None])

    def _drawn(self, pictures: list[QPixmap]) -> None:
        for label, picture in zip(self._labels, pictures, strict=False):
            label.setPixmap(picture)

    def _failed(self, error: MakerError) -> None:
        self._says.setText(shown(f"▲ {error}"))

    def _keep(self) -> None:
        words = consequence_of_keeping(self._session.project)
        if attempt_in(self._says, self._session, words, keep_take):
            self.refresh()

    def _take_up(self, index: int) -> None:
        name = self._session.project.takes[index].name
        words = f"{name} taken up"
        if attempt_in(self._says, self._session, words, lambda p: take_up(p, index)):
            self.refresh()


def _column(project: Project, index: int, title: str) -> _Column:
    try:
        taken = project if index < 0 else project_of_take(project, index)
        return _Column(title, taken, figures_of(taken))
    except MakerError as error:
        return _Column(title, None, None, shown(f"▲ {error}"))
