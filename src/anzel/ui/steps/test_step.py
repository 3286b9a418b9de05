"""The test piece, cut from a scrap of this sheet: what to do with it, and what it teaches."""

from collections.abc import Callable
from contextlib import suppress

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from anzel.app.background import Background, Newest, Task
from anzel.app.edits import cutter_edits, project_edits, test_piece_edits
from anzel.app.number_display import as_shown, shown, shown_plain_length, shown_quantity
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.app.views.fit_lens import row_of_test_piece
from anzel.core.findings import MakerError
from anzel.core.number_format import plain_figure, plain_length
from anzel.layout.rows import in_rows
from anzel.materials.cutter import KerfSource
from anzel.materials.kerf import LearntKerf
from anzel.nesting.solving import solving_aside
from anzel.project.derive import (
    derived_test_piece,
    findings_of_test_piece,
    fit_context_of,
    layout_of_test_piece,
)
from anzel.project.model import Project
from anzel.test_pieces.model import USUAL_PLUGS, TestPiece, TestPieceKind, TestPieceStep
from anzel.test_pieces.registry import FELT, ON_THE_LINE, TEST_PIECES
from anzel.test_pieces.trial import FEEL_WORDS, Feel, contradictions
from anzel.ui.steps.step_page import StepPage
from anzel.ui.views.fit_lens_view import FitLensView
from anzel.ui.views.plan_view import PlanContent, PlanView
from anzel.ui.views.trials_view import TrialsView
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import FoldingSection, button, quiet
from anzel.ui.widgets.fit_feedback import FitFeedbackPanel
from anzel.ui.widgets.form_fields import typed_list
from anzel.ui.widgets.kerf_panel import KerfPanel
from anzel.ui.widgets.wheel_safe import Choice

_SHOWN_TRIALS = 4
_ENGRAVED = {
    "engraved as numbers are shown": None, "engraved in millimetres": False,
    "engraved in inches": True,
}  # fmt: skip


