"""Changes that would let locked pieces go together, each tried before it is offered."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import islice

from anzel.assembly.order import prove
from anzel.assembly.records import AssemblyProof, Locked
from anzel.core.findings import ParameterError
from anzel.project.assembly import Said, bodies_in, unheard
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.structure.forms import AnyForm
from anzel.structure.forms.free_structure import FreeStructure
from anzel.structure.joints.corner_kinds import led_by_other
from anzel.structure.joints.joint_change import JointChange, can_swap
from anzel.structure.joints.registry import AnyKind
from anzel.structure.joints.tab_mortise import TabMortise

_MOST_TRIED = 24
_MOST_OFFERED = 3
_MOST_TOGETHER = 3


@dataclass(frozen=True)
class Mend:
    """A change in words, and the structure with it; the pieces that it frees."""

    words: str
    structure: AnyForm
    pieces: tuple[str, ...]


def mends_for(project: Project, proof: AssemblyProof, said: Said = unheard) -> tuple[Mend, ...]:
    """Return changes after which pieces are no longer locked, the smallest first.

    Where no single change frees all pieces that hold one another, several go together.
    """
    found: list[Mend] = []
    for locked in proof.locked:
        found += _Trial(project, locked, said).offered()
    return tuple(found)


@dataclass
class _Trial:
    """Changes of the joints among the plates of some locked pieces, tried one after the other."""

    project: Project
    locked: Locked
    said: Said

    def __post_init__(self) -> None:
        self.plates = {_plate_of(name) for name in self.locked.pieces}

    def offered(self) -> list[Mend]:
        """Return the changes that free all of them."""
        structure, done, left = self.project.structure, "", len(self.locked.pieces)
        for _ in range(_MOST_TOGETHER):
            found, partly = [], None
            for words, changed in islice(self._changes(structure), _MOST_TRIED):
                self.said(f"trying a mend: {words} …")
                now = self._locked_after(changed)
                if now == 0:
                    found.append(Mend(done + words, changed, self.locked.pieces))
                elif now < left and partly is None:
                    partly = words, changed, now
                if len(found) == _MOST_OFFERED:
                    break
            if found or partly is None:
                return found
            words, structure, left = partly
            done += f"{words} and "
        return []

    def _locked_after(self, changed: AnyForm) -> int:
        """Return how many pieces of these plates would be locked after a change."""
        try:
            bodies = bodies_in(self.project.with_changes(structure=changed))
        except ParameterError:
            return len(self.locked.pieces)
        names = [body.name for body in bodies.all if _plate_of(body.name) in self.plates]
        among = prove(bodies.named(names), said=self.said, thorough=False)
        if among.locked:
            return _count(among.locked)
        whole = prove(bodies, said=self.said, thorough=False).locked
        return _count(tuple(each for each in whole if set(each.pieces) & set(self.locked.pieces)))

    def _changes(self, structure: AnyForm) -> Iterator[tuple[str, AnyForm]]:
        """Yield changes in words: a piece or a joint from the other side, recessed tabs, open."""
        project = self.project.with_changes(structure=structure)
        solved = solved_structure_of(project)
        specs = {spec.id: spec for spec in structure.fitted(fit_context_of(project))[1]}
        own = [j for j in solved.joints if j.id in specs]
        among = [j for j in own if self.plates.issuperset(map(_plate_of, j.pieces))]
        for joint in among:
            if can_swap(specs[joint.id]):
                yield (
                    f"{joint.id} slotted from the other side",
                    _changed(project, [joint.id], swapped=True),
                )
        for piece in self.locked.pieces:
            all_of = [j.id for j in own if piece in j.pieces and can_swap(specs[j.id])]
            if len(all_of) > 1:
                yield (
                    f"all slots of {piece} from the other side",
                    _changed(project, all_of, swapped=True),
                )
        for joint in among:
            spec = specs[joint.id]
            if isinstance(spec, TabMortise):
                thick = solved.piece(joint.pieces[-1]).thickness
                yield (
                    f"the tabs of {joint.id} recessed",
                    _changed(project, [joint.id], recessed=round(thick / 2, 2)),
                )
        for joint in among:
            yield f"{joint.id} left open", _changed(project, [joint.id], left_out=True)


def _count(locked: tuple[Locked, ...]) -> int:
    return sum(len(each.pieces) for each in locked)


def _plate_of(piece: str) -> str:
    """Return the plate of a piece: parts of a slice are numbered after a dot."""
    return piece.partition(".")[0]


def _changed(project: Project, joint_ids: Sequence[str], **changes: bool | float) -> AnyForm:
    """Return the structure with joints changed: in their own records, or beside the form's."""
    structure = project.structure
    for joint_id in joint_ids:
        if isinstance(structure, FreeStructure) and joint_id in {j.id for j in structure.joints}:
            structure = _changed_freely(structure, joint_id, changes)
            continue
        own = {each.joint: each for each in structure.own_joints}
        change = own.pop(joint_id, JointChange(joint=joint_id))
        wanted = {**changes, "swapped": not change.swapped} if "swapped" in changes else changes
        own_joints = (*own.values(), change.with_changes(**wanted))
        structure = structure.with_changes(own_joints=own_joints)
    return structure


def _changed_freely(
    structure: FreeStructure, joint_id: str, changes: dict[str, bool | float]
) -> FreeStructure:
    joints: list[AnyKind] = []
    for joint in structure.joints:
        if joint.id != joint_id:
            joints.append(joint)
        elif "swapped" in changes:
            joints.append(led_by_other(joint))
        elif "recessed" in changes and isinstance(joint, TabMortise):
            return structure.with_joint(joint_id, proud=joint.proud - changes["recessed"])
    return structure.with_changes(joints=tuple(joints))
