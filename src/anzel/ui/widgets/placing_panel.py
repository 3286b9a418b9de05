"""What a plate is placed by: its relations, what they leave free, and how to add one by list."""

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QWidget

from anzel.app.edits import relation_edits
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_figure
from anzel.project.model import Project
from anzel.structure.relations.records import (
    TABLE,
    Against,
    Facing,
    Relation,
    Side,
)
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import (
    FoldingSection,
    button,
    choice_row,
    clear,
    fill_rows,
    named_list,
    quiet,
)
from anzel.ui.widgets.deferred_call import after_event
from anzel.ui.widgets.wheel_safe import Choice

_MOST_ROWS = 5
_TABLE_WORDS = "the table"
_ON, _FLUSH, _BETWEEN, _ANGLE = (
    "lies on",
    "is flush with",
    "is midway over",
    "stands at an angle to",
)


class PlacingPanel(FoldingSection):
    """The relations of one plate."""

    def __init__(self, session: Session) -> None:
        super().__init__("Placed by")
        self._session, self._plate = session, ""
        self._shown: tuple[str, ...] = ()
        self.rows = named_list("Relations that place it")
        self.rows.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.rows.currentRowChanged.connect(lambda _: self._show_row())
        self._number = QWidget()
        self._line = QHBoxLayout(self._number)
        self._line.setContentsMargins(0, 0, 0, 0)
        self._line.setSpacing(2)
        self.field: BoundField | None = None
        self._free = quiet("")
        self._pick = button("Place it by picking", "Primary")
        self._pick.setToolTip("Pick a face or an edge of it, then where that shall go")
        self._pick.clicked.connect(session.placing.start)
        self._by_list = FoldingSection("By list")
        self._by_list.add(self._lists())
        self.add(self.rows, self._number, self._free, self._pick, self._by_list)

    def _lists(self) -> QWidget:
        """Return the choices for a relation by list."""
        box = QWidget()
        grid = QGridLayout(box)
        grid.setContentsMargins(0, 0, 0, 0)
        self.own, self.how, self.mate, self.its = Choice(), Choice(), Choice(), Choice()
        for row, (words, choice) in enumerate(
            (("Its", self.own), ("", self.how), ("of", self.mate), ("", self.its))
        ):
            choice.setAccessibleName(
                ("Side of this plate", "How it is placed", "Plate it is placed by", "Side there")[
                    row
                ]
            )
            grid.addWidget(QLabel(words), row, 0)
            grid.addWidget(choice, row, 1)
        grid.setColumnStretch(1, 1)
        for how in (_ON, _FLUSH, _BETWEEN, _ANGLE):
            self.how.addItem(how, how)
        self.mate.activated.connect(lambda _: self._offer_sides())
        self.how.activated.connect(lambda _: self._offer_sides())
        add, centre = button("Place it so"), button("Centre it there")
        centre.setToolTip("Both ways that its face leaves free, on the plate chosen")
        add.clicked.connect(self.take)
        centre.clicked.connect(self.centre)
        grid.addLayout(choice_row(add, centre), 4, 0, 1, 2)
        return box

    def show_plate(self, plate: str) -> None:
        """Show the relations of a plate."""
        project = self._session.project
        relations = relation_edits.relations_of(project, plate)
        rows = tuple(_words(each) for each in relations)
        if (plate, *rows) != self._shown:
            if plate != self._plate:
                self.head.setChecked(bool(rows))
            self._plate, self._shown = plate, (plate, *rows)
            self.rename(f"Placed by {len(rows)}" if rows else "Placed by")
            fill_rows(self.rows, list(rows), _MOST_ROWS, [len(rows) - 1] if rows else [])
            for at, words in enumerate(rows):
                self.rows.item(at).setToolTip(words)
            self.rows.setVisible(bool(rows))
            self._show_row()
        if self.field is not None:
            self.field.refresh()
        free = relation_edits.freedom_words(relation_edits.freedom_of(project, plate))
        troubles = relation_edits.expanded_of(project).placed.troubles
        wrong = [f"▲ {each.id}: {troubles[each.id]}" for each in relations if each.id in troubles]
        self._free.setText(shown("\n".join([free, *wrong])))
        self._fill()

    def _fill(self) -> None:
        """Fill the lists with what is there now."""
        project = self._session.project
        plates = [plate.name for plate in relation_edits.expanded_of(project).plates]
        _fill(self.own, relation_edits.faces_and_edges(
            relation_edits.sides_of(project, self._plate)))  # fmt: skip
        mates = [_TABLE_WORDS, *(name for name in plates if name != self._plate)]
        _fill(self.mate, tuple(mates))
        self._offer_sides()

    def _offer_sides(self) -> None:
        mate = self._mate
        sides = relation_edits.faces_and_edges(relation_edits.sides_of(self._session.project, mate))
        if self.how.currentData() == _BETWEEN:
            sides = tuple(f"{low} and {high}" for low, high in _OPPOSITE)
        _fill(self.its, sides)

    @property
    def _mate(self) -> str:
        name = str(self.mate.currentData() or _TABLE_WORDS)
        return TABLE if name == _TABLE_WORDS else name

    def _show_row(self) -> None:
        """The number of the relation that is marked, and what turns it or takes it off."""
        clear(self._line)
        relations = relation_edits.relations_of(self._session.project, self._plate)
        at = self.rows.currentRow()
        self._number.setVisible(0 <= at < len(relations))
        self.field = None
        if not 0 <= at < len(relations):
            return
        relation = relations[at]
        self.field = self._field_of(relation)
        self._line.addWidget(self.field, 1)
        if isinstance(relation, Against):
            tip = f"Turn {relation.id} the other way"
            self._add_small("⇅", tip, relation.id, "turned", relation_edits.turn_facing)
        tip = f"Take {relation.id} off; the plate stays where it stands"
        self._add_small("×", tip, relation.id, "taken off", relation_edits.remove_relation)
        self.field.refresh()

    def _add_small(
        self, sign: str, tip: str, relation_id: str, done: str,
        edit: Callable[[Project, str], Project],
    ) -> None:  # fmt: skip
        made = button(sign, "Flat")
        made.setToolTip(tip)
        made.setAccessibleName(tip)
        change = partial(self._edit, done, relation_id, edit)
        made.clicked.connect(lambda: after_event(self, change))
        self._line.addWidget(made)

    def _field_of(self, relation: Relation) -> BoundField:
        number, relation_id = relation.numbers[0], relation.id
        unit = "°" if number == "angle" else "mm"
        title = "Angle" if number == "angle" else _distance_title(relation)
        return BoundField(
            self._session, title,
            lambda project: plain_figure(
                getattr(_settled_relation(project, relation_id), number), unit
            ),
            lambda project, text: relation_edits.type_relation(project, relation_id, number, text),
            step=5.0 if number == "angle" else 1.0, unit=unit,
            path=lambda: f"relation {relation_id}/{number}",
        )  # fmt: skip

    def _edit(self, done: str, relation_id: str, edit: Callable[[Project, str], Project]) -> None:
        self._session.attempt(f"{relation_id} {done}", lambda p: edit(p, relation_id))

    def take(self) -> None:
        """A relation as the lists say."""
        how, own = self.how.currentData(), Side(plate=self._plate, side=self.own.currentData())
        its, mate = str(self.its.currentData()), self._mate

        def edit(project: Project) -> Project:
            if how == _BETWEEN:
                low, _, high = its.partition(" and ")
                made: Relation = relation_edits.centred(
                    project, own, Side(plate=mate, side=low), Side(plate=mate, side=high)
                )
            elif how == _ANGLE:
                made = relation_edits.hinged(project, own, Side(plate=mate, side=its), 90.0)
            else:
                facing = Facing.TOWARDS if how == _ON else Facing.SAME
                made = relation_edits.against(project, own, Side(plate=mate, side=its), facing)
            return relation_edits.relate(project, made)

        self._session.attempt(f"{own.words} {how} {mate or _TABLE_WORDS}", edit)

    def centre(self) -> None:
        """Centre the plate on the one chosen."""
        plate, mate = self._plate, self._mate
        if mate != TABLE:
            self._session.attempt(
                f"{plate} centred on {mate}", lambda p: relation_edits.centred_on(p, plate, mate)
            )


_OPPOSITE = (("left", "right"), ("bottom", "top"), ("front", "back"))


def _settled_relation(project: Project, relation_id: str) -> Relation:
    for relation in relation_edits.expanded_of(project).structure.relations:
        if relation.id == relation_id:
            return relation
    raise ParameterError(f"There is no relation “{relation_id}” any more.")


def _distance_title(relation: Relation) -> str:
    if isinstance(relation, Against) and relation.facing is Facing.TOWARDS:
        return "Apart by"
    return "Further out by" if isinstance(relation, Against) else "Off the middle by"


def _words(relation: Relation) -> str:
    """Return what holds, without the plate's own name, which the page says."""
    its = relation.words.replace(f" of {relation.side.plate}", "", 1)
    return f"{relation.id}  {its[0].upper()}{its[1:]}"


def _fill(choice: Choice, items: tuple[str, ...]) -> None:
    """Fill a list, keeping what is chosen if it is still there."""
    present = choice.currentData()
    if [choice.itemData(row) for row in range(choice.count())] == list(items):
        return
    choice.clear()
    for item in items:
        choice.addItem(item, item)
    choice.setCurrentIndex(max(choice.findData(present), 0))
