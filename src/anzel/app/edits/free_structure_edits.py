"""Edits of a free structure: its plates and the joints between them.

Each is a function from one Project to the next and raises ParameterError naming the field at fault.
"""

from collections.abc import Sequence
from dataclasses import fields
from functools import lru_cache
from math import inf
from pathlib import Path
from typing import Any

from anzel.app.edits.drawn_plates import DrawnPlate, drawn_plates
from anzel.app.edits.project_edits import typed_length, typed_number
from anzel.core.findings import ParameterError
from anzel.drawings.model import Tell, no_progress
from anzel.geometry.placement import Vector
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.project.derive import fit_context_of
from anzel.project.model import Project
from anzel.storage.atomic_file import FileError
from anzel.structure.artwork.bending import with_bends
from anzel.structure.artwork.bent_joints import panels_of
from anzel.structure.artwork.drawn_hinges import USUAL_ANGLE
from anzel.structure.artwork.lines_as_file import lines_as_artwork
from anzel.structure.artwork.records import new_id
from anzel.structure.forms.free_structure import FreeStructure, to_free_structure
from anzel.structure.free.joint_suggestions import JointSuggestion, suggest_joints
from anzel.structure.free.outline_shapes import SHAPES, AnyShape, ImportedOutline
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.registry import AnyKind, joint_with_renamed_plates, plates_of
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.keyed_tabs import keyed_joints
from anzel.structure.model import FitContext

ANGLES = ("turn", "tilt", "spin")
PLACES = ("x", "y", "z")
_FAR = 2000.0
"""A drawing that reaches further than this, mm, is laid beside the origin."""
_LONGEST_NAME = 48


def make_free(project: Project) -> Project:
    """Return the project with its structure as a free one.

    The pieces are the same, and every plate and joint can be edited.
    """
    if isinstance(project.structure, FreeStructure):
        return project
    return project.with_changes(
        structure=to_free_structure(project.structure, fit_context_of(project))
    )


def free_of(project: Project) -> FreeStructure:
    """Return the project's free structure.

    Raises ParameterError where it has another form.
    """
    if not isinstance(project.structure, FreeStructure):
        hint = "Turn it into a free structure first."
        raise ParameterError("A form places its own plates.", hint=hint)
    return project.structure


def plate_of(project: Project, name: str) -> FreePlate:
    """Return the plate of that name.

    Raises ParameterError.
    """
    for plate in free_of(project).plates:
        if plate.name == name:
            return plate
    raise ParameterError(f"There is no plate “{name}”.")


def plate_behind(project: Project, piece: str) -> str:
    """Return the plate that a piece is cut from.

    It may be a plate that its slots leave in parts; an insert is with the plate it is let into.
    """
    names = [plate.name for plate in free_of(project).plates]
    if piece in names or piece[:-1] in names:
        return piece if piece in names else piece[:-1]
    return max((name for name in names if piece.startswith(f"{name} ")), key=len)


def add_shape(project: Project, kind: str, stock_id: str) -> tuple[Project, str]:
    """Return the project with a new plate lying on the table, and the plate's name."""
    name = _new_name(project, kind.capitalize())
    return _with_plate(project, FreePlate(name=name, stock=stock_id, outline=SHAPES[kind]())), name


def add_drawing(
    project: Project, path: Path, stock_id: str, tell: Tell = no_progress
) -> tuple[Project, tuple[str, ...]]:
    """Return the project with the outlines of an SVG or DXF file as plates, and their names.

    The plates lie as in the file; outlines far from the origin are moved beside it. Lines that lie
    on them come along: cut, scored or engraved as their layers say, engraved otherwise; living
    hinges are bent by a right angle. `tell` raises to stop it. Raises FileError for a file without
    outlines, DrawingError for one that cannot be read, and ParameterError for an outline that
    cannot be a plate.
    """
    drawn = drawn_plates(path, tell)
    if not drawn:
        raise FileError(f"{path.name} holds no closed outline to cut.")
    boxes = [plate.region.bounds for plate in drawn]
    is_far = max(abs(end) for box in boxes for end in box) > _FAR
    left, low = (min(box[at] for box in boxes) if is_far else 0.0 for at in (0, 1))
    names = []
    for plate in drawn:
        name = _new_name(project, plate.name[:_LONGEST_NAME].capitalize())
        lying = _lying(plate, name, stock_id, (-left, -low))
        project = _with_plate(project, lying)
        if plate.lines:
            artwork = project.structure.own_artwork
            item = lines_as_artwork(new_id(artwork), name, plate.region, plate.lines)
            project = _changed(project, own_artwork=(*artwork, item))
        names.append(name)
    return project, tuple(names)


