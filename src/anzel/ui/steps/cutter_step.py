"""The cutter: its bed, its speeds, its kerf in each sheet, and whether it minds the kerf itself."""

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QButtonGroup, QLineEdit

from anzel.app.edits import cutter_edits, project_edits
from anzel.app.session import Session
from anzel.core.number_format import plain_figure, plain_length
from anzel.materials.cutter import KerfSource
from anzel.project.model import Project
from anzel.test_pieces.model import TestPieceKind
from anzel.ui.steps.step_page import StepPage
from anzel.ui.views.cutter_view import CutterView
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import FoldingSection, button, choice_row, quiet, section
from anzel.ui.widgets.wheel_safe import Choice

_SPEEDS = {
    "cut_speed": "Cuts at", "score_speed": "Scores at", "engrave_speed": "Engraves at",
    "travel_speed": "Travels at",
}  # fmt: skip


class CutterStep(StepPage):
    """Shows and edits the cutter in use."""

    learn_wanted = Signal(TestPieceKind)

    def __init__(self, session: Session) -> None:
        self.view = CutterView()
        super().__init__(session, self.view)
        self.view.stock_picked.connect(session.selection.pick_stock)

    def focus_name(self) -> None:
        """Ready to type another name of the cutter."""
        self._name.setFocus()
        self._name.selectAll()

    def _fill_panel(self) -> None:
        self._chooser = Choice()
        self._chooser.setAccessibleName("Which cutter")
        self._chooser.activated.connect(self._choose)
        self._name = QLineEdit()
        self._name.setAccessibleName("Name of the cutter")
        self._name.editingFinished.connect(self._rename)
        self._panel.add(self._chooser)
        self._kerf_title = section("")
        self.fields: dict[str, BoundField] = {
            "kerf": self._kerf_field("Kerf", "kerf", cutter_edits.change_kerf),
            "uncertainty": self._kerf_field(
                "Known to ±", "uncertainty", cutter_edits.change_kerf_uncertainty
            ),
        }
        self._learnt = quiet("")
        self._panel.add(self._kerf_title, self.fields["kerf"], self.fields["uncertainty"])
        self._panel.add(self._learnt, section("Learn it from a test piece"))
        learn = {
            TestPieceKind.STRIPS: "strips", TestPieceKind.DISC: "disc and hole",
            TestPieceKind.COMB: "comb"
        }  # fmt: skip
        choices = []
        for kind, words in learn.items():
            choice = button(words)
            choice.clicked.connect(lambda _=False, kind=kind: self.learn_wanted.emit(kind))
            choices.append(choice)
        self._panel.body.addLayout(choice_row(*choices))
        self._forget = button("Forget what was learnt", "Flat")
        self._forget.clicked.connect(self._forget_kerf)
        self._panel.add(self._forget)
        self._add_compensation()
        self._add_machine()

    def _add_compensation(self) -> None:
        self._panel.add(section("The cutter's own kerf compensation"))
        self._setting = QButtonGroup(self)
        choices = []
        for index, words in enumerate(("off: runs on the line", "on: offsets its path")):
            choice = button(words)
            choice.setCheckable(True)
            choice.clicked.connect(lambda _=False, on=bool(index): self._set_offsets(on))
            self._setting.addButton(choice, index)
            choices.append(choice)
        self._panel.body.addLayout(choice_row(*choices))
        self._warning = quiet("")
        self._warning.setObjectName("Error")
        self._panel.add(self._warning)

    def _add_machine(self) -> None:
        fold = FoldingSection("The machine", is_open=True)
        fold.add(self._name)
        for field, label in (("bed_width", "Bed width"), ("bed_height", "Bed height")):
            self.fields[field] = self._field(label, field, 10)
        for field, label in _SPEEDS.items():
            self.fields[field] = self._field(label, field, 1, "mm/s")
        self.fields["pierce_time"] = self._field("To get through a sheet", "pierce_time", 0.1, "s")
        self.fields["cost_per_hour"] = self._field("An hour costs", "cost_per_hour", 1, "")
        fold.add(*(f for name, f in self.fields.items() if name not in ("kerf", "uncertainty")))
        self._lens = QLineEdit()
        self._lens.setAccessibleName("Note on the lens")
        self._lens.setPlaceholderText("Note on the lens")
        self._lens.editingFinished.connect(self._note)
        fold.add(self._lens)
        self._another = button("Another cutter")
        self._another.clicked.connect(self.add_cutter)
        self._remove = button("Take it away", "Flat")
        self._remove.clicked.connect(lambda: self._try("Cutter gone", cutter_edits.remove_cutter))
        fold.body.addLayout(choice_row(self._another, self._remove))
        self._panel.add(fold)
        self._panel.body.addStretch(1)

    def _kerf_field(
        self, label: str, field: str, change: Callable[[Project, str, float], Project]
    ) -> BoundField:
        session = self._session

        def put(project: Project, text: str) -> Project:
            return change(
                project, session.selection.stock_id, project_edits.typed_length(text, field)
            )

        def get(project: Project) -> str:
            return plain_length(getattr(project.kerf_in(session.selection.stock_id), field), 4)

        return BoundField(
            session, label, get, put,
            step=0.01,
        )  # fmt: skip

    def _field(self, label: str, field: str, step: float, unit: str = "mm") -> BoundField:
        def put(project: Project, text: str) -> Project:
            typed = project_edits.typed_length if unit == "mm" else project_edits.typed_number
            return cutter_edits.change_cutter(project, **{field: typed(text, field)})

        return BoundField(
            self._session, label, lambda p: plain_figure(getattr(p.cutter, field), unit), put,
            step=step, unit=unit,
        )  # fmt: skip

    def refresh(self) -> None:
        """Show the cutter as it is now."""
        project, stock_id = self._session.project, self._session.selection.stock_id
        cutter, kerf = project.cutter, project.kerf_in(stock_id)
        self.view.show_cutter(project, stock_id)
        self._chooser.clear()
        for each in project.cutters:
            self._chooser.addItem(each.name, each.id)
        self._chooser.setCurrentIndex(self._chooser.findData(cutter.id))
        self._chooser.setVisible(len(project.cutters) > 1)
        self.line.show_picked(cutter.name)
        self._name.setText(cutter.name)
        self._lens.setText(cutter.lens)
        self._kerf_title.setText(f"Kerf in {project.stock(stock_id).name}")
        known = kerf.learnt is not KerfSource.ASSUMED
        date = f" on {kerf.date}" if kerf.date else ""
        self._learnt.setText(
            f"From {kerf.learnt.value}{date}." if known and kerf.learnt is not KerfSource.TYPED
            else "As you typed it." if known
            else "Nothing learnt yet; what is usual for a fine beam is assumed."
        )  # fmt: skip
        self._forget.setEnabled(known)
        self._setting.button(int(cutter.offsets_path)).setChecked(True)
        wrong = project.contradicts_cutter
        self._warning.setText(f"▲ {wrong}" if wrong else "")
        self._warning.setVisible(bool(wrong))
        self._remove.setEnabled(len(project.cutters) > 1)
        for field in self.fields.values():
            field.refresh()

    def add_cutter(self) -> None:
        """Another cutter, in use from now on."""
        self._try("Another cutter", cutter_edits.add_cutter)

    def _choose(self, index: int) -> None:
        chosen = str(self._chooser.itemData(index))
        self._try("Cutter chosen", lambda p: cutter_edits.choose_cutter(p, chosen))

    def _rename(self) -> None:
        name = self._name.text().strip()
        self._try("Name", lambda p: cutter_edits.change_cutter(p, name=name))

    def _note(self) -> None:
        note = self._lens.text().strip()
        self._try("Note on the lens", lambda p: cutter_edits.change_cutter(p, lens=note))

    def _set_offsets(self, on: bool) -> None:
        words = "Cutter offsets its path" if on else "Cutter runs on the line"
        self._try(words, lambda p: cutter_edits.change_cutter(p, offsets_path=on))

    def _forget_kerf(self) -> None:
        stock_id = self._session.selection.stock_id
        self._try("Kerf forgotten", lambda p: cutter_edits.forget_kerf(p, stock_id))

    def _try(self, label: str, edit: Callable[[Project], Project]) -> None:
        if not self._session.attempt(label, edit):
            self.refresh()
