"""Edits of the relations between the plates of a free structure.

Each is a function from one Project to the next and raises ParameterError naming the field at fault.
"""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any, TypeVar

from anzel.app.edits.formula_edits import type_number
from anzel.app.edits.free_structure_edits import changed, free_of, plate_of
from anzel.app.edits.project_edits import typed_length, typed_number
from anzel.core.findings import ParameterError
from anzel.geometry.placement import Placement, Vector, dot
from anzel.project.derive import fit_context_of
from anzel.project.model import Project
from anzel.structure.formulas import PLAIN_FIELDS
from anzel.structure.free.expansion import Expanded, body_of, expanded
from anzel.structure.free.plate import FreePlate
from anzel.structure.relations.records import (
    EDGES,
    FACES,
    MIDDLE,
    MIDDLE_OF_HEIGHT,
    MIDDLE_OF_WIDTH,
    TABLE,
    WHOLE_NUMBERS,
    Against,
    Centred,
    Facing,
    Hinged,
    PlateRepeat,
    Relation,
    Side,
)
from anzel.structure.relations.sides import PlateBody
from anzel.structure.relations.solver import PlateFreedom, circle_with

Item = TypeVar("Item", Relation, PlateRepeat)
_ALONG = 1e-6
"""Directions are along one another within this, as a cosine."""
_SQUARE = 0.3
"""Directions whose cosine is less are nearly square to one another."""


def expanded_of(project: Project) -> Expanded:
    """Return the project's free structure worked out: where its plates stand, and what is free."""
    return expanded(free_of(project), fit_context_of(project))


def standing(project: Project) -> Project:
    """Return the project with every plate's own numbers where it stands now."""
    whole = expanded_of(project)
    here = {plate.name: plate for plate in whole.plates}
    return changed(
        project.with_changes(structure=whole.structure),
        plates=tuple(here[plate.name] for plate in whole.structure.plates),
    )


def standing_plate(project: Project, name: str) -> FreePlate:
    """Return a plate with its numbers where it stands now.

    Raises ParameterError.
    """
    for plate in expanded_of(project).plates:
        if plate.name == name:
            return plate
    raise ParameterError(f"There is no plate “{name}”.")


def sides_of(project: Project, plate: str) -> tuple[str, ...]:
    """Return the names of the sides of a plate, or of the table."""
    if plate == TABLE:
        return ("top",)
    return body_at(project, plate)[0].sides()


def body_at(project: Project, plate: str) -> tuple[PlateBody, Placement]:
    """Return what relations know of a plate, and where it stands.

    Raises ParameterError.
    """
    body = body_of(standing_plate(project, plate), fit_context_of(project))
    return body, expanded_of(project).placements[plate]


def relations_of(project: Project, plate: str) -> tuple[Relation, ...]:
    """Return the relations that place a plate."""
    return tuple(each for each in free_of(project).relations if each.side.plate == plate)


def freedom_of(project: Project, plate: str) -> PlateFreedom | None:
    """Return what relations leave free of a plate; None for one that no relation places."""
    return expanded_of(project).placed.freedoms.get(plate)


def freedom_words(freedom: PlateFreedom | None) -> str:
    """Return what is free of a plate, for its page."""
    if freedom is None:
        return "It stands at its numbers."
    names = {0: "left and right", 1: "back and forth", 2: "up and down"}
    moves = []
    for way in freedom.moves:
        axis = max(range(3), key=lambda axis: abs(way[axis]))
        moves.append(names[axis] if abs(way[axis]) > 1 - 1e-9 else "along a slant")
    parts = []
    if moves:
        parts.append(f"move {' and '.join(moves)}")
    if freedom.turns:
        parts.append("turn about one axis" if freedom.turns == 1 else "turn")
    return f"It can still {' and '.join(parts)}." if parts else "Relations hold it whole."


def relate(project: Project, relation: Relation) -> Project:
    """Return the project with one more relation, the plates staying as near as can be.

    Raises ParameterError for a circle, and for what cannot hold beside the other relations.
    """
    free = free_of(project)
    if relation.side.plate in relation.needs:
        raise ParameterError("A plate is placed by another one.", hint="Pick another plate.")
    plate_of(project, relation.side.plate)
    circle = circle_with((*free.relations, relation), [p.name for p in free.plates])
    if circle:
        raise ParameterError(
            f"These would place one another in a circle: {' → '.join(circle)}.",
            hint="Pick them the other way round, or take a relation off.",
        )
    made = changed(standing(project), relations=(*free.relations, relation))
    trouble = expanded_of(made).placed.troubles.get(relation.id)
    if trouble is not None:
        raise ParameterError(trouble, field="relation")
    return made


def against(
    project: Project, side: Side, to: Side, facing: Facing | None = None, distance: float = 0.0
) -> Relation:
    """Return the relation that lays one side on another.

    Faces that lie against one another touch, an edge at a face or edge is flush with it, unless
    said otherwise: that which turns the plate least.
    """
    if facing is None:
        facing = _nearest_facing(project, side, to)
    return Against(id=new_relation_id(project), side=side, to=to, facing=facing, distance=distance)


