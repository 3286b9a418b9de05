"""Squeezing in the background: how long, how far it is, the best so far, and a way to stop."""

from threading import Event
from time import monotonic

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QProgressBar, QVBoxLayout, QWidget

from anzel.app.background import Background, Newest, Task
from anzel.app.edits import layout_edits
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.core.findings import MakerError
from anzel.nesting.solving import solving_aside
from anzel.project.model import Project
from anzel.ui.widgets.common_widgets import button, choice_row, quiet

_TIMES = (10, 30, 120)


class SqueezeBar(QWidget):
    """Squeezes the layouts of all stocks in use, and takes the best over at the end."""

    def __init__(self, session: Session, jobs: Background) -> None:
        super().__init__()
        self._session, self._job = session, Newest(jobs)
        self._enough = Event()
        self._started, self._seconds = 0.0, 1.0
        self._words = quiet("")
        self._bar = QProgressBar()
        self._bar.setTextVisible(False)
        self._bar.setFixedHeight(6)
        self._tick = QTimer(self)
        self._tick.setInterval(200)
        self._tick.timeout.connect(self._show_time)
        self._starts = [button(f"{seconds} s") for seconds in _TIMES]
        for start, seconds in zip(self._starts, _TIMES, strict=True):
            start.setAccessibleName(f"Squeeze for {seconds} seconds")
            start.clicked.connect(lambda _=False, seconds=seconds: self.start(seconds))
        self._stop = button("Stop, keep the best")
        self._stop.clicked.connect(self._enough.set)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(choice_row(*self._starts))
        for widget in (self._bar, self._stop, self._words):
            column.addWidget(widget)
        self._show()

    @property
    def is_working(self) -> bool:
        """Whether it is squeezing."""
        return self._job.is_working

    def start(self, seconds: float) -> None:
        """Squeeze for so long."""
        project = self._session.project
        self._started, self._seconds = monotonic(), seconds
        self._enough.clear()

        def work(progress: Task) -> Project:
            with solving_aside(lambda: progress.is_cancelled):
                return layout_edits.squeeze_all(
                    project, seconds, said=progress.report,
                    stopped=lambda: self._enough.is_set() or progress.is_cancelled,
                )  # fmt: skip

        self._job.start(
            work,
            done=lambda found: self._arrived(project, found),
            failed=self._failed,
            said=lambda words: self._words.setText(shown(words)),
        )
        self._tick.start()
        self._show()

    def _show_time(self) -> None:
        self._bar.setValue(min(round((monotonic() - self._started) / self._seconds * 100), 100))

    def _arrived(self, before: Project, found: Project) -> None:
        if self._session.project_with_pending is not before:
            self._session.status.show("▲ The project changed meanwhile; squeeze it again.")
        else:
            self._session.attempt("Squeezed", lambda project: found)
        self._over()

    def _failed(self, error: MakerError) -> None:
        self._session.status.show(f"▲ {error}")
        self._over()

    def _over(self) -> None:
        self._tick.stop()
        self._show()

    def _show(self) -> None:
        working = self.is_working
        for start in self._starts:
            start.setVisible(not working)
        for widget in (self._bar, self._stop, self._words):
            widget.setVisible(working)
        self._bar.setValue(0)