def _lying(plate: DrawnPlate, name: str, stock_id: str, shift: Point) -> FreePlate:
    left, low, right, high = plate.region.bounds
    x, y = (left + right) / 2, (low + high) / 2
    outline = ImportedOutline.validated(
        outline=plate.region.moved(RigidTransform().translated(-x, -y))
    )
    at = {"x": x + shift[0], "y": y + shift[1]}
    bends = tuple(USUAL_ANGLE for _ in range(plate.hinges))
    return FreePlate.validated(name=name, stock=stock_id, outline=outline, bends=bends, **at)


def copy_plate(project: Project, name: str) -> tuple[Project, str]:
    """Return the project with a copy of a plate, moved aside and without joints, and its name."""
    plate = plate_of(project, name)
    new = _new_name(project, name.rstrip("0123456789 "))
    return _with_plate(project, plate.with_changes(name=new, x=plate.x + 20, y=plate.y + 20)), new


def add_plate(project: Project, plate: FreePlate) -> tuple[Project, str]:
    """Return the project with one more plate, and its name, which is a new one if it must be."""
    name = _new_name(project, plate.name.rstrip("0123456789 ") or plate.name)
    return _with_plate(project, plate.with_changes(name=name)), name


def remove_plate(project: Project, name: str) -> Project:
    """Return the project without a plate and its joints.

    Raises ParameterError for the last plate.
    """
    free, plate = free_of(project), plate_of(project, name)
    if len(free.plates) == 1:
        raise ParameterError("The last plate stays.", hint="Add another one first.")
    kept = tuple(joint for joint in free.joints if name not in plates_of(joint))
    plates = tuple(each for each in free.plates if each is not plate)
    openings = tuple(each for each in free.own_openings if each.plate != name)
    pictures = tuple(each for each in free.own_pictures if each.plate != name)
    artwork = tuple(each for each in free.own_artwork if each.plate != name)
    return _changed(
        project, plates=plates, joints=kept, own_openings=openings, own_pictures=pictures,
        own_artwork=artwork,
    )  # fmt: skip


def rename_plate(project: Project, name: str, new: str) -> Project:
    """Return the project with a plate renamed, in its joints too.

    Raises ParameterError for a name in use.
    """
    new, free = new.strip(), free_of(project)
    if new != name and new in (plate.name for plate in free.plates):
        raise ParameterError(f"There is a “{new}” already.", hint="Use another name.", field="name")
    plates = tuple(p.with_changes(name=new) if p.name == name else p for p in free.plates)
    joints = [joint_with_renamed_plates(j, {name: new}) for j in free.joints]
    openings, pictures, artwork = (
        tuple(each.with_changes(plate=new) if each.plate == name else each for each in own)
        for own in (free.own_openings, free.own_pictures, free.own_artwork)
    )
    return _changed(
        project, plates=plates, joints=joints, own_openings=openings, own_pictures=pictures,
        own_artwork=artwork,
    )  # fmt: skip


