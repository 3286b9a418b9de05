"""The openings added to a plate: a menu to add one, a choice of those there, its fields."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QMenu, QVBoxLayout, QWidget

from anzel.app.edits import opening_edits
from anzel.app.opening_actions import add_opening
from anzel.app.session import Session
from anzel.structure.openings.plate_opening import FITTING, OpeningKind
from anzel.ui.widgets.common_widgets import button, section
from anzel.ui.widgets.opening_fields import OpeningFields
from anzel.ui.widgets.wheel_safe import Choice


def add_plain(menu: QMenu, add: Callable[[OpeningKind], object]) -> None:
    """Add the openings of typed sizes to a menu; `add` is called with the kind."""
    for kind in OpeningKind:
        if kind not in FITTING:
            menu.addAction(kind.value.capitalize(), partial(add, kind))


def add_fitting(menu: QMenu, add: Callable[[OpeningKind], object]) -> None:
    """Add the openings that fit a sheet to a menu; `add` is called with the kind."""
    menu.addSeparator()
    for kind in OpeningKind:
        if kind in FITTING:
            menu.addAction(f"{kind.value.capitalize()} for a sheet", partial(add, kind))


class OpeningsPanel(QWidget):
    """Shows and adds the openings of one plate."""

    def __init__(self, session: Session, *, has_plain: bool = True) -> None:
        super().__init__()
        self._session = session
        self._plate = self._opening = ""
        self.add = button("Add an opening" if has_plain else "Add one that fits a sheet")
        menu = QMenu(self.add)
        if has_plain:
            add_plain(menu, self.add_opening)
        add_fitting(menu, self.add_opening)
        self.add.setMenu(menu)
        self.choice = Choice()
        self.choice.setAccessibleName("Opening shown")
        self.choice.activated.connect(lambda at: self._show(self.choice.itemData(at)))
        self.one = OpeningFields(session)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self._title = section("Openings")
        for widget in (self._title, self.add, self.choice, self.one):
            column.addWidget(widget)

    def show_plate(self, plate: str) -> None:
        """Show the openings of a plate as they are now."""
        openings = opening_edits.openings_of(self._session.project, plate)
        ids = [opening.id for opening in openings]
        if plate != self._plate or self._opening not in ids:
            self._plate, self._opening = plate, ids[-1] if ids else ""
        self.choice.clear()
        for opening in openings:
            self.choice.addItem(f"{opening.id}  {opening.title}", opening.id)
        self.choice.setVisible(len(ids) > 1)
        if ids:
            self._show(self._opening)
        else:
            self.one.show_nothing()

    def add_opening(self, kind: OpeningKind) -> None:
        """Put an opening on the plate, and show it."""
        made = add_opening(self._session, self._plate, kind)
        if made:
            self._opening = made
            self.show_plate(self._plate)

    def focus(self, opening_id: str, number: str) -> None:
        """Show an opening, with a number of it ready to be typed over."""
        self._show(opening_id)
        if number in self.one.fields:
            self.one.fields[number].focus()

    def _show(self, opening_id: str) -> None:
        self._opening = opening_id
        self.choice.setCurrentIndex(self.choice.findData(opening_id))
        self.one.show_opening(opening_id)
