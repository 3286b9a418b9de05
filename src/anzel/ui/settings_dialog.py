"""The settings: few and plain. Each is used at once, so that its effect can be seen."""

from collections.abc import Callable, Mapping
from typing import Any

from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QLabel,
    QVBoxLayout,
    QWidget,
)

from anzel.app.edits import project_edits
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.app.settings import DecimalMark, Look, Settings, TargetFolder
from anzel.core.number_format import UNIT, Unit, format_measure, plain_length
from anzel.ui.modal import run
from anzel.ui.widgets.common_widgets import button, heading, quiet, section
from anzel.ui.widgets.wheel_safe import Choice

_UNITS: dict[Unit | None, str] = {
    Unit.MILLIMETRES: "millimetres", Unit.INCHES: "inches, decimal",
    Unit.FRACTIONS: "inches, in fractions",
}  # fmt: skip
_OWN_UNITS = {None: "the same", **_UNITS}
_PLACES = {2: "2 places", 3: "3 places", 4: "4 places", 5: "5 places"}
_MARKS = {each: each.value for each in DecimalMark}
_LOOKS = {each: each.value for each in Look}
_SIZES = {size / 100: f"{size} %" for size in (80, 90, 100, 110, 125, 150, 180)}
_AUTOSAVE = {5: "5 seconds", 10: "10 seconds", 30: "30 seconds", 60: "a minute", 300: "5 minutes"}

_FOLDERS = {folder: folder.value for folder in TargetFolder}


class SettingsDialog(QDialog):
    """Changes the preferences, and tells `used` after each change."""

    def __init__(
        self, parent: QWidget, session: Session, settings: Settings, used: Callable[[], None]
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Settings")
        self._session, self._settings, self._used = session, settings, used
        self.choices: dict[str, Choice] = {}
        column = QVBoxLayout(self)
        column.setSpacing(8)
        self.setMinimumWidth(400)
        column.addWidget(heading("Settings"))
        column.addWidget(section("Numbers"))
        numbers = self._grid(column)
        self._add(numbers, "unit", "Lengths in", _UNITS)
        self._add_own_unit(numbers)
        self._add(numbers, "inch_places", "An inch with", _PLACES)
        self._add(numbers, "decimal_mark", "Decimal mark", _MARKS)
        self._sample = quiet("")
        column.addWidget(self._sample)
        column.addWidget(section("Look"))
        look = self._grid(column)
        self._add(look, "look", "Light or dark", _LOOKS)
        self._add(look, "text_size", "Text size", _SIZES)
        column.addWidget(section("Unsaved work"))
        self._add(self._grid(column), "autosave_seconds", "Kept safe every", _AUTOSAVE)
        column.addWidget(section("Files"))
        self._add(self._grid(column), "target_folder", "Written", _FOLDERS)
        column.addWidget(section("Keys"))
        self.keys = button("Change keys…")
        self.keys.clicked.connect(self._change_keys)
        column.addWidget(self.keys)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self._show()

    def _grid(self, column: QVBoxLayout) -> QGridLayout:
        grid = QGridLayout()
        grid.setColumnStretch(0, 1)
        column.addLayout(grid)
        return grid

    def _row(self, grid: QGridLayout, name: str, title: str) -> Choice:
        choice = Choice()
        label = QLabel(title)
        label.setBuddy(choice)
        choice.setAccessibleName(title)
        row = grid.rowCount()
        grid.addWidget(label, row, 0)
        choice.setMinimumWidth(210)
        grid.addWidget(choice, row, 1)
        self.choices[name] = choice
        return choice

    def _add(
        self, grid: QGridLayout, name: str, title: str, words: Mapping[Any, str]
    ) -> None:  # fmt: skip
        """Add a choice for one preference."""
        choice = self._row(grid, name, title)
        held = getattr(self._settings.preferences, name)
        for value, text in words.items():
            choice.addItem(text, value)
        if held not in words:
            choice.addItem(f"{held:.0%}" if isinstance(held, float) else f"{held}", held)
        choice.setCurrentIndex(choice.findData(held))
        choice.activated.connect(lambda at: self._prefer(name, choice.itemData(at)))

    def _add_own_unit(self, grid: QGridLayout) -> None:
        """Add the choice of a unit for this project alone; it can be undone."""
        choice = self._row(grid, "shown_unit", "In this project")
        for unit, text in _OWN_UNITS.items():
            choice.addItem(text, unit)
        choice.setCurrentIndex(choice.findData(self._session.project_with_pending.shown_unit))
        choice.activated.connect(lambda at: self._use_own_unit(choice.itemData(at)))

    def _prefer(self, name: str, value: object) -> None:
        self._settings.prefer(**{name: value})
        self._used()
        self._show()

    def _use_own_unit(self, unit: Unit | None) -> None:
        words = _OWN_UNITS[unit]
        self._session.attempt(
            f"Lengths in {words}" if unit else "Lengths as in the settings",
            lambda project: project_edits.show_in(project, unit),
        )
        self._used()
        self._show()

    def _show(self) -> None:
        sheet = f"{plain_length(600)} × {plain_length(304.8)} {UNIT}"
        self._sample.setText(shown(f"A slot of {format_measure(2.83)}, a sheet of {sheet}"))

    def _change_keys(self) -> None:
        from anzel.ui.keys_dialog import KeysDialog

        run(KeysDialog(self, self._settings, self._used))
