"""Selection: the things that are picked in every view and list, and the stock in hand."""

from collections.abc import Callable, Set
from dataclasses import dataclass
from enum import StrEnum

from anzel.app.listeners import Changed, Tell
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.structure.model import Joint


class ThingKind(StrEnum):
    """What can be picked, as it is called in the window."""

    JOINT = "joint"
    PLATE = "plate"
    PIECE = "piece"
    CURVE = "curve"
    FEATURE = "feature"
    TEST_STEP = "test step"
    LAID = "laid piece"
    POINT = "point"
    LEG = "leg"
    OPENING = "opening"


@dataclass(frozen=True)
class Thing:
    """Something that can be picked.

    `of` names what it belongs to: the drawing of a feature, the stock of a laid piece. `number` is
    which copy of a piece is laid.
    """

    kind: ThingKind
    name: str
    of: str = ""
    number: int = 0


_OF_STRUCTURE = {ThingKind.PLATE, ThingKind.PIECE, ThingKind.LAID}
ON_A_PLATE = frozenset({ThingKind.POINT, ThingKind.LEG, ThingKind.OPENING})
"""What belongs to the plate that it is `of`."""


class Selection:
    """What is picked in the present project: nothing, which means the whole, or things of a kind.

    The last thing is the one that panels show. The joint in hand outlives picks of other kinds,
    because the forecast always shows some joint.
    """

    def __init__(self, project: Callable[[], Project], tell: Tell) -> None:
        self._project, self._tell = project, tell
        self.things: tuple[Thing, ...] = ()
        self.stock_id = self.joint_id = ""
        self._awaited: tuple[Thing, ...] = ()
        self.restart()

    def restart(self) -> None:
        """Pick the whole of another project, its first stock and its first joint."""
        self.things, self._awaited = (), ()
        self.stock_id = self._project().stocks_in_use[0].id
        self.joint_id = next(iter(self._joint_ids()), "")

    @property
    def picked(self) -> Thing | None:
        """The thing that was picked last; None for the whole."""
        return self.things[-1] if self.things else None

    def one(self, *kinds: ThingKind) -> Thing | None:
        """Return the picked thing if it is of one of these kinds."""
        return self.picked if self.picked is not None and self.picked.kind in kinds else None

    def names(self, kind: ThingKind) -> tuple[str, ...]:
        """Return the names of the picked things of a kind."""
        return tuple(thing.name for thing in self.things if thing.kind is kind)

    @property
    def joint(self) -> Joint | None:
        """The joint in hand."""
        joints = solved_structure_of(self._project()).joints
        return next((joint for joint in joints if joint.id == self.joint_id), None)

    @property
    def picked_joint(self) -> str:
        """The id of the picked joint, or nothing."""
        joint = self.one(ThingKind.JOINT)
        return joint.name if joint is not None else ""

    @property
    def plate_name(self) -> str:
        """The name of the picked plate of a free structure, or of what is picked on it."""
        picked = self.one(ThingKind.PLATE, *ON_A_PLATE)
        if picked is None:
            return ""
        return picked.name if picked.kind is ThingKind.PLATE else picked.of

    def pick(self, *things: Thing) -> None:
        """Pick these things, and nothing else, everywhere.

        Those that the present project has not are left out: a view may still show an earlier one.
        """
        things = self._there(things)
        if things != self.things:
            self.things = things
            if self.picked_joint:
                self.joint_id = self.picked_joint
            self._tell(Changed.SELECTION)

    def toggle(self, thing: Thing) -> None:
        """Add a thing to those that are picked, or drop it.

        Things of another kind are dropped, but points, legs and openings of a plate go together.
        """
        others = tuple(each for each in self.things if each.kind is thing.kind and each != thing)
        if {*(each.kind for each in self.things), thing.kind} <= ON_A_PLATE:
            others = tuple(each for each in self.things if each != thing)
        self.pick(*others) if thing in self.things else self.pick(*others, thing)

    def pick_joint(self, joint_id: str) -> None:
        """Pick a joint everywhere."""
        self.pick(Thing(ThingKind.JOINT, joint_id))

    def pick_whole(self) -> None:
        """Pick nothing, so that the whole is shown."""
        self.pick()

    def go_up(self) -> None:
        """Pick what the picked thing is a part of: its plate, or the whole."""
        picked = self.picked
        if picked is not None and picked.kind in ON_A_PLATE:
            self.pick(Thing(ThingKind.PLATE, picked.of))
        else:
            self.pick_whole()

    def pick_next_joint(self, step: int = 1) -> None:
        """Pick the next joint, or the previous with step -1, in a circle."""
        ids = self._joint_ids()
        if not ids:
            return
        at = ids.index(self.joint_id) if self.joint_id in ids else 0
        self.pick_joint(ids[(at + step * bool(self.picked_joint)) % len(ids)])

    def pick_made(self, *things: Thing, is_pending: bool) -> None:
        """Pick things; while a change is pending that makes one of them, when that arrives."""
        self._awaited = things if is_pending and self._there(things) != things else ()
        if not self._awaited:
            self.pick(*things)

    def pick_stock(self, stock_id: str) -> None:
        """Pick the stock that the stock, test and sheet steps show."""
        if stock_id != self.stock_id:
            self.stock_id = stock_id
            self._tell(Changed.SELECTION)

    def await_nothing(self) -> None:
        """Forget the things of a pending change."""
        self._awaited = ()

    def take_awaited(self) -> None:
        """Pick the things of the pending change, which has arrived."""
        if self._awaited:
            self.things, self._awaited = self._awaited, ()

    def keep_valid(self) -> None:
        """Keep the picks valid in a new present project."""
        project = self._project()
        if self.stock_id not in [stock.id for stock in project.stocks]:
            self.stock_id = project.stocks_in_use[0].id
        joints = self._joint_ids()
        declared = set(joints)
        chosen = {self.joint_id, *(t.name for t in self.things if t.kind is ThingKind.JOINT)}
        if not declared.issuperset(chosen):  # one that cannot be made is still there
            declared.update(project.structure.declared())
        self.things = tuple(
            thing for thing in self._there(self.things)
            if thing.kind is not ThingKind.JOINT or thing.name in declared
        )  # fmt: skip
        if self.joint_id not in declared:
            self.joint_id = joints[0] if joints else ""

    def _joint_ids(self) -> list[str]:
        return [joint.id for joint in solved_structure_of(self._project()).joints]

    def _there(self, things: tuple[Thing, ...]) -> tuple[Thing, ...]:
        """Return those that the present project has, where they are no joints."""
        if not things:
            return ()
        project, pieces = self._project(), self._piece_names()
        return tuple(thing for thing in things if self._is_there(thing, project, pieces))

    @staticmethod
    def _is_there(thing: Thing, project: Project, pieces: Set[str]) -> bool:
        """Whether a plate or piece, or its copy, is among these, or what is on a plate is on it."""
        if thing.kind in ON_A_PLATE:
            from anzel.app.edits.sketch_edits import ids_on

            return thing.name in ids_on(project, thing.of)
        if thing.kind is ThingKind.PLATE and not project.structure.has_free_plates:
            return False
        return thing.kind not in _OF_STRUCTURE or thing.name in pieces

    def _piece_names(self) -> set[str]:
        project = self._project()
        names = {piece.name for piece in solved_structure_of(project).pieces}
        if project.structure.has_free_plates:
            from anzel.app.edits.free_structure_edits import free_of

            names |= {plate.name for plate in free_of(project).plates}
        return names
