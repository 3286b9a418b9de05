"""Edits of a free structure: its plates and the joints between them.

Each is a function from one Project to the next and raises ParameterError naming the field at fault.
"""

from collections.abc import Callable, Iterable, Sequence
from math import inf
from pathlib import Path
from typing import Any

from anzel.app.edits.drawn_plates import DrawnPlate, drawn_plates
from anzel.app.edits.formula_edits import type_number
from anzel.app.edits.project_edits import typed_length, typed_number
from anzel.core.findings import ParameterError
from anzel.drawings.model import Tell, no_progress
from anzel.geometry.placement import Vector
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.helpers.serving import said
from anzel.project.derive import fit_context_of
from anzel.project.model import Project
from anzel.storage.atomic_file import FileError
from anzel.structure.artwork.drawn_hinges import USUAL_ANGLE
from anzel.structure.artwork.lines_as_file import lines_as_artwork
from anzel.structure.artwork.records import new_id
from anzel.structure.forms.free_structure import FreeStructure, to_free_structure
from anzel.structure.free.expansion import expanded
from anzel.structure.free.numbers import (
    ANGLES,
    formulas_after_rename,
    formulas_of_what_is_there,
    plate_path,
)
from anzel.structure.free.outline_shapes import SHAPES, AnyShape, ImportedOutline
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.registry import joint_with_renamed_plates, plates_of
from anzel.structure.relations.records import member_name

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
    likes = expanded(free_of(project), fit_context_of(project)).likes
    for each in (piece, piece[:-1]):
        if each in likes and each not in names:
            return likes[each]
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
            project = changed(project, own_artwork=(*artwork, item))
        names.append(name)
    return project, tuple(names)


def bring_drawing(project: Project, path: Path, stock_id: str) -> tuple[Project, str]:
    """Return any project as a free structure with a drawing's outlines, and the first's name.

    Raises as `add_drawing` and `make_free` do.
    """
    found, names = add_drawing(make_free(project), path, stock_id, said)
    return found, names[0]


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
    """Return the project without a plate, its joints, relations and repeats.

    What was placed by it stays where it stands. Raises ParameterError for the last plate.
    """
    plate_of(project, name)
    if len(free_of(project).plates) == 1:
        raise ParameterError("The last plate stays.", hint="Add another one first.")
    whole = expanded(free_of(project), fit_context_of(project))
    gone = {name, *(each for each, like in whole.likes.items() if like == name)}
    here = {plate.name: plate for plate in whole.plates}
    free = whole.structure

    def kept(items: Sequence[Any], plates: Callable[[Any], Iterable[str]]) -> tuple[Any, ...]:
        return tuple(each for each in items if gone.isdisjoint(plates(each)))

    on_it = {
        field: kept(getattr(free, field), lambda each: (each.plate,))
        for field in ("own_openings", "own_pictures", "own_artwork")
    }
    return changed(
        project, plates=kept([here[p.name] for p in free.plates], lambda each: (each.name,)),
        joints=kept(free.joints, plates_of),
        relations=kept(free.relations, lambda each: (each.side.plate, *each.needs)),
        repeats=kept(free.repeats, lambda each: (*each.members, each.about)),
        **on_it,
    )  # fmt: skip


def rename_plate(project: Project, name: str, new: str) -> Project:
    """Return the project with a plate renamed, in joints, relations, formulas and wishes too.

    Raises ParameterError for a name in use, and for a plate that is not there.
    """
    plate_of(project, name)
    new, free = new.strip(), free_of(project)
    whole = expanded(free, fit_context_of(project))
    if new != name and new in (plate.name for plate in whole.plates):
        raise ParameterError(f"There is a “{new}” already.", hint="Use another name.", field="name")
    renamed = {name: new}
    renamed |= {
        member: member_name(new, whole.members[member].number)
        for member, like in whole.likes.items() if like == name
    }  # fmt: skip
    own = {
        field: tuple(
            each.with_changes(plate=new) if each.plate == name else each
            for each in getattr(free, field)
        )
        for field in ("own_openings", "own_pictures", "own_artwork")
    }
    numbers, formulas = formulas_after_rename(free, name, new, fit_context_of(project))
    wishes = project.assembly.renamed(renamed)
    return changed(
        project.with_changes(assembly=wishes),
        plates=tuple(
            p.with_changes(name=renamed[p.name]) if p.name in renamed else p for p in free.plates
        ),
        joints=[joint_with_renamed_plates(j, renamed) for j in free.joints],
        relations=[each.renamed(renamed) for each in free.relations],
        repeats=[each.renamed(renamed) for each in free.repeats],
        own_numbers=numbers, own_formulas=formulas, **own,
    )  # fmt: skip


def change_plate(project: Project, name: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with another placement or stock of a plate."""
    plates = [
        plate.with_changes(**changes) if plate.name == name else plate
        for plate in free_of(project).plates
    ]
    return changed(project, plates=tuple(plates))


def change_outline(project: Project, name: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with other numbers or points of a plate's outline."""
    outline: AnyShape = plate_of(project, name).outline.with_changes(**changes)
    return change_plate(project, name, outline=outline)


def type_bend(project: Project, name: str, at: int, text: str) -> Project:
    """Return the project with another angle of a hinge that a drawing brought along, typed."""
    bends = list(plate_of(project, name).bends)
    if not 0 <= at < len(bends):
        raise ParameterError(f"{name} has no hinge {at + 1}.", field="bends")
    bends[at] = typed_number(text.strip().removesuffix("°"), "bends")
    return change_plate(project, name, bends=tuple(bends))


def type_plate(project: Project, name: str, field: str, text: str) -> Project:
    """Return the project with one number of a plate or of its outline from typed text.

    A sum with names is kept, and the number follows it.
    """
    typed = text.strip().removesuffix("°")
    return type_number(
        project,
        plate_path(name, field),
        typed,
        lambda p, plain: _with_figure(p, name, field, plain),
    )


def _with_figure(project: Project, name: str, field: str, text: str) -> Project:
    value = typed_number(text, field) if field in ANGLES else typed_length(text, field)
    plate_of(project, name)
    plates = (
        plate.with_number(field, value) if plate.name == name else plate
        for plate in free_of(project).plates
    )
    return changed(project, plates=tuple(plates))


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
    at = expanded(free_of(project), fit_context_of(project)).placements[name]
    lowest = min(
        (at.to_world(corner, side)[2] for corner in plate.outline.region().outer.corners
         for side in (half, -half)),
        default=inf,
    )  # fmt: skip
    return move_plate(project, name, (0.0, 0.0, -lowest))


def _with_plate(project: Project, plate: FreePlate) -> Project:
    return changed(project, plates=(*free_of(project).plates, plate))


def changed(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with other fields of its free structure.

    Formulas go with what they belong to.
    """
    free = free_of(project).with_changes(**changes)
    kept = formulas_of_what_is_there(free)
    if len(kept) < len(free.own_formulas):
        free = free.with_changes(own_formulas=kept)
    return project.with_changes(structure=free)


def _new_name(project: Project, wanted: str) -> str:
    """Return a name that is not in use, numbered where needed."""
    taken = {plate.name for plate in free_of(project).plates}
    base = wanted.strip() or "Plate"
    if base not in taken:
        return base
    return next(f"{base} {n}" for n in range(2, len(taken) + 3) if f"{base} {n}" not in taken)
