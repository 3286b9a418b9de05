"""The practice bench: the whole loop with simulated sheet, cutter, calipers and hand."""

from collections.abc import Set
from functools import partial
from random import Random

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox

from anzel.app import practice_loop
from anzel.app.background import Background, Newest
from anzel.app.listeners import Changed
from anzel.app.number_display import shown
from anzel.app.practice_loop import Stage, StageOutcome
from anzel.app.session import Session
from anzel.core.findings import MakerError
from anzel.project.model import Project
from anzel.ui.steps.step_page import StepPage
from anzel.ui.views.bench_view import BenchView
from anzel.ui.widgets.common_widgets import button, quiet, section
from anzel.ui.widgets.wheel_safe import Choice

STAGES: dict[str, tuple[str, Stage]] = {
    "measure": ("Measure the sheet", practice_loop.measure_sheet),
    "kerf": ("Cut disc and hole, learn the kerf", practice_loop.learn_kerf),
    "comb": ("Cut the comb and feel it", practice_loop.try_comb),
    "take": ("Take over what it taught", practice_loop.take_comb),
    "cut": ("Cut everything, put it together", practice_loop.cut_all),
    "loop": ("All of that, in every sheet", practice_loop.whole_loop),
}
_EMPTY = (
    "No cutter at hand? Practise here. A copy of this project gets sheets and a cutter whose true "
    "thickness and kerf nobody has told you. Measure, cut test pieces, feel them, and see how "
    "every joint comes out."
)
_BEGUN = "The sheets are on the bench. Measure one: what its label says is not what it is."


class PracticeStep(StepPage):
    """Runs the stages in the background and shows what they came to."""

    begin_wanted = Signal(int)

    def __init__(self, session: Session, jobs: Background) -> None:
        self.view = BenchView()
        self._job = Newest(jobs)
        self._outcome: StageOutcome | None = None
        self._came_from = session.project
        self._seed: int | None = None
        super().__init__(session, self.view)

    @property
    def is_working(self) -> bool:
        """Whether a stage is under way."""
        return self._job.is_working

    def _fill_panel(self) -> None:
        self.line.show_picked("Practise without a machine")
        self._begin = button("Set up a practice copy", "Primary")
        self._begin.clicked.connect(lambda: self.begin_wanted.emit(Random().randrange(1_000_000)))
        self._which = Choice()
        self._which.setAccessibleName("Which sheet is on the bench")
        self._which.activated.connect(self._choose)
        self._panel.add(self._begin, self._which, section("In the order of work"))
        self.stages = {}
        for number, (name, (words, _)) in enumerate(STAGES.items(), start=1):
            self.stages[name] = stage = button(f"{number}  {words}")
            stage.setStyleSheet("text-align: left;")
            stage.clicked.connect(partial(self.run, name))
            self._panel.add(stage)
        self._stop = button("Stop", "Flat")
        self._stop.clicked.connect(self._cancel)
        self._hidden = QCheckBox("Show what was hidden")
        self._hidden.toggled.connect(self.refresh)
        self._truth = quiet("")
        self._panel.add(self._stop, self._hidden, self._truth)
        self._panel.body.addStretch(1)
        self._panel.add(quiet("Everything you do here can be undone, as anywhere."))

    def refresh(self) -> None:
        """Show the bench as it is now."""
        project = self._session.project
        practising_now = project.practice_seed is not None
        if project.practice_seed != self._seed:
            self._seed, self._outcome = project.practice_seed, None
        self._begin.setVisible(not practising_now)
        self._which.clear()
        for stock in project.stocks_in_use:
            self._which.addItem(f"On the bench: {stock.name}", stock.id)
        self._which.setCurrentIndex(max(self._which.findData(self._session.selection.stock_id), 0))
        self._which.setVisible(practising_now)
        for stage in self.stages.values():
            stage.setEnabled(practising_now and not self.is_working)
        self._stop.setVisible(self.is_working)
        self._hidden.setVisible(practising_now)
        self._truth.setVisible(practising_now and self._hidden.isChecked())
        if practising_now and self._hidden.isChecked():
            self._truth.setText(shown(practice_loop.truth_words(project)))
        # what came off the bench is shown with the sheets it came from, whatever they are now
        practised = project if self._outcome is None else self._came_from
        self.view.show_outcome(practised, self._outcome, _BEGUN if practising_now else _EMPTY)

    def _show_changes(self, changes: Set[Changed]) -> None:
        if Changed.OPENED in changes:
            self._outcome = None
        super()._show_changes(changes)

    def run(self, name: str) -> None:
        """Start a stage."""
        self._start(*STAGES[name])

    def hand_over(self) -> None:
        """Show the job as the simulated cutter hands it over, every joint put together."""
        self._start("The job, put together", practice_loop.job_handed_over)

    def _start(self, words: str, stage: Stage) -> None:
        project, stock_id = self._session.project, str(self._which.currentData())
        self._job.start(
            lambda progress: stage(project, stock_id),
            done=lambda found: self._arrived(words, project, *found),
            failed=self._failed,
        )
        self.refresh()

    def _arrived(self, words: str, before: Project, after: Project, outcome: StageOutcome) -> None:
        if before != self._session.project:
            self._session.status.show("▲ The project changed meanwhile; please do that again.")
        elif self._session.attempt(words, lambda project: after):
            self._outcome, self._came_from = outcome, after
        self.refresh()

    def _failed(self, error: MakerError) -> None:
        self._session.status.show(f"▲ {error}")
        self.refresh()

    def _cancel(self) -> None:
        if self._job.is_working:
            self._job.cancel()
            self.refresh()

    def _choose(self, index: int) -> None:
        self._session.selection.pick_stock(str(self._which.itemData(index)))
