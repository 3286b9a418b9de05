"""What lies on a plate: lettering, artwork and living hinges, each with its numbers."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from anzel.app.edits import artwork_edits, opening_edits, record_numbers
from anzel.app.session import Session
from anzel.core.immutable import field_title
from anzel.project.model import Project
from anzel.structure.artwork.records import (
    AnyOnPlate,
    PlateArtwork,
    PlateHinge,
    PlateLettering,
    Repeated,
)  # fmt: skip
from anzel.structure.line_work import LineOperation, LineWish
from anzel.ui.file_choice import DRAWINGS, choose_file
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import Fold, button, clear, quiet
from anzel.ui.widgets.deferred_call import after_event
from anzel.ui.widgets.wheel_safe import Choice

_WISHES = {
    LineWish.CUT: "cut", LineWish.SCORE: "scored", LineWish.ENGRAVE: "engraved",
    LineWish.LEAVE_OUT: "left out",
}  # fmt: skip
_TITLES = {
    "x": "Right of the middle", "y": "Above the middle", "turn": "Turned",
    "bend": "Along an arc of", "count": "How many", "row_pitch": "From row to row",
    "allowed_strain": "Strain allowed",
}  # fmt: skip
_FIRST = "Mossgate"
_MOST_LABELS = 6


class ArtworkPanel(Fold):
    """A fold of the page of a plate or piece."""

    def __init__(self, session: Session) -> None:
        super().__init__("Lines on it")
        self._session = session
        self._plate = self._item = ""
        self._shown: tuple[object, ...] = ()
        self.fields: dict[str, BoundField] = {}
        self.choices: dict[str, Choice] = {}
        self.text: QLineEdit | None = None
        row = QHBoxLayout()
        self.letter, self.art = button("Add lettering"), button("Add artwork…")
        self.letter.clicked.connect(self.add_lettering)
        self.art.clicked.connect(self._choose)
        row.addWidget(self.letter)
        row.addWidget(self.art)
        self.body.addLayout(row)
        self.hinge = button("Add a living hinge")
        self.hinge.clicked.connect(self.add_hinge)
        self.add(self.hinge)
        self.told: QLabel | None = None
        self.choice = Choice()
        self.choice.setAccessibleName("Lettering or artwork shown")
        self.choice.activated.connect(lambda at: self._show_item(self.choice.itemData(at)))
        self._inside = QWidget()
        self._column = QVBoxLayout(self._inside)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(5)
        self.add(self.choice, self._inside)

    def show_plate(self, plate: str) -> None:
        """Show what lies on a plate now."""
        items = artwork_edits.items_on(self._session.project, plate)
        ids = [item.id for item in items]
        if plate != self._plate or self._item not in ids:
            self._plate, self._item = plate, ids[-1] if ids else ""
        self.choice.clear()
        for item in items:
            self.choice.addItem(f"{item.id}  {_words(item)}", item.id)
        self.choice.setVisible(len(ids) > 1)
        self._inside.setVisible(bool(ids))
        if ids:
            self._show_item(self._item)

    def add_lettering(self) -> None:
        """Put lettering on the plate, its text ready to be typed over."""
        plate = self._plate
        self._made("Lettering", lambda p: artwork_edits.add_lettering(p, plate, _FIRST))
        if self.text is not None:
            self.text.setFocus()
            self.text.selectAll()

    def add_hinge(self) -> None:
        """Put a living hinge across the plate."""
        plate = self._plate
        self._made("Living hinge", lambda p: artwork_edits.add_hinge(p, plate))

    def bring(self, path: Path) -> None:
        """Put the lines of a file on the plate."""
        plate = self._plate
        self._made(path.name, lambda p: artwork_edits.add_artwork(p, plate, path))

    def _choose(self) -> None:
        path = choose_file(self, "Artwork for the plate", DRAWINGS)
        if path is not None:
            self.bring(path)

    def _made(self, words: str, make: Callable[[Project], tuple[Project, str]]) -> None:
        made: list[str] = []

        def edit(project: Project) -> Project:
            project, item = make(project)
            made.append(item)
            return project

        if self._session.attempt(f"{words} on {self._plate}", edit):
            self._item = made[-1]
            self.head.setChecked(True)
            self.show_plate(self._plate)

    def _show_item(self, item_id: str) -> None:
        self._item = item_id
        self.choice.setCurrentIndex(self.choice.findData(item_id))
        item = artwork_edits.item_of(self._session.project, item_id)
        alike = opening_edits.alike_count(self._session.project, item.plate)
        wishes = artwork_edits.wishes_of(item) if isinstance(item, PlateArtwork) else {}
        shown = (item_id, alike, tuple(wishes), item.numbers)
        if shown != self._shown:
            self._shown = shown
            self._make(item, alike)
        for field in self.fields.values():
            field.refresh()
        if self.text is not None and isinstance(item, PlateLettering):
            self.text.setText(item.text)
        if isinstance(item, PlateArtwork):
            self.mirrored.setChecked(item.mirrored)
        if self.told is not None and isinstance(item, PlateHinge):
            plan = artwork_edits.hinge_plan(self._session.project, item)
            self.told.setText(artwork_edits.hinge_words(plan))
        for name, choice in self.choices.items():
            value = item.operation if isinstance(item, PlateLettering) else wishes[name]
            choice.setCurrentIndex(choice.findData(value))
        self.repeated.setCurrentIndex(self.repeated.findData(item.repeated))
        self.alike.blockSignals(True)
        self.alike.setChecked(item.alike)
        self.alike.blockSignals(False)

    def _make(self, item: AnyOnPlate, alike: int) -> None:
        clear(self._column)
        self.choices, self.text, self.told = {}, None, None
        if isinstance(item, PlateLettering):
            self.text = QLineEdit()
            self.text.setAccessibleName("Text")
            self.text.editingFinished.connect(self._take_text)
            self._column.addWidget(self.text)
            self._choose_operation(item)
        elif isinstance(item, PlateHinge):
            self.told = quiet("")
            self._column.addWidget(self.told)
        else:
            self._choose_wishes(item)
        self.fields = {name: self._field(item, name) for name in item.numbers}
        for field in self.fields.values():
            self._column.addWidget(field)
        self.repeated = Choice()
        self.repeated.setAccessibleName("How it is repeated")
        for each in Repeated:
            self.repeated.addItem(each.value, each)
        self.repeated.activated.connect(
            lambda at: self._change(self.repeated.itemText(at), repeated=self.repeated.itemData(at))
        )
        self._column.insertWidget(self._column.count() - len(self.fields), self.repeated)
        self.alike = QCheckBox(f"On all {alike} plates alike")
        self.alike.toggled.connect(lambda on: self._change("on all alike plates", alike=on))
        self.alike.setVisible(alike > 1)
        self._column.addWidget(self.alike)
        out = button("Take it off", "Flat")
        out.setAccessibleName(f"Take {item.id} off")
        out.clicked.connect(self._take_off)
        self._column.addWidget(out)

    def _choose_operation(self, item: PlateLettering) -> None:
        choice = Choice()
        choice.setAccessibleName("What becomes of the letters")
        for operation in LineOperation:
            choice.addItem(_WISHES[LineWish(operation.value)], operation)
        choice.activated.connect(
            lambda at: self._change(choice.itemText(at), operation=choice.itemData(at))
        )
        self.choices = {item.id: choice}
        self._column.addWidget(choice)

    def _choose_wishes(self, item: PlateArtwork) -> None:
        self._column.addWidget(quiet(item.file.name))
        self.mirrored = QCheckBox("Mirrored")
        self.mirrored.clicked.connect(lambda on: self._change("mirrored", mirrored=on))
        self._column.addWidget(self.mirrored)
        for label in list(artwork_edits.wishes_of(item))[:_MOST_LABELS]:
            choice = Choice()
            name = label.strip("/") or "without a name"
            choice.setAccessibleName(f"What becomes of lines {name}")
            for wish, words in _WISHES.items():
                choice.addItem(f"“{name[:24]}” {words}", wish)
            choice.activated.connect(partial(self._decide, label))
            self.choices[label] = choice
            self._column.addWidget(choice)

    def _field(self, item: AnyOnPlate, name: str) -> BoundField:
        item_id = item.id
        return BoundField(
            self._session, _TITLES.get(name, field_title(name)),
            lambda p: record_numbers.figure_of(artwork_edits.item_of(p, item_id), name),
            lambda p, text: artwork_edits.type_item(p, item_id, name, text),
            unit=record_numbers.unit_of(name),
        )  # fmt: skip

    def _decide(self, label: str, index: int) -> None:
        wish, item_id = self.choices[label].itemData(index), self._item
        self._session.attempt(
            f"Lines {_WISHES[LineWish(wish)]}",
            lambda p: artwork_edits.decide_label(p, item_id, label, LineWish(wish)),
        )

    def _take_text(self) -> None:
        if self.text is not None and self.text.isModified():
            self.text.setModified(False)
            self._change(f"“{self.text.text()}”", text=self.text.text())

    def _change(self, words: str, **changes: object) -> None:
        item_id = self._item
        self._session.attempt(
            f"{item_id} {words}", lambda p: artwork_edits.change_item(p, item_id, **changes)
        )

    def _take_off(self) -> None:
        item_id = self._item
        after_event(self, lambda: self._session.attempt(
            f"{item_id} taken off", lambda p: artwork_edits.remove_item(p, item_id)
        ))  # fmt: skip


def _words(item: AnyOnPlate) -> str:
    if isinstance(item, PlateHinge):
        return "living hinge"
    return item.text if isinstance(item, PlateLettering) else item.file.name