def change_plate(project: Project, name: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with another placement or stock of a plate."""
    plates = [
        plate.with_changes(**changes) if plate.name == name else plate
        for plate in free_of(project).plates
    ]
    return _changed(project, plates=tuple(plates))


def change_outline(project: Project, name: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with other numbers or points of a plate's outline."""
    outline: AnyShape = plate_of(project, name).outline.with_changes(**changes)
    return change_plate(project, name, outline=outline)


def type_bend(project: Project, name: str, at: int, text: str) -> Project:
    """Return the project with another angle of a hinge that a drawing brought along, typed."""
    bends = list(plate_of(project, name).bends)
    bends[at] = typed_number(text.strip().removesuffix("°"), "bends")
    return change_plate(project, name, bends=tuple(bends))


def type_plate(project: Project, name: str, field: str, text: str) -> Project:
    """Return the project with one number of a plate or of its outline from typed text."""
    plate = plate_of(project, name)
    if field in ANGLES:
        return change_plate(project, name, **{field: typed_number(text.removesuffix("°"), field)})
    value = typed_length(text, field)
    if field in type(plate.outline).model_fields:
        return change_outline(project, name, **{field: value})
    return change_plate(project, name, **{field: value})


def move_plate(project: Project, name: str, by: Vector) -> Project:
    """Return the project with a plate moved, mm."""
    plate = plate_of(project, name)
    x, y, z = (
        round(at + step, 6) for at, step in zip((plate.x, plate.y, plate.z), by, strict=True)
    )
    return change_plate(project, name, x=x, y=y, z=z)


def put_on_table(project: Project, name: str) -> Project:
    """Return the project with a plate lowered, or raised, until it stands on the table."""
    plate = plate_of(project, name)
    half = fit_context_of(project).of(plate.stock).measured_thickness / 2
    at = plate.placement
    lowest = min(
        (at.to_world(corner, side)[2] for corner in plate.outline.region().outer.corners
         for side in (half, -half)),
        default=inf,
    )  # fmt: skip
    return move_plate(project, name, (0.0, 0.0, -lowest))


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
    own = {plate.name for plate in free.plates}
    placed = [plate for plate in free.fitted(fit_context)[0] if plate.name in own]
    bent = with_bends(placed, free.own_artwork, fit_context)
    flat_parts = tuple(part for plate in bent for part in panels_of(plate))
    return suggest_joints(flat_parts, free.joints, fit_context)


def join(project: Project, declared: AnyKind) -> Project:
    """Return the project with a suggested joint accepted."""
    return _changed(project, joints=(*free_of(project).joints, declared))


def join_all(project: Project) -> Project:
    """Return the project with every suggested joint accepted in its best way.

    Raises ParameterError if there is none.
    """
    found = suggestions_of(project)
    if not found:
        raise ParameterError("Nothing meets that is not joined.", hint="Move plates together.")
    joints = (*free_of(project).joints, *(proposal.ways[0] for proposal in found))
    return _changed(project, joints=joints)


def remove_joint(project: Project, joint_id: str) -> Project:
    """Return the project without a joint."""
    kept = tuple(j for j in free_of(project).joints if j.id != joint_id)
    return _changed(project, joints=kept)


def joint_spec_of(project: Project, joint_id: str) -> AnyKind | None:
    """Return the specification of a free structure's joint; None for other joints."""
    if not isinstance(project.structure, FreeStructure):
        return None
    found = (j for j in project.structure.joints if j.id == joint_id)
    return next(found, None)


def change_joint_numbers(project: Project, joint_id: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with other numbers or another fit of a joint.

    Raises ParameterError for a number out of range.
    """
    free = free_of(project).with_joint(joint_id, **changes)
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
    return _changed(project, joints=joints)


NUMBERS = {
    "split": ("share", 0.05), "relief": ("mm", 0.1), "proud": ("mm", 0.5), "cells": ("", 2.0),
    "gap": ("mm", 0.05), "lip": ("mm", 0.5), "play": ("mm", 0.1), "tab_count": ("", 1.0),
    "tab_width": ("mm", 0.5),
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
    declared = joint_spec_of(project, joint_id)
    if declared is None:
        raise ParameterError(f"There is no joint “{joint_id}”.")
    plain = NUMBERS[field][0] != "mm"
    value = typed_number(text, field) if plain else typed_length(text, field)
    tabs: Sequence[tuple[float, float]] = getattr(declared, "tabs", ())
    if field == "tab_count":
        return change_joint_numbers(project, joint_id, tabs=_spread(tabs, round(value)))
    if field == "tab_width":
        return change_joint_numbers(project, joint_id, tabs=[(middle, value) for middle, _ in tabs])
    if field == "cells":
        return change_joint_numbers(project, joint_id, cells=round(value) | 1)
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


def _with_plate(project: Project, plate: FreePlate) -> Project:
    return _changed(project, plates=(*free_of(project).plates, plate))


def _changed(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    return project.with_changes(structure=free_of(project).with_changes(**changes))


def _new_name(project: Project, wanted: str) -> str:
    """Return a name that is not in use, numbered where needed."""
    taken = {plate.name for plate in free_of(project).plates}
    base = wanted.strip() or "Plate"
    if base not in taken:
        return base
    return next(f"{base} {n}" for n in range(2, len(taken) + 3) if f"{base} {n}" not in taken)
