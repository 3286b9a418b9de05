"""Step 1: the sheet as bought, as measured, and what the fit words mean for it."""

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
)

from anzel.app import edits
from anzel.app.session import Session
from anzel.geometry.units import format_length
from anzel.project.model import Project
from anzel.stock.fits import FIT_MEANING, FitName
from anzel.ui.steps.base import StepPage
from anzel.ui.steps.fields import BoundField, plain
from anzel.ui.views.thickness_view import ThicknessView
from anzel.ui.widgets.measure_field import MeasureField
from anzel.ui.widgets.parts import button, heading, quiet, section


class ReadingList(QListWidget):
    """The readings; Delete takes the current one out, double click corrects it."""

    removed = Signal(int)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.currentRow() >= 0:
            self.removed.emit(self.currentRow())
        else:
            super().keyPressEvent(event)


class StockStep(StepPage):
    """Shows and edits the picked stock."""

    def __init__(self, session: Session) -> None:
        self.view = ThicknessView()
        super().__init__(session, self.view)

    def focus_reading(self) -> None:
        """Ready to type a reading."""
        self.reading.focus()

    def _fill_panel(self) -> None:
        self._chooser = QComboBox()
        self._chooser.setAccessibleName("Which sheet")
        self._chooser.activated.connect(self._choose)
        self._name = QLineEdit()
        self._name.setAccessibleName("Name of the sheet")
        self._name.editingFinished.connect(self._rename)
        self._panel.add(heading("The sheet on the bench"))
        top = QGridLayout()
        for line, (label, widget) in enumerate((("Show", self._chooser), ("Called", self._name))):
            top.addWidget(QLabel(label), line, 0)
            top.addWidget(widget, line, 1)
        top.setColumnStretch(1, 1)
        self._panel.body.addLayout(top)
        self._add_reading_fields()
        self.fields = {
            "nominal_thickness": self._stock_field("Sold as", "nominal_thickness", 0.1),
            "kerf": self._stock_field("Kerf of the cutter in it", "kerf", 0.01),
            "sheet_width": self._stock_field("Sheet width", "sheet_width", 10),
            "sheet_height": self._stock_field("Sheet height", "sheet_height", 10),
        }
        self._panel.add(section("As bought, and as cut"), *self.fields.values())
        self._panel.add(section("What the fit words mean: clearance"))
        for name in FitName:
            field = self._fit_field(name)
            self.fields[name.value] = field
            self._panel.add(field)
        self._add_rack_buttons()

    def _add_reading_fields(self) -> None:
        self._panel.add(section("Readings: type, Enter, type, Enter"))
        self.reading = MeasureField("New reading", self._add_reading, unit="mm")
        self.reading.edit.setPlaceholderText("2.94")
        self._readings = ReadingList()
        self._readings.setAccessibleName("Readings")
        self._readings.setMaximumHeight(110)
        self._readings.setUniformItemSizes(True)
        self._readings.removed.connect(self._remove_reading)
        self._readings.itemChanged.connect(self._correct_reading)
        self._says = quiet("")
        self._panel.add(self.reading, self._readings, self._says)

    def _add_rack_buttons(self) -> None:
        self._another = button("Another sheet")
        self._another.clicked.connect(self.add_stock)
        self._remove = button("Take off the rack", "Flat")
        self._remove.clicked.connect(self._remove_stock)
        row = QHBoxLayout()
        row.addWidget(self._another)
        row.addWidget(self._remove)
        self._panel.body.addSpacing(6)
        self._panel.body.addLayout(row)
        self._panel.body.addStretch(1)

    def _stock_field(self, label: str, field: str, step: float) -> BoundField:
        session = self._session

        def put(project: Project, text: str) -> Project:
            value = edits.typed_length(text, field)
            return edits.change_stock(project, session.stock_id, **{field: value})

        return BoundField(
            session,
            label,
            lambda project: plain(getattr(project.stock(session.stock_id), field)),
            put,
            step=step,
        )

    def _fit_field(self, name: FitName) -> BoundField:
        def put(project: Project, text: str) -> Project:
            return edits.change_clearance(project, edits.typed_length(text, name.value), name)

        return BoundField(
            self._session,
            f"{name.value}: {FIT_MEANING[name]}",
            lambda project: plain(project.fits.clearance_of(name)),
            put,
            step=0.01,
        )

    def refresh(self) -> None:
        """Show the picked stock as it is now."""
        project = self._session.project
        stock = project.stock(self._session.stock_id)
        self.view.show_stock(stock)
        self._chooser.clear()
        for each in project.stocks:
            self._chooser.addItem(each.name, each.id)
        self._chooser.setCurrentIndex([s.id for s in project.stocks].index(stock.id))
        self._name.setText(stock.name)
        self._readings.blockSignals(True)
        self._readings.clear()
        for reading in stock.readings:
            item = QListWidgetItem(f"{reading:.4g}" if reading < 10 else f"{reading:.5g}")
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsEditable)
            self._readings.addItem(item)
        self._readings.blockSignals(False)
        self._says.setText(_summary(project, stock.id))
        self._remove.setEnabled(stock not in project.stocks_in_use)
        for field in self.fields.values():
            field.refresh()

    def _choose(self, index: int) -> None:
        self._session.pick_stock(str(self._chooser.itemData(index)))

    def _rename(self) -> None:
        name = self._name.text().strip()
        self._try("Name", lambda p: edits.change_stock(p, self._session.stock_id, name=name))

    def _add_reading(self, text: str) -> None:
        if not text.strip():
            return
        value = edits.typed_length(text, "readings")
        session = self._session
        changed = edits.add_readings(session.project, session.stock_id, [value])
        session.change(f"Reading {plain(value)}", changed)
        self.reading.show_value("")
        self.reading.restore()

    def _remove_reading(self, index: int) -> None:
        stock_id = self._session.stock_id
        self._try("Reading taken out", lambda p: edits.remove_reading(p, stock_id, index))

    def _correct_reading(self, item: QListWidgetItem) -> None:
        index, stock_id, text = self._readings.row(item), self._session.stock_id, item.text()
        self._try(
            "Reading corrected",
            lambda p: edits.change_reading(
                p, stock_id, index, edits.typed_length(text, "readings")
            ),
        )

    def add_stock(self) -> None:
        """Another sheet on the rack, like this one but not measured."""
        stock = self._session.project.stock(self._session.stock_id)
        self._try("Another sheet", lambda p: edits.add_stock(p, stock))
        self._session.pick_stock(self._session.project.stocks[-1].id)

    def _remove_stock(self) -> None:
        stock_id = self._session.stock_id
        self._try("Sheet taken off", lambda p: edits.remove_stock(p, stock_id))

    def _try(self, label: str, edit: Callable[[Project], Project]) -> None:
        if not self._session.attempt(label, edit):
            self.refresh()


def _summary(project: Project, stock_id: str) -> str:
    said = project.stock(stock_id).statistics
    if said is None:
        return "Measure in several places, far apart; Delete takes a reading out."
    words = f"mean {format_length(said.mean, 3)}"
    if said.sample_deviation is not None and said.standard_uncertainty is not None:
        words += f" · spread s {format_length(said.sample_deviation, 3)}"
        words += f" · mean known to ± {format_length(said.standard_uncertainty, 3)}"
    return f"{words} · {format_length(said.least)} to {format_length(said.greatest)}"
