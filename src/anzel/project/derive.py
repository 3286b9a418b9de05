"""From decisions to everything shown: pure functions, cached by content.

A change recomputes only what depends on it: a new colour or name touches no geometry.
"""

from collections.abc import Iterable
from functools import lru_cache

from anzel.checks.bulb_visibility import share_seen
from anzel.checks.forecast import Forecast, Wanted, forecast
from anzel.core.findings import Finding, Severity
from anzel.core.memo import latest, memo
from anzel.core.number_format import format_length, format_measure
from anzel.cutjob.job import SheetJob, job_of
from anzel.cutjob.job_settings import JobSettings, LabelStyle
from anzel.layout.available_sheets import AvailableSheets
from anzel.layout.layout import Layout, SheetPlan, lay_out
from anzel.layout.orientations import hidden_fronts
from anzel.layout.sheet_settings import SheetSettings, TurnSteps
from anzel.materials.fits import FitName, KerfAt, Size
from anzel.materials.stock import SheetSize, Stock
from anzel.materials.uncertainty import Uncertainty, class_limits, uncertainty_of
from anzel.project.model import Project
from anzel.structure.forms import AnyForm
from anzel.structure.forms.form import Form
from anzel.structure.forms.solved_form import solve_form
from anzel.structure.model import FitContext, Piece, SheetSpec, SolvedStructure
from anzel.test_pieces.comb import slot_widths, today_width
from anzel.test_pieces.model import TestPiece, TestPieceKind, TestPieceRequest
from anzel.test_pieces.registry import make_test_piece

JobsOfSheets = tuple[SheetJob, ...]
_SMALL = 24
"""Small results that are kept, each for one of the last structures."""
_MOST, _MOST_LAID, _LEAST_LAID = 48_000_000, 16_000_000, 8
"""Bytes of solved structures that are kept, and of layouts and of jobs each: the present one and
the last of undo, hundreds of small ones. However large they are two structures are kept, and eight
layouts, because each is of one stock; they share their pieces."""
_A_CORNER, _A_PIECE = 2_000, 6_000
"""Bytes that a corner of an outline takes with its segment, feature and GEOS shape, and a piece;
measured over the demos and 900 joints."""

_NEAR_FIT = 0.1
"""A step this much beyond the tightest or the loosest fit still tells something, mm."""


@latest
def fit_context_of(project: Project) -> FitContext:
    """Return what the solver needs of the project's stocks, fits and kerf handling."""
    return FitContext(
        tuple(_sheet(project, stock) for stock in project.stocks),
        project.fits.clearance,
        project.kerf_at,
        project.fits,
    )


def solved_structure_of(project: Project) -> SolvedStructure:
    """Return the solved structure.

    Raises
    ------
    ParameterError
        Where it cannot be solved.
    """
    return _build(project.structure, fit_context_of(project))


def is_solved(project: Project) -> bool:
    """Return whether the solved structure is there already, so that asking for it takes no time."""
    return _build.knows(project.structure, fit_context_of(project))


def settled_form(project: Project) -> Form:
    """Return the structure's form with what its formulas come to."""
    return project.structure.settled(fit_context_of(project))[0]


def derived_test_piece(project: Project, stock_id: str, kind: TestPieceKind) -> TestPiece:
    """Return the test piece of one kind for one stock."""
    return _test_piece(_request(project, stock_id, kind))


def comb_widths_of(project: Project, stock_id: str) -> tuple[float, ...]:
    """Return the widths of the comb's slots without making the comb."""
    return slot_widths(_request(project, stock_id, TestPieceKind.COMB))


def layout_of_test_piece(project: Project, stock_id: str, kind: TestPieceKind) -> Layout:
    """Return the test piece on the scrap that it is cut from.

    A finding where the scrap is too small.
    """
    plans = project.test_pieces
    scrap = SheetSize(width=plans.scrap_width, height=plans.scrap_height, count=1)
    pieces, supply = (
        derived_test_piece(project, stock_id, kind).pieces,
        AvailableSheets(stock_id, (scrap,)),
    )
    close = SheetSettings(spacing=2, margin=2, turns=TurnSteps.AS_DRAWN)
    upright = lay_out(pieces, supply, close, at_once=True)
    if not upright.findings:
        return upright
    return lay_out(pieces, supply, close.with_changes(turns=TurnSteps.QUARTER), at_once=True)


def findings_of_test_piece(
    project: Project, stock_id: str, kind: TestPieceKind
) -> tuple[Finding, ...]:  # fmt: skip
    """Return a finding for a test piece of which no step comes near any fit."""
    made = derived_test_piece(project, stock_id, kind)
    if made.scale is None:
        return ()
    left = [step.clearance for step in made.steps]
    low, high = (project.fits.clearance_of(name) for name in (FitName.PRESS, FitName.LOOSE))
    if max(left) < low - _NEAR_FIT or min(left) > high + _NEAR_FIT:
        feel = "tighter than press" if max(left) < low else "looser than loose"
        between = f"{format_length(min(left))} to {format_measure(max(left))}"
        message = f"every step is {feel}: they leave {between}."
        hint = "Leave the start out, and the steps stand round today's number."
        name = project.stock(stock_id).name
        return (Finding("test-piece-fits-nothing", Severity.WARNING, name, message, hint),)
    return ()


def todays_slot(project: Project, stock_id: str) -> Size:
    """Return the drawn size of a slot for a stock in itself as of today."""
    fit_context = fit_context_of(project)
    return today_width(fit_context.of(stock_id), fit_context.rule(stock_id))


