"""Edits of the joints between the plates of a free structure.

Each is a function from one Project to the next and raises ParameterError naming the field at fault.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import fields
from functools import lru_cache
from typing import Any

from anzel.app.edits.formula_edits import type_number
from anzel.app.edits.free_structure_edits import changed, free_of
from anzel.app.edits.project_edits import typed_length, typed_number
from anzel.core.findings import ParameterError
from anzel.project.derive import fit_context_of
from anzel.project.model import Project
from anzel.structure.artwork.bending import with_bends
from anzel.structure.artwork.bent_joints import panels_of
from anzel.structure.forms.free_structure import FreeStructure
from anzel.structure.free.expansion import expanded
from anzel.structure.free.joint_suggestion import JointSuggestion
from anzel.structure.free.joint_suggestions import suggest_joints
from anzel.structure.joints.corner_kinds import (
    Corner,
    as_corner,
    corner_kind,
    corner_plates,
    led_by_other,
)
from anzel.structure.joints.line_intervals import common_spans, spans_of
from anzel.structure.joints.registry import AnyKind
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.keyed_tabs import keyed_joints
from anzel.structure.model import FitContext, Plate
from anzel.structure.plane_intersection import intersect_planes
from anzel.structure.relations.repeats import Member, repeated_plates


def suggestions_of(project: Project) -> tuple[JointSuggestion, ...]:
    """Return joints for plates that meet.

    There are none for a form, which has joints of its own.
    """
    if not isinstance(project.structure, FreeStructure):
        return ()
    return _proposals(project.structure, fit_context_of(project))


@lru_cache(maxsize=8)  # the present structure and the last few of undo
def _proposals(free: FreeStructure, fit_context: FitContext) -> tuple[JointSuggestion, ...]:
    """Return the suggestions, cached because picture and panel both ask for them."""
    whole = expanded(free, fit_context)
    own = {plate.name for plate in whole.plates}
    placed = [plate for plate in free.fitted(fit_context)[0] if plate.name in own]
    bent = with_bends(placed, free.own_artwork, fit_context)
    flat_parts = tuple(part for plate in bent for part in panels_of(plate))
    return _one_of_each(suggest_joints(flat_parts, whole.joints, fit_context), whole.members)


def _one_of_each(
    found: Sequence[JointSuggestion], members: Mapping[str, Member]
) -> tuple[JointSuggestion, ...]:
    """Return the suggestions without those that repeats will make of an earlier one."""
    kept: list[JointSuggestion] = []
    made: set[frozenset[str]] = set()
    for offer in found:
        if frozenset(offer.pieces) not in made or members.keys().isdisjoint(offer.pieces):
            kept.append(offer)
            made.update(map(frozenset, repeated_plates(offer.pieces, members)))
    return tuple(kept)


def join(project: Project, declared: AnyKind) -> Project:
    """Return the project with a suggested joint accepted."""
    return changed(project, joints=(*free_of(project).joints, declared))


def join_all(project: Project) -> Project:
    """Return the project with every suggested joint accepted in its best way.

    Raises ParameterError if there is none.
    """
    found = [proposal for proposal in suggestions_of(project) if proposal.ways]
    if not found:
        raise ParameterError("Nothing meets that is not joined.", hint="Move plates together.")
    joints = (*free_of(project).joints, *(proposal.ways[0] for proposal in found))
    return changed(project, joints=joints)


def remove_joint(project: Project, joint_id: str) -> Project:
    """Return the project without a joint."""
    own = base_id(project, joint_id)
    kept = tuple(j for j in free_of(project).joints if j.id != own)
    return changed(project, joints=kept)


def joint_spec_of(project: Project, joint_id: str) -> AnyKind | None:
    """Return the specification of a free structure's joint; None for other joints."""
    if not isinstance(project.structure, FreeStructure):
        return None
    own = base_id(project, joint_id)
    return next((j for j in project.structure.joints if j.id == own), None)


def base_id(project: Project, joint_id: str) -> str:
    """Return the id of the joint that a repeated one is like: its own where it is not repeated."""
    ids = [joint.id for joint in free_of(project).joints]
    return joint_id if joint_id in ids else joint_id.partition(" ")[0]


def lead_by_other(project: Project, joint_id: str) -> Project:
    """Return the project with the other plate of a joint leading, or slotted from above.

    Raises ParameterError for a joint whose plates cannot change their parts.
    """
    joint = _joint_of(project, joint_id)
    other = led_by_other(joint)
    if other is joint:
        raise ParameterError(f"The plates of {joint_id} cannot change their parts.")
    return _with_joint(project, joint, other)


def turn_into_corner(project: Project, joint_id: str, kind: str) -> Project:
    """Return the project with a corner of another kind.

    Raises ParameterError for a joint that is no corner.
    """
    joint = _joint_of(project, joint_id)
    if corner_kind(joint) is None or not isinstance(joint, Corner):
        raise ParameterError(f"{joint_id} is no corner, so that it has one kind only.")
    plates = _plates_of(project)
    first, second = (plates[name] for name in corner_plates(joint))
    line = intersect_planes(first, second)
    shared = common_spans(spans_of(first, line), spans_of(second, line))
    length = max((high - low for low, high in shared), default=1.0)
    return _with_joint(project, joint, as_corner(joint, kind, length))


def _joint_of(project: Project, joint_id: str) -> AnyKind:
    joint = joint_spec_of(project, joint_id)
    if joint is None:
        raise ParameterError(f"There is no joint “{joint_id}”.")
    return joint


