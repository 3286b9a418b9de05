"""Edits of repeats: a plate with its joints several times over.

Each is a function from one Project to the next and raises ParameterError naming the field at fault.
"""

from typing import Any

from anzel.app.edits.formula_edits import type_number
from anzel.app.edits.free_structure_edits import changed, free_of, plate_of
from anzel.app.edits.relation_edits import (
    expanded_of,
    item_of,
    next_id,
    standing,
    typed_in,
    with_item,
)
from anzel.core.findings import ParameterError
from anzel.project.model import Project
from anzel.structure.joints.registry import joint_with_changes, plates_of
from anzel.structure.relations.records import PlateRepeat, RepeatWay


def repeat_of(project: Project, repeat_id: str) -> PlateRepeat:
    """Return the repeat of that id.

    Raises ParameterError.
    """
    return item_of(free_of(project).repeats, repeat_id, "repeat")


def repeat_with(project: Project, plate: str) -> PlateRepeat | None:
    """Return the repeat that a plate or member belongs to."""
    member = expanded_of(project).members.get(plate)
    if member is None:
        return None
    return next(each for each in free_of(project).repeats if each.id == member.repeat.id)


def repeat_plate(project: Project, plate: str, way: RepeatWay, **fields: Any) -> Project:  # noqa: ANN401
    """Return the project with a plate, and its joints, repeated.

    Raises ParameterError where it is repeated already, or a member's name is in use.
    """
    plate_of(project, plate)
    if repeat_with(project, plate) is not None:
        raise ParameterError(f"{plate} is repeated already.", hint="Retype its count or pitch.")
    repeat = PlateRepeat.validated(
        id=next_id("M", [each.id for each in free_of(project).repeats]), plate=plate, way=way,
        **fields,
    )  # fmt: skip
    taken = {each.name for each in free_of(project).plates} - {plate, repeat.with_plate}
    clash = next(
        (f"{name} {number}" for name, count in repeat.members.items()
         for number in range(2, count + 1) if f"{name} {number}" in taken), None,
    )  # fmt: skip
    if clash is not None:
        raise ParameterError(f"There is a plate “{clash}” already.", hint="Rename it first.")
    return changed(project, repeats=(*free_of(project).repeats, repeat))


def change_repeat(project: Project, repeat_id: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with other fields of a repeat."""
    repeats = with_item(free_of(project).repeats, repeat_id, "repeat", changes)
    return changed(project, repeats=repeats)


def type_repeat(project: Project, repeat_id: str, field: str, text: str) -> Project:
    """Return the project with the count, pitch or spread of a repeat from typed text."""
    return type_number(
        project, f"repeat {repeat_id}/{field}", text.strip().removesuffix("°"),
        lambda p, plain: change_repeat(p, repeat_id, **{field: typed_in(field, plain)}),
    )  # fmt: skip


def end_repeat(project: Project, repeat_id: str) -> Project:
    """Return the project with the members of a repeat as plates of their own, joints too."""
    repeat, whole = repeat_of(project, repeat_id), expanded_of(project)
    mine = {name for name, member in whole.members.items() if member.repeat.id == repeat_id}
    project = standing(project)
    free = free_of(project)
    own = {plate.name for plate in free.plates}
    plates = (*free.plates, *(p for p in whole.plates if p.name in mine and p.name not in own))
    ids = {joint.id for joint in free.joints}
    taken = set(ids)
    joints = list(free.joints)
    for joint in whole.joints:
        if joint.id not in ids and not mine.isdisjoint(plates_of(joint)):
            new = next_id("J", taken)
            taken.add(new)
            joints.append(joint_with_changes(joint, id=new))
    left = tuple(each for each in free.repeats if each is not repeat and each.id != repeat_id)
    return changed(project, plates=plates, joints=tuple(joints), repeats=left)


def remove_repeat(project: Project, repeat_id: str) -> Project:
    """Return the project with only the first member of a repeat left."""
    whole = expanded_of(project)
    mine = {
        name for name, member in whole.members.items()
        if member.repeat.id == repeat_id and member.number > 1
    }  # fmt: skip
    free = free_of(project)
    joints = tuple(j for j in free.joints if mine.isdisjoint(plates_of(j)))
    relations = tuple(r for r in free.relations if mine.isdisjoint((*r.needs, r.side.plate)))
    left = tuple(each for each in free.repeats if each.id != repeat_id)
    plates = tuple(p for p in free.plates if p.name not in mine)
    return changed(
        standing(project), joints=joints, relations=relations, repeats=left, plates=plates
    )


def let_differ(project: Project, name: str) -> Project:
    """Return the project with a member of a repeat as a plate of its own, still in its place."""
    whole = expanded_of(project)
    member = whole.members.get(name)
    if member is None or member.number == 1:
        raise ParameterError(f"{name} is not a further member of a repeat.")
    if any(plate.name == name for plate in free_of(project).plates):
        return project
    plate = next(plate for plate in whole.plates if plate.name == name)
    return changed(project, plates=(*free_of(project).plates, plate))


def make_alike(project: Project, name: str) -> Project:
    """Return the project with a member of a repeat like the others again."""
    if (repeat := repeat_with(project, name)) is None or name in repeat.members:
        raise ParameterError(f"{name} is not a further member of a repeat.")
    plates = tuple(plate for plate in free_of(project).plates if plate.name != name)
    return changed(project, plates=plates)


def leave_out(project: Project, name: str) -> Project:
    """Return the project with a member of a repeat left out of it."""
    member = expanded_of(project).members.get(name)
    if member is None or member.number == 1:
        raise ParameterError(f"{name} is not a further member of a repeat.")
    own = tuple(plate for plate in free_of(project).plates if plate.name != name)
    left_out = tuple(sorted({*member.repeat.left_out, member.number}))
    project = changed(project, plates=own)
    return change_repeat(project, member.repeat.id, left_out=left_out)


def bring_back(project: Project, repeat_id: str) -> Project:
    """Return the project with every member of a repeat in its place again."""
    return change_repeat(project, repeat_id, left_out=())


def likely_middle(project: Project, plate: str) -> str:
    """Return the plate that a ring most likely goes round: one that a relation places it by."""
    own = {each.name for each in free_of(project).plates}
    for relation in free_of(project).relations:
        if relation.side.plate == plate:
            for name in relation.needs:
                if name in own:
                    return name
    return ""
