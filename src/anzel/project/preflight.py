"""The preflight check before cutting: everything that would spoil the structure, as one list."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from anzel.assembly.records import NOTHING, AssemblyProof
from anzel.checks.interference import Interference, collisions
from anzel.checks.webs import OPENING, Web, smallest_webs
from anzel.core.findings import Finding, Severity
from anzel.core.number_format import format_measure, format_quantity
from anzel.core.tolerances import OVERLAP_VOLUME
from anzel.project.assembly import assembly_of, without_suspects
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.inspection import findings_of, left_out_of
from anzel.project.model import Project
from anzel.project.rescale import fits_bed
from anzel.structure.model import SolvedStructure


@dataclass(frozen=True)
class Preflight:
    """What was found.

    `smallest_web` is None where no piece has openings; `left_out` names what a drawing holds and no
    cut file does.
    """

    problems: tuple[Finding, ...]
    interference: tuple[Interference, ...]
    smallest_web: float | None
    all_fit_bed: bool
    left_out: tuple[Finding, ...] = ()
    assembly: AssemblyProof = NOTHING

    @property
    def ok(self) -> bool:
        """Whether nothing stands against cutting."""
        return not self.problems


def preflight(project: Project) -> Preflight:
    """Prove a project.

    Raises
    ------
    ParameterError
        Where it cannot even be built.
    """
    solved, fit_context = solved_structure_of(project), fit_context_of(project)
    found = collisions(solved, fit_context, OVERLAP_VOLUME)
    webs = smallest_webs(solved, fit_context)
    problems = [*_noticed(project), *_joints(solved), *_thin(solved, webs)]
    if all(project.clearance_in(stock.id) >= 0 for stock in project.stocks_in_use):
        problems += [_overlap(each) for each in found]
    assembly = assembly_of(project)
    overlapping = frozenset(name for each in found for name in each.pieces)
    stands = without_suspects(assembly, overlapping).findings
    problems += [each for each in stands if each.severity is Severity.PROBLEM]
    return Preflight(
        tuple(problems), found, webs[0].width if webs else None, fits_bed(project),
        left_out_of(project), assembly.proof,
    )  # fmt: skip


def _noticed(project: Project) -> list[Finding]:
    declared = project.structure.declared()
    return [
        replace(
            f, pieces=declared.get(f.where, (f.where,)),
            joint=f.where if f.where in declared else ""
        )
        for f in findings_of(project)
        if f.severity is Severity.PROBLEM
    ]  # fmt: skip


def _joints(solved: SolvedStructure) -> list[Finding]:
    """Return findings on joints that left no feature on one of their pieces."""
    found = []
    for joint in solved.joints:
        openings = [feature for feature in joint.features if feature.inserted is not None]
        if not openings:
            message = f"{joint.title}: nothing opens for anything."
            found.append(_problem("no-mate", joint.pieces, joint.id, message))
    return found


def _thin(solved: SolvedStructure, webs: Sequence[Web]) -> list[Finding]:
    thickness = {piece.name: piece.thickness for piece in solved.pieces}
    return [
        _problem(
            "thin-web", (web.piece,), _joint_of(web),
            f"only {format_measure(max(web.width, 0.0))} is left between {_beside(web)} on "
            f"{web.piece}.",
            "Move them apart.",
        )
        for web in webs
        if web.width < 0.5 * thickness[web.piece]
    ]  # fmt: skip


def _beside(web: Web) -> str:
    """Return what is on either side of a web."""
    if web.joints == (OPENING, OPENING):
        return "two openings"
    return f"{web.joints[0]} and {web.joints[1] or 'the edge'}"


def _joint_of(web: Web) -> str:
    """Return the joint beside a web; "" for one between openings that are no joint's."""
    return next((joint for joint in web.joints if joint not in ("", OPENING)), "")


def _overlap(found: Interference) -> Finding:
    one, other = found.pieces
    message = (
        f"{one} and {other} would be in the same place, {format_quantity(found.volume, 'mm³', 2)}."
    )
    return _problem("overlap", found.pieces, found.joint, message)


def _problem(
    code: str, pieces: tuple[str, ...], joint: str, message: str, hint: str = ""
) -> Finding:
    where = joint or pieces[0]
    return Finding(code, Severity.PROBLEM, where, message, hint, pieces, joint)
