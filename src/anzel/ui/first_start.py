"""The first start: what to measure first, in a minute, and what to begin with."""

from collections.abc import Callable

from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QVBoxLayout,
    QWidget,
)

from anzel.app.navigation import Step
from anzel.app.session import Session
from anzel.app.settings import Settings
from anzel.core.number_format import Unit
from anzel.project.new_project import empty_table
from anzel.ui.commands import Commands
from anzel.ui.theme import icon_pixmap
from anzel.ui.widgets.common_widgets import button, heading, quiet, section
from anzel.ui.widgets.wheel_safe import Choice

_LESSONS = (
    ("step-stock", "Measure the sheet",
     "The label is not the thickness. Type what your calipers say, in a few places."),
    ("step-test", "Cut a test piece",
     "A comb from a scrap tells which slot holds your sheet. Tap what you feel."),
    ("step-build", "Build",
     "Every slot follows from the sheet, the fit and the kerf. Change one, and all follow."),
)  # fmt: skip
_UNITS = {
    Unit.MILLIMETRES: "millimetres", Unit.INCHES: "inches, decimal",
    Unit.FRACTIONS: "inches, in fractions",
}  # fmt: skip


class FirstStart(QDialog):
    """Three lessons in a line each, the unit, and four ways to begin."""

    def __init__(
        self, window: QWidget, session: Session, settings: Settings, commands: Commands,
        used: Callable[[], None],
    ) -> None:  # fmt: skip
        super().__init__(window)
        self.setWindowTitle("First steps")
        self._session, self._settings, self._used = session, settings, used
        column = QVBoxLayout(self)
        column.setSpacing(10)
        column.addWidget(heading("Things that slot together, from the sheet you really have"))
        column.addLayout(_lessons())
        self.unit = Choice()
        self.unit.setAccessibleName("Lengths in")
        for unit, words in _UNITS.items():
            self.unit.addItem(words, unit)
        self.unit.setCurrentIndex(self.unit.findData(settings.preferences.unit))
        self.unit.activated.connect(self._take_unit)
        row = QHBoxLayout()
        row.addWidget(QLabel("Lengths in"))
        row.addWidget(self.unit)
        row.addStretch(1)
        column.addLayout(row)
        column.addWidget(section("Begin with"))
        self.ways = {
            "stand": self._way("The workshop's herb-pot stand, measured and built", lambda: None),
            "workshop": self._way("Another thing of the workshop…", commands.new),
            "form": self._way("My own sheet, and a form…", self._from_form(commands)),
            "table": self._way("My own sheet, and an empty table", self._from_table(commands)),
        }
        self.ways["stand"].setObjectName("Primary")
        for way in self.ways.values():
            column.addWidget(way)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)

    def _way(self, words: str, begin: Callable[[], object]) -> QWidget:
        made = button(words)
        made.clicked.connect(self.accept)
        made.clicked.connect(begin)
        return made

    def _from_form(self, commands: Commands) -> Callable[[], None]:
        def begin() -> None:
            before = self._session.project
            commands.new_form()
            if self._session.project is not before:
                self._session.navigation.go_to(Step.STOCK)

        return begin

    def _from_table(self, commands: Commands) -> Callable[[], None]:
        def begin() -> None:
            if commands.may_leave():
                self._session.begin(empty_table())
                self._session.navigation.go_to(Step.STOCK)

        return begin

    def _take_unit(self, index: int) -> None:
        self._settings.prefer(unit=self.unit.itemData(index))
        self._used()


def _lessons() -> QGridLayout:
    grid = QGridLayout()
    grid.setHorizontalSpacing(14)
    for number, (picture, title, words) in enumerate(_LESSONS):
        mark = QLabel()
        mark.setPixmap(icon_pixmap(picture, size=40))
        grid.addWidget(mark, 0, number)
        grid.addWidget(section(f"{number + 1}  {title}"), 1, number)
        grid.addWidget(quiet(words), 2, number)
        grid.setColumnMinimumWidth(number, 190)
    return grid
