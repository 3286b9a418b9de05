"""The proof that a project goes together, found beside the window by a helper."""

from anzel.app.background import Task
from anzel.checks.interference import Interference, collisions
from anzel.helpers.process import Helper
from anzel.helpers.serving import said
from anzel.project.assembly import Assembly, assembly_of, keep_assembly
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project

HELPER = Helper("proofs", "anzel.app.proving")
_NOTHING = 0.001
"""Overlap under this volume, mm³ between two pieces, is float dust."""

Proof = tuple[tuple[Interference, ...], Assembly]


def proof_there(project: Project) -> Proof:
    """Return the overlaps of a project's pieces and its order of assembly; this runs in the helper.

    Raises
    ------
    ParameterError
        Where the structure cannot be solved.
    """
    solved, fit_context = solved_structure_of(project), fit_context_of(project)
    return collisions(solved, fit_context, _NOTHING, said), assembly_of(project, said)


def prove_aside(project: Project, task: Task[Proof]) -> Proof:
    """Have a project proven by the helper, and keep the proof here.

    Raises
    ------
    CancelledError
        Where the task was cancelled.
    """
    proof = HELPER.call(
        proof_there, project, said=task.report, is_stopped=lambda: task.is_cancelled
    )
    keep_assembly(project, proof[1])
    return proof