def _nearest_facing(project: Project, side: Side, to: Side) -> Facing:
    """Return how two sides meet with the least turn; on the table a plate stands.

    What is square to a face so far stands on it; what is square to an edge becomes flush with it.
    """
    if to.plate == TABLE:
        return Facing.TOWARDS
    same = dot(*(_direction(project, each.plate, each.side) for each in (side, to)))
    if abs(same) < _SQUARE:
        return Facing.TOWARDS if to.side in FACES else Facing.SAME
    return Facing.SAME if same > 0 else Facing.TOWARDS


def centred(project: Project, side: Side, to: Side, other: Side) -> Relation:
    """Return the relation that puts a side midway between two others."""
    return Centred(id=new_relation_id(project), side=side, to=to, other=other)


def centred_on(project: Project, plate: str, mate: str) -> Project:
    """Return the project with a plate centred on another, every way that is still free.

    Raises ParameterError where none is.
    """
    before = project
    for own in (MIDDLE_OF_WIDTH, MIDDLE_OF_HEIGHT, MIDDLE):
        freedom = freedom_of(project, plate)
        way = _direction(project, plate, own)
        for low, high in (("left", "right"), ("bottom", "top"), ("front", "back")):
            is_along = abs(dot(way, _direction(project, mate, high))) > 1 - _ALONG
            if is_along and _can_move(freedom, way):
                sides = (Side(plate=mate, side=low), Side(plate=mate, side=high))
                project = relate(project, centred(project, Side(plate=plate, side=own), *sides))
    if project is before:
        raise ParameterError(
            f"{plate} cannot be centred on {mate}: relations hold it, or it stands aslant.",
            hint="Take a relation off first.",
        )
    return project


def _can_move(freedom: PlateFreedom | None, way: Vector) -> bool:
    """Return whether a plate can still be moved along a direction."""
    return freedom is None or any(abs(dot(way, move)) > _ALONG for move in freedom.moves)


def _direction(project: Project, plate: str, side: str) -> Vector:
    """Return the direction that a side of a plate faces in space."""
    body, at = body_at(project, plate)
    return at.direction_to_world(body.plane(side).normal)


def hinged(project: Project, side: Side, to: Side, angle: float) -> Relation:
    """Return the relation that sets a plate at an angle along an edge."""
    return Hinged.validated(id=new_relation_id(project), side=side, to=to, angle=angle)


def turn_facing(project: Project, relation_id: str) -> Project:
    """Return the project with the sides of a relation facing the other way."""
    other = {Facing.SAME: Facing.TOWARDS, Facing.TOWARDS: Facing.SAME}
    relation = relation_of(project, relation_id)
    if not isinstance(relation, Against):
        raise ParameterError("Only sides that lie on one another can face two ways.")
    return change_relation(project, relation_id, facing=other[relation.facing])


def relation_of(project: Project, relation_id: str) -> Relation:
    """Return the relation of that id.

    Raises ParameterError.
    """
    return item_of(free_of(project).relations, relation_id, "relation")


def change_relation(project: Project, relation_id: str, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with other fields of a relation."""
    changed_items = with_item(free_of(project).relations, relation_id, "relation", changes)
    return changed(project, relations=changed_items)


def item_of(items: Sequence[Item], item_id: str, what: str) -> Item:
    """Return the relation or repeat of an id.

    Raises ParameterError.
    """
    for item in items:
        if item.id == item_id:
            return item
    raise ParameterError(f"There is no {what} “{item_id}”.")


def with_item(
    items: Sequence[Item], item_id: str, what: str, changes: Mapping[str, Any]
) -> tuple[Item, ...]:
    """Return the relations or repeats with other fields of one.

    Raises ParameterError.
    """
    own = item_of(items, item_id, what)
    return tuple(item.with_changes(**changes) if item is own else item for item in items)


def type_relation(project: Project, relation_id: str, field: str, text: str) -> Project:
    """Return the project with the distance or angle of a relation from typed text."""
    return type_number(
        project, f"relation {relation_id}/{field}", text.strip().removesuffix("°"),
        lambda p, plain: change_relation(p, relation_id, **{field: typed_in(field, plain)}),
    )  # fmt: skip


def remove_relation(project: Project, relation_id: str) -> Project:
    """Return the project without a relation; everything stays where it stands."""
    relation_of(project, relation_id)
    project = standing(project)
    left = tuple(each for each in free_of(project).relations if each.id != relation_id)
    return changed(project, relations=left)


def new_relation_id(project: Project) -> str:
    """Return an id that no relation has."""
    return next_id("R", [relation.id for relation in free_of(project).relations])


def faces_and_edges(sides: tuple[str, ...]) -> tuple[str, ...]:
    """Return those sides that are picked most, first."""
    usual = [side for side in (*FACES[:2], *EDGES) if side in sides]
    return (*usual, *(side for side in sides if side not in usual))


def typed_in(field: str, text: str) -> float:
    """Return typed text as the value of a field of a relation or repeat."""
    if field in WHOLE_NUMBERS:
        return round(typed_number(text, field))
    return typed_number(text, field) if field in PLAIN_FIELDS else typed_length(text, field)


def next_id(letter: str, taken: Iterable[str]) -> str:
    """Return the id after the highest one that begins with the letter."""
    numbers = [int(each[1:]) for each in taken if each[:1] == letter and each[1:].isdigit()]
    return f"{letter}{max(numbers, default=0) + 1}"
