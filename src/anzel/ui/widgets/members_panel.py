"""The repeat that a plate belongs to: its count and pitch, and single members that differ."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QMenu, QVBoxLayout, QWidget

from anzel.app.edits import relation_edits, repeat_edits
from anzel.app.session import Session
from anzel.core.number_format import plain_figure
from anzel.project.model import Project
from anzel.structure.relations.records import Direction, PlateRepeat, RepeatWay
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import FoldingSection, button, choice_row, clear, quiet
from anzel.ui.widgets.wheel_safe import Choice

_TITLES = {
    "count": "How many", "pitch": "Pitch", "rows": "Rows", "row_pitch": "Row pitch",
    "spread": "Spread over", "x": "Axis, east", "y": "Axis, north",
}  # fmt: skip
_UNITS = {"count": "×", "rows": "×", "spread": "°"}
_WAYS = {
    RepeatWay.ROW: "In a row", RepeatWay.GRID: "In a grid", RepeatWay.RING: "In a ring",
    RepeatWay.CROSSED: "Crossed with another plate",
}  # fmt: skip
_UPRIGHT = "an upright axis"


class MembersPanel(FoldingSection):
    """How the picked plate is repeated."""

    def __init__(self, session: Session) -> None:
        super().__init__("Repeated")
        self._session, self._plate = session, ""
        self._key = ""
        self.fields: dict[str, BoundField] = {}
        self._start = button("Repeat it")
        menu = QMenu(self._start)
        for way, words in _WAYS.items():
            menu.addAction(words, partial(self.repeat, way))
        self._start.setMenu(menu)
        self._says = quiet("")
        self._body = QWidget()
        self._column = QVBoxLayout(self._body)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(4)
        self.add(self._start, self._says, self._body)

    def show_plate(self, plate: str) -> None:
        """Show the repeat of a plate, if there is one."""
        self._plate = plate
        repeat = repeat_edits.repeat_with(self._session.project, plate)
        self._start.setVisible(repeat is None)
        self._says.setVisible(repeat is not None)
        self._body.setVisible(repeat is not None)
        if repeat is None:
            self._key = ""
            return
        if self._key != f"{repeat.id} {repeat.way}":
            self.head.setChecked(True)
            self._key = f"{repeat.id} {repeat.way}"
            self._make(repeat)
        for field in self.fields.values():
            field.refresh()
        for axis in ("x", "y"):
            if axis in self.fields:
                self.fields[axis].setVisible(not repeat.about)
        self._show_choices(repeat)
        left = f"; left out: {', '.join(map(str, repeat.left_out))}" if repeat.left_out else ""
        self._says.setText(f"{_WAYS[repeat.way]}, with its joints{left}.")

    def _make(self, repeat: PlateRepeat) -> None:
        clear(self._column)
        self.fields = {name: self._number(repeat.id, name) for name in repeat.numbers}
        for field in self.fields.values():
            self._column.addWidget(field)
        self._choices: dict[str, Choice] = {}
        if repeat.way is RepeatWay.RING:
            self._choices["about"] = self._choice(repeat.id, "about", "Round what")
        else:
            self._choices["direction"] = self._choice(repeat.id, "direction", "Along which way")
        if repeat.way in (RepeatWay.GRID, RepeatWay.CROSSED):
            self._choices["row_direction"] = self._choice(
                repeat.id, "row_direction", "Rows along which way"
            )
        for choice in self._choices.values():
            self._column.addWidget(choice)
        single, only = button("Plates of their own"), button("Only one")
        single.setToolTip("Every member becomes a plate that is placed by hand")
        only.setToolTip("The repeat ends, and the first plate is left")
        self._back = button("Bring all back")
        for choice_button, words, edit in (
            (single, "Repeat ended", repeat_edits.end_repeat),
            (only, "Only one left", repeat_edits.remove_repeat),
            (self._back, "All brought back", repeat_edits.bring_back),
        ):
            choice_button.clicked.connect(
                lambda _=False, words=words, edit=edit: self._session.attempt(
                    words, lambda p: edit(p, repeat.id)
                )
            )
        self._member = Choice()
        self._member.setAccessibleName("One member of the repeat")
        differ, out = button("Let it differ"), button("Leave it out")
        differ.clicked.connect(lambda: self._with_member("differs", self._differ))
        out.clicked.connect(lambda: self._with_member("left out", repeat_edits.leave_out))
        self._column.addLayout(choice_row(self._member, differ, out))
        self._column.addLayout(choice_row(single, only, self._back))

    def _with_member(self, done: str, edit: Callable[[Project, str], Project]) -> None:
        name = str(self._member.currentData() or "")
        if name and self._session.attempt(f"{name} {done}", lambda p: edit(p, name)):
            whole = relation_edits.expanded_of(self._session.project)
            if any(plate.name == name for plate in whole.structure.plates):
                self._session.pick_plate(name)

    @staticmethod
    def _differ(project: Project, name: str) -> Project:
        """Let a member have its own numbers, or be like the others again."""
        own = {p.name for p in relation_edits.expanded_of(project).structure.plates}
        edit = repeat_edits.make_alike if name in own else repeat_edits.let_differ
        return edit(project, name)

    def _show_choices(self, repeat: PlateRepeat) -> None:
        project = self._session.project
        self._back.setVisible(bool(repeat.left_out))
        self._member.clear()
        for name, member in relation_edits.expanded_of(project).members.items():
            if member.repeat.id == repeat.id and member.number > 1:
                self._member.addItem(name, name)
        for name, choice in self._choices.items():
            choice.clear()
            if name == "about":
                choice.addItem(f"round {_UPRIGHT}", "")
                for plate in relation_edits.expanded_of(project).structure.plates:
                    if plate.name not in repeat.members:
                        choice.addItem(f"round the middle of {plate.name}", plate.name)
            else:
                for way in Direction:
                    choice.addItem(way.value, way)
            choice.setCurrentIndex(choice.findData(getattr(repeat, name)))

    def _choice(self, repeat_id: str, name: str, title: str) -> Choice:
        choice = Choice()
        choice.setAccessibleName(title)
        choice.activated.connect(
            lambda index: self._session.attempt(
                f"{title}: {choice.itemText(index)}",
                lambda p: repeat_edits.change_repeat(
                    p, repeat_id, **{name: choice.itemData(index)}
                ),
            )
        )
        return choice

    def _number(self, repeat_id: str, name: str) -> BoundField:
        unit = _UNITS.get(name, "mm")

        def get(project: Project) -> str:
            repeats = relation_edits.expanded_of(project).structure.repeats
            repeat = next((each for each in repeats if each.id == repeat_id), None)
            return "" if repeat is None else plain_figure(getattr(repeat, name), unit)

        return BoundField(
            self._session, _TITLES[name], get,
            lambda project, text: repeat_edits.type_repeat(project, repeat_id, name, text),
            step=15.0 if unit == "°" else 1.0, unit=unit,
            path=lambda: f"repeat {repeat_id}/{name}",
        )  # fmt: skip

    def repeat(self, way: RepeatWay) -> None:
        """The plate is repeated, in the way chosen."""
        plate, project = self._plate, self._session.project
        others = [each.name for each in relation_edits.expanded_of(project).structure.plates
                  if each.name != plate]  # fmt: skip
        fields: dict[str, object] = {"count": 4 if way is RepeatWay.RING else 2}
        if way in (RepeatWay.GRID, RepeatWay.CROSSED):
            fields["rows"] = 2
        if way is RepeatWay.GRID:
            fields["direction"] = Direction.BACKWARDS
        if way is RepeatWay.CROSSED:
            fields |= {"with_plate": others[0] if others else "", "row_direction": Direction.FACE}
        if way is RepeatWay.RING and others:
            fields["about"] = repeat_edits.likely_middle(project, plate)
        self._session.attempt(
            f"{plate} repeated", lambda p: repeat_edits.repeat_plate(p, plate, way, **fields)
        )
