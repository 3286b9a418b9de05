"""The proof that a project goes together, and mends where it does not, found by a helper."""

from typing import TYPE_CHECKING

from anzel.assembly.records import AssemblyProof
from anzel.checks.interference import Interference, collisions
from anzel.helpers.process import Helper
from anzel.helpers.serving import said
from anzel.project.assembly import Assembly, assembly_of, keep_assembly
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project

if TYPE_CHECKING:
    from anzel.project.mends import Mend

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


def prove_aside(project: Project) -> Proof:
    """Have a project proven by the helper, and keep the proof here.

    Raises
    ------
    CancelledError
        Where the task at hand was cancelled.
    """
    proof = HELPER.call(proof_there, project)
    keep_assembly(project, proof[1])
    return proof


def mends_there(project: Project, proof: AssemblyProof) -> tuple["Mend", ...]:
    """Return changes after which pieces are no longer locked; this runs in the helper."""
    from anzel.project.mends import mends_for  # only a helper needs it

    return mends_for(project, proof, said)
