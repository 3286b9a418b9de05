"""Edits of names and formulas: numbers that follow others.

Each raises ParameterError naming the field at fault, so that a field can tell it.
"""

from collections.abc import Callable

from anzel.core.arithmetic import is_plain
from anzel.core.findings import ParameterError
from anzel.core.immutable import field_title
from anzel.core.units import parse_length
from anzel.project.derive import fit_context_of
from anzel.project.model import Project
from anzel.structure.forms.form import Form
from anzel.structure.formulas import (
    Formula,
    NamedNumber,
    names_known,
    need_free_name,
    renamed_formulas,
)

Edit = Callable[[Project, str], Project]
"""Takes plain typed text into a project."""


def type_number(project: Project, path: str, text: str, edit: Edit) -> Project:
    """Return the project with a number from typed text, which may be a sum with names.

    `edit` takes a plain figure. A sum with names is kept, and the number follows it.
    """
    field = path.rpartition("/")[2]
    if is_plain(text):
        return _without_formula(edit(project, text), path)
    form = _with_formula(project.structure, path, text.strip())
    found = form.worked_out(fit_context_of(project))
    if path in found.troubles:
        raise ParameterError(f"{field_title(field)}: {found.troubles[path]}", field=field)
    project = edit(project, f"{found.values[path]!r}")
    made = _with_formula(project.structure, path, text.strip())
    project = project.with_changes(structure=made)
    trouble = made.settled(fit_context_of(project))[1].get(path)
    if trouble is not None:
        raise ParameterError(f"{field_title(field)}: {trouble}", field=field)
    return project


def formula_at(form: Form, path: str) -> str:
    """Return the sum that a field holds; "" where it holds a figure."""
    return next((each.text for each in form.own_formulas if each.field == path), "")


def trouble_at(project: Project, path: str) -> str:
    """Return why the sum that a field holds cannot be worked out; "" where it can."""
    return project.structure.settled(fit_context_of(project))[1].get(path, "")


def settled(project: Project) -> Project:
    """Return the project with the last good values of its formulas as plain numbers beside them."""
    form, _ = project.structure.settled(fit_context_of(project))
    return project.with_changes(structure=form)


def name_number(project: Project, name: str, text: str) -> Project:
    """Return the project with a named number, a new one or another value of one that is there.

    Raises ParameterError for a name that means something already, or a sum that cannot be.
    """
    form, name = project.structure, name.strip()
    number = NamedNumber.validated(name=name, text=text.strip() or "0")
    numbers = list(form.own_numbers)
    at = next((at for at, each in enumerate(numbers) if each.name == name), None)
    if at is None:
        known = names_known(form.own_numbers, form.quantities(fit_context_of(project)))
        need_free_name(name, known)
        numbers.append(number)
    else:
        project = settled(project)
        form = project.structure
        numbers[at] = number
    made = form.with_changes(own_numbers=tuple(numbers))
    trouble = made.settled(fit_context_of(project))[1].get(name)
    if trouble is not None:
        raise ParameterError(trouble, field=name)
    return project.with_changes(structure=made)


def rename_number(project: Project, name: str, new: str) -> Project:
    """Return the project with a named number under another name, in every formula too."""
    form, new = project.structure, new.strip()
    if new == name:
        return project
    known = names_known(form.own_numbers, form.quantities(fit_context_of(project)))
    need_free_name(new, known)
    numbers, formulas = renamed_formulas(form.own_numbers, form.own_formulas, known, {name: new})
    numbers = tuple(
        NamedNumber.validated(name=new, text=each.text) if each.name == name else each
        for each in numbers
    )
    return project.with_changes(
        structure=form.with_changes(own_numbers=numbers, own_formulas=formulas)
    )


def remove_number(project: Project, name: str) -> Project:
    """Return the project without a named number; fields that follow it keep their last values."""
    project = settled(project)
    left = tuple(each for each in project.structure.own_numbers if each.name != name)
    return project.with_changes(structure=project.structure.with_changes(own_numbers=left))


def name_of_length(project: Project, name: str, path: str, text: str, edit: Edit) -> Project:
    """Return the project with the figure of a field as a named number that the field follows.

    Raises QuantityError for text that is no length, else as `name_number`.
    """
    project = name_number(project, name, f"{parse_length(text)!r}")
    return type_number(project, path, name.strip(), edit)


def _with_formula(form: Form, path: str, text: str) -> Form:
    others = tuple(each for each in form.own_formulas if each.field != path)
    formula = Formula.validated(field=path, text=text)
    return form.with_changes(own_formulas=(*others, formula))


def _without_formula(project: Project, path: str) -> Project:
    if not formula_at(project.structure, path):
        return project
    left = tuple(each for each in project.structure.own_formulas if each.field != path)
    return project.with_changes(structure=project.structure.with_changes(own_formulas=left))
