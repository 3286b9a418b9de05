"""The cut itself: labels and bridges, how long it takes, and the simulated cutter playing it."""

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QButtonGroup, QVBoxLayout, QWidget

from anzel.app.edits import project_edits
from anzel.app.number_display import shown_number, shown_quantity
from anzel.app.session import Session
from anzel.app.views.cut_preview import CutPreview
from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_figure
from anzel.cutjob.job_settings import LabelStyle
from anzel.project.estimate import Estimate, format_duration
from anzel.project.model import Project
from anzel.ui.views.cut_view import CutView, clock_words
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import button, choice_row, quiet, section
from anzel.ui.widgets.wheel_safe import Slider

_SPEEDS = (1, 10, 60)
_TICK_MS = 40
_BOTH_FACES = "A piece seen on both faces has them on its front."
_FINE = 1000


class JobPanel(QWidget):
    """Settings of the job, its times, and a player for a cut view."""

    bench_wanted = Signal()

    def __init__(self, session: Session, view: CutView) -> None:
        super().__init__()
        self._session, self._view = session, view
        self._picture: CutPreview | None = None
        self._seconds = 0.0
        self._clock = QTimer(self)
        self._clock.setInterval(_TICK_MS)
        self._clock.timeout.connect(self._tick)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(5)
        self._settings()
        self._player()

    def _settings(self) -> None:
        self._labels = QButtonGroup(self)
        choices = []
        for number, labels in enumerate(LabelStyle):
            choice = button(labels.value)
            choice.setCheckable(True)
            choice.clicked.connect(lambda _=False, labels=labels: self._set_labels(labels))
            self._labels.addButton(choice, number)
            choices.append(choice)
        self.fields = {
            "label_height": self._field("At most as tall as", "label_height", "mm"),
            "bridges": self._field("Bridges to a piece", "bridges", "×"),
            "bridge_width": self._field("Each as wide as", "bridge_width", "mm"),
        }
        self._add(section("Names and joint numbers, on the side that will be hidden"))
        self._column.addLayout(choice_row(*choices))
        self._add(self.fields["label_height"], quiet(_BOTH_FACES))
        self._add(section("Bridges that hold a piece in its sheet"))
        self._add(self.fields["bridges"], self.fields["bridge_width"])

    def _player(self) -> None:
        self._times = quiet("")
        self._add(section("How long it takes"), self._times)
        self._add(section("The simulated cutter"))
        self._play = button("Play", "Primary")
        self._play.clicked.connect(self._toggle)
        self._speeds = QButtonGroup(self)
        speeds = []
        for number, speed in enumerate(_SPEEDS):
            choice = button(f"{speed} ×")
            choice.setCheckable(True)
            choice.setAccessibleName(f"{speed} times as fast")
            self._speeds.addButton(choice, number)
            speeds.append(choice)
        speeds[1].setChecked(True)
        self._slider = Slider()
        self._slider.setRange(0, _FINE)
        self._slider.setAccessibleName("Moment of the job")
        self._slider.sliderMoved.connect(self._jump)
        self._says = quiet("")
        self._bench = button("Put it together on the bench")
        self._bench.clicked.connect(self.bench_wanted)
        self._column.addLayout(choice_row(self._play, *speeds))
        self._add(self._slider, self._says, self._bench)

    def _add(self, *widgets: QWidget) -> None:
        for widget in widgets:
            self._column.addWidget(widget)

    def _field(self, label: str, field: str, unit: str) -> BoundField:
        def put(project: Project, text: str) -> Project:
            return project_edits.change_job(project, **{field: _typed(text, field)})

        def get(project: Project) -> str:
            return plain_figure(getattr(project.job, field), unit)

        return BoundField(self._session, label, get, put, unit=unit)

    def refresh(self) -> None:
        """Show the settings as they are now."""
        job = self._session.project_with_pending.job
        self._labels.button(list(LabelStyle).index(job.labels)).setChecked(True)
        for field in self.fields.values():
            field.refresh()

    def show_job(self, picture: CutPreview | None, estimate: Estimate | None) -> None:
        """Another job: from its beginning, standing still."""
        self._picture = picture if picture is not None and picture.playback.moves else None
        self.stop()
        self._seconds = 0.0
        ready = self._picture is not None
        for widget in (self._play, self._slider, self._bench):
            widget.setEnabled(ready)
        self._times.setText(_times(estimate) if estimate else "Working it out …")
        self._show()

    def stop(self) -> None:
        """Stand still."""
        self._clock.stop()
        self._play.setText("Play")

    @property
    def seconds(self) -> float:
        """The moment shown."""
        return self._seconds

    def _toggle(self) -> None:
        if self._clock.isActive():
            self.stop()
        elif self._picture is not None:
            if self._seconds >= self._picture.playback.seconds:
                self._seconds = 0.0
            self._clock.start()
            self._play.setText("Pause")

    def _tick(self) -> None:
        assert self._picture is not None
        speed = _SPEEDS[self._speeds.checkedId()]
        self._seconds += speed * _TICK_MS / 1000
        if self._seconds >= self._picture.playback.seconds:
            self._seconds = self._picture.playback.seconds
            self.stop()
        self._show()

    def _jump(self, value: int) -> None:
        if self._picture is not None:
            self._seconds = value / _FINE * self._picture.playback.seconds
            self._show()

    def _show(self) -> None:
        if self._picture is None:
            self._says.setText("")
            return
        whole = self._picture.playback.seconds
        self._slider.setValue(round(self._seconds / whole * _FINE))
        self._says.setText(clock_words(self._picture, self._seconds))
        self._view.show_moment(self._seconds)

    def _set_labels(self, labels: LabelStyle) -> None:
        words = f"Names and numbers {labels.value}"
        self._session.attempt(
            words, lambda project: project_edits.change_job(project, labels=labels)
        )
        self.refresh()


def _typed(text: str, field: str) -> float | int:
    """Return a length, or a whole number of bridges."""
    if field != "bridges":
        return project_edits.typed_length(text, field)
    try:
        return int(text)
    except ValueError as error:
        message = f"“{text.strip()}” is not a number of bridges."
        raise ParameterError(message, hint="Type digits.", field=field) from error


def _times(estimate: Estimate) -> str:
    """Return times by kind, and the cost where there is one."""
    times, lengths = estimate.times, estimate.lengths
    ways = (
        ("cutting", lengths.cut, times.cutting), ("scoring", lengths.scored, times.scoring),
        ("engraving", lengths.engraved, times.engraving),
        ("on the way", lengths.travel, times.travel),
    )  # fmt: skip
    lines = [
        f"{format_duration(times.whole)} in all",
        *(
            f"{what} {shown_quantity(length / 1000, 'm', 2)}: {format_duration(seconds)}"
            for what, length, seconds in ways
        ),
        f"getting through {lengths.pierces} times: {format_duration(times.piercing)}",
    ]
    if estimate.cost:
        lines.append(f"sheets and time cost {shown_number(estimate.cost, 2)}")
    return "\n".join(lines)
