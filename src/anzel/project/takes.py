"""Takes: variants of a structure kept beside the present one, and the figures that compare them."""

from dataclasses import dataclass
from math import fsum

from anzel.checks.webs import smallest_webs
from anzel.core.findings import MakerError
from anzel.project.derive import fit_context_of, layout_of, share_seen_of, solved_structure_of
from anzel.project.estimate import estimate_of
from anzel.project.model import MOST_TAKES, Project, Take

__all__ = [
    "MOST_TAKES",
    "TakeFigures",
    "consequence_of_keeping",
    "figures_of",
    "keep_take",
    "take_up",
]


@dataclass(frozen=True)
class TakeFigures:
    """A structure in numbers.

    Area in mm², lengths in mm. `seen` is the share of directions from which the bulb is seen, None
    for a structure without a bulb. `sheets` counts the sheets of all stocks, `left_out` the pieces
    too large for any. `seconds` is the time that the cutter in use takes.
    """

    pieces: int
    sheets: int
    left_out: int
    area: float
    cut_length: float
    smallest_web: float | None
    seen: float | None
    seconds: float


def figures_of(project: Project) -> TakeFigures:
    """Return the figures of the present structure."""
    solved = solved_structure_of(project)
    webs = smallest_webs(solved, fit_context_of(project))
    layouts = [layout_of(project, stock.id) for stock in project.stocks_in_use]
    laid = sum(len(plan.placed) for layout in layouts for plan in layout.plans)
    copies = sum(piece.count for piece in solved.pieces)
    lengths = (c.length for piece in solved.pieces for c in piece.region.contours)
    return TakeFigures(
        pieces=copies,
        sheets=sum(len(layout.plans) for layout in layouts),
        left_out=copies - laid,
        area=fsum(piece.region.area for piece in solved.pieces),
        cut_length=fsum(lengths),
        smallest_web=webs[0].width if webs else None,
        seen=share_seen_of(project),
        seconds=estimate_of(project).times.whole,
    )


def keep_take(project: Project) -> Project:
    """Return the project with its structure kept as a take; a fifth take replaces the oldest."""
    numbers = [int(take.name.rpartition(" ")[2]) for take in project.takes]
    take = Take(name=f"Take {max(numbers, default=0) + 1}", structure=project.structure)
    return project.with_changes(takes=(*project.takes, take)[-MOST_TAKES:])


def consequence_of_keeping(project: Project) -> str:
    """Return in words what keeping a take does now.

    The maker is told before a fifth replaces the oldest.
    """
    if len(project.takes) < MOST_TAKES:
        return "Take kept"
    return f"Take kept; {project.takes[0].name} gave way to it"


def take_up(project: Project, index: int) -> Project:
    """Return the project with a kept take as its structure; it stays among the takes."""
    return project.with_changes(structure=project.takes[index].structure)


def project_of_take(project: Project, index: int) -> Project:
    """Return the project as it would be with a take as its structure.

    Raises
    ------
    MakerError
        Where its sheets are gone.
    """
    try:
        return take_up(project, index)
    except MakerError as error:
        raise MakerError(
            f"{project.takes[index].name}: {error}", hint="Bring its sheets back first."
        ) from error
