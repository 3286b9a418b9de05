"""Edits of the layout: distances, turns, kept placements, copy counts, scraps.

Each is a function from one Project to the next and raises ParameterError naming the field at fault.
"""

from collections import Counter
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

import shapely
from pydantic import ValidationError

from anzel.app.edits import stock_edits
from anzel.core.findings import ParameterError
from anzel.core.immutable import to_parameter_error
from anzel.core.number_format import format_share
from anzel.geometry.rigid_transform import RigidTransform
from anzel.layout.layout import Layout, PlacedPiece, SheetPlan, kept_placement_of
from anzel.layout.sheet_settings import CopyCount, KeptPlacement, SheetSettings
from anzel.materials.scrap import Scrap
from anzel.nesting.problem import ContainerKind, NestingProblem
from anzel.nesting.solving import squeezed_solution
from anzel.project.derive import layout_of, pieces_of
from anzel.project.model import Project

if TYPE_CHECKING:
    from anzel.nesting.squeeze import Stopped, Told

SMALLEST_SCRAP = 40.0
"""Remains with no room for a square of this side are not worth keeping, mm. Common practice, no
source."""


def keep_layout(project: Project, layout: Layout) -> Project:
    """Return the project with a whole layout of one stock kept, until it clashes."""
    others = tuple(k for k in project.sheets.kept_placements if k.stock_id != layout.stock_id)
    return _with(project, kept_placements=(*others, *layout.kept))


def release_placements(project: Project, stock_id: str | None = None) -> Project:
    """Return the project with what is pinned or kept released, of one stock or of all."""
    kept = tuple(k for k in project.sheets.kept_placements if stock_id not in (None, k.stock_id))
    return _with(project, kept_placements=kept)


def pin(project: Project, place: KeptPlacement) -> Project:
    """Return the project with one copy of a piece pinned to a place.

    What it lands on is placed elsewhere. Where all of its stock was kept, the rest stays.
    """
    others = [k for k in project.sheets.kept_placements if _copy(k) != _copy(place)]
    return _with(project, kept_placements=(*others, place.with_changes(pinned=True)))


def pin_all(project: Project, stock_id: str) -> Project:
    """Return the project with every copy of one stock pinned where it lies."""
    layout = layout_of(project, stock_id)
    places = tuple(kept.with_changes(pinned=True) for kept in layout.kept)
    others = tuple(k for k in project.sheets.kept_placements if k.stock_id != stock_id)
    return _with(project, kept_placements=(*others, *places))


def unpin(project: Project, stock_id: str, piece: str, copy_number: int) -> Project:
    """Return the project with one copy free to be placed anew."""
    gone = (stock_id, piece, copy_number)
    return _with(
        project,
        kept_placements=tuple(k for k in project.sheets.kept_placements if _copy(k) != gone),
    )


def moved_placement(
    plan: SheetPlan, laid: PlacedPiece, dx: float, dy: float, turn: float = 0.0
) -> KeptPlacement:
    """Return the placement of a copy, turned about its middle and shifted, pinned."""
    place = kept_placement_of(plan, laid, pinned=True)
    width, height = _size(laid, 0.0)
    wide, tall = _size(laid, turn)
    return place.with_changes(
        x=place.x + dx + (width - wide) / 2, y=place.y + dy + (height - tall) / 2,
        turn=(laid.turn + turn) % 360,
    )  # fmt: skip


def _size(laid: PlacedPiece, turn: float) -> tuple[float, float]:
    left, low, right, high = laid.region.outer.moved(
        RigidTransform.rotation(turn)
    ).polygon_shape.bounds
    return (right - left, high - low)


def set_copy_count(project: Project, piece: str, count: int) -> Project:
    """Return the project with a copy count of a piece.

    The count that the structure needs is not recorded.
    """
    needed = next((p.count for p in pieces_of(project) if p.name == piece), None)
    if needed is None:
        raise ParameterError(f"There is no piece “{piece}”.", field="piece")
    others = tuple(each for each in project.sheets.copy_counts if each.piece != piece)
    left = project.sheets.left_of(piece, needed)
    own = () if count == left else (CopyCount(piece=piece, count=count),)
    return _with(project, copy_counts=(*others, *own))


def only_pieces(project: Project, names: Sequence[str]) -> Project:
    """Return the project with only these pieces in the job.

    Raises ParameterError naming a piece that does not exist.
    """
    pieces = pieces_of(project)
    known = {piece.name for piece in pieces}
    unknown = [name for name in names if name not in known]
    if unknown:
        raise ParameterError(
            f"There is no piece “{unknown[0]}”.", hint=f"There are: {', '.join(sorted(known))}."
        )
    amounts = tuple(CopyCount(piece=p.name, count=0) for p in pieces if p.name not in names)
    return _with(project, copy_counts=amounts)


