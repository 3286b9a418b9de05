"""Step 2: the comb, cut from a scrap of this sheet, to find the width that feels right."""

from PySide6.QtCore import Signal

from anzel.app import edits
from anzel.app.lens import comb_row
from anzel.app.session import Session
from anzel.gauges.comb import label
from anzel.project.derive import comb_of, sheets_of
from anzel.project.model import Project
from anzel.sheets.arrange import in_rows
from anzel.stock.trial import Feel
from anzel.structure.plates import FeatureKind
from anzel.ui.steps.base import StepPage
from anzel.ui.steps.fields import BoundField, plain
from anzel.ui.views.lens_view import LensView
from anzel.ui.views.plan_view import PlanContent, PlanView
from anzel.ui.widgets.feel_panel import FeelPanel
from anzel.ui.widgets.parts import button, heading, quiet, section


class TestStep(StepPage):
    """Shows the comb for the picked stock."""

    write_wanted = Signal()

    def __init__(self, session: Session) -> None:
        self._slot = ""
        self.view = PlanView("The comb")
        self.lens = LensView()
        super().__init__(session, self.view)
        self.view.joint_picked.connect(self._pick_slot)

    def _fill_panel(self) -> None:
        self._title = heading("")
        self._panel.add(self._title)
        self._panel.add(quiet("Cut it from a scrap of this very sheet. Push the tongue, edge "
                              "first, into each slot; the engraved number of the one that feels "
                              "right is the width to draw."))  # fmt: skip
        self.feel = FeelPanel()
        self.feel.felt.connect(self._felt)
        self.feel.taken.connect(self._take)
        self._panel.add(self.lens, self.feel)
        self.fields = {
            "start": self._field("First slot", "start", 0.01),
            "step": self._field("Wider by", "step", 0.01),
            "count": self._field("Slots", "count", 1, ""),
        }
        self._panel.add(section("The slots"), *self.fields.values())
        self._centre = button("Centre on today's width", "Flat")
        self._centre.clicked.connect(self._centre_on_today)
        self._write = button("Write the comb…", "Primary")
        self._write.clicked.connect(self.write_wanted)
        self._panel.add(self._centre)
        self._panel.body.addStretch(1)
        self._panel.add(self._write)

    def _field(self, title: str, field: str, step: float, unit: str = "mm") -> BoundField:
        session = self._session

        def get(project: Project) -> str:
            if field == "start":
                return label(comb_of(project, session.stock_id).widths[0])
            return plain(getattr(project.comb, field))

        def put(project: Project, text: str) -> Project:
            value = edits.typed_value(project.comb, field, text)
            return edits.change_comb(project, **{field: value})

        return BoundField(session, title, get, put, step=step, unit=unit)

    def refresh(self) -> None:
        """Show the comb as it is now."""
        project, stock_id = self._session.project, self._session.stock_id
        stock, made = project.stock(stock_id), comb_of(project, stock_id)
        self._title.setText(f"Comb for {stock.name}")
        body = made.pieces[0]
        slots = {f.joint: f for f in body.features if f.kind is FeatureKind.SLOT}
        if self._slot not in slots:
            nearest = min(slots.values(), key=lambda f: abs(f.width.drawn - made.today.drawn))
            self._slot = nearest.joint
        tints = project.tints
        plan = in_rows(made.pieces, 0.9, gap=12)
        caption = f"{stock.name} · today's drawn width {made.today.drawn:.2f}"
        names = {body.name: ""}
        self.view.show_content(
            PlanContent(plan, tints, caption=caption, picked=self._slot, names=names)
        )
        row = comb_row(slots[self._slot], body, sheets_of(project))
        self.lens.show_row(row, tints, project.fits.in_use.value)
        self.feel.show_trial(project, stock_id, slots[self._slot].width.drawn)
        self._centre.setEnabled(project.comb.start is not None)
        for field in self.fields.values():
            field.refresh()

    def _pick_slot(self, slot: str) -> None:
        self._slot = slot
        self.refresh()

    def _felt(self, feel: Feel) -> None:
        """Write down what the picked slot felt like, and go on to the next slot."""
        session = self._session
        slots = comb_of(session.project, session.stock_id).pieces[0].features
        at = next(i for i, slot in enumerate(slots) if slot.joint == self._slot)
        width = slots[at].width.drawn
        changed = edits.feel_slot(session.project, session.stock_id, width, feel)
        self._slot = slots[min(at + 1, len(slots) - 1)].joint
        session.change(f"Slot {label(width)} felt {feel.value}", changed)
        self.refresh()

    def _take(self) -> None:
        session = self._session
        hand = edits.trial_in_hand(session.project, session.stock_id)
        if hand is not None:
            session.change("Trial taken over", edits.take_trial(session.project, hand))

    def _centre_on_today(self) -> None:
        changed = edits.change_comb(self._session.project, start=None)
        self._session.change("Comb centred", changed)
