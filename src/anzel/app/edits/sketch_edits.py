"""Edits of drawn plates: their sizes typed and retyped, plates from records."""

from typing import TYPE_CHECKING, Any

from anzel.app.edits import free_structure_edits
from anzel.app.edits.project_edits import typed_length, typed_number
from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_measure
from anzel.project.model import Project
from anzel.shape.sketch import Corner, HeldSize, SizeKind, Sketch
from anzel.shape.sketch_changes import new_size_name, rectangle_sketch, sketch_of_region
from anzel.shape.sketch_solver import retyped, solved, with_size, without_size
from anzel.structure.free.outline_shapes import Rectangle, SketchedOutline
from anzel.structure.free.plate import FreePlate

if TYPE_CHECKING:
    from anzel.app.views.sketch_measures import Measure

_THERE = 0.01
"""A held point that comes this near, mm, has gone where it was sent: the rest is its weight."""
_PLACED = ("x", "y", "z", "turn", "tilt", "spin")


def sketch_of(project: Project, plate: str) -> Sketch | None:
    """Return the sketch of a plate; None for a plate that is not drawn.

    Raises ParameterError for an unknown plate.
    """
    outline = free_structure_edits.plate_of(project, plate).outline
    return outline.sketch if isinstance(outline, SketchedOutline) else None


def drawn_sketch(project: Project, plate: str) -> Sketch:
    """Return the sketch of a drawn plate.

    Raises ParameterError where the plate is none, perhaps not any more.
    """
    sketch = sketch_of(project, plate)
    if sketch is None:
        raise ParameterError(f"“{plate}” is no drawn plate.", hint="Draw it large first.")
    return sketch


def sketch_if_there(project: Project, plate: str) -> Sketch | None:
    """Return the sketch of a plate; None where it is not drawn, or not there at all."""
    if not project.structure.has_free_plates:
        return None
    names = [each.name for each in free_structure_edits.free_of(project).plates]
    return sketch_of(project, plate) if plate in names else None


def ids_on(project: Project, plate: str) -> frozenset[str]:
    """Return the ids of all that is on a drawn plate; none for what is no drawn plate."""
    sketch = sketch_if_there(project, plate)
    return frozenset(sketch.ids()) if sketch is not None else frozenset()


def things_on(project: Project, plate: str) -> dict[str, list[str]]:
    """Return the ids of the points, legs and openings of a drawn plate, in order."""
    sketch = drawn_sketch(project, plate)
    openings = [*(p.id for p in sketch.paths[1:]), *(disc.id for disc in sketch.discs)]
    return {
        "point": list(sketch.places()),
        "leg": [leg.id for path in sketch.paths for leg in path.legs], "opening": openings,
    }  # fmt: skip


def as_drawn(project: Project, plate: str) -> Project:
    """Return the project with a plate as a drawn one, with the same outline.

    A board keeps its sizes; other outlines come without any. A form becomes a free structure.
    """
    project = free_structure_edits.make_free(project)
    outline = free_structure_edits.plate_of(project, plate).outline
    if isinstance(outline, SketchedOutline):
        return project
    if isinstance(outline, Rectangle):
        sketch = rectangle_sketch(outline.width, outline.height, outline.rounding)
    else:
        sketch = sketch_of_region(outline.region())
    return change_sketch(project, plate, sketch)


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


def typed_size(text: str, kind: SizeKind, field: str) -> float:
    """Return typed text as the value of a size: mm, or degrees for an angle.

    Raises ParameterError naming the field.
    """
    if kind is SizeKind.ANGLE:
        return typed_number(text.removesuffix("°"), field)
    return typed_length(text, field)


def type_size(project: Project, plate: str, name: str, text: str) -> Project:
    """Return the project with another value of a size of a drawn plate, from typed text.

    Everything that is not held moves as little as it can. Raises ParameterError for text that is no
    length or angle, and for a value that contradicts other sizes or leaves no outline.
    """
    size = drawn_size(project, plate, name)
    value = typed_size(text, size.kind, name)
    sketch = drawn_sketch(project, plate)
    return change_sketch(project, plate, retyped(sketch, name, value))


def change_sketch(project: Project, plate: str, sketch: Sketch) -> Project:
    """Return the project with another sketch of a plate.

    Raises ParameterError where it makes no outline.
    """
    outline = SketchedOutline(sketch=sketch)
    outline.region()
    return free_structure_edits.change_plate(project, plate, outline=outline)


def measure(project: Project, plate: str, what: "Measure", value: float) -> Project:
    """Return the project with a measure of a drawn plate held at a value: a new size, or retyped.

    Raises ParameterError where it contradicts other sizes, follows from them, or leaves no outline.
    """
    sketch = drawn_sketch(project, plate)
    if what.held:
        return change_sketch(project, plate, retyped(sketch, what.held, value))
    name = new_size_name(sketch, f"{what.kind.value} {what.of[0]}")
    size = HeldSize.validated(name=name[:40], kind=what.kind, of=what.of, value=value)
    return change_sketch(project, plate, with_size(sketch, size))


def move_point(project: Project, plate: str, name: str, axis: int, value: float) -> Project:
    """Return the project with a point at another x (axis 0) or y (axis 1), mm.

    Raises ParameterError where sizes or relations do not let it go there.
    """
    sketch = drawn_sketch(project, plate)
    place = sketch.places().get(name)
    if place is None:
        raise ParameterError(f"There is no point “{name}”.", field=name)
    wanted = (value, place[1]) if axis == 0 else (place[0], value)
    moved = solved(sketch, {name: wanted})
    if abs(moved.places()[name][axis] - value) > _THERE:
        raise ParameterError(
            f"“{name}” is held and cannot go to {plain_measure(value)}.",
            hint="Let go what holds it.", field=name,
        )  # fmt: skip
    exact = solved(_with_place(moved, name, axis, value))
    return change_sketch(project, plate, exact)


def _with_place(sketch: Sketch, name: str, axis: int, value: float) -> Sketch:
    """Return the sketch with one coordinate of a point as it was typed."""
    field = "xy"[axis]
    paths = [
        path.with_changes(points=tuple(
            point.with_changes(**{field: value}) if point.id == name else point
            for point in path.points
        ))
        for path in sketch.paths
    ]  # fmt: skip
    return sketch.with_changes(paths=tuple(paths))


def change_corner(project: Project, plate: str, corner: Corner) -> Project:
    """Return the project with another wish for the corners of a plate that have none of their own.

    It never touches the corners of slots, tabs and mortises, which joints make. Raises
    ParameterError where it makes no outline.
    """
    sketch = drawn_sketch(project, plate).with_changes(corner=corner)
    return change_sketch(project, plate, sketch)


def let_go(project: Project, plate: str, key: str) -> Project:
    """Return the project with a size or relation let go: “size NAME” or “relation NUMBER”."""
    sketch = drawn_sketch(project, plate)
    what, _, name = key.partition(" ")
    if what == "size":
        return change_sketch(project, plate, without_size(sketch, name))
    kept = tuple(r for at, r in enumerate(sketch.relations) if at != int(name))
    return change_sketch(project, plate, sketch.with_changes(relations=kept))


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
