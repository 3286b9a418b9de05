"""A free structure as a whole: its plates, the joints offered, and what cannot be joined."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QListWidgetItem, QMenu, QPushButton, QVBoxLayout, QWidget

from anzel.app.edits import free_structure_edits, joint_edits
from anzel.app.foreign_files import read_apart
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.project.model import Project
from anzel.structure.free.outline_shapes import SHAPES
from anzel.structure.joints.registry import KINDS, kind_of
from anzel.ui.file_choice import DRAWINGS, choose_file
from anzel.ui.widgets.common_widgets import button, fill_rows, named_list, section
from anzel.ui.widgets.deferred_call import after_event
from anzel.ui.widgets.joint_fields import JointTroubles

_ROWS = 6


class FreePanel(QWidget):
    """Shown in the place of a form's fields."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._ways: list[tuple[int, int]] = []
        self.troubles = JointTroubles(session)
        self._offers_title = section("Could be joined")
        self.offers = named_list("Joints that could be made; Enter makes the picked one")
        self.offers.itemActivated.connect(self._take_offer)
        self.all = button("Join all of them", "Primary")
        self.all.clicked.connect(self.join_all)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        for widget in (self._adder(), self.troubles, self._offers_title, self.offers, self.all):
            column.addWidget(widget)

    def _adder(self) -> QPushButton:
        add = button("Add a plate")
        menu = QMenu(add)
        for kind in SHAPES:
            menu.addAction(kind.capitalize(), partial(self.add, kind))
        menu.addAction("From a drawing…", self.choose_drawing)
        add.setMenu(menu)
        return add

    def refresh(self) -> None:
        """Show the structure as it is now."""
        project = self._session.project
        self.troubles.refresh()
        offers = joint_edits.suggestions_of(project)
        self._ways = [
            (n, way) for n, offer in enumerate(offers) for way in range(max(len(offer.ways), 1))
        ]  # what cannot be joined is told in a row of its own
        fill_rows(self.offers, [shown(offers[n].words(way)) for n, way in self._ways], _ROWS)
        for widget in (self._offers_title, self.offers):
            widget.setVisible(bool(offers))
        self.all.setVisible(any(offer.ways for offer in offers))

    def _take_offer(self, item: QListWidgetItem) -> None:
        way = self._ways[self.offers.row(item)]
        after_event(self, lambda: self.take(*way))

    def take(self, number: int, way: int = 0) -> None:
        """One of the joints offered is made, in one of its ways."""
        offers = joint_edits.suggestions_of(self._session.project)
        if 0 <= number < len(offers) and offers[number].ways:
            chosen = offers[number].ways[way]
            words = f"{chosen.id} {KINDS[kind_of(chosen)].words}"
            if self._session.attempt(words, lambda p: joint_edits.join(p, chosen)):
                self._session.selection.pick_joint(chosen.id)

    def join_all(self) -> None:
        """All joints offered are made."""
        self._session.attempt("All joined that meets", joint_edits.join_all)

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
        self._session.attempt_aside(
            f"{path.name} added",
            lambda p: read_apart(free_structure_edits.bring_drawing, p, path, stock_id),
            self._session.pick_plate,
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
