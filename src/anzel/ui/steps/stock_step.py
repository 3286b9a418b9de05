"""The first step: the rack of sheets, and the picked one as bought and as measured."""

from collections.abc import Callable

from PySide6.QtGui import QColor
from PySide6.QtWidgets import (
    QColorDialog,
    QGridLayout,
    QInputDialog,
    QLabel,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from anzel.app.edits import project_edits, stock_edits
from anzel.app.navigation import Step
from anzel.app.number_display import number_format, shown, shown_length
from anzel.app.session import Session
from anzel.app.views.stock_summary import stock_summary
from anzel.core.number_format import plain_length
from anzel.materials.fits import FIT_MEANING, FitName
from anzel.materials.material import Faces, Grain, Material, PressBehaviour
from anzel.materials.stock import Stock
from anzel.project.model import Project
from anzel.ui.steps.step_page import StepPage
from anzel.ui.theme import when_dressed
from anzel.ui.views.rack_view import RackView
from anzel.ui.views.thickness_view import ThicknessView
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import (
    FoldingSection,
    button,
    choice_row,
    quiet,
    section,
    swatch,
)
from anzel.ui.widgets.measure_field import MeasureField
from anzel.ui.widgets.reading_list import ReadingList
from anzel.ui.widgets.scrap_list import ScrapList
from anzel.ui.widgets.sheet_sizes import SheetSizes
from anzel.ui.widgets.wheel_safe import Choice

_NATURE_WORDS = {
    PressBehaviour.FIRM: "firm: takes a mallet",
    PressBehaviour.BRITTLE: "brittle: never press it",
    PressBehaviour.COMPRESSIBLE: "gives way: narrower slots hold it",
}


class StockStep(StepPage):
    """Shows the rack and edits the picked stock."""

    def __init__(self, session: Session) -> None:
        self.rack, self.view = RackView(), ThicknessView()
        both = QWidget()
        column = QVBoxLayout(both)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.rack)
        column.addWidget(self.view, 1)
        super().__init__(session, both)
        self.rack.picked.connect(session.selection.pick_stock)

    def focus_reading(self) -> None:
        """Ready to type a reading."""
        self.reading.focus()

    def focus_name(self) -> None:
        """Ready to type another name of the sheet."""
        self._bought.head.setChecked(True)
        self._name.setFocus()
        self._name.selectAll()

    def _fill_panel(self) -> None:
        self._name = QLineEdit()
        self._name.setAccessibleName("Name of the sheet")
        self._name.editingFinished.connect(self._rename)
        self.line.stepped.connect(self._step)
        self._add_reading_fields()
        self.fields: dict[str, BoundField] = {}
        self._add_as_bought()
        self._sizes = SheetSizes(self._session)
        sheets = FoldingSection("Sheet sizes and scraps on the rack")
        self.scraps = ScrapList(self._session)
        sheets.add(self._sizes, section("Scraps to use up"), self.scraps)
        self._panel.add(sheets)
        self._add_fit_words()
        self._add_rack_buttons()

    def _add_reading_fields(self) -> None:
        self._panel.add(section("Readings: type, Enter, type, Enter"))
        self.reading = MeasureField("New reading", self._add_reading, unit="mm")
        self._readings = ReadingList()
        self._readings.removed.connect(self._remove_reading)
        self._readings.corrected.connect(self._correct_reading)
        self._readings.restored.connect(self._restore_reading)
        self._readings.currentRowChanged.connect(lambda _: self._allow())
        self._says = quiet("")
        self._strike = button("Strike out, with a reason…")
        self._strike.clicked.connect(self.strike_picked)
        self._kerf = button("", "Flat")
        self._kerf.clicked.connect(lambda: self._session.navigation.go_to(Step.CUTTER))
        self._panel.add(self.reading, self._readings, self._strike, self._says, self._kerf)

    def _add_as_bought(self) -> None:
        self._bought = fold = FoldingSection("As bought")
        fold.add(self._name)
        nominal = self._stock_field("Sold as", "nominal_thickness", 0.1)
        self.fields["nominal_thickness"] = nominal
        fold.add(nominal)
        grid = QGridLayout()
        self._material = self._chooser("Material", Material, self._choose_material)
        self._nature = self._chooser(
            "Pressed into a slot it is", PressBehaviour, self._choose_nature
        )
        self._grain = self._chooser("Grain", Grain, self._choose_grain)
        self._faces = self._chooser("Faces", Faces, self._choose_faces)
        for row, (label, widget) in enumerate(
            (
                ("Material", self._material),
                ("Pressed", self._nature),
                ("Grain", self._grain),
                ("Faces", self._faces),
            )
        ):
            grid.addWidget(QLabel(label), row, 0)
            grid.addWidget(widget, row, 1)
        grid.setColumnStretch(1, 1)
        fold.body.addLayout(grid)
        self._tint = button("Colour on the screen")
        self._tint.clicked.connect(self._choose_tint)
        when_dressed(self._show_tint)
        fold.add(self._tint)
        self._panel.add(fold)

    def _add_fit_words(self) -> None:
        fold = FoldingSection("Clearance of each fit")
        for name in FitName:
            self.fields[name.value] = field = self._fit_field(name)
            fold.add(field)
        shift = self._stock_field("Added in this sheet", "fit_shift", 0.01)
        self.fields["fit_shift"] = shift
        fold.add(
            shift,
            quiet(
                "The test pieces of this sheet taught this. "
                "The clearances above hold for all sheets."
            ),
        )
        self._panel.add(fold)

    def _add_rack_buttons(self) -> None:
        self._another = button("Another sheet")
        self._another.clicked.connect(self.add_stock)
        self._remove = button("Take off the rack", "Flat")
        self._remove.clicked.connect(self._remove_stock)
        self._panel.body.addSpacing(6)
        self._panel.body.addLayout(choice_row(self._another, self._remove))
        self._panel.body.addStretch(1)

    def _chooser(
        self,
        name: str,
        kinds: type[Material] | type[PressBehaviour] | type[Grain] | type[Faces],
        chosen: Callable[[int], None],
    ) -> Choice:
        box = Choice()
        box.setAccessibleName(name)
        for kind in kinds:
            words = _NATURE_WORDS[kind] if isinstance(kind, PressBehaviour) else kind.value
            box.addItem(words, kind.value)
        box.activated.connect(chosen)
        return box

    def _stock_field(self, label: str, field: str, step: float) -> BoundField:
        session = self._session

        def put(project: Project, text: str) -> Project:
            value = project_edits.typed_length(text, field)
            return stock_edits.change_stock(project, session.selection.stock_id, **{field: value})

        return BoundField(
            session,
            label,
            lambda project: plain_length(getattr(project.stock(session.selection.stock_id), field)),
            put,
            step=step,
        )

    def _fit_field(self, name: FitName) -> BoundField:
        def put(project: Project, text: str) -> Project:
            return project_edits.change_clearance(
                project, project_edits.typed_length(text, name.value), name
            )

        return BoundField(
            self._session,
            f"{name.value}: {FIT_MEANING[name]}",
            lambda project: plain_length(project.fits.clearance_of(name)),
            put,
            step=0.01,
        )

    def _show_tint(self) -> None:
        self._tint.setIcon(swatch(self._stock.tint))

    def refresh(self) -> None:
        """Show the picked stock as it is now."""
        project = self._session.project
        stock = self._stock
        self.rack.show_rack(project, stock.id)
        self.view.show_stock(stock)
        self.line.show_picked(stock.name, can_step=len(project.stocks) > 1)
        self._name.setText(stock.name)
        self._readings.show_stock(stock)
        for box, value in (
            (self._material, stock.material), (self._nature, stock.press_behaviour),
            (self._grain, stock.grain), (self._faces, stock.faces),
        ):  # fmt: skip
            box.setCurrentIndex(box.findData(value.value))
        self._show_tint()
        self._says.setText(shown(stock_summary(stock)))
        self.reading.edit.setPlaceholderText(shown_length(0.98 * stock.nominal_thickness))
        kerf = project.kerf_in(stock.id)
        figures = f"{shown_length(kerf.kerf, 3)} ± {shown_length(kerf.uncertainty, 3)}"
        self._kerf.setText(f"Kerf {figures}, {kerf.learnt.value}: see the cutter")
        self._sizes.refresh()
        self.scraps.refresh()
        self._remove.setEnabled(stock not in project.stocks_in_use)
        self._allow()
        for field in self.fields.values():
            field.refresh()

    def _step(self, by: int) -> None:
        """Pick the next or the previous stock on the rack."""
        ids = [stock.id for stock in self._session.project.stocks]
        self._session.selection.pick_stock(ids[(ids.index(self._stock.id) + by) % len(ids)])

    @property
    def _stock(self) -> Stock:
        return self._session.project.stock(self._session.selection.stock_id)

    def _allow(self) -> None:
        self._strike.setEnabled(self._readings.picked_reading is not None)

    def _rename(self) -> None:
        name = self._name.text().strip()
        self._try(
            "Name",
            lambda p: stock_edits.change_stock(p, self._session.selection.stock_id, name=name),
        )

    def _add_reading(self, text: str) -> None:
        if not text.strip():
            return
        values = project_edits.typed_lengths(text, "readings")
        session = self._session
        changed = stock_edits.add_readings(
            session.project_with_pending, session.selection.stock_id, values
        )
        one = f"Reading {plain_length(values[0])}"
        session.change(one if len(values) == 1 else f"{len(values)} readings", changed)
        self.reading.show_value("")
        self.reading.restore()

    def _remove_reading(self, stock_id: str, index: int) -> None:
        self._try("Reading taken out", lambda p: stock_edits.remove_reading(p, stock_id, index))

    def _restore_reading(self, stock_id: str, index: int) -> None:
        self._try("Reading counts again", lambda p: stock_edits.restore_reading(p, stock_id, index))

    def _correct_reading(self, stock_id: str, index: int, text: str) -> None:
        def corrected(project: Project) -> Project:
            value = project_edits.typed_length(number_format().typed(text), "readings")
            return stock_edits.change_reading(project, stock_id, index, value)

        self._try("Reading corrected", corrected)

    def strike_picked(self) -> None:
        """Ask why, and strike the picked reading (or the doubtful one) out."""
        stock = self._stock
        index = self._readings.picked_of(stock)
        if index is None and stock.suspect_readings:
            index = stock.suspect_readings[0].index
        if index is None:
            self._session.status.show("▲ Pick a reading first, then strike it out.")
            return
        reading = shown_length(stock.readings[index], 3)
        reason, given = QInputDialog.getText(
            self, "Strike a reading out", f"Why does {reading} not count?", text="burr at the edge"
        )
        if given:
            self._try(
                f"Reading {reading} struck out",
                lambda p: stock_edits.strike_reading(p, stock.id, index, reason),
            )

    def add_stock(self) -> None:
        """Another sheet on the rack, like this one but not measured."""
        stock = self._stock
        self._try("Another sheet", lambda p: stock_edits.add_stock(p, stock))
        self._session.selection.pick_stock(self._session.project.stocks[-1].id)

    def _remove_stock(self) -> None:
        stock_id = self._session.selection.stock_id
        self._try("Sheet taken off", lambda p: stock_edits.remove_stock(p, stock_id))

    def _choose_material(self, index: int) -> None:
        material = Material(self._material.itemData(index))
        stock_id = self._session.selection.stock_id
        label = f"Material {material.value}"
        self._try(label, lambda p: stock_edits.change_material(p, stock_id, material))

    def _choose_nature(self, index: int) -> None:
        nature = PressBehaviour(self._nature.itemData(index))
        self._change(f"Pressed: {nature.value}", press_behaviour=nature)

    def _choose_grain(self, index: int) -> None:
        grain = Grain(self._grain.itemData(index))
        self._change(f"Grain {grain.value}", grain=grain)

    def _choose_faces(self, index: int) -> None:
        faces = Faces(self._faces.itemData(index))
        self._change(f"Faces {faces.value}", faces=faces)

    def _choose_tint(self) -> None:
        picked = QColorDialog.getColor(QColor(self._stock.tint), self, "Colour of the sheet")
        if picked.isValid():
            self._change("Colour", tint=picked.name(QColor.NameFormat.HexRgb))

    def _change(self, label: str, **changes: object) -> None:
        stock_id = self._session.selection.stock_id
        self._try(label, lambda p: stock_edits.change_stock(p, stock_id, **changes))

    def _try(self, label: str, edit: Callable[[Project], Project]) -> None:
        if not self._session.attempt(label, edit):
            self.refresh()
