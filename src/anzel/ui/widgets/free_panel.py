"""A free structure in the panel: its plates, the joints offered, and the picked plate's numbers."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from anzel.app.edits import free_structure_edits
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.core.immutable import field_title
from anzel.core.number_format import plain_figure
from anzel.project.model import Project
from anzel.structure.free.outline_shapes import SHAPES, Profile
from anzel.structure.joints.registry import KINDS, kind_of
from anzel.ui.file_choice import DRAWINGS, choose_file
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import button, clear, fit_rows, section
from anzel.ui.widgets.curve_canvas import Curve, Paper
from anzel.ui.widgets.curve_editor import CurveEditor
from anzel.ui.widgets.deferred_call import after_event
from anzel.ui.widgets.joint_fields import JointFields
from anzel.ui.widgets.wheel_safe import Choice

_ROWS = 6
_PLACE = {"x": "East", "y": "North", "z": "Up", "turn": "Turned", "tilt": "Tilted", "spin": "Spun"}
_ABOUT = {
    "x": "Of its middle", "y": "Of its middle", "z": "Of its middle, above the table",
    "turn": "Round the upright axis", "tilt": "0 lying, 90 upright", "spin": "In its own plane",
}  # fmt: skip


class FreePanel(QWidget):
    """Shown in the place of a form's fields."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shape = ""
        self._ways: list[tuple[int, int]] = []
        self.fields: dict[str, BoundField] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.joint = JointFields(session)
        column.addWidget(self.joint)
        self._offers_title = section("Could be joined")
        self.offers = _list("Joints that could be made; Enter makes the picked one")
        self.offers.itemActivated.connect(self._take_offer)
        self.all = button("Join all of them", "Primary")
        self.all.clicked.connect(self.join_all)
        column.addWidget(self._offers_title)
        column.addWidget(self.offers)
        column.addWidget(self.all)
        column.addWidget(section("Plates"))
        self.plates = _list("Plates")
        self.plates.currentRowChanged.connect(self._pick_row)
        column.addWidget(self.plates)
        column.addWidget(self._adder())
        column.addLayout(self._plate_bar())
        self._plate = QWidget()
        self._numbers = QVBoxLayout(self._plate)
        self._numbers.setContentsMargins(0, 0, 0, 0)
        self._numbers.setSpacing(5)
        column.addWidget(self._plate)

    def _adder(self) -> QPushButton:
        add = button("Add a plate")
        menu = QMenu(add)
        for kind in SHAPES:
            menu.addAction(kind.capitalize(), partial(self.add, kind))
        menu.addAction("From a drawing…", self.choose_drawing)
        add.setMenu(menu)
        return add

    def _plate_bar(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self._of_plate = [button(words) for words in ("Copy", "Set down", "Remove")]
        for each, call in zip(self._of_plate, (self.copy, self.set_down, self.remove), strict=True):
            each.clicked.connect(call)
            row.addWidget(each)
        self._of_plate[1].setToolTip("Lowered or raised until it stands on the table")
        return row

    @property
    def _name(self) -> str:
        return self._session.selection.plate_name

    def refresh(self) -> None:
        """Show the structure and what is picked."""
        project = self._session.project
        free = free_structure_edits.free_of(project)
        names = [plate.name for plate in free.plates]
        _fill(self.plates, names, names.index(self._name) if self._name in names else -1)
        self.joint.setVisible(not self._name)
        self.joint.refresh()
        offers = free_structure_edits.suggestions_of(project)
        self._ways = [(n, way) for n, offer in enumerate(offers) for way in range(len(offer.ways))]
        _fill(self.offers, [shown(offers[n].words(way)) for n, way in self._ways], -1)
        for widget in (self._offers_title, self.offers, self.all):
            widget.setVisible(bool(offers))
        for each in self._of_plate:
            each.setEnabled(bool(self._name))
        self._plate.setVisible(bool(self._name))
        if self._name:
            self._show_plate(project)

    def _show_plate(self, project: Project) -> None:
        plate = free_structure_edits.plate_of(project, self._name)
        if f"{plate.name} {plate.outline.shape}" != self._shape:
            self._shape = f"{plate.name} {plate.outline.shape}"
            self._make(plate.name)
        for field in self.fields.values():
            field.refresh()
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
        self._rename = QLineEdit()
        self._rename.setAccessibleName("The plate's name")
        self._rename.editingFinished.connect(self._take_name)
        self._stock = Choice()
        self._stock.setAccessibleName("Cut from")
        self._stock.activated.connect(self._take_stock)
        self._numbers.addWidget(section("This plate"))
        self._numbers.addWidget(self._rename)
        self._numbers.addWidget(self._stock)
        if isinstance(outline, Profile):
            self._curve = CurveEditor()
            self._curve.changed.connect(self._take_points)
            self._numbers.addWidget(self._curve)
        sizes = [n for n, f in type(outline).model_fields.items() if f.annotation is float]
        self.fields = {}
        for field in (*sizes, *free_structure_edits.PLACES, *free_structure_edits.ANGLES):
            self.fields[field] = self._number(field, on_outline=field in sizes)
            self._numbers.addWidget(self.fields[field])

    def _number(self, field: str, *, on_outline: bool) -> BoundField:
        unit = "°" if field in free_structure_edits.ANGLES else "mm"

        def get(project: Project) -> str:
            plate = free_structure_edits.plate_of(project, self._name)
            return plain_figure(getattr(plate.outline if on_outline else plate, field), unit)

        made = BoundField(
            self._session,
            _PLACE.get(field, field_title(field)),
            get,
            lambda project, text: free_structure_edits.type_plate(project, self._name, field, text),
            step=5.0 if field in free_structure_edits.ANGLES else 1.0,
            unit=unit,
        )
        made.setToolTip(_ABOUT.get(field, ""))
        return made

    def _take_offer(self, item: QListWidgetItem) -> None:
        way = self._ways[self.offers.row(item)]
        after_event(self, lambda: self.take(*way))

    def take(self, number: int, way: int = 0) -> None:
        """One of the joints offered is made, in one of its ways."""
        offers = free_structure_edits.suggestions_of(self._session.project)
        if 0 <= number < len(offers):
            chosen = offers[number].ways[way]
            words = f"{chosen.id} {KINDS[kind_of(chosen)].words}"
            if self._session.attempt(words, lambda p: free_structure_edits.join(p, chosen)):
                self._session.selection.pick_joint(chosen.id)

    def join_all(self) -> None:
        """All joints offered are made."""
        self._session.attempt("All joined that meets", free_structure_edits.join_all)

    def add(self, kind: str) -> None:
        """A plate of a shape."""
        stock_id = self._session.selection.stock_id
        self._made(kind.capitalize(), lambda p: free_structure_edits.add_shape(p, kind, stock_id))

    def choose_drawing(self) -> None:
        """Choose a drawing and bring its outlines in."""
        path = choose_file(self, "Outlines from a drawing", DRAWINGS)
        if path is not None:
            self.bring(path)

    def bring(self, path: Path) -> None:
        """The outlines of a drawing as plates; any other form becomes a free structure for it."""
        stock_id = self._session.selection.stock_id

        def make(project: Project) -> tuple[Project, str]:
            found, names = free_structure_edits.add_drawing(
                free_structure_edits.make_free(project), path, stock_id
            )
            return found, names[0]

        self._made(path.name, make)

    def copy(self) -> None:
        """Another plate like the picked one."""
        name = self._name
        self._made(f"{name} copied", lambda p: free_structure_edits.copy_plate(p, name))

    def set_down(self) -> None:
        """The picked plate on the table."""
        name = self._name
        self._session.attempt(
            f"{name} set down", lambda p: free_structure_edits.put_on_table(p, name)
        )

    def remove(self) -> None:
        """The picked plate out, and its joints."""
        name = self._name
        self._session.attempt(
            f"{name} removed", lambda p: free_structure_edits.remove_plate(p, name)
        )

    def _made(self, words: str, make: Callable[[Project], tuple[Project, str]]) -> None:
        """A change that makes a plate, which is then picked."""
        names: list[str] = []

        def put(project: Project) -> Project:
            made, name = make(project)
            names.append(name)
            return made

        if self._session.attempt(f"{words} added", put):
            self._session.pick_plate(names[0])

    def _pick_row(self, row: int) -> None:
        plates = free_structure_edits.free_of(self._session.project).plates
        if 0 <= row < len(plates):
            self._session.pick_plate(plates[row].name)

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
        name, stock_id = self._name, self._stock.itemData(index)
        words = f"{name} from {self._stock.itemText(index)}"
        self._session.attempt(
            words, lambda p: free_structure_edits.change_plate(p, name, stock=stock_id)
        )

    def _take_points(self, points: Curve) -> None:
        name = self._name
        if not self._session.attempt(
            f"Outline of {name}",
            lambda p: free_structure_edits.change_outline(p, name, points=points),
        ):
            self.refresh()


def _list(name: str) -> QListWidget:
    made = QListWidget()
    made.setAccessibleName(name)
    made.setUniformItemSizes(True)
    return made


def _fill(rows: QListWidget, words: list[str], picked: int) -> None:
    """A list with these rows, as high as they are up to a few."""
    rows.blockSignals(True)
    rows.clear()
    rows.addItems(words)
    rows.setCurrentRow(picked)
    rows.blockSignals(False)
    fit_rows(rows, _ROWS, least=1)
