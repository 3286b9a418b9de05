"""The picked plate of a free structure: its name, its sheet, its outline, and where it stands."""

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QLineEdit, QVBoxLayout

from anzel.app.edits import free_structure_edits, many_edits, relation_edits, sketch_edits
from anzel.app.selection import ThingKind
from anzel.app.session import Session
from anzel.app.views.assembly_play import goes_in
from anzel.core.immutable import field_title
from anzel.core.number_format import plain_figure
from anzel.project.model import Project
from anzel.shape.sketch import Corner, HeldSize
from anzel.structure.free.numbers import ANGLES, plate_path
from anzel.structure.free.outline_shapes import Profile, SketchedOutline
from anzel.structure.free.plate import FreePlate
from anzel.ui.widgets.artwork_panel import ArtworkPanel
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import FoldingSection, clear, folds_in_a_row, quiet
from anzel.ui.widgets.corner_panel import CornerPanel
from anzel.ui.widgets.curve_canvas import Curve, Paper
from anzel.ui.widgets.curve_editor import CurveEditor
from anzel.ui.widgets.members_panel import MembersPanel
from anzel.ui.widgets.openings_panel import OpeningsPanel
from anzel.ui.widgets.picture_panel import PicturePanel
from anzel.ui.widgets.placing_panel import PlacingPanel
from anzel.ui.widgets.thing_page import ThingPage
from anzel.ui.widgets.wheel_safe import Choice

_PLACE = {"x": "East", "y": "North", "z": "Up", "turn": "Turned", "tilt": "Tilted", "spin": "Spun"}
_ABOUT = {
    "x": "Of its middle", "y": "Of its middle", "z": "Of its middle, above the table",
    "turn": "Round the upright axis", "tilt": "0 lying, 90 upright", "spin": "In its own plane",
}  # fmt: skip

_MANY_SIZES = 6
"""A plate with so many sizes shows first those, and where it stands when that is asked for."""