def _with_joint(project: Project, joint: AnyKind, other: AnyKind) -> Project:
    joints = tuple(other if each is joint else each for each in free_of(project).joints)
    return changed(project, joints=joints)


def change_joint_numbers(project: Project, joint_id: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with other numbers or another fit of a joint.

    Raises ParameterError for a number out of range.
    """
    free = free_of(project).with_joint(base_id(project, joint_id), **changes)
    return project.with_changes(structure=free)


def key_tabs(project: Project, step: float) -> Project:
    """Return the project with keyed tabs, so that only the right piece fits.

    All joints with two tabs or more differ by `step` mm. Raises ParameterError where there are
    none, or a wrong piece would still fit.
    """
    free = free_of(project)
    tabbed = [j for j in free.joints if isinstance(j, TabMortise) and len(j.tabs) > 1]
    if len(tabbed) < 2:
        raise ParameterError(
            "Fewer than two joints have two tabs.", hint="Give joints two tabs or more first."
        )
    made = dict(
        zip(tabbed, keyed_joints(tabbed, step, fit_context_of(project).clearance), strict=True)
    )
    joints = tuple(made.get(j, j) if isinstance(j, TabMortise) else j for j in free.joints)
    return changed(project, joints=joints)


NUMBERS = {
    "split": ("share", 0.05), "relief": ("mm", 0.1), "proud": ("mm", 0.5), "cells": ("", 1.0),
    "gap": ("mm", 0.05), "lip": ("mm", 0.5), "play": ("mm", 0.1), "tab_count": ("", 1.0),
    "tab_width": ("mm", 0.5), "beyond": ("mm", 0.5),
}  # fmt: skip
"""The numbers of joints: unit and step. Tabs are evenly spread ones, told by count and width."""


def numbers_of(declared: AnyKind) -> dict[str, float]:
    """Return a joint's numbers by name."""
    found = {
        field.name: float(value)
        for field in fields(declared)
        if field.name in NUMBERS and (value := getattr(declared, field.name)) is not None
    }
    tabs = getattr(declared, "tabs", ())
    return {**found, "tab_count": len(tabs), "tab_width": tabs[0][1]} if tabs else found


def type_joint(project: Project, joint_id: str, field: str, text: str) -> Project:
    """Return the project with one number of a joint from typed text.

    Raises ParameterError.
    """
    return type_joints(project, (joint_id,), field, text)


def type_joints(project: Project, joint_ids: Sequence[str], field: str, text: str) -> Project:
    """Return the project with one number of several joints, of those that have it.

    Raises ParameterError, also where a joint that could be made cannot be any more.
    """
    made, ids = project, dict.fromkeys(base_id(project, joint_id) for joint_id in joint_ids)
    for own in ids:
        if len(ids) == 1 or field in numbers_of(_joint_of(project, own)):
            made = type_number(
                made, f"joint {own}/{field}", text,
                lambda p, plain, own=own: _with_figure(p, own, field, plain),  # type: ignore[misc]
            )  # fmt: skip
    before, after = (_refusals(each, ids) for each in (project, made))
    for own, error in after.items():
        if own not in before:
            raise ParameterError(error.message, hint=error.hint, field=field) from error
    return made


def _refusals(project: Project, joint_ids: Collection[str]) -> dict[str, ParameterError]:
    """Return why some of these joints cannot be made, each solved alone: nothing is cut."""
    fit_context = fit_context_of(project)
    whole = expanded(free_of(project), fit_context)
    plates = _plates_of(project)
    found: dict[str, ParameterError] = {}
    for joint in whole.joints:
        if joint.id in joint_ids:
            try:
                joint.solve(plates, fit_context)
            except ParameterError as error:
                found[joint.id] = error
    return found


def _plates_of(project: Project) -> dict[str, Plate]:
    """Return the plates by name, in their places and with their edges where joints need them."""
    plates = free_of(project).place(fit_context_of(project))[0]
    return {plate.name: plate for plate in plates}


def _with_figure(project: Project, joint_id: str, field: str, text: str) -> Project:
    declared = _joint_of(project, joint_id)
    plain = NUMBERS[field][0] != "mm"
    value = typed_number(text, field) if plain else typed_length(text, field)
    tabs: Sequence[tuple[float, float]] = getattr(declared, "tabs", ())
    if field == "tab_count":
        return change_joint_numbers(project, joint_id, tabs=_spread(tabs, round(value)))
    if field == "tab_width":
        return change_joint_numbers(project, joint_id, tabs=[(middle, value) for middle, _ in tabs])
    if field == "cells":
        return change_joint_numbers(project, joint_id, cells=round(value))
    return change_joint_numbers(project, joint_id, **{field: value})


def _spread(tabs: Sequence[tuple[float, float]], count: int) -> list[tuple[float, float]]:
    """Return so many tabs evenly over the interval that these have."""
    if not 1 <= count <= 40:
        raise ParameterError("Between 1 and 40 tabs will do.", field="tab_count")
    pitch = tabs[1][0] - tabs[0][0] if len(tabs) > 1 else 2 * tabs[0][1]
    start, length = tabs[0][0] - pitch / 2, pitch * len(tabs)
    share = length / count
    width = min(tabs[0][1], share * 0.7)
    return [(start + (index + 0.5) * share, width) for index in range(count)]
