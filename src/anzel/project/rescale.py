"""Rescale the whole structure: by a factor, to a size, or as large as still fits.

Lengths of the form are scaled, except held ones (hardware). Thicknesses, kerf and clearance are
never scaled, so slots and tabs come out right by themselves.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from anzel.core.findings import MakerError, ParameterError
from anzel.core.number_format import plain_measure, plain_number
from anzel.core.tolerances import RESCALED
from anzel.project.bounds import findings_on_bounds
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.project.possible import need_possible
from anzel.structure.model import FitContext, SolvedStructure
from anzel.structure.solids import produced_solid

_STEPS = 40
_SMALLEST, _LARGEST = 0.05, 20.0


@dataclass(frozen=True)
class Overall:
    """The size of the standing structure, mm: east to west, north to south, up."""

    width: float
    depth: float
    height: float


def overall(solved: SolvedStructure, fit_context: FitContext) -> Overall:
    """Return the bounding box of all produced pieces in their places."""
    boxes = np.array([produced_solid(piece, fit_context).bounding_box() for piece in solved.pieces])
    size = boxes[:, 3:].max(axis=0) - boxes[:, :3].min(axis=0)
    return Overall(*(float(side) for side in size))


def by_factor(project: Project, factor: float) -> Project:
    """Return the project with all lengths times a factor.

    Raises
    ------
    ParameterError
        Where the structure cannot be made.
    """
    if not _SMALLEST <= factor <= _LARGEST:
        raise ParameterError(
            f"A factor of {plain_number(factor)} is out of reason.",
            hint=f"Use {plain_number(_SMALLEST)} to {plain_number(_LARGEST)}.", field="factor",
        )  # fmt: skip
    scaled = project.with_changes(structure=project.structure.scaled(factor))
    need_possible(project, scaled)
    solved_structure_of(scaled)
    return scaled


def to_size(project: Project, axis: str, wanted: float) -> Project:
    """Return the project scaled so that the whole is `wanted` mm along an axis.

    The axis is "width", "depth" or "height".

    Held lengths keep this from being a plain factor, so it is searched for.
    """

    def size(factor: float) -> float:
        scaled = by_factor(project, factor)
        found = overall(solved_structure_of(scaled), fit_context_of(scaled))
        return float(getattr(found, axis))

    factor = wanted / size(1.0)
    for _ in range(_STEPS):
        reached = size(factor)
        if abs(reached - wanted) <= RESCALED * wanted:
            return by_factor(project, factor)
        factor *= wanted / reached
    raise ParameterError(
        f"No factor gives a {axis} of {plain_measure(wanted)}.",
        hint="Change sizes one by one.",
        field=axis,
    )


def largest(project: Project, fits: Callable[[Project], bool]) -> Project:
    """Return the project at the largest scale for which everything fits, found by bisection.

    Raises
    ------
    ParameterError
        If it fits at no size.
    """
    reasons: list[MakerError] = []

    def good(factor: float) -> bool:
        try:
            return fits(by_factor(project, factor))
        except MakerError as error:
            reasons.append(error)
            return False

    low, high = _first_good(good, reasons), 1.0
    while high <= low or (good(high) and high < _LARGEST):
        low, high = max(low, high if good(high) else low), high * 1.5
    for _ in range(_STEPS):
        middle = (low + high) / 2
        low, high = (middle, high) if good(middle) else (low, middle)
    return by_factor(project, low)


def _first_good(good: Callable[[float], bool], reasons: Sequence[MakerError]) -> float:
    factor = 1.0
    while factor > _SMALLEST:
        if good(factor):
            return factor
        factor *= 0.8
    hint = f"Smaller it cannot be: {reasons[0]}" if reasons else "Allow it more room."
    raise ParameterError("It fits at no size.", hint=hint, field="fit")


def fits_bounds(project: Project) -> bool:
    """Return whether every piece and the whole keep within the design's bounds."""
    return not findings_on_bounds(project, solved_structure_of(project))


def fits_bed(project: Project) -> bool:
    """Return whether every piece fits the bed of the cutter in use, turned or not."""
    bed = sorted((project.cutter.bed_width, project.cutter.bed_height))
    sizes = (sorted(piece.region.size) for piece in solved_structure_of(project).pieces)
    return all(size[0] <= bed[0] and size[1] <= bed[1] for size in sizes)


def fits_sheets(project: Project) -> bool:
    """Return whether every piece fits a sheet of its stock, inside the margin, turned or not."""
    margin = 2 * project.sheets.margin
    for piece in solved_structure_of(project).pieces:
        own = sorted(piece.region.size)
        rooms = (
            sorted((size.width - margin, size.height - margin))
            for size in project.stock(piece.stock_id).sheets
        )
        if not any(own[0] <= room[0] and own[1] <= room[1] for room in rooms):
            return False
    return True
