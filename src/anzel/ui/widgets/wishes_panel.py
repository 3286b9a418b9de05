"""What the maker wishes of the order: this before that, these first together, another way in."""

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QListWidgetItem, QVBoxLayout, QWidget

from anzel.app.edits import assembly_edits
from anzel.app.session import Session
from anzel.assembly.records import AssemblyProof
from anzel.geometry.placement import Vector
from anzel.ui.widgets.common_widgets import button, fill_rows, named_list, quiet, section
from anzel.ui.widgets.wheel_safe import Choice

_ROWS = 5
_WAYS: tuple[tuple[str, Vector], ...] = (
    ("from above", (0.0, 0.0, -1.0)), ("from below", (0.0, 0.0, 1.0)),
    ("from the left", (1.0, 0.0, 0.0)), ("from the right", (-1.0, 0.0, 0.0)),
    ("from the front", (0.0, 1.0, 0.0)), ("from behind", (0.0, -1.0, 0.0)),
)  # fmt: skip


class WishesPanel(QWidget):
    """Wishes for the pieces that are picked in the list of steps."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._names: tuple[str, ...] = ()
        self._all: tuple[str, ...] = ()
        self.before, self.way = Choice(), Choice()
        self.before.setAccessibleName("Goes in before")
        self.way.setAccessibleName("Its way in")
        self.way.addItems(["as proven", *(words for words, _ in _WAYS)])
        self.before.activated.connect(self._go_before)
        self.way.activated.connect(self._come_in)
        self.together = button("Put these together first")
        self.together.clicked.connect(self._together)
        self._pair = _row("Before", self.before)
        self._direction = _row("Way in", self.way)
        self.list = named_list("Wishes for the order")
        self.list.itemActivated.connect(self._take_back)
        self._back = button("Take the picked wish back", "Flat")
        self._back.clicked.connect(lambda: self._take_back(self.list.currentItem()))
        self._hint = quiet("Pick a piece in the list to say when or from where it shall go in.")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self._title = section("Your wishes")
        for widget in (self._title, self._hint, self._pair, self._direction, self.together,
                       self.list, self._back):  # fmt: skip
            column.addWidget(widget)

    def show_pieces(self, names: tuple[str, ...], proof: AssemblyProof) -> None:
        """Show what can be wished for pieces, and what is wished for already."""
        self._names = names
        wishes = self._session.project.assembly
        self._all = tuple(dict.fromkeys(name for step in proof.steps for name in step.pieces))
        one = len(names) == 1
        self._hint.setVisible(not names)
        self._pair.setVisible(one)
        self._direction.setVisible(one)
        self.together.setVisible(len(names) > 1)
        if one:
            others = [name for name in self._all if name != names[0]]
            self.before.clear()
            self.before.addItems(["any of the others", *others])
            told = next((w.direction for w in wishes.directions if w.piece == names[0]), None)
            ways = [way for _, way in _WAYS]
            self.way.setCurrentIndex(ways.index(told) + 1 if told in ways else 0)
        words = list(assembly_edits.wishes_in_words(wishes))
        fill_rows(self.list, words, _ROWS)
        self.list.setVisible(bool(words))
        self._back.setVisible(bool(words))

    def _go_before(self, number: int) -> None:
        if number > 0 and self._names:
            first, then = self._names[0], self.before.itemText(number)
            self._session.attempt(
                f"{first} before {then}", lambda p: assembly_edits.goes_before(p, first, then)
            )

    def _come_in(self, number: int) -> None:
        if self._names:
            name = self._names[0]
            way = _WAYS[number - 1][1] if number else None
            self._session.attempt(
                f"{name} {self.way.itemText(number)}",
                lambda p: assembly_edits.come_in(p, name, way),
            )

    def _together(self) -> None:
        names = self._names
        self._session.attempt(
            "First together", lambda p: assembly_edits.put_together_first(p, names)
        )

    def _take_back(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            number = self.list.row(item)
            self._session.attempt("Wish taken back", lambda p: assembly_edits.take_back(p, number))


def _row(words: str, choice: QComboBox) -> QWidget:
    made = QWidget()
    row = QHBoxLayout(made)
    row.setContentsMargins(0, 0, 0, 0)
    row.addWidget(quiet(words))
    row.addWidget(choice, 1)
    return made