class PlatePage(ThingPage):
    """Fields for one plate, made anew for a plate of another shape."""

    picture_wanted = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shape = ""
        self.fields: dict[str, BoundField] = {}
        self._numbers = QVBoxLayout()
        self._numbers.setContentsMargins(0, 0, 0, 0)
        self._numbers.setSpacing(5)
        self._goes_in = quiet("")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        column.addLayout(self._numbers)
        column.addWidget(self._goes_in)

    @property
    def _name(self) -> str:
        return self._session.selection.plate_name

    def focus_name(self) -> None:
        """Ready to type another name."""
        self._rename.setFocus()
        self._rename.selectAll()

    def refresh(self) -> None:
        """Show the picked plate as it is now."""
        project = self._session.project
        plate = free_structure_edits.plate_of(project, self._name)
        if self._shape_of(plate) != self._shape:
            self._shape = self._shape_of(plate)
            self._make(plate.name)
        for field in self.fields.values():
            field.refresh()
        if self._corner is not None:
            self._corner.refresh()
        self._true_size.setChecked(plate.true_size)
        words = goes_in(project, plate.name)
        self._goes_in.setText(words)
        self._goes_in.setVisible(bool(words))
        self.placing.show_plate(plate.name)
        self.members.show_plate(plate.name)
        self.openings.show_plate(plate.name)
        self.artwork.show_plate(plate.name)
        self.picture.show_plate(plate.name)
        self._rename.setText(plate.name)
        self._stock.clear()
        for stock in project.stocks:
            self._stock.addItem(stock.name, stock.id)
        self._stock.setCurrentIndex(self._stock.findData(plate.stock))
        if isinstance(plate.outline, Profile):
            self._curve.show_curve(plate.outline.points, Paper(closed=True))

    def _make(self, name: str) -> None:
        """Fields for a plate of another shape."""
        clear(self._numbers)
        outline = free_structure_edits.plate_of(self._session.project, name).outline
        self._corner: CornerPanel | None = None
        self._rename = QLineEdit()
        self._rename.setAccessibleName("The plate's name")
        self._rename.editingFinished.connect(self._take_name)
        self._stock = Choice()
        self._stock.setAccessibleName("Cut from")
        self._stock.activated.connect(self._take_stock)
        self._numbers.addWidget(self._rename)
        self._numbers.addWidget(self._stock)
        if isinstance(outline, Profile):
            self._curve = CurveEditor()
            self._curve.changed.connect(self._take_points)
            self._numbers.addWidget(self._curve)
        sizes = [n for n, f in type(outline).model_fields.items() if f.annotation is float]
        self.fields = {}
        if isinstance(outline, SketchedOutline):
            for size in outline.sketch.sizes:
                self.fields[size.name] = self._size(size)
                self._numbers.addWidget(self.fields[size.name])
            self._corner = CornerPanel(
                self._session, "Free corners",
                lambda project: self._usual_corner(project, name),
                lambda project, corner: sketch_edits.change_corner(project, name, corner),
            )  # fmt: skip
            self._numbers.addWidget(self._corner)
        for field in sizes:
            self.fields[field] = self._number(field, on_outline=True)
            self._numbers.addWidget(self.fields[field])
        for at, _ in enumerate(free_structure_edits.plate_of(self._session.project, name).bends):
            self.fields[f"bend {at}"] = self._bend(at)
            self._numbers.addWidget(self.fields[f"bend {at}"])
        self._add_parts()

    def _add_parts(self) -> None:
        """What a plate of any shape has: how it is placed and repeated, and what is on it."""
        self._true_size = QCheckBox("Comes out as typed")
        self._true_size.setToolTip(
            "Its outline is drawn larger by the kerf, so that the cut plate has the typed size"
        )
        self._true_size.clicked.connect(self._take_true_size)
        self.placing, self.members = PlacingPanel(self._session), MembersPanel(self._session)
        self.openings = OpeningsPanel(self._session)
        self.picture = PicturePanel(self._session)
        self.picture.wanted.connect(self.picture_wanted)
        self.artwork = ArtworkPanel(self._session)
        few = len(self.fields) < _MANY_SIZES
        is_held = bool(relation_edits.relations_of(self._session.project, self._name))
        stands = FoldingSection("Numbers", is_open=few and not is_held)
        for field in (*free_structure_edits.PLACES, *ANGLES):
            self.fields[field] = self._number(field, on_outline=False)
            stands.add(self.fields[field])
        placing = folds_in_a_row(self.placing, stands, self.members)
        for part in (self._true_size, placing, self.openings, self.artwork, self.picture):
            self._numbers.addWidget(part)

    @staticmethod
    def _usual_corner(project: Project, name: str) -> Corner:
        sketch = sketch_edits.sketch_of(project, name)
        return sketch.corner if sketch is not None else Corner()

    @staticmethod
    def _shape_of(plate: FreePlate) -> str:
        """Return what the fields depend on."""
        outline = plate.outline
        sizes = outline.sketch.sizes if isinstance(outline, SketchedOutline) else ()
        bends = str(len(plate.bends))
        return " ".join((plate.name, outline.shape, bends, *(size.name for size in sizes)))

    def _size(self, size: HeldSize) -> BoundField:
        """A size of a drawn plate, retyped at any time."""
        unit = size.kind.unit

        def get(project: Project) -> str:
            held = sketch_edits.drawn_size(self._of_this_shape(project), self._name, size.name)
            return plain_figure(held.value, unit)

        made = BoundField(
            self._session, field_title(size.name), get,
            lambda project, text: sketch_edits.type_size(project, self._name, size.name, text),
            unit=unit,
        )  # fmt: skip
        made.setToolTip(f"{size.kind.value.capitalize()}: {', '.join(size.of)}")
        return made

    def _bend(self, at: int) -> BoundField:
        """How far a living hinge is bent that a drawing brought along."""
        several = len(free_structure_edits.plate_of(self._session.project, self._name).bends) > 1
        which = f" {at + 1}" if several else ""

        def get(project: Project) -> str:
            plate = free_structure_edits.plate_of(self._of_this_shape(project), self._name)
            return plain_figure(plate.bends[at], "°")

        return BoundField(
            self._session, f"Hinge{which} bent by", get,
            lambda project, text: free_structure_edits.type_bend(project, self._name, at, text),
            step=15.0, unit="°",
        )  # fmt: skip

    def _of_this_shape(self, project: Project) -> Project:
        """Return the project, or the present one where a pending change gives another shape."""
        plate = free_structure_edits.plate_of(project, self._name)
        return project if self._shape_of(plate) == self._shape else self._session.project

    def _number(self, field: str, *, on_outline: bool) -> BoundField:
        unit = "°" if field in ANGLES else "mm"

        def get(project: Project) -> str:
            plate = relation_edits.standing_plate(self._of_this_shape(project), self._name)
            return plain_figure(getattr(plate.outline if on_outline else plate, field), unit)

        made = BoundField(
            self._session,
            _PLACE.get(field, field_title(field)),
            get,
            lambda project, text: self._typed(project, field, text),
            step=5.0 if field in ANGLES else 1.0,
            unit=unit,
            path=lambda: plate_path(self._name, field),
        )
        made.setToolTip(_ABOUT.get(field, ""))
        return made

    @property
    def _names(self) -> tuple[str, ...]:
        """The picked plates; what is changed here is changed on all of them."""
        return self._session.selection.names(ThingKind.PLATE) or (self._name,)

    def _typed(self, project: Project, field: str, text: str) -> Project:
        """Return the project with a number of every picked plate that has it."""
        for name in self._names:
            plate = free_structure_edits.plate_of(project, name)
            if name == self._name or hasattr(plate, field) or hasattr(plate.outline, field):
                project = free_structure_edits.type_plate(project, name, field, text)
        return project

    def _take_name(self) -> None:
        old, new = self._name, self._rename.text().strip()
        if not old or new == old:
            return
        if self._session.attempt(
            f"{old} → {new}", lambda p: free_structure_edits.rename_plate(p, old, new)
        ):
            self._session.pick_plate(new)
        else:
            self._rename.setText(old)

    def _take_stock(self, index: int) -> None:
        names, stock_id = self._names, self._stock.itemData(index)
        words = f"{', '.join(names)} from {self._stock.itemText(index)}"
        self._session.attempt(words, lambda p: many_edits.use_stock(p, names, stock_id))

    def _take_true_size(self, is_on: bool) -> None:
        words = f"{self._name} comes out {'as typed' if is_on else 'as drawn'}"
        names = self._names

        def edit(project: Project) -> Project:
            for name in names:
                project = free_structure_edits.change_plate(project, name, true_size=is_on)
            return project

        if not self._session.attempt(words, edit):
            self.refresh()

    def _take_points(self, points: Curve) -> None:
        name = self._name
        if not self._session.attempt(
            f"Outline of {name}",
            lambda p: free_structure_edits.change_outline(p, name, points=points),
        ):
            self.refresh()
