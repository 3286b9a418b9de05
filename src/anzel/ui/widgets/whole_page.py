"""The whole structure: its pieces or plates, its joints, and the sizes of its form."""

from collections import Counter
from functools import partial

from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from anzel.app.edits import free_structure_edits, profile_curve_edits, relation_edits
from anzel.app.number_display import shown_length
from anzel.app.picked_actions import piece_thing
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.project.derive import solved_structure_of
from anzel.ui.widgets.bounds_panel import BoundsPanel
from anzel.ui.widgets.common_widgets import (
    button,
    fill_rows,
    folds_in_a_row,
    named_list,
    section,
)
from anzel.ui.widgets.form_fields import FormFields
from anzel.ui.widgets.free_panel import FreePanel
from anzel.ui.widgets.names_panel import NamesPanel
from anzel.ui.widgets.thing_page import ThingPage

_PLATES, _JOINTS, _FEW_JOINTS = 7, 5, 2
"""Rows listed without scrolling; few where the form has many numbers."""
_MANY_NUMBERS = 10


class WholePage(ThingPage):
    """Lists that lead to one thing, and what belongs to all."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._plates_title, self._joints_title = section("Plates"), section("Joints")
        self.plates = self._list("Plates")
        self.joints = self._list("Joints")
        self.form = FormFields(session, of_joint=False)
        self.free = FreePanel(session)
        self.bounds = BoundsPanel(session)
        self.names = NamesPanel(session)
        self.form.lists.show()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        for widget in (self._plates_title, self.plates, self.free, self._joints_title, self.joints,
                       self._curves(), self.form,
                       folds_in_a_row(self.bounds, self.names, self.form.lists)):  # fmt: skip
            column.addWidget(widget)

    def _list(self, name: str) -> QListWidget:
        made = named_list(name)
        made.setSelectionMode(QListWidget.SelectionMode.ExtendedSelection)
        made.itemActivated.connect(self._pick)
        made.itemClicked.connect(self._pick)
        return made

    def _curves(self) -> QWidget:
        """The curves of a lamp, each a way to its page."""
        self.curves = QWidget()
        row = QHBoxLayout(self.curves)
        row.setContentsMargins(0, 4, 0, 0)
        row.setSpacing(3)
        for which, words in profile_curve_edits.WHICH.items():
            choice = button(words.capitalize())
            thing = Thing(ThingKind.CURVE, which)
            choice.clicked.connect(partial(self._session.selection.pick, thing))
            row.addWidget(choice)
        return self.curves

    def refresh(self) -> None:
        """Show the structure as it is now."""
        project, picked = self._session.project, self._session.selection.things
        solved = solved_structure_of(project)
        is_free = project.structure.has_free_plates
        for widget in (self._plates_title, self.plates, self.free):
            widget.setVisible(is_free)
        self.form.setVisible(not is_free)
        self.curves.setVisible(project.structure.has_profile_curves)
        (self.free if is_free else self.form).refresh()
        self.bounds.refresh()
        self.names.refresh()
        self.names.head.setVisible(not project.structure.has_drawings)
        names = self.plate_names() if is_free else []
        fill_rows(self.plates, self._plate_rows(names), _PLATES,
                  [names.index(t.name) for t in picked if t.name in names])  # fmt: skip
        widths = [joint.features[-1].width.drawn for joint in solved.joints]
        told = {width: shown_length(width) for width in set(widths)}  # few, of hundreds of joints
        rows = [
            f"{joint.id}   {joint.title}   {told[width]}"
            for joint, width in zip(solved.joints, widths, strict=True)
        ]
        ids = [joint.id for joint in solved.joints]
        most = _FEW_JOINTS if len(project.structure.numbers()) > _MANY_NUMBERS else _JOINTS
        fill_rows(self.joints, rows, most, [ids.index(t.name) for t in picked if t.name in ids])
        for widget in (self._joints_title, self.joints):
            widget.setVisible(bool(rows))

    def _pick(self, item: QListWidgetItem) -> None:
        """Pick what is marked in the list of the row that was chosen."""
        rows, project = item.listWidget(), self._session.project
        at = sorted((rows.row(each) for each in rows.selectedItems()), key=rows.row(item).__eq__)
        if rows is self.plates:
            names = self.plate_names()
            things = [piece_thing(project, names[row]) for row in at or [rows.row(item)]]
        else:
            joints = solved_structure_of(project).joints
            things = [Thing(ThingKind.JOINT, joints[row].id) for row in at or [rows.row(item)]]
        self._session.selection.pick(*things)

    def _plate_rows(self, names: list[str]) -> list[str]:
        """Return the plates with how often each is repeated."""
        if not names:
            return []
        likes = Counter(relation_edits.expanded_of(self._session.project).likes.values())
        return [f"{name}   {likes[name] + 1} ×" if likes[name] else name for name in names]

    def plate_names(self) -> list[str]:
        """Return the names of the plates of a free structure."""
        free = free_structure_edits.free_of(self._session.project)
        return [plate.name for plate in free.plates]
