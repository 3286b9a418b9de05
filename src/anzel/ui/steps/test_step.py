"""The test piece, cut from a scrap of this sheet: what to do with it, and what it teaches."""

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from anzel.app.edits import cutter_edits, project_edits, test_piece_edits
from anzel.app.session import Session
from anzel.app.views.fit_lens import gauge_row
from anzel.core.findings import MakerError
from anzel.layout.rows import in_rows
from anzel.materials.cutter import KerfSource
from anzel.materials.kerf import LearntKerf
from anzel.project.derive import gauge_findings_of, gauge_layout_of, gauge_of, sheets_of
from anzel.project.model import Project
from anzel.test_pieces.model import Gauge, GaugeKind
from anzel.test_pieces.registry import FELT, GAUGES
from anzel.test_pieces.trial import FEEL_WORDS, Feel, contradictions
from anzel.ui.steps.step_page import StepPage
from anzel.ui.views.fit_lens_view import LensView
from anzel.ui.views.plan_view import PlanContent, PlanView
from anzel.ui.views.trials_view import TrialsView
from anzel.ui.widgets.bound_field import BoundField, plain
from anzel.ui.widgets.common_widgets import Fold, button, heading, quiet
from anzel.ui.widgets.fit_feedback import FeelPanel
from anzel.ui.widgets.kerf_panel import KerfPanel
from anzel.ui.widgets.wheel_safe import Choice

_SHOWN_TRIALS = 4