class TestStep(StepPage):
    """Shows one kind of test piece for the picked stock."""

    write_wanted = Signal()

    def __init__(self, session: Session, jobs: Background) -> None:
        self._laying = Newest(jobs)
        self._slot, self._steps = "", tuple[TestPieceStep, ...]()
        self.kind = TestPieceKind.COMB
        self.view, self.trials = PlanView("The test piece"), TrialsView()
        self.lens = FitLensView()
        both = QWidget()
        column = QVBoxLayout(both)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.view, 1)
        column.addWidget(self.trials)
        super().__init__(session, both)
        self.view.joint_picked.connect(lambda slot, _: self._pick_slot(slot))
        self.view.stepped.connect(self._pick_next)
        self.view.left.connect(session.selection.pick_whole)
        self.line.stepped.connect(self._pick_next)

    def show_kind(self, kind: TestPieceKind) -> None:
        """Another kind of test piece."""
        self.kind, self._slot = kind, ""
        self._session.selection.pick_whole()
        self.refresh()

    def _fill_panel(self) -> None:
        self._kinds = Choice()
        self._kinds.setAccessibleName("Kind of test piece")
        for kind, test_piece in TEST_PIECES.items():
            self._kinds.addItem(test_piece.title, kind.value)
        self._kinds.activated.connect(self._choose_kind)
        self._how = quiet("")
        self.feel = FitFeedbackPanel()
        self.feel.felt.connect(self._felt)
        self.feel.taken.connect(self._take)
        self.feel.kerf_taken.connect(lambda found: self._take_kerf(found, KerfSource.COMB))
        self.feel.restarted.connect(self._start_over)
        self.measured = KerfPanel()
        self.measured.taken.connect(lambda taken: self._take_kerf(*taken))
        self._panel.add(self._kinds, self._how, self.lens, self.feel, self.measured)
        self._add_settings()
        self._write = button("Write the test piece…", "Primary")
        self._write.clicked.connect(self.write_wanted)
        self._says = quiet("")
        self._panel.body.addStretch(1)
        self._panel.add(self._says, self._write)

    def _add_settings(self) -> None:
        self.fields = {
            "start": self._field("First", "start", 0.01),
            "step": self._field("Wider by", "step", 0.01),
            "count": self._field("How many", "count", 1, ""),
            "steps": self._steps_field(),
            "plug": self._field("Plug, across", "plug", 1.0),
            "scrap_width": self._scrap_field("Scrap, width", "scrap_width"),
            "scrap_height": self._scrap_field("Scrap, height", "scrap_height"),
        }
        self._settings = fold = FoldingSection("Steps of the test piece, and its scrap")
        fold.add(*self.fields.values())
        self._inches = Choice()
        self._inches.setAccessibleName("Engraved numbers")
        for words, value in _ENGRAVED.items():
            self._inches.addItem(words, value)
        self._inches.activated.connect(self._engrave_inches)
        self._centre = button("Centre on today's number", "Flat")
        self._centre.clicked.connect(self._centre_on_today)
        fold.add(self._inches, self._centre)
        self._panel.add(fold)

    def _field(self, title: str, field: str, step: float, unit: str = "mm") -> BoundField:
        def get(project: Project) -> str:
            typed = getattr(project.test_pieces.settings(self.kind), field)
            return plain_figure(typed, unit) if typed is not None else self._usual(project, field)

        def put(project: Project, text: str) -> Project:
            value = (
                project_edits.typed_number(text, field)
                if unit == ""
                else project_edits.typed_length(text, field)
            )
            return test_piece_edits.change_test_piece(project, self.kind, **{field: value})

        return BoundField(self._session, title, get, put, step=step, unit=unit)

    def _steps_field(self) -> BoundField:
        """Return a field for steps one by one, however uneven."""

        def get(project: Project) -> str:
            return "; ".join(map(plain_length, project.test_pieces.settings(self.kind).steps))

        made = BoundField(
            self._session, "Steps, one by one", get,
            lambda project, text: test_piece_edits.type_steps(
                project, self.kind, typed_list(text)
            ),
            unit="",
        )  # fmt: skip
        made.setToolTip("Uneven steps, as 2.80; 2.86; 2.89. Nothing spreads them evenly again.")
        return made

    def _usual(self, project: Project, field: str) -> str:
        """Return what a setting comes to while the maker leaves it alone."""
        test_piece = derived_test_piece(project, self._session.selection.stock_id, self.kind)
        values = [step.value for step in test_piece.steps]
        if field == "count":
            many = len(test_piece.pieces) if self.kind is TestPieceKind.STRIPS else len(values)
            return str(many)
        if field == "plug":
            return plain_length(USUAL_PLUGS.get(self.kind, 0.0))
        if field == "start":
            return plain_length(values[0])
        return plain_length(values[1] - values[0]) if len(values) > 1 else ""

    def _scrap_field(self, title: str, field: str) -> BoundField:
        def put(project: Project, text: str) -> Project:
            return test_piece_edits.change_test_pieces(
                project, **{field: project_edits.typed_length(text, field)}
            )

        return BoundField(
            self._session,
            title,
            lambda p: plain_length(getattr(p.test_pieces, field)),
            put,
            step=10,
        )

    def refresh(self) -> None:
        """Show the test piece as it is now."""
        project, stock_id = self._session.project, self._session.selection.stock_id
        self._kinds.setCurrentIndex(self._kinds.findData(self.kind.value))
        known = TEST_PIECES[self.kind]
        self._how.setText(f"Tells {known.tells}. {known.how}")
        self._steps = ()
        try:
            test_piece = self.test_piece
        except MakerError as error:  # e.g. a sheet thinner than the kerf
            self._says.setText(shown(f"▲ {error}"))
            self._write.setEnabled(False)
            return
        self._write.setEnabled(True)
        self._steps = test_piece.steps
        picked = self._take_pick(test_piece)
        self._show_plan(project, test_piece)
        felt = self.kind in FELT
        is_step = felt and picked
        for shown_with_step in (self.lens, self.feel):
            shown_with_step.setVisible(is_step)
        for shown_else in (self._kinds, self._how, self._settings, self._says, self._write):
            shown_else.setVisible(not is_step)
        self.measured.setVisible(self.kind in ON_THE_LINE)
        whole = f"{known.title} from {project.stock(stock_id).name}"
        if is_step:
            label = test_piece.step(self._slot).label
            self.line.show_picked(f"{known.number.capitalize()} {label}", whole, can_step=True)
        else:
            self.line.show_picked(whole)
        if felt:
            step = test_piece.step(self._slot)
            row = row_of_test_piece(
                test_piece, step, TEST_PIECES[self.kind].number, fit_context_of(project)
            )
            self.lens.show_row(row, project.tints, project.fits.in_use.value)
            self.feel.show_trial(project, stock_id, test_piece, step)
        elif self.kind in ON_THE_LINE:
            self.measured.show_test_piece(test_piece)
        self._show_settings(project, test_piece)
        kept = [trial for trial in reversed(project.trials) if trial.stock_id == stock_id]
        self.trials.show_trials(kept[:_SHOWN_TRIALS])
        self.trials.setVisible(felt)

    def _lay(self, which: tuple[Project, str, TestPieceKind], say: Callable[[str], None]) -> None:
        """Say whether a test piece goes on its scrap, once it was laid there."""

        def work(task: Task[str]) -> str:
            with solving_aside(lambda: task.is_cancelled):
                is_in = not layout_of_test_piece(*which).findings
            return "goes on the scrap" if is_in else "▲ too large for the scrap"

        task = self._laying.start(work, done=say, failed=self._session.status.warn)
        with suppress(TimeoutError):
            say(task.take_if_there())

    @property
    def is_working(self) -> bool:
        """Whether the test piece is being laid on its scrap."""
        return self._laying.is_working

    def _take_pick(self, test_piece: TestPiece) -> bool:
        """Take over which step is picked; return whether one is."""
        thing = self._session.selection.one(ThingKind.TEST_STEP)
        ids = [step.id for step in test_piece.steps]
        if thing is not None and thing.of == self.kind and thing.name in ids:
            self._slot = thing.name
            return True
        if self._slot not in ids:
            self._slot = min(test_piece.steps, key=lambda s: abs(s.value - test_piece.today)).id
        return False

    @property
    def test_piece(self) -> TestPiece:
        """The test piece shown."""
        project = as_shown(self._session.project)
        return derived_test_piece(project, self._session.selection.stock_id, self.kind)

    def _show_plan(self, project: Project, test_piece: TestPiece) -> None:
        names = {piece.name: "" for piece in test_piece.pieces if piece.name_strokes}
        stock = project.stock(self._session.selection.stock_id)
        drawn = "drawn" if self.kind in ON_THE_LINE else "today"
        caption = f"{stock.name} · {drawn} {shown_plain_length(test_piece.today)}"
        plan = in_rows(test_piece.pieces, 0.9 if len(test_piece.pieces) < 4 else 1.6, gap=10)
        self.view.show_content(
            PlanContent(
                plan, project.tints, caption=caption, picked=frozenset({self._slot}), names=names,
                tags=self._tags(project, test_piece),
            )
        )  # fmt: skip

    def _tags(self, project: Project, test_piece: TestPiece) -> dict[str, str]:
        """Return what each step felt like, pointing at those that contradict one another."""
        hand = test_piece_edits.trial_in_hand(project, self._session.selection.stock_id, self.kind)
        if hand is None:
            return {}
        pairs = contradictions(hand.felt, hand.scale)
        wrong = {drawn for pair in pairs for drawn, _ in pair}
        felt = dict(hand.felt)
        return {
            step.id: ("▲ " if step.value in wrong else "") + FEEL_WORDS[felt[step.value]]
            for step in test_piece.steps
            if step.value in felt
        }

    def _show_settings(self, project: Project, test_piece: TestPiece) -> None:
        which = (as_shown(project), self._session.selection.stock_id, self.kind)
        lengths = (
            f"Cut {shown_quantity(test_piece.cut_length / 1000, 'm', 2)}, "
            f"engraved {shown_quantity(test_piece.engraved_length / 1000, 'm', 2)}"
        )
        fitting = "".join(
            f"\n▲ {shown(found.message.capitalize())} {shown(found.hint)}"
            for found in findings_of_test_piece(*which)
        )
        self._says.setText(f"{lengths}.{fitting}")
        self._lay(which, lambda room: self._says.setText(f"{lengths}, {room}.{fitting}"))
        settings = project.test_pieces.settings(self.kind)
        typed = (settings.start, settings.step, settings.count, *settings.steps)
        usual = all(each is None for each in typed)
        self._centre.setEnabled(not usual)
        self._inches.setCurrentIndex(self._inches.findData(project.test_pieces.inches))
        self.fields["step"].setVisible(self.kind is not TestPieceKind.STRIPS)
        self.fields["plug"].setVisible(self.kind in USUAL_PLUGS)
        for field in self.fields.values():
            field.refresh()

    def _choose_kind(self, index: int) -> None:
        self.show_kind(TestPieceKind(self._kinds.itemData(index)))

    def _pick_slot(self, slot: str) -> None:
        self._session.selection.pick(Thing(ThingKind.TEST_STEP, slot, self.kind))

    def _pick_next(self, by: int) -> None:
        ids = [step.id for step in self._steps]
        if self._slot in ids:
            self._pick_slot(ids[(ids.index(self._slot) + by) % len(ids)])

    def _felt(self, feel: Feel) -> None:
        """Write down what the picked step felt like, and go on to the next."""
        at = next((i for i, step in enumerate(self._steps) if step.id == self._slot), None)
        if at is None:
            return
        step, kind, stock_id = self._steps[at], self.kind, self._session.selection.stock_id
        following = self._steps[min(at + 1, len(self._steps) - 1)].id
        self._try(
            f"{TEST_PIECES[kind].number.capitalize()} {step.label} felt {feel.value}",
            lambda p: test_piece_edits.feel_step(p, stock_id, kind, step.value, feel),
        )
        self._pick_slot(following)

    def _take(self) -> None:
        session = self._session
        hand = test_piece_edits.trial_in_hand(
            session.project, session.selection.stock_id, self.kind
        )
        if hand is not None:
            self._try("Trial taken over", lambda p: test_piece_edits.take_trial(p, hand))

    def _take_kerf(self, found: LearntKerf, source: KerfSource) -> None:
        stock_id = self._session.selection.stock_id
        self._try(
            f"Kerf {plain_length(found.kerf)} from {source.value}",
            lambda p: cutter_edits.take_kerf(p, stock_id, found, source),
        )

    def _start_over(self) -> None:
        stock_id, kind = self._session.selection.stock_id, self.kind
        self._try("Trial begun again", lambda p: test_piece_edits.restart_trial(p, stock_id, kind))

    def _engrave_inches(self, index: int) -> None:
        words, value = self._inches.itemText(index), self._inches.itemData(index)
        self._try(words, lambda p: test_piece_edits.change_test_pieces(p, inches=value))

    def _centre_on_today(self) -> None:
        kind = self.kind
        self._try(
            "Test piece centred",
            lambda p: test_piece_edits.change_test_piece(
                p, kind, start=None, step=None, count=None, steps=()
            ),
        )

    def _try(self, label: str, edit: Callable[[Project], Project]) -> None:
        if not self._session.attempt(label, edit):
            self.refresh()
