"""What is picked on a drawn plate: its measures, typed to hold; corners; what is still free."""

from collections.abc import Sequence

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from anzel.app.edits import project_edits, sketch_edits
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.app.views.sketch_measures import Measure, corner_of, held_by, measures_of, place_of
from anzel.core.number_format import plain_figure, plain_length
from anzel.project.model import Project
from anzel.shape.sketch import Corner, Sketch
from anzel.shape.sketch_changes import with_corner
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import button, clear, quiet, section
from anzel.ui.widgets.corner_panel import CornerPanel
from anzel.ui.widgets.repeat_panel import RepeatPanel
from anzel.ui.widgets.thing_page import ThingPage


class SketchPage(ThingPage):
    """Fields for what can be measured between the picked things; typing one holds it."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._key: object = None
        self.fields: dict[str, BoundField] = {}
        self._corner: CornerPanel | None = None
        self._column = QVBoxLayout()
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(5)
        self.repeat = RepeatPanel(session)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(5)
        whole.addLayout(self._column)
        whole.addWidget(self.repeat)

    @property
    def _things(self) -> tuple[Thing, ...]:
        return self._session.selection.things

    @property
    def _plate(self) -> str:
        return self._session.selection.plate_name

    def refresh(self) -> None:
        """Show what is picked as it is now."""
        sketch = sketch_edits.sketch_of(self._session.project, self._plate)
        if sketch is None:
            return
        measures = measures_of(sketch, self._things)
        key = (self._things, tuple(m.key for m in measures), tuple(held_by(sketch, self._things)))
        if key != self._key:
            self._key = key
            self._make(sketch, measures)
        for field in self.fields.values():
            field.refresh()
        is_opening = [thing.kind for thing in self._things] == [ThingKind.OPENING]
        self.repeat.setVisible(is_opening)
        if is_opening:
            self.repeat.show_opening(self._plate, self._things[0].name)
        if self._corner is not None:
            self._corner.refresh()

    def _make(self, sketch: Sketch, measures: Sequence[Measure]) -> None:
        clear(self._column)
        self._corner = None
        self.fields = {measure.key: self._field(measure) for measure in measures}
        if measures:
            self._column.addWidget(quiet("Type a size, and it holds."))
        for measure in measures:
            self._column.addWidget(self.fields[measure.key])
            if not measure.held:
                self._column.addWidget(self._holder(measure))
        if [thing.kind for thing in self._things] == [ThingKind.POINT]:
            self._add_place(self._things[-1].name)
            self._add_corner(self._things[-1].name)
        held = held_by(sketch, self._things)
        if held:
            self._column.addWidget(section("What holds it"))
        for number, words in held.items():
            self._column.addWidget(self._held_row(number, words))

    def _field(self, measure: Measure) -> BoundField:
        unit = measure.kind.unit
        plate, things = self._plate, self._things

        def get(project: Project) -> str:
            sketch = sketch_edits.sketch_of(project, plate)
            now = measures_of(sketch, things) if sketch is not None else []
            found = next((each.value for each in now if each.key == measure.key), measure.value)
            return plain_figure(found, unit)

        def put(project: Project, text: str) -> Project:
            value = sketch_edits.typed_size(text, measure.kind, "size")
            return sketch_edits.measure(project, plate, measure, value)

        words = f"{measure.words}, held" if measure.held else measure.words
        return BoundField(self._session, words, get, put, unit=unit)

    def _holder(self, measure: Measure) -> QWidget:
        """A button that holds a measure as it is."""
        made = button("Hold it as it is", "Flat")
        made.setAccessibleName(f"Hold as it is: {measure.words}")
        plate = self._plate
        made.clicked.connect(
            lambda: self._session.attempt(
                f"{measure.words} held",
                lambda p: sketch_edits.measure(p, plate, measure, measure.value),
            )
        )
        return made

    def _add_place(self, name: str) -> None:
        """Where the point is, along x and y; typing moves it, as far as sizes allow."""
        plate = self._plate
        for axis, words in enumerate(("x", "y")):

            def get(project: Project, axis: int = axis) -> str:
                sketch = sketch_edits.sketch_of(project, plate)
                place = place_of(sketch, name) if sketch is not None else None
                return plain_length(place[axis], 6) if place is not None else ""

            def put(project: Project, text: str, axis: int = axis) -> Project:
                value = project_edits.typed_length(text, "place")
                return sketch_edits.move_point(project, plate, name, axis, value)

            self.fields[words] = field = BoundField(self._session, words, get, put)
            self._column.addWidget(field)

    def _add_corner(self, name: str) -> None:
        plate = self._plate

        def get(project: Project) -> Corner:
            sketch = sketch_edits.sketch_of(project, plate)
            return corner_of(sketch, name) if sketch is not None else Corner()

        def put(project: Project, corner: Corner) -> Project:
            sketch = sketch_edits.drawn_sketch(project, plate)
            return sketch_edits.change_sketch(project, plate, with_corner(sketch, name, corner))

        self._corner = CornerPanel(self._session, "Corner", get, put)
        self._column.addWidget(self._corner)

    def _held_row(self, number: str, words: str) -> QWidget:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(quiet(words), 1)
        out = button("Let go", "Flat")
        out.setAccessibleName(f"Let go: {words}")
        plate = self._plate
        out.clicked.connect(
            lambda: self._session.attempt(
                f"{words}, let go", lambda p: sketch_edits.let_go(p, plate, number)
            )
        )
        line.addWidget(out)
        return row
