"""The parameters of the form in hand: those of the whole, or those of the picked joint."""

from math import floor
from typing import Any, get_args

from PySide6.QtWidgets import QCheckBox, QGridLayout, QLabel, QVBoxLayout, QWidget

from anzel.app.edits import project_edits
from anzel.app.number_display import number_format, shown
from anzel.app.session import Session
from anzel.core.immutable import field_title
from anzel.core.number_format import plain_figure, plain_length
from anzel.core.units import parse_length
from anzel.project.derive import fit_context_of, settled_form, solved_structure_of
from anzel.project.model import Project
from anzel.structure.forms.field_ranges import limits_of
from anzel.structure.forms.form import Form
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import FoldingSection, clear
from anzel.ui.widgets.wheel_safe import Choice

_STEPS = {"split": 0.05, "relief": 0.1, "tab_width": 0.5, "taper": 0.05}


class FormFields(QWidget):
    """Fields for one kind of form, made anew when the project has another kind.

    Some numbers belong to joints: they stand with the picked joint, the others with the whole.
    """

    def __init__(self, session: Session, *, of_joint: bool) -> None:
        super().__init__()
        self._session, self._of_joint = session, of_joint
        self._kind: type[Form] | None = None
        self.fields: dict[str, BoundField] = {}
        self._choices: dict[str, Choice] = {}
        self._checks: dict[str, QCheckBox] = {}
        self._roles: dict[str, Choice] = {}
        self._labels: dict[str, QLabel] = {}
        self.lists = FoldingSection("One by one")
        self.lists.setParent(self)
        self.lists.hide()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(5)

    def refresh(self) -> None:
        """Show the form as it is now."""
        project = self._session.project
        form = project.structure
        if type(form) is not self._kind:
            self._make(form)
        mine, idle = form.joint_fields(self._session.selection.joint_id), form.unused()
        limits = settled_form(project).ranges(fit_context_of(project))
        for name, field in self.fields.items():
            field.refresh()
            if name in limits:
                self._show_limits(form, name, *limits[name])
            field.setVisible(name not in idle and (not self._of_joint or name in mine))
        for name, box in self._choices.items():
            box.setCurrentIndex(box.findData(getattr(form, name)))
            for each in (box, self._labels[name]):
                each.setVisible(name not in idle)
        for name, check in self._checks.items():
            check.setChecked(getattr(form, name))
            check.setVisible(name not in idle)
        for role, box in self._roles.items():
            box.clear()
            for stock in project.stocks:
                box.addItem(stock.name, stock.id)
            box.setCurrentIndex(box.findData(form.stock_roles()[role]))

    def _make(self, form: Form) -> None:
        """Fields for another kind of form."""
        clear(self._column)
        clear(self.lists.body)
        self.lists.head.setVisible(bool(form.places))
        self.lists.head.setChecked(any(getattr(form, name) for name in form.places))
        self._kind = type(form)
        self.fields, self._choices, self._checks, self._roles = {}, {}, {}, {}
        of_joints = self._joint_fields(self._session.project)
        for name in form.numbers():
            if (name in of_joints) is self._of_joint:
                self._column.addWidget(self._number(form, name))
        if not self._of_joint:
            self._add_choices(form)

    def _add_choices(self, form: Form) -> None:
        """What of the whole is no number: lists, choices and sheets."""
        for name in sorted(form.places):
            self.lists.add(self._list(name))
        grid = QWidget()
        layout = QGridLayout(grid)
        layout.setContentsMargins(0, 0, 0, 0)
        for name, about in type(form).model_fields.items():
            choices = get_args(about.annotation)
            if name != "form" and choices and all(isinstance(each, str) for each in choices):
                self._choices[name] = self._chooser(layout, name, choices)
            elif about.annotation is bool:
                self._checks[name] = self._check(layout, name, about.description or "")
        for role in form.stock_roles():
            self._roles[role] = self._chooser(layout, role, ())
        self._column.addWidget(grid)

    def _show_limits(self, form: Form, name: str, low: float, high: float) -> None:
        """What the other sizes allow: in the tip, and beside a count the most there can be."""
        about = type(form).model_fields[name]
        limits = limits_of(low, high, is_length=form.unit(name) == "mm")
        least, most = (shown(limit) for limit in limits)
        self.fields[name].setToolTip(
            f"{about.description or field_title(name)}\n"
            f"between {least} and {most} with the other sizes as they are"
        )
        if about.annotation is int:
            self.fields[name].show_unit(f"≤ {floor(high + 1e-9)}")

    def _number(self, form: Form, name: str) -> BoundField:
        usual = 1.0 if form.unit(name) or type(form).model_fields[name].annotation is int else 0.05
        field = BoundField(
            self._session,
            field_title(name),
            lambda project: plain_figure(getattr(settled_form(project), name), form.unit(name)),
            lambda project, text: project_edits.set_from_text(project, name, text),
            step=_STEPS.get(name, 2.0 if name in ("tab_count", "fingers") else usual),
            unit=form.unit(name),
            path=lambda: name,
        )
        field.setToolTip(type(form).model_fields[name].description or "")
        self.fields[name] = field
        return field

    def _list(self, name: str) -> BoundField:
        """Return a field for a list of lengths."""
        self.fields[name] = field = BoundField(
            self._session,
            field_title(name),
            lambda project: "; ".join(plain_length(at) for at in getattr(project.structure, name)),
            lambda project, text: project_edits.set_from_text(project, name, typed_list(text)),
            unit="",
        )
        field.setToolTip(type(self._session.project.structure).model_fields[name].description or "")
        return field

    def _chooser(self, grid: QGridLayout, name: str, choices: tuple[Any, ...]) -> Choice:
        box = Choice()
        box.setAccessibleName(field_title(name))
        for choice in choices:
            box.addItem(choice, choice)
        box.activated.connect(lambda index: self._change(name, box.itemData(index)))
        row = grid.rowCount()
        self._labels[name] = label = QLabel(field_title(name))
        grid.addWidget(label, row, 0)
        grid.addWidget(box, row, 1)
        return box

    def _check(self, grid: QGridLayout, name: str, about: str) -> QCheckBox:
        check = QCheckBox(field_title(name))
        check.setToolTip(about)
        check.clicked.connect(lambda on: self._change(name, on))
        grid.addWidget(check, grid.rowCount(), 0, 1, 2)
        return check

    def _change(self, name: str, value: object) -> None:
        def edit(project: Project) -> Project:
            return project_edits.change_structure(project, **{name: value})

        shown = value if isinstance(value, str) else "yes" if value else "no"
        if not self._session.attempt(f"{field_title(name)} {shown}", edit):
            self.refresh()

    @staticmethod
    def _joint_fields(project: Project) -> set[str]:
        """Return the fields that belong to some joint, and are shown only with it."""
        joints = solved_structure_of(project).joints
        return {field for j in joints for field in project.structure.joint_fields(j.id)}


def typed_list(text: str) -> str:
    """Return typed lengths, with semicolons or spaces between them, as lengths in mm."""
    items = text.split(";") if ";" in text else text.split()
    meant = (number_format().typed(item) for item in items if item.strip())
    return " ".join(f"{parse_length(item):.9g}" for item in meant)
