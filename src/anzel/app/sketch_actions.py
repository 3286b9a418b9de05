"""What can be done to points, legs and openings of a drawn plate; rows of the table of actions."""

from collections.abc import Callable, Collection
from functools import partial

from anzel.app.edits import opening_edits, sketch_edits
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.geometry.rigid_transform import Point
from anzel.project.model import Project
from anzel.shape import sketch_changes
from anzel.shape.copied_openings import copied_openings, openings_of_text, with_openings
from anzel.shape.sketch import LegKind, Relation, RelationKind, Sketch
from anzel.shape.sketch_solver import with_relation

Things = tuple[Thing, ...]
_CHOICES: dict[tuple[ThingKind, ...], tuple[RelationKind, ...]] = {
    (ThingKind.LEG,): (RelationKind.LEVEL, RelationKind.UPRIGHT),
    (ThingKind.POINT,): (RelationKind.FIXED,),
    (ThingKind.POINT, ThingKind.POINT): (RelationKind.LEVEL, RelationKind.UPRIGHT),
    (ThingKind.LEG, ThingKind.LEG): (
        RelationKind.PARALLEL, RelationKind.SQUARE, RelationKind.EQUAL, RelationKind.TANGENT,
    ),
    (ThingKind.POINT, ThingKind.LEG): (RelationKind.ON,),
    (ThingKind.POINT, ThingKind.POINT, ThingKind.LEG): (RelationKind.SYMMETRIC,),
    (ThingKind.POINT,) * 4: (
        RelationKind.CENTRED_X, RelationKind.CENTRED_Y, RelationKind.SYMMETRIC,
    ),
    (ThingKind.OPENING, ThingKind.OPENING): (RelationKind.EQUAL, RelationKind.CONCENTRIC),
}  # fmt: skip
"""Which relations the maker can ask for between what is picked."""


def relations_for(things: Things) -> tuple[RelationKind, ...]:
    """Return the relations that can hold between things, points first."""
    return _CHOICES.get(tuple(thing.kind for thing in _in_order(things)), ())


def relate(session: Session, things: Things, kind: RelationKind) -> None:
    """Have a relation hold between things; tell what contradicts it."""
    of = tuple(thing.name for thing in _in_order(things))
    words = f"{kind.value.capitalize()}: {', '.join(of)}"
    change(session, things, words, lambda s: with_relation(s, Relation(kind=kind, of=of)))


def draw(session: Session, things: Things) -> None:
    """Show a plate large; one that is not drawn yet becomes a drawn one with the same outline.

    The outline of a plate that a form makes stays the form's.
    """
    plate = things[-1].name
    if things[-1].kind is ThingKind.PIECE:
        session.navigation.draw(opening_edits.plate_behind(session.project, plate))
        return
    if sketch_edits.sketch_of(session.project, plate) is None and not session.attempt(
        f"{plate} as a drawing", lambda project: sketch_edits.as_drawn(project, plate)
    ):
        return
    session.navigation.draw(plate)


def split(session: Session, things: Things) -> None:
    """Put a point in the middle of every leg, and pick the last one."""
    made: list[str] = []

    def edit(sketch: Sketch) -> Sketch:
        for thing in things:
            sketch, point = sketch_changes.split_leg(sketch, thing.name, 0.5)
            made.append(point)
        return sketch

    if change(session, things, "Leg split", edit):
        session.pick_made(Thing(ThingKind.POINT, made[-1], things[-1].of))


def turn_into(session: Session, things: Things, kind: LegKind) -> None:
    """Make legs straight, arcs or curves."""

    def edit(sketch: Sketch) -> Sketch:
        for thing in things:
            sketch = sketch_changes.with_leg_kind(sketch, thing.name, kind)
        return sketch

    change(session, things, f"Leg as {kind.value}", edit)


def take_out(session: Session, things: Things) -> None:
    """Take points and openings off their plate."""

    def edit(sketch: Sketch) -> Sketch:
        for thing in things:
            is_point = thing.kind is ThingKind.POINT
            out = sketch_changes.without_point if is_point else sketch_changes.without_opening
            sketch = out(sketch, thing.name)
        return sketch

    if change(session, things, "Taken out", edit):
        session.selection.pick(Thing(ThingKind.PLATE, things[0].of))


OPENINGS: dict[str, Callable[[Sketch, Point, float], tuple[Sketch, str]]] = {
    "window": lambda sketch, at, size: sketch_changes.with_window(sketch, at, 2 * size, size),
    "round-ended opening": lambda sketch, at, size: sketch_changes.with_round_ended(
        sketch, at, 2 * size, size / 2
    ),
    "disc": lambda sketch, at, size: sketch_changes.with_disc(sketch, at, size / 2),
    "triangle": lambda sketch, at, size: sketch_changes.with_polygon(sketch, at, 3, size),
    "hexagon": lambda sketch, at, size: sketch_changes.with_polygon(sketch, at, 6, size / 2),
}  # fmt: skip
"""The openings that can be added, of about a size."""


def add_opening(session: Session, plate: str, kind: str) -> None:
    """Put an opening into the middle of a plate, and pick it."""
    made: list[str] = []

    def edit(sketch: Sketch) -> Sketch:
        xs, ys = zip(*((p.x, p.y) for p in sketch.paths[0].points), strict=True)
        middle = ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
        least = min(max(xs) - min(xs), max(ys) - min(ys))
        sketch, name = OPENINGS[kind](sketch, middle, round(least / 4, 1))
        made.append(name)
        return sketch

    thing = Thing(ThingKind.OPENING, "", plate)
    if change(session, (thing,), f"{kind.capitalize()} in {plate}", edit):
        session.pick_made(Thing(ThingKind.OPENING, made[-1], plate))


def openings_as_text(session: Session, names: Collection[str]) -> str:
    """Return openings of the plate that is drawn as JSON for a clipboard; "" for none."""
    sketch = sketch_edits.drawn_sketch(session.project, session.navigation.drawn_plate)
    copied = copied_openings(sketch, names)
    return copied.model_dump_json() if copied is not None else ""


def paste_openings(session: Session, text: str) -> None:
    """Put the openings of a clipboard into the plate that is drawn large, and pick them."""
    plate = session.navigation.drawn_plate
    if not plate:
        session.status.show("▲ Openings go into a plate that is drawn large.")
        return
    made: list[str] = []

    def edit(sketch: Sketch) -> Sketch:
        sketch, names = with_openings(sketch, openings_of_text(text))
        made.extend(names)
        return sketch

    if change(session, (Thing(ThingKind.OPENING, "", plate),), f"Pasted into {plate}", edit):
        session.pick_made(*(Thing(ThingKind.OPENING, name, plate) for name in made))


def change(session: Session, things: Things, words: str, edit: Callable[[Sketch], Sketch]) -> bool:
    """Change the sketch of the things' plate; say why where that is impossible."""
    plate = things[-1].of

    def make(project: Project) -> Project:
        sketch = sketch_edits.drawn_sketch(project, plate)
        return sketch_edits.change_sketch(project, plate, edit(sketch))

    return session.attempt(words, make)


def _in_order(things: Things) -> list[Thing]:
    """Return things with points before legs before openings, as relations name them."""
    order = (ThingKind.POINT, ThingKind.LEG, ThingKind.OPENING)
    return sorted(things, key=lambda thing: order.index(thing.kind) if thing.kind in order else 9)


RELATE = {kind: partial(relate, kind=kind) for kind in RelationKind}
