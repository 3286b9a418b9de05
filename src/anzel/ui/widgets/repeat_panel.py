"""How an opening of a drawn plate is repeated: once, in a row, a grid, a ring, or mirrored."""

from PySide6.QtWidgets import QVBoxLayout, QWidget

from anzel.app.edits import project_edits, sketch_edits
from anzel.app.session import Session
from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_length
from anzel.project.model import Project
from anzel.shape.sketch import Repeat, RepeatKind
from anzel.shape.sketch_changes import with_repeat, without_repeat
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.wheel_safe import Choice

_KINDS = {
    None: "once", RepeatKind.ROW: "repeated in a row", RepeatKind.GRID: "repeated in a grid",
    RepeatKind.RING: "repeated in a ring", RepeatKind.MIRRORED_X: "mirrored left to right",
    RepeatKind.MIRRORED_Y: "mirrored up and down", RepeatKind.MIRRORED_BOTH: "mirrored both ways",
}  # fmt: skip
_FIELDS = {
    RepeatKind.ROW: ("count", "step x", "step y"),
    RepeatKind.GRID: ("count", "rows", "step x", "step y"),
    RepeatKind.RING: ("count", "centre x", "centre y"),
}
_COUNTS = ("count", "rows")
_STEP = 10.0


class RepeatPanel(QWidget):
    """Shows and changes the repeat of one opening."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._plate = self._opening = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.kind = Choice()
        self.kind.setAccessibleName("How it is repeated")
        for kind, words in _KINDS.items():
            self.kind.addItem(words, kind)
        self.kind.activated.connect(self._take_kind)
        column.addWidget(self.kind)
        names = dict.fromkeys(name for each in _FIELDS.values() for name in each)
        self.fields = {name: self._field(name) for name in names}
        for field in self.fields.values():
            column.addWidget(field)

    def show_opening(self, plate: str, opening: str) -> None:
        """Show the repeat of an opening as it is now."""
        self._plate, self._opening = plate, opening
        repeat = self._repeat(self._session.project)
        self.kind.setCurrentIndex(self.kind.findData(repeat.kind if repeat else None))
        wanted = _FIELDS.get(repeat.kind, ()) if repeat is not None else ()
        for name, field in self.fields.items():
            field.setVisible(name in wanted)
            if name in wanted:
                field.refresh()

    def _repeat(self, project: Project) -> Repeat | None:
        sketch = sketch_edits.sketch_of(project, self._plate)
        return sketch.repeat(self._opening) if sketch is not None else None

    def _field(self, name: str) -> BoundField:
        def get(project: Project) -> str:
            repeat = self._repeat(project)
            if repeat is None:
                return ""
            if name in _COUNTS:
                return str(getattr(repeat, name))
            what, _, axis = name.partition(" ")
            return plain_length(getattr(repeat, what)["xy".index(axis)])

        def put(project: Project, text: str) -> Project:
            repeat = self._repeat(project)
            if repeat is None:
                raise ParameterError(f"“{self._opening}” is there only once.", field=name)
            if name in _COUNTS:
                changed = repeat.with_changes(**{name: _whole(text, name)})
            else:
                what, _, axis = name.partition(" ")
                pair = list(getattr(repeat, what))
                pair["xy".index(axis)] = project_edits.typed_length(text, what)
                changed = repeat.with_changes(**{what: tuple(pair)})
            return self._with(project, changed)

        return BoundField(
            self._session, name.capitalize(), get, put, unit="" if name in _COUNTS else "mm"
        )

    def _with(self, project: Project, repeat: Repeat | None) -> Project:
        sketch = sketch_edits.drawn_sketch(project, self._plate)
        changed = (
            with_repeat(sketch, repeat) if repeat is not None
            else without_repeat(sketch, self._opening)
        )  # fmt: skip
        return sketch_edits.change_sketch(project, self._plate, changed)

    def _take_kind(self, index: int) -> None:
        kind, words = self.kind.itemData(index), self.kind.itemText(index)
        step = (_STEP, _STEP if kind == RepeatKind.GRID else 0.0)
        repeat = None
        if kind is not None:
            repeat = Repeat(of=self._opening, kind=kind, count=2, step=step)
        self._session.attempt(
            f"{self._opening} {words}", lambda project: self._with(project, repeat)
        )
        self.show_opening(self._plate, self._opening)


def _whole(text: str, name: str) -> int:
    """Return a typed count.

    Raises ParameterError.
    """
    try:
        return int(text)
    except ValueError as error:
        raise ParameterError(f"“{text}” is no whole number.", field=name) from error
