"""Everything that can be done to what is picked: one table that menus, keys and panels read."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from anzel.app import sketch_actions
from anzel.app.edits import (
    drawing_edits,
    free_structure_edits,
    joint_edits,
    layout_edits,
    many_edits,
    opening_edits,
)
from anzel.app.navigation import Step
from anzel.app.selection import ON_A_PLATE, Thing, ThingKind
from anzel.app.session import Session
from anzel.layout.layout import PlacedPiece
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.shape.sketch import LegKind, RelationKind
from anzel.structure.model import Joint

_PIECES = (ThingKind.PLATE, ThingKind.PIECE)
_SOLID = (*_PIECES, ThingKind.LAID)
SHOWN_IN = {
    Step.BUILD: frozenset(
        {*_PIECES, *ON_A_PLATE, ThingKind.JOINT, ThingKind.CURVE, ThingKind.FEATURE}
    ),
    Step.FORECAST: frozenset({ThingKind.JOINT}),
    Step.SHEETS: frozenset({ThingKind.LAID}),
    Step.TEST: frozenset({ThingKind.TEST_STEP}),
}
"""The kinds of things that each step shows; nothing is done to what is not in sight."""


@dataclass(frozen=True)
class PickedAction:
    """One thing that can be done to picked things of some kinds.

    `run` is called with the things; `needs` says whether the project allows it. One that is not
    `in_menu` is offered only where it applies: in panels and on the right mouse button; one that is
    not `in_panel` has no button there. `standard`
    names the desktop's key, `keys` those where it has none.
    """

    id: str
    title: str
    kinds: tuple[ThingKind, ...]
    run: Callable[[Session, tuple[Thing, ...]], object]
    keys: str = ""
    standard: str = ""
    in_menu: bool = True
    in_panel: bool = True
    needs: Callable[[Session], bool] = lambda session: True

    def applies_to(self, session: Session) -> bool:
        """Return whether it can be done to what is picked now."""
        kind = kind_in_sight(session)
        return kind in self.kinds and self.needs(session)

    def do(self, session: Session) -> None:
        """Do it to what is picked, if it can be done."""
        if self.applies_to(session):
            self.run(session, session.selection.things)


def kind_in_sight(session: Session) -> ThingKind | None:
    """Return the kind of what is picked, if the step that is shown shows it."""
    picked = session.selection.picked
    shown = SHOWN_IN.get(session.navigation.step, frozenset())
    return picked.kind if picked is not None and picked.kind in shown else None


def pieces_of(project: Project, things: Iterable[Thing]) -> tuple[str, ...]:
    """Return the names of the pieces that things are or belong to, each once."""
    joints = {joint.id: joint for joint in solved_structure_of(project).joints}
    names: dict[str, None] = {}
    for thing in things:
        if thing.kind in _SOLID:
            names[thing.name] = None
        elif thing.name in joints:
            names.update(dict.fromkeys(joints[thing.name].pieces))
    return tuple(names)


def piece_thing(project: Project, piece: str) -> Thing:
    """Return the thing that a piece of the structure is: a plate where plates are placed freely."""
    if project.structure.has_free_plates:
        return Thing(ThingKind.PLATE, free_structure_edits.plate_behind(project, piece))
    return Thing(ThingKind.PIECE, piece)


def laid_piece(session: Session, thing: Thing) -> PlacedPiece | None:
    """Return the copy of a piece on its sheet, while it lies there."""
    laid = (
        each for layout in session.layouts or () if layout.stock_id == thing.of
        for plan in layout.plans for each in plan.placed
    )  # fmt: skip
    return next((e for e in laid if (e.piece.name, e.copy_number) == _copy(thing)), None)


def select_all(session: Session) -> None:
    """Pick everything of the kind that is picked, or every piece."""
    project, picked = session.project, session.selection.picked
    solved = solved_structure_of(project)
    if picked is not None and picked.kind is ThingKind.JOINT:
        things = [Thing(ThingKind.JOINT, joint.id) for joint in solved.joints]
    elif picked is not None and picked.kind is ThingKind.FEATURE:
        each = drawing_edits.drawing_view(project, picked.of)
        things = [Thing(ThingKind.FEATURE, d.feature.id, picked.of) for d in each.refit.decisions]
    else:
        things = [piece_thing(project, piece.name) for piece in solved.pieces]
    session.selection.pick(*dict.fromkeys(things))


def _copy(thing: Thing) -> tuple[str, int]:
    return (thing.name, thing.number)


def _words(things: tuple[Thing, ...]) -> str:
    return things[0].name if len(things) == 1 else f"{len(things)} {things[0].kind.value}s"


def _each(
    session: Session,
    things: tuple[Thing, ...],
    done: str,
    edit: Callable[[Project, Thing], Project],
) -> bool:
    """One undoable change that edits every thing in turn."""

    def make(project: Project) -> Project:
        for thing in things:
            project = edit(project, thing)
        return project

    return session.attempt(f"{_words(things)} {done}", make)


def _delete(session: Session, things: tuple[Thing, ...]) -> None:
    edits: dict[ThingKind, tuple[str, Callable[[Project, Thing], Project]]] = {
        ThingKind.JOINT: ("taken out", lambda p, t: _without_joint(p, t.name)),
        ThingKind.PLATE: ("removed", lambda p, t: free_structure_edits.remove_plate(p, t.name)),
        ThingKind.LAID: ("left out", _leave_out),
    }
    if things[0].kind in ON_A_PLATE:
        sketch_actions.take_out(session, things)
        return
    _each(session, things, *edits[things[0].kind])


def _leave_out(project: Project, thing: Thing) -> Project:
    pieces = solved_structure_of(project).pieces
    needed = next((piece.count for piece in pieces if piece.name == thing.name), 1)
    count = project.sheets.count_of(thing.name, needed)
    return layout_edits.set_copy_count(project, thing.name, max(count - 1, 0))


def _can_delete(session: Session) -> bool:
    picked, project = session.selection.picked, session.project
    if picked is None or picked.kind is not ThingKind.JOINT:
        return all(thing.kind is not ThingKind.LEG for thing in session.selection.things)
    openings = (opening_edits.opening_of_joint(project, t.name) for t in session.selection.things)
    return project.structure.has_free_plates or all(opening is not None for opening in openings)


def _without_joint(project: Project, joint_id: str) -> Project:
    opening = opening_edits.opening_of_joint(project, joint_id)
    if opening is not None:
        return opening_edits.remove_opening(project, opening.id)
    return joint_edits.remove_joint(project, joint_id)


def _copies(
    session: Session, things: tuple[Thing, ...], done: str,
    edit: Callable[[Project, Sequence[str]], tuple[Project, tuple[str, ...]]],
) -> None:  # fmt: skip
    """Make copies of plates, and pick those."""
    made: list[str] = []

    def make(project: Project) -> Project:
        project, names = edit(project, [thing.name for thing in things])
        made.extend(names)
        return project

    if session.attempt(f"{_words(things)} {done}", make):
        session.pick_made(*(Thing(ThingKind.PLATE, name) for name in made))


def _duplicate(session: Session, things: tuple[Thing, ...]) -> None:
    _copies(session, things, "copied", many_edits.duplicate)


def _mirror(session: Session, things: tuple[Thing, ...]) -> None:
    _copies(session, things, "mirrored", many_edits.mirror)


def _align(axis: str) -> Callable[[Session, tuple[Thing, ...]], object]:
    def run(session: Session, things: tuple[Thing, ...]) -> None:
        names = [thing.name for thing in things]
        session.attempt(f"{_words(things)} in line", lambda p: many_edits.align(p, names, axis))

    return run


def _space(session: Session, things: tuple[Thing, ...]) -> None:
    names = [thing.name for thing in things]
    session.attempt(f"{_words(things)} evenly apart", lambda p: many_edits.space_evenly(p, names))


def _pick_alike(session: Session, things: tuple[Thing, ...]) -> None:
    """Pick the pieces alike to those picked, or the joints of the same kind."""
    project = session.project
    if things[0].kind is ThingKind.JOINT:
        joints = {joint.id: joint for joint in solved_structure_of(project).joints}
        kinds = {_kind_of_joint(joints[t.name]) for t in things if t.name in joints}
        alike = [joint.id for joint in joints.values() if _kind_of_joint(joint) in kinds]
        session.selection.pick(*(Thing(ThingKind.JOINT, joint_id) for joint_id in alike))
        return
    names = many_edits.alike_plates(project, [thing.name for thing in things])
    session.selection.pick(*dict.fromkeys(piece_thing(project, name) for name in names))


def _kind_of_joint(joint: Joint) -> tuple[str, ...]:
    """Return what a joint leaves on its plates, which tells its kind."""
    return tuple(sorted({feature.kind.value for feature in joint.features}))


def _are_several(session: Session) -> bool:
    return len(session.selection.things) > 1


def _set_down(session: Session, things: tuple[Thing, ...]) -> None:
    _each(
        session, things, "set down", lambda p, t: free_structure_edits.put_on_table(p, t.name)
    )  # fmt: skip


def _hold(session: Session, things: tuple[Thing, ...]) -> None:
    _each(
        session, things, "held or changed",
        lambda p, t: drawing_edits.toggle_feature(p, t.of, t.name),
    )  # fmt: skip


def _pin(session: Session, things: tuple[Thing, ...]) -> None:
    """Pin copies where they lie; let them go if all are pinned."""
    laid = {thing: laid_piece(session, thing) for thing in things}
    lying = {thing: each for thing, each in laid.items() if each is not None}
    if not lying:
        session.status.show("Nothing is pinned while it is laid anew; try it again.")
        return
    if all(each.pinned for each in lying.values()):
        _each(
            session, things, "let go",
            lambda p, t: layout_edits.unpin(p, t.of, t.name, t.number),
        )  # fmt: skip
        return
    layouts = {layout.stock_id: layout for layout in session.layouts or ()}

    def make(project: Project) -> Project:
        for stock_id in dict.fromkeys(thing.of for thing in lying):
            project = layout_edits.keep_layout(project, layouts[stock_id])
        for thing in lying:
            kept = next(
                each for each in layouts[thing.of].kept
                if (each.piece, each.copy_number) == _copy(thing)
            )  # fmt: skip
            project = layout_edits.pin(project, kept.with_changes(pinned=True))
        return project

    session.attempt(f"{_words(tuple(lying))} pinned", make)


def _pick_joints(session: Session, things: tuple[Thing, ...]) -> None:
    names = set(pieces_of(session.project, things))
    joints = solved_structure_of(session.project).joints
    mine = [joint.id for joint in joints if names & set(joint.pieces)]
    session.selection.pick(*(Thing(ThingKind.JOINT, joint) for joint in mine))


def _pick_pieces(session: Session, things: tuple[Thing, ...]) -> None:
    names = pieces_of(session.project, things)
    session.selection.pick(*dict.fromkeys(piece_thing(session.project, name) for name in names))


def _find_on_sheet(session: Session, things: tuple[Thing, ...]) -> None:
    """Show where the last of the pieces lies."""
    wanted = pieces_of(session.project, things[-1:])[-1]
    session.navigation.go_to(Step.SHEETS)
    for layout in session.layouts or ():
        for plan in layout.plans:
            for laid in plan.placed:
                if laid.piece.name == wanted:
                    thing = Thing(ThingKind.LAID, wanted, layout.stock_id, laid.copy_number)
                    session.selection.pick(thing)
                    return


def _find_in_structure(session: Session, things: tuple[Thing, ...]) -> None:
    session.navigation.go_to(Step.BUILD)
    _pick_pieces(session, things)


def _hide(session: Session, things: tuple[Thing, ...]) -> None:
    session.visibility.hide(pieces_of(session.project, things))


def _show_only(session: Session, things: tuple[Thing, ...]) -> None:
    session.visibility.show_only(pieces_of(session.project, things))


def _relation(kind: RelationKind, title: str) -> PickedAction:
    """A row for a relation: offered where it can hold between what is picked."""
    return PickedAction(
        f"relate-{kind.name.lower().replace('_', '-')}", title, tuple(ON_A_PLATE),
        sketch_actions.RELATE[kind], in_menu=False,
        needs=lambda session: kind in sketch_actions.relations_for(session.selection.things),
    )  # fmt: skip


def _leg_kind(kind: LegKind, title: str) -> PickedAction:
    return PickedAction(
        f"leg-{kind.value}", title, (ThingKind.LEG,),
        lambda session, things: sketch_actions.turn_into(session, things, kind), in_menu=False,
    )  # fmt: skip


PICKED_ACTIONS = (
    PickedAction("draw", "Dra&w it large", _PIECES, sketch_actions.draw, "Ctrl+Shift+D"),
    PickedAction("split", "Sp&lit in the middle", (ThingKind.LEG,), sketch_actions.split),
    _leg_kind(LegKind.LINE, "Strai&ght"), _leg_kind(LegKind.ARC, "As an arc"),
    _leg_kind(LegKind.CURVE, "As a curve"),
    _relation(RelationKind.LEVEL, "Level"), _relation(RelationKind.UPRIGHT, "Upright"),
    _relation(RelationKind.PARALLEL, "Parallel"), _relation(RelationKind.SQUARE, "Square"),
    _relation(RelationKind.EQUAL, "Equal"), _relation(RelationKind.TANGENT, "Tangent"),
    _relation(RelationKind.CONCENTRIC, "Concentric"), _relation(RelationKind.ON, "On it"),
    _relation(RelationKind.SYMMETRIC, "Symmetric"), _relation(RelationKind.FIXED, "Fixed"),
    _relation(RelationKind.CENTRED_X, "Centred along x"),
    _relation(RelationKind.CENTRED_Y, "Centred along y"),
    PickedAction("pick-joints", "Pick its &joints", _PIECES, _pick_joints),
    PickedAction("pick-pieces", "Pick its &pieces", (ThingKind.JOINT,), _pick_pieces),
    PickedAction("set-down", "&Set down on the table", (ThingKind.PLATE,), _set_down),
    PickedAction("duplicate", "D&uplicate", (ThingKind.PLATE,), _duplicate, "Ctrl+D"),
    PickedAction(
        "mirror", "Mirror left and ri&ght", (ThingKind.PLATE,), _mirror, in_panel=False
    ),
    PickedAction(
        "pick-alike", "Pick all ali&ke", (*_PIECES, ThingKind.JOINT), _pick_alike, "Ctrl+Shift+K",
        in_panel=False,
    ),
    PickedAction(
        "place", "Place it b&y picking", (ThingKind.PLATE,),
        lambda session, things: session.placing.start(), "Ctrl+Shift+L", in_panel=False,
    ),
    *(
        PickedAction(
            f"align-{axis}", f"In line with the last, {words}", (ThingKind.PLATE,), _align(axis),
            in_menu=False, needs=_are_several,
        )
        for axis, words in (("x", "east"), ("y", "north"), ("z", "up"))
    ),
    PickedAction(
        "space", "Evenly apart", (ThingKind.PLATE,), _space, in_menu=False, needs=_are_several
    ),
    PickedAction("hold", "&Hold as drawn, or change", (ThingKind.FEATURE,), _hold, "Ctrl+H"),
    PickedAction("pin", "P&in where it lies, or let go", (ThingKind.LAID,), _pin, "Ctrl+Alt+P"),
    PickedAction("hide", "Hi&de", (*_PIECES, ThingKind.JOINT), _hide, "Ctrl+Alt+H"),
    PickedAction("show-only", "Sh&ow nothing else", (*_PIECES, ThingKind.JOINT), _show_only),
    PickedAction("find-on-sheet", "Where it lies on its sh&eet", _PIECES, _find_on_sheet),
    PickedAction(
        "find-in-structure", "Where it is in the s&tructure", (ThingKind.LAID,), _find_in_structure
    ),
    PickedAction(
        "delete", "T&ake out",
        (ThingKind.JOINT, ThingKind.PLATE, ThingKind.LAID, ThingKind.POINT, ThingKind.OPENING),
        _delete, "Del", "Delete", needs=_can_delete,
    ),
)  # fmt: skip


def actions_for(session: Session) -> tuple[PickedAction, ...]:
    """Return what can be done to what is picked now."""
    return tuple(action for action in PICKED_ACTIONS if action.applies_to(session))