class TestStep(StepPage):
    """Shows one kind of test piece for the picked stock."""

    write_wanted = Signal()

    def __init__(self, session: Session) -> None:
        self._slot = ""
        self.kind = GaugeKind.COMB
        self.view, self.trials = PlanView("The test piece"), TrialsView()
        self.lens = LensView()
        both = QWidget()
        column = QVBoxLayout(both)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.view, 1)
        column.addWidget(self.trials)
        super().__init__(session, both)
        self.view.joint_picked.connect(self._pick_slot)
        self.view.stepped.connect(self._pick_next)

    def show_kind(self, kind: GaugeKind) -> None:
        """Another kind of test piece."""
        self.kind, self._slot = kind, ""
        self.refresh()

    def _fill_panel(self) -> None:
        self._title = heading("")
        self._kinds = Choice()
        self._kinds.setAccessibleName("Kind of test piece")
        for kind, gauge in GAUGES.items():
            self._kinds.addItem(gauge.title, kind.value)
        self._kinds.activated.connect(self._choose_kind)
        self._how = quiet("")
        self.feel = FeelPanel()
        self.feel.felt.connect(self._felt)
        self.feel.taken.connect(self._take)
        self.feel.kerf_taken.connect(lambda found: self._take_kerf(found, KerfSource.COMB))
        self.feel.restarted.connect(self._start_over)
        self.measured = KerfPanel()
        self.measured.taken.connect(lambda taken: self._take_kerf(*taken))
        self._panel.add(self._title, self._kinds, self._how)
        self._panel.add(self.lens, self.feel, self.measured)
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
            "scrap_width": self._scrap_field("Scrap, width", "scrap_width"),
            "scrap_height": self._scrap_field("Scrap, height", "scrap_height"),
        }
        fold = Fold("Its steps, and the scrap it is cut from")
        fold.add(*self.fields.values())
        self._inches = QCheckBox("Engrave inches")
        self._inches.clicked.connect(self._engrave_inches)
        self._centre = button("As usual, centred on today's number", "Flat")
        self._centre.clicked.connect(self._centre_on_today)
        fold.add(self._inches, self._centre)
        self._panel.add(fold)

    def _field(self, title: str, field: str, step: float, unit: str = "mm") -> BoundField:
        def get(project: Project) -> str:
            typed = getattr(project.gauges.settings(self.kind), field)
            return plain(typed) if typed is not None else self._usual(project, field)

        def put(project: Project, text: str) -> Project:
            value = (
                project_edits.typed_number(text, field)
                if unit == ""
                else project_edits.typed_length(text, field)
            )
            return test_piece_edits.change_gauge(project, self.kind, **{field: value})

        return BoundField(self._session, title, get, put, step=step, unit=unit)

    def _usual(self, project: Project, field: str) -> str:
        """What a setting comes to while the maker leaves it alone."""
        gauge = gauge_of(project, self._session.stock_id, self.kind)
        values = [step.value for step in gauge.steps]
        if field == "count":
            many = len(gauge.pieces) if self.kind is GaugeKind.STRIPS else len(values)
            return str(many)
        if field == "start":
            return plain(values[0])
        return plain(values[1] - values[0]) if len(values) > 1 else ""

    def _scrap_field(self, title: str, field: str) -> BoundField:
        def put(project: Project, text: str) -> Project:
            return test_piece_edits.change_gauges(
                project, **{field: project_edits.typed_length(text, field)}
            )

        return BoundField(
            self._session, title, lambda p: plain(getattr(p.gauges, field)), put, step=10
        )

    def refresh(self) -> None:
        """Show the test piece as it is now."""
        project, stock_id = self._session.project, self._session.stock_id
        self._title.setText(f"From {project.stock(stock_id).name}")
        self._kinds.setCurrentIndex(self._kinds.findData(self.kind.value))
        known = GAUGES[self.kind]
        self._how.setText(f"Tells {known.tells}. {known.how}")
        try:
            gauge = self.gauge
        except MakerError as error:  # e.g. a sheet thinner than the kerf
            self._says.setText(f"▲ {error}")
            self._write.setEnabled(False)
            return
        self._write.setEnabled(True)
        ids = [step.id for step in gauge.steps]
        if self._slot not in ids:
            self._slot = min(gauge.steps, key=lambda s: abs(s.value - gauge.today)).id
        self._show_plan(project, gauge)
        felt = self.kind in FELT
        for widget in (self.lens, self.feel):
            widget.setVisible(felt)
        self.measured.setVisible(not felt)
        if felt:
            step = gauge.step(self._slot)
            row = gauge_row(gauge, step, GAUGES[self.kind].number, sheets_of(project))
            self.lens.show_row(row, project.tints, project.fits.in_use.value)
            self.feel.show_trial(project, stock_id, gauge, step)
        else:
            self.measured.show_gauge(gauge)
        self._show_settings(project, gauge)
        kept = [trial for trial in reversed(project.trials) if trial.stock_id == stock_id]
        self.trials.show_trials(kept[:_SHOWN_TRIALS])
        self.trials.setVisible(felt)

    @property
    def gauge(self) -> Gauge:
        """The test piece shown."""
        return gauge_of(self._session.project, self._session.stock_id, self.kind)

    def _show_plan(self, project: Project, gauge: Gauge) -> None:
        names = {piece.name: "" for piece in gauge.pieces if piece.engraved}
        stock = project.stock(self._session.stock_id)
        drawn = "today" if self.kind in FELT else "drawn"
        caption = f"{stock.name} · {drawn} {plain(gauge.today)}"
        plan = in_rows(gauge.pieces, 0.9 if len(gauge.pieces) < 4 else 1.6, gap=10)
        self.view.show_content(
            PlanContent(
                plan, project.tints, caption=caption, picked=self._slot, names=names,
                tags=self._tags(project, gauge),
            )
        )  # fmt: skip

    def _tags(self, project: Project, gauge: Gauge) -> dict[str, str]:
        """What each step felt like, pointing at those that contradict one another."""
        hand = test_piece_edits.in_hand(project, self._session.stock_id, self.kind)
        if hand is None:
            return {}
        pairs = contradictions(hand.felt, hand.scale)
        wrong = {drawn for pair in pairs for drawn, _ in pair}
        felt = dict(hand.felt)
        return {
            step.id: ("▲ " if step.value in wrong else "") + FEEL_WORDS[felt[step.value]]
            for step in gauge.steps
            if step.value in felt
        }

    def _show_settings(self, project: Project, gauge: Gauge) -> None:
        layout = gauge_layout_of(project, self._session.stock_id, self.kind)
        fitting = gauge_findings_of(project, self._session.stock_id, self.kind)
        room = "goes on the scrap" if not layout.findings else "▲ too large for the scrap"
        self._says.setText(
            f"Cut {gauge.cut_length / 1000:.2f} m, engraved {gauge.engraved_length / 1000:.2f} m, "
            f"{room}."
            + "".join(f"\n▲ {found.message.capitalize()} {found.mend}" for found in fitting)
        )
        settings = project.gauges.settings(self.kind)
        usual = (settings.start, settings.step, settings.count) == (None, None, None)
        self._centre.setEnabled(not usual)
        self._inches.setChecked(project.gauges.inches)
        self.fields["step"].setVisible(self.kind is not GaugeKind.STRIPS)
        for field in self.fields.values():
            field.refresh()

    def _choose_kind(self, index: int) -> None:
        self.show_kind(GaugeKind(self._kinds.itemData(index)))

    def _pick_slot(self, slot: str) -> None:
        self._slot = slot
        self.refresh()

    def _pick_next(self, by: int) -> None:
        ids = [step.id for step in self.gauge.steps]
        self._pick_slot(ids[(ids.index(self._slot) + by) % len(ids)])

    def _felt(self, feel: Feel) -> None:
        """Write down what the picked step felt like, and go on to the next."""
        gauge = self.gauge
        at = next(i for i, step in enumerate(gauge.steps) if step.id == self._slot)
        step, kind, stock_id = gauge.steps[at], self.kind, self._session.stock_id
        self._slot = gauge.steps[min(at + 1, len(gauge.steps) - 1)].id
        self._try(
            f"{GAUGES[kind].number.capitalize()} {step.label} felt {feel.value}",
            lambda p: test_piece_edits.feel_step(p, stock_id, kind, step.value, feel),
        )
        self.refresh()

    def _take(self) -> None:
        session = self._session
        hand = test_piece_edits.in_hand(session.project, session.stock_id, self.kind)
        if hand is not None:
            self._try("Trial taken over", lambda p: test_piece_edits.take_trial(p, hand))

    def _take_kerf(self, found: LearntKerf, source: KerfSource) -> None:
        stock_id = self._session.stock_id
        self._try(
            f"Kerf {plain(found.kerf)} from {source.value}",
            lambda p: cutter_edits.take_kerf(p, stock_id, found, source),
        )

    def _start_over(self) -> None:
        stock_id, kind = self._session.stock_id, self.kind
        self._try("Trial begun again", lambda p: test_piece_edits.start_over(p, stock_id, kind))

    def _engrave_inches(self, on: bool) -> None:
        words = "Inches engraved" if on else "Millimetres engraved"
        self._try(words, lambda p: test_piece_edits.change_gauges(p, inches=on))

    def _centre_on_today(self) -> None:
        kind = self.kind
        self._try(
            "Test piece centred",
            lambda p: test_piece_edits.change_gauge(p, kind, start=None, step=None, count=None),
        )

    def _try(self, label: str, edit: Callable[[Project], Project]) -> None:
        if not self._session.attempt(label, edit):
            self.refresh()
