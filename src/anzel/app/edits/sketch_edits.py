"""Edits of drawn plates: their sizes typed and retyped, plates from records."""

from typing import Any

from anzel.app.edits import free_structure_edits
from anzel.app.edits.project_edits import typed_length, typed_number
from anzel.core.findings import ParameterError
from anzel.project.model import Project
from anzel.shape.sketch import HeldSize, SizeKind, Sketch
from anzel.shape.sketch_solver import retyped, solved
from anzel.structure.free.outline_shapes import SketchedOutline
from anzel.structure.free.plate import FreePlate

_PLACED = ("x", "y", "z", "turn", "tilt", "spin")


def sketch_of(project: Project, plate: str) -> Sketch | None:
    """Return the sketch of a plate; None for a plate that is not drawn.

    Raises ParameterError for an unknown plate.
    """
    outline = free_structure_edits.plate_of(project, plate).outline
    return outline.sketch if isinstance(outline, SketchedOutline) else None


def drawn_size(project: Project, plate: str, name: str) -> HeldSize:
    """Return a size of a drawn plate.

    Raises ParameterError naming the sizes that there are.
    """
    sketch = sketch_of(project, plate)
    size = sketch.size(name) if sketch is not None else None
    if size is None:
        known = ", ".join(each.name for each in sketch.sizes) if sketch is not None else ""
        hint = f"There are: {known}." if known else "It is no drawn plate."
        raise ParameterError(f"“{plate}” has no size “{name}”.", hint=hint, field=name)
    return size


def type_size(project: Project, plate: str, name: str, text: str) -> Project:
    """Return the project with another value of a size of a drawn plate, from typed text.

    Everything that is not held moves as little as it can. Raises ParameterError for text that is no
    length or angle, and for a value that contradicts other sizes or leaves no outline.
    """
    size = drawn_size(project, plate, name)
    value = (
        typed_number(text.removesuffix("°"), name) if size.kind is SizeKind.ANGLE
        else typed_length(text, name)
    )  # fmt: skip
    sketch = sketch_of(project, plate)
    assert sketch is not None
    return change_sketch(project, plate, retyped(sketch, name, value))


def change_sketch(project: Project, plate: str, sketch: Sketch) -> Project:
    """Return the project with another sketch of a plate.

    Raises ParameterError where it makes no outline.
    """
    outline = SketchedOutline(sketch=sketch)
    outline.region()
    return free_structure_edits.change_plate(project, plate, outline=outline)


def add_plate_record(project: Project, record: dict[str, Any]) -> tuple[Project, str]:
    """Return the project with a plate from a record (docs/plate-format.md), and its name.

    Raises ParameterError saying what is wrong with the record.
    """
    known = {"name", "stock", "sketch", *_PLACED}
    unknown = [name for name in record if name not in known]
    if unknown:
        raise ParameterError(f"A plate has no “{unknown[0]}”.", hint=f"It has {sorted(known)}.")
    stock = record.get("stock", project.stocks_in_use[0].id)
    sketch = solved(Sketch.validated(**_mapping(record.get("sketch"))))
    outline = SketchedOutline(sketch=sketch)
    outline.region()
    places = {name: record[name] for name in _PLACED if name in record}
    plate = FreePlate.validated(
        name=record.get("name", "Plate"), stock=project.stock(stock).id, outline=outline, **places
    )
    return free_structure_edits.add_plate(free_structure_edits.make_free(project), plate)


def _mapping(sketch: object) -> dict[str, Any]:
    if not isinstance(sketch, dict):
        raise ParameterError("The record holds no “sketch”.", field="sketch")
    return sketch
