"""One added opening: its sheet, where it is measured from, and its numbers."""

from collections.abc import Callable, Mapping
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from anzel.app.edits import opening_edits, record_numbers
from anzel.app.session import Session
from anzel.core.immutable import field_title
from anzel.project.model import Project
from anzel.structure.openings.plate_opening import OpeningRepeat, PlateOpening, Start
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import button, clear, quiet
from anzel.ui.widgets.deferred_call import after_event
from anzel.ui.widgets.wheel_safe import Choice

_STARTS = {
    Start.START: "from its start", Start.MIDDLE: "from its middle", Start.END: "from its end"
}  # fmt: skip
_TITLES = {"along": "Along the edge", "inward": "Inwards", "count": "How many", "turn": "Turned",
    "row_pitch": "From row to row",
}  # fmt: skip
_SIZE_TITLES = {
    ("disc", "width"): "Diameter", ("polygon", "width"): "Side",
    ("mortise", "width"): "Tab width", ("plus-shaped mortise", "width"): "Tab width",
}  # fmt: skip


class OpeningFields(QWidget):
    """The fields of one opening, made anew for one of another kind."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: tuple[object, ...] = ()
        self._opening = ""
        self.fields: dict[str, BoundField] = {}
        self.choices: dict[str, Choice] = {}
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(5)

    def show_opening(self, opening_id: str) -> None:
        """Show an opening as it is now."""
        project = self._session.project
        opening = opening_edits.opening_of(project, opening_id)
        alike = opening_edits.alike_count(project, opening.plate)
        edges = opening_edits.edges_for(project, opening.plate)
        stocks = tuple((stock.id, stock.name) for stock in project.stocks)
        shown = (opening_id, opening.kind, opening.numbers, edges, stocks, alike)
        if shown != self._shown:
            self._shown, self._opening = shown, opening_id
            self._make(opening, edges, stocks, alike)
        for name, choice in self.choices.items():
            choice.setCurrentIndex(choice.findData(getattr(opening, name)))
        for field in self.fields.values():
            field.refresh()
        self.alike.blockSignals(True)
        self.alike.setChecked(opening.alike)
        self.alike.blockSignals(False)
        self.show()

    def show_nothing(self) -> None:
        """Let the fields go, which nothing uses."""
        clear(self._column)
        self._shown, self.fields, self.choices = (), {}, {}
        self.hide()

    def _make(
        self, opening: PlateOpening, edges: tuple[str, ...], stocks: tuple[tuple[str, str], ...],
        alike: int,
    ) -> None:  # fmt: skip
        clear(self._column)
        self.choices, self.fields = {}, {}
        title = quiet(f"{opening.id}: {opening.kind.value}")
        title.setTextFormat(Qt.TextFormat.PlainText)
        self._column.addWidget(title)
        if opening.is_fitting:
            self._choose("sheet", "Sheet that it takes", {s: f"for {name}" for s, name in stocks})
        self._choose(
            "edge", "Edge that it is placed from", {edge: f"{edge} edge" for edge in edges}
        )
        self._choose("along_from", "Where the distance along the edge starts", _STARTS)
        if not opening.is_at_edge:
            ways = {False: "inwards from the edge", True: "inwards from the plate's middle"}
            self._choose("inward_from_middle", "Where the distance inwards starts", ways)
            repeats = {each: f"repeated {each.value}" for each in OpeningRepeat}
            self._choose("repeated", "How several of them stand", repeats)
        for name in opening.numbers:
            self.fields[name] = field = self._field(opening, name)
            self._column.addWidget(field)
        self.alike = QCheckBox(f"On all {alike} plates alike")
        self.alike.toggled.connect(lambda on: self._change("alike", on, "on all alike plates"))
        self.alike.setVisible(alike > 1)
        self._column.addWidget(self.alike)
        out = button("Take it out", "Flat")
        out.setAccessibleName(f"Take {opening.id} out")
        out.clicked.connect(self._take_out)
        self._column.addWidget(out)

    def _choose(self, name: str, title: str, words: Mapping[Any, str]) -> None:
        choice = Choice()
        choice.setAccessibleName(title)
        choice.setToolTip(title)
        for value, text in words.items():
            choice.addItem(text, value)
        choice.activated.connect(
            lambda at: self._change(name, choice.itemData(at), choice.itemText(at))
        )
        self.choices[name] = choice
        self._column.addWidget(choice)

    def _field(self, opening: PlateOpening, name: str) -> BoundField:
        opening_id = opening.id

        def get(project: Project) -> str:
            return record_numbers.figure_of(opening_edits.opening_of(project, opening_id), name)

        put: Callable[[Project, str], Project] = lambda project, text: (  # noqa: E731
            opening_edits.type_opening(project, opening_id, name, text)
        )
        title = _SIZE_TITLES.get((opening.kind.value, name), _TITLES.get(name, field_title(name)))
        return BoundField(self._session, title, get, put, unit=record_numbers.unit_of(name))

    def _change(self, name: str, value: object, words: str) -> None:
        opening_id = self._opening
        self._session.attempt(
            f"{opening_id} {words}",
            lambda p: opening_edits.change_opening(p, opening_id, **{name: value}),
        )

    def _take_out(self) -> None:
        opening_id = self._opening
        after_event(self, lambda: self._session.attempt(
            f"{opening_id} taken out", lambda p: opening_edits.remove_opening(p, opening_id)
        ))  # fmt: skip
