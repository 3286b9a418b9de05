"""Numbers with a name: each a field that holds a figure or a sum, and a line to add another."""

from functools import partial

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from anzel.app.edits import formula_edits
from anzel.app.session import Session
from anzel.core.number_format import plain_figure
from anzel.project.derive import fit_context_of
from anzel.project.model import Project
from anzel.structure.formulas import is_figure
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import FoldingSection, button, clear, quiet

_TITLE = "Names"


class NamesPanel(FoldingSection):
    """The named numbers of the structure, a fold of the page of the whole."""

    def __init__(self, session: Session) -> None:
        super().__init__(_TITLE)
        self._session = session
        self._shown: tuple[str, ...] | None = None
        self.fields: dict[str, BoundField] = {}
        self._rows = QWidget()
        self._list = QVBoxLayout(self._rows)
        self._list.setContentsMargins(0, 0, 0, 0)
        self._list.setSpacing(3)
        self._hint = quiet(
            "Any field takes sums with these names, sizes of other plates and “sheet”, the "
            "measured thickness: wall − 2 × sheet."
        )
        self.name, self.value = QLineEdit(), QLineEdit()
        self.name.setPlaceholderText("name, as wall")
        self.name.setAccessibleName("Name of a new number")
        self.value.setPlaceholderText("figure or sum")
        self.value.setAccessibleName("Value of the new number")
        adding = button("Add")
        adding.clicked.connect(self.take)
        self.value.returnPressed.connect(self.take)
        row = QHBoxLayout()
        for widget in (self.name, self.value, adding):
            row.addWidget(widget)
        adder = QWidget()
        row.setContentsMargins(0, 0, 0, 0)
        adder.setLayout(row)
        self.add(self._rows, adder, self._hint)

    def refresh(self) -> None:
        """Show the named numbers as they are now."""
        names = tuple(number.name for number in self._session.project.structure.own_numbers)
        if names != self._shown:
            self._shown = names
            clear(self._list)
            self.fields = {}
            for name in names:
                self._list.addWidget(self._row(name))
            self.rename(f"{_TITLE}, {len(names)}" if names else _TITLE)
            if names:
                self.head.setChecked(True)
        for field in self.fields.values():
            field.refresh()

    def _row(self, name: str) -> QWidget:
        self.fields[name] = field = _NameField(self._session, name)
        off = button("×", "Flat")
        off.setToolTip("Take the name away; what follows it keeps its last value")
        off.setAccessibleName(f"Take {name} away")
        off.clicked.connect(partial(self._take_away, name))
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(field, 1)
        line.addWidget(off)
        return row

    def take(self) -> None:
        """Add the number that is typed."""
        name, text = self.name.text().strip(), self.value.text().strip()
        if (
            name
            and text
            and self._session.attempt(
                f"{name} is {text}", lambda p: formula_edits.name_number(p, name, text)
            )
        ):
            self.name.clear()
            self.value.clear()
            self.name.setFocus()

    def _take_away(self, name: str) -> None:
        self._session.attempt(f"{name} taken away", lambda p: formula_edits.remove_number(p, name))


class _NameField(BoundField):
    """A named number: its own text is shown, and what a sum comes to after it."""

    def __init__(self, session: Session, name: str) -> None:
        def get(project: Project) -> str:
            found = project.structure.worked_out(fit_context_of(project))
            amount = found.names.get(name)
            return "" if amount is None else plain_figure(amount.value, "mm")

        super().__init__(
            session, name, get,
            lambda project, text: formula_edits.name_number(project, name, text),
        )  # fmt: skip
        self._name = name

    def _show(self, project: Project) -> None:
        numbers = project.structure.own_numbers
        text = next((each.text for each in numbers if each.name == self._name), "")
        trouble = formula_edits.trouble_at(project, self._name)
        formula = "" if is_figure(text) else text
        self.show_value(self._get(project), formula, trouble)
