"""The proof of assembly of a project: its produced pieces, the maker's wishes, and the findings."""

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, replace
from threading import Lock

from anzel.assembly.bodies import Bodies, bodies_of, without_interference
from anzel.assembly.partings import Parting, partings_of
from anzel.assembly.records import AssemblyProof, AssemblyStep, Locked
from anzel.assembly.wishes import NO_WISHES
from anzel.core.findings import Finding, Severity
from anzel.core.wording import counted
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.structure.forms.solved_form import solve_form

Said = Callable[[str], None]
LOCKED, BENT, WISHES = "locked", "put-on-by-bending", "wish-impossible"
_KEPT = 12
_proofs: OrderedDict[object, "Assembly"] = OrderedDict()
_lock = Lock()


def unheard(text: str) -> None:
    """Nobody listens to the progress."""


@dataclass(frozen=True)
class Assembly:
    """A proof, and whether it keeps to the maker's wishes; if not, they cannot all be kept.

    `partings` are the ways on which joined pieces part.
    """

    proof: AssemblyProof
    keeps_wishes: bool = True
    partings: tuple[Parting, ...] = ()

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What stands against putting it together."""
        found = [locked_finding(each) for each in self.proof.locked]
        if not self.keeps_wishes:
            message = "not everything that you wished for the order of assembly can be kept."
            found.append(
                Finding(WISHES, Severity.WARNING, "Assembly", message, "Take a wish back.")
            )
        return tuple(found)


def locked_finding(locked: Locked) -> Finding:
    """Return locked pieces as a finding."""
    if locked.bent:
        hint = "Try it with card first."
        where = locked.pieces[0]
        return Finding(BENT, Severity.WARNING, where, f"{locked.why}.", hint, locked.pieces)
    hint = "See what the step Assemble offers, or change one of these joints."
    return Finding(
        LOCKED, Severity.PROBLEM, locked.pieces[0], f"{locked.why}.", hint, locked.pieces
    )  # fmt: skip


def assembly_of(project: Project, said: Said = unheard) -> Assembly:
    """Return the proof of a project; it is kept for the last few structures.

    Raises
    ------
    ParameterError
        Where the structure cannot be solved.
    """
    key = _key(project)
    with _lock:
        if key in _proofs:
            _proofs.move_to_end(key)
            return _proofs[key]
    found = _proven(project, said)
    joints = solved_structure_of(project).joints
    pairs = (pair for joint in joints for pair in joint.separations)
    found = replace(found, partings=partings_of(found.proof, pairs))
    keep_assembly(project, found)
    return found


def keep_assembly(project: Project, assembly: Assembly) -> None:
    """Keep a proof of a project that was found elsewhere."""
    with _lock:
        _proofs[_key(project)] = assembly
        while len(_proofs) > _KEPT:
            _proofs.popitem(last=False)


def known_assembly(project: Project) -> Assembly | None:
    """Return the proof of a project if it was found already; this computes nothing."""
    with _lock:
        return _proofs.get(_key(project))


def _key(project: Project) -> object:
    """Return all that a proof depends on."""
    return project.structure, fit_context_of(project), project.assembly


def proven_partings(project: Project) -> tuple[Parting, ...]:
    """Return how joined pieces part by the proof, as far as it is known."""
    found = known_assembly(project)
    return found.partings if found is not None else ()


def bodies_in(project: Project) -> Bodies:
    """Return the produced pieces of a project, without the interference of press fits.

    Only where an opening is narrower than what goes in is the structure solved again.
    """
    fit_context, solved = fit_context_of(project), solved_structure_of(project)
    fits = {None, *(joint.fit for joint in solved.joints)}
    rules = (fit_context.rule(s.stock_id, fit) for s in fit_context.by_stock for fit in fits)
    if any(rule.clearance < 0 for rule in rules):
        fit_context = without_interference(fit_context)
        solved = solve_form(project.structure, fit_context)
    return bodies_of(solved, fit_context)


def _proven(project: Project, said: Said) -> Assembly:
    bodies, wishes = bodies_in(project), project.assembly
    if project.structure.has_drawings:  # it does not say what stands where
        names = tuple(body.name for body in bodies.all)
        return Assembly(AssemblyProof((AssemblyStep(names),) if names else ()))
    from anzel.assembly.order import prove  # loads networkx, mostly needed in a helper only

    proof = prove(bodies, wishes, said)
    if proof.ok or wishes.is_empty:
        return Assembly(proof)
    free = prove(bodies, NO_WISHES, said)
    if len(free.locked) < len(proof.locked):
        return Assembly(free, keeps_wishes=False)
    return Assembly(proof)


def summary(proof: AssemblyProof) -> str:
    """Return a proof in a few words."""
    if proof.locked:
        names = proof.locked[0].pieces
        shown = ", ".join(names[:3]) + " …" * (len(names) > 3)
        return f"no way in: {shown}"
    moves = sum(len(step.moves) for step in proof.steps)
    return counted(moves, "move") if moves else "nothing to put together"


def without_suspects(assembly: Assembly, overlapping: frozenset[str]) -> Assembly:
    """Return an assembly without locks that only say again that pieces overlap."""
    kept = tuple(
        each for each in assembly.proof.locked if len(overlapping.intersection(each.pieces)) < 2
    )
    return replace(assembly, proof=replace(assembly.proof, locked=kept))