def add_scrap(project: Project, stock_id: str, polygon: shapely.Polygon, word: str) -> Project:
    """Return the project with a scrap of any outline on the rack, named by a word and a number.

    Raises ParameterError for an invalid outline.
    """
    scraps = project.stock(stock_id).scraps
    taken = [scrap.name for scrap in scraps]
    name = next(n for i in range(1, len(taken) + 2) if (n := f"{word[:30]} {i}") not in taken)
    try:
        scrap = Scrap.of(name, polygon)
    except ValidationError as error:
        message = f"That is no scrap: {to_parameter_error(error).message}"
        raise ParameterError(message, hint="Give it a simple outline, in mm.") from error
    return stock_edits.change_stock(project, stock_id, scraps=(*scraps, scrap))


def remove_scrap(project: Project, stock_id: str, name: str) -> Project:
    """Return the project without a scrap."""
    scraps = tuple(s for s in project.stock(stock_id).scraps if s.name != name)
    return stock_edits.change_stock(project, stock_id, scraps=scraps)


def remnants_of(project: Project, plan: SheetPlan) -> tuple[shapely.Polygon, ...]:
    """Return what will be left of a sheet that is worth keeping."""
    from anzel.layout.available_sheets import remnants

    taken = [laid.region.shape for laid in plan.placed]
    return remnants(plan.polygon, taken, project.sheets.spacing, SMALLEST_SCRAP)


def cut_done(project: Project, plans: Sequence[SheetPlan]) -> Project:
    """Return the project after sheets have been cut.

    What lay on them is remembered as cut, so that the next job starts with what is left. Scraps
    that were used up are removed, counted sheets are counted down, and remnants worth keeping are
    scraps on the rack. Raises ParameterError where nothing lies on the sheets.
    """
    done = Counter(laid.piece.name for plan in plans for laid in plan.placed)
    if not done:
        raise ParameterError("Nothing lies on these sheets.", hint="Put pieces into the job first.")
    remains = [remnants_of(project, plan) for plan in plans]
    before = {each.piece: each.count for each in project.sheets.cut}
    cut = {name: before.get(name, 0) + done[name] for name in dict.fromkeys((*before, *done))}
    project = _with(
        project,
        cut=tuple(CopyCount(piece=name, count=min(count, 999)) for name, count in cut.items()),
        copy_counts=tuple(each for each in project.sheets.copy_counts if each.piece not in done),
    )
    for plan, left in zip(plans, remains, strict=True):
        project = _used_up(project, plan)
        for polygon in left:
            project = add_scrap(project, plan.stock_id, polygon, f"rest of {project.name}")
    return release_placements(project)


def _used_up(project: Project, plan: SheetPlan) -> Project:
    """Return the project without a sheet or scrap that has been cut."""
    stock = project.stock(plan.stock_id)
    if plan.kind is ContainerKind.SCRAP:
        name = plan.container.removeprefix("scrap ")
        return remove_scrap(project, stock.id, name)
    count = stock.sheets[plan.on_rack].count if plan.kind is ContainerKind.SHEET else None
    if count is None:
        return project
    left = max(count - 1, 0)
    return stock_edits.change_sheet_size(project, stock.id, plan.on_rack, count=left)


def squeezed(
    project: Project, stock_id: str, seconds: float, *, told: "Told", stopped: "Stopped"
) -> Layout:
    """Return the layout of one stock after squeezing for so many seconds."""
    layout = layout_of(project, stock_id)
    best = squeezed_solution(layout.problem, seconds, layout.solution, told=told, stopped=stopped)
    return layout.with_solution(best)


def squeeze_all(
    project: Project, seconds: float, *, said: Callable[[str], None], stopped: "Stopped"
) -> Project:
    """Return the project with the layouts of all stocks in use squeezed and kept.

    The stocks share the time; `said` is called with every better layout.
    """
    from anzel.nesting.problem import Solution, density_of

    stocks = project.stocks_in_use
    found = project
    for stock in stocks:
        problem = layout_of(project, stock.id).problem

        def told(
            solution: Solution, name: str = stock.name, problem: NestingProblem = problem
        ) -> None:
            sheets = len(solution.sheets)
            plural = "s" * (sheets != 1)
            filled = format_share(density_of(problem, solution), 1)
            said(f"{name}: {sheets} sheet{plural}, {filled} filled")

        share = seconds / len(stocks)
        layout = squeezed(project, stock.id, share, told=told, stopped=stopped)
        found = keep_layout(found, layout)
    return found


def move(project: Project, layout: Layout, place: KeptPlacement) -> Project:
    """Return the project with one copy pinned and the rest of its stock kept where it lies."""
    return pin(keep_layout(project, layout), place)


def reset_copy_counts(project: Project) -> Project:
    """Return the project with as many of every piece as the structure needs, cut ones too."""
    return _with(project, copy_counts=(), cut=())


def _copy(kept: KeptPlacement) -> tuple[str, str, int]:
    return (kept.stock_id, kept.piece, kept.copy_number)


def _with(project: Project, **changes: object) -> Project:
    settings: SheetSettings = project.sheets.with_changes(**changes)
    return project.with_changes(sheets=settings)