def layout_of(project: Project, stock_id: str) -> Layout:
    """Return the layout of the pieces of one stock."""
    supply = AvailableSheets.of(project.stock(stock_id))
    marked = project.job.labels is not LabelStyle.OFF
    return _layout(project.structure, fit_context_of(project), supply, project.sheets, marked)


def outset_of(project: Project, stock_id: str) -> float:
    """Return how far outside the pieces the file's cuts run, mm."""
    return project.kerf_in(stock_id).kerf / 2 if project.kerf_at is KerfAt.PATH else 0.0


def jobs_of(project: Project, stock_id: str) -> JobsOfSheets:
    """Return the sheets of one stock with their lines in cutting order."""
    plans = layout_of(project, stock_id).plans
    kerf = project.kerf_in(stock_id).kerf
    return _job(plans, project.job, kerf, outset_of(project, stock_id))


def share_seen_of(project: Project) -> float | None:
    """Return the share of directions from which the bulb is seen.

    None for a structure without a bulb.
    """
    return _share_seen(project.structure, fit_context_of(project))


def pieces_of(project: Project, stock_id: str | None = None) -> tuple[Piece, ...]:
    """Return the pieces to cut, of one stock or of all."""
    pieces = solved_structure_of(project).pieces
    return pieces if stock_id is None else tuple(p for p in pieces if p.stock_id == stock_id)


def forecast_of(project: Project, fit: FitName | None = None) -> Forecast:
    """Return the chances that the joints come out right, in one fit class (the one in use)."""
    name = fit or project.fits.in_use
    used = project.stocks_in_use
    doubts = tuple(uncertainty_of(stock, project.kerf_in(stock.id)) for stock in used)
    wanted = tuple(
        ((stock.id, own), _wanted(project, stock, own or name))
        for stock in used
        for own in (None, *FitName)
    )
    readings = tuple((stock.id, len(stock.readings)) for stock in used)
    return _forecast(solved_structure_of(project), doubts, readings, wanted)


def _wanted(project: Project, stock: Stock, fit: FitName) -> Wanted:
    """Return the clearance of a class in openings of a stock, and its limits."""
    low, high = class_limits(project.fits, fit)
    return (
        project.clearance_in(stock.id, fit), (low + stock.fit_shift, high + stock.fit_shift)
    )  # fmt: skip


def _sheet(project: Project, stock: Stock) -> SheetSpec:
    said = stock.statistics
    limits = (said.least, said.greatest) if said else None
    kerf = project.kerf_in(stock.id).kerf
    return SheetSpec(stock.id, stock.measured_thickness, kerf, limits, stock.fit_shift)


def _request(project: Project, stock_id: str, kind: TestPieceKind) -> TestPieceRequest:
    fit_context, plans = fit_context_of(project), project.test_pieces
    sheet = fit_context.of(project.stock(stock_id).id)
    rule = fit_context.rule(stock_id)
    return TestPieceRequest(plans.settings(kind), sheet, rule, project.engraves_inches)


def _bytes_of_pieces(pieces: Iterable[Piece]) -> int:
    return sum(_A_PIECE + _A_CORNER * piece.region.corner_count for piece in pieces)


def _bytes_of_structure(solved: SolvedStructure) -> int:
    return _bytes_of_pieces(solved.pieces)


def _bytes_of_layout(layout: Layout) -> int:
    return _bytes_of_pieces(laid.piece for plan in layout.plans for laid in plan.placed)


def _bytes_of_jobs(jobs: JobsOfSheets) -> int:
    return sum(_bytes_of_pieces(laid.piece for laid in job.plan.placed) for job in jobs)


@memo(_bytes_of_structure, _MOST)
def _build(structure: AnyForm, fit_context: FitContext) -> SolvedStructure:
    return solve_form(structure, fit_context)


@lru_cache(maxsize=_SMALL)
def _share_seen(structure: AnyForm, fit_context: FitContext) -> float | None:
    bulb = structure.settled(fit_context)[0].bulb(fit_context)
    return None if bulb is None else share_seen(_build(structure, fit_context), fit_context, bulb)


@lru_cache(maxsize=_SMALL)
def _test_piece(request: TestPieceRequest) -> TestPiece:
    return make_test_piece(request)


@lru_cache(maxsize=_SMALL)
def _forecast(
    solved: SolvedStructure,
    doubts: tuple[Uncertainty, ...],
    readings: tuple[tuple[str, int], ...],
    wanted: tuple[tuple[tuple[str, FitName | None], Wanted], ...],
) -> Forecast:
    return forecast(solved, doubts, dict(readings), dict(wanted))


@memo(_bytes_of_layout, _MOST_LAID, _LEAST_LAID)
def _layout(
    structure: AnyForm, fit_context: FitContext, available: AvailableSheets,
    settings: SheetSettings,
    marked: bool
) -> Layout:  # fmt: skip
    build = _build(structure, fit_context)
    pieces = [p for p in build.pieces if p.stock_id == available.stock_id]
    return lay_out(pieces, available, settings, hidden=hidden_fronts(build), marked=marked)


@memo(_bytes_of_jobs, _MOST_LAID, _LEAST_LAID)
def _job(
    plans: tuple[SheetPlan, ...], how: JobSettings, kerf: float, outset: float
) -> JobsOfSheets:
    return tuple(job_of(plan, how, kerf=kerf, outset=outset) for plan in plans)
