"""Edits of structure, fits, pens and job; each is a function from one Project to the next.

Window and command line share these, so both check alike. Each raises ParameterError naming the
field at fault and leaves its argument unchanged. The other modules of this folder edit stocks,
cutters, test pieces, layouts, drawings, free structures and profile curves.
"""

import re
from typing import Any

from anzel.app.edits.formula_edits import type_number
from anzel.core.arithmetic import evaluate
from anzel.core.findings import ParameterError, QuantityError
from anzel.core.immutable import field_title
from anzel.core.number_format import Unit
from anzel.core.units import parse_length, plain_text
from anzel.cutjob.operations import DxfRelease, Operation
from anzel.materials.fits import FitName, KerfAt
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.structure.forms.form import Form
from anzel.structure.joints.joint_change import JointChange


def checked(project: Project) -> Project:
    """Return the project, if its structure can be solved.

    Raises ParameterError if not.
    """
    solved_structure_of(project)
    return project


def change_structure(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with some parameters of the structure changed."""
    return project.with_changes(structure=project.structure.with_changes(**changes))


def change_sheets(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with another spacing or margin."""
    return project.with_changes(sheets=project.sheets.with_changes(**changes))


def change_pen(project: Project, operation: Operation, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with another colour, width or layer of an operation.

    Raises ParameterError if two operations would look alike.
    """
    pen = project.pens.pen(operation).with_changes(**changes)
    pens = project.pens.with_changes(**{operation.field: pen})
    return project.with_changes(pens=pens.checked())


def use_pens(project: Project, name: str) -> Project:
    """Return the project with a kept mapping of pens in use.

    Raises ParameterError listing the known ones.
    """
    for pens in project.pen_presets:
        if pens.name == name:
            return project.with_changes(pens=pens)
    known = ", ".join(pens.name for pens in project.pen_presets)
    raise ParameterError(f"There are no pens “{name}”.", hint=f"There are: {known}.")


def keep_pens(project: Project, name: str) -> Project:
    """Return the project with the pens in use kept under a name."""
    pens = project.pens.with_changes(name=name.strip())
    others = tuple(each for each in project.pen_presets if each.name != pens.name)
    return project.with_changes(pens=pens, pen_presets=(*others, pens))


def use_release(project: Project, release: DxfRelease) -> Project:
    """Return the project with another release of DXF."""
    return project.with_changes(pens=project.pens.with_changes(dxf=release))


def change_job(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with other labels or bridges."""
    return project.with_changes(job=project.job.with_changes(**changes))


def choose_fit(project: Project, name: str) -> Project:
    """Return the project with another fit class in use.

    Raises ParameterError listing the classes.
    """
    if name not in list(FitName):
        known = ", ".join(FitName)
        raise ParameterError(f"There is no fit “{name}”.", hint=f"Use {known}.", field="fit")
    return project.with_changes(fits=project.fits.with_changes(in_use=FitName(name)))


def change_clearance(project: Project, clearance: float, name: FitName | None = None) -> Project:
    """Return the project with another clearance of a fit class (the one in use), mm."""
    chosen = name or project.fits.in_use
    return project.with_changes(fits=project.fits.with_changes(**{chosen.value: clearance}))


def choose_joint_fit(project: Project, joint_id: str, fit: FitName | None) -> Project:
    """Return the project with a fit class of its own for one joint, or the project's again."""
    return project.with_changes(structure=project.structure.with_joint_fit(joint_id, fit))


def joint_change_of(project: Project, joint_id: str) -> JointChange:
    """Return what the maker has changed by hand on a joint of a form."""
    own = (each for each in project.structure.own_joints if each.joint == joint_id)
    return next(own, JointChange(joint=joint_id))


def type_joint_change(project: Project, joint_id: str, field: str, text: str) -> Project:
    """Return the project with one joint of a form changed by hand: wider, deeper or moved.

    Raises ParameterError naming the field, where the joint could not be made so.
    """
    return change_joint(project, joint_id, **{field: typed_length(text, field)})


def change_joint(project: Project, joint_id: str, **changes: bool | float) -> Project:
    """Return the project with one joint of a form changed by hand, or as the form has it again.

    Raises ParameterError where the joint could not be made so.
    """
    change = joint_change_of(project, joint_id).with_changes(**changes)
    others = tuple(each for each in project.structure.own_joints if each.joint != joint_id)
    own = others if change.is_nothing else (*others, change)
    made = project.with_changes(structure=project.structure.with_changes(own_joints=own))
    return checked(made)


def take_kerf_at(project: Project, place: KerfAt) -> Project:
    """Return the project with the kerf taken care of at another place."""
    return project.with_changes(kerf_at=place)


def type_bound(project: Project, name: str, text: str) -> Project:
    """Return the project with another bound of the design from typed text; 0 or nothing is none."""
    value = typed_length(text, name) if text.strip() else 0.0
    return project.with_changes(bounds=project.bounds.with_changes(**{name: value}))


def show_in(project: Project, unit: Unit | None) -> Project:
    """Return the project with a unit of its own for lengths; None leaves that to the settings."""
    return project.with_changes(shown_unit=unit)


def set_from_text(project: Project, field: str, text: str) -> Project:
    """Return the project with a structure parameter from typed text.

    Raises ParameterError for an unknown parameter.
    """
    form = project.structure
    fields = form.typed()
    if field not in fields:
        known = ", ".join(fields) or "none that are typed"
        raise ParameterError(f"There is no parameter “{field}”.", hint=f"There are: {known}.")

    def edit(edited: Project, plain: str) -> Project:
        return change_structure(edited, **{field: typed_value(edited.structure, field, plain)})

    if field not in form.numbers():
        return edit(project, text)
    return type_number(project, field, text, edit)


def typed_value(form: Form, field: str, text: str) -> Any:  # noqa: ANN401
    """Return typed text as the value of a field: a length in mm, a number, a choice, points."""
    present = getattr(form, field)
    if isinstance(present, bool):
        return _typed_choice(text, field)
    if isinstance(present, str):
        return text.strip()
    if field in form.places:
        return tuple(typed_length(each, field) for each in text.replace(";", " ").split())
    if isinstance(present, tuple):
        return _typed_points(text, field)
    if form.unit(field) == "mm":
        return typed_length(text, field)
    return typed_number(text, field)


def _typed_choice(text: str, field: str) -> bool:
    words = {"yes": True, "true": True, "1": True, "no": False, "false": False, "0": False}
    if text.strip().lower() not in words:
        raise ParameterError(f"{field_title(field)}: “{text}” is not yes or no.", field=field)
    return words[text.strip().lower()]


def _typed_points(text: str, field: str) -> tuple[tuple[float, float, bool], ...]:
    """Return typed `0:0.45 0.5:1:corner 1:0.4` as points, smooth unless said otherwise."""
    points = []
    for part in text.replace(",", " ").split():
        height, colon, rest = part.partition(":")
        radius, _, kind = rest.partition(":")
        if not colon or kind not in ("", "smooth", "corner"):
            message = f"{field_title(field)}: “{part}” is not a pair."
            raise ParameterError(
                message, hint="Type pairs like 0.5:1, or 0.5:1:corner.", field=field
            )
        points.append((typed_number(height, field), typed_number(radius, field), kind != "corner"))
    return tuple(points)


def typed_number(text: str, field: str) -> float:
    """Return typed text, a figure or a sum, as a plain number.

    Raises ParameterError naming the field.
    """
    try:
        amount = evaluate(plain_text(text))
        if amount.power == 0:
            return amount.value
        raise QuantityError("a length")
    except QuantityError as error:
        message = f"{field_title(field)}: “{text.strip()}” is not a number."
        raise ParameterError(message, hint="Type digits.", field=field) from error


def typed_lengths(text: str, field: str) -> list[float]:
    """Return typed or pasted text as one or more lengths in mm.

    Lines, tabs, semicolons and spaces separate them; `1 1/8 in` is one length. A unit that holds
    for all stands behind brackets: `(0.117 0.116) in`.

    Raises ParameterError naming the field.
    """
    whole = re.fullmatch(r"\((.*)\)(\s*in)", text, re.DOTALL)
    inner, unit = (whole[1], whole[2]) if whole else (text, "")

    def length(part: str) -> float:
        return typed_length(f"({part}){unit}" if unit else part, field)

    lengths: list[float] = []
    for part in filter(str.strip, re.split(r"[\n\r\t;\u2028\u2029]+", inner)):
        words = re.findall(r"\S+(?:\s+(?:mm|cm|in|inch|inches)\b)?", part)
        try:
            lengths.append(length(part))
        except ParameterError:
            if len(words) < 2:
                raise
            lengths += map(length, words)
    return lengths or [typed_length(text, field)]  # separators alone are refused as any text is


def typed_length(text: str, field: str) -> float:
    """Return typed text as a length in mm.

    Raises ParameterError naming the field.
    """
    try:
        return parse_length(text)
    except QuantityError as error:
        message = f"{field_title(field)}: {error.message}"
        raise ParameterError(message, hint=error.hint, field=field) from error
