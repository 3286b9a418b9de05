"""From decisions to everything shown: pure, and cached by content.

A change recomputes only what depends on it: a new colour or name touches no geometry.
"""

from functools import lru_cache

from anzel.findings import Finding, Severity
from anzel.gauges.comb import Comb, CombSettings, comb, slot_widths, today_width
from anzel.project.model import Project
from anzel.sheets.layout import Layout, SheetSettings, lay_out
from anzel.stock.fits import FitRule, Size
from anzel.stock.stock import Stock
from anzel.structure.forms import AnyForm
from anzel.structure.forms.base import build
from anzel.structure.plates import Build, Piece, Sheet, Sheets

_FEW_READINGS = 3


def sheets_of(project: Project) -> Sheets:
    """What the solver needs of the project's stocks, fits and kerf handling."""
    return Sheets(
        tuple(_sheet(stock) for stock in project.stocks),
        project.fits.clearance,
        project.kerf_at,
    )


def build_of(project: Project) -> Build:
    """The structure, solved. Raises ParameterError where it cannot be."""
    return _build(project.structure, sheets_of(project))


def comb_of(project: Project, stock_id: str) -> Comb:
    """The comb for one stock."""
    stock, sheets = project.stock(stock_id), sheets_of(project)
    return _comb(project.comb, sheets.of(stock.id), sheets.rule(stock.id))


def today_of(project: Project, stock_id: str) -> Size:
    """What a slot for a stock in itself is drawn today."""
    sheets = sheets_of(project)
    return today_width(sheets.of(stock_id), sheets.rule(stock_id))


def comb_widths_of(project: Project, stock_id: str) -> tuple[float, ...]:
    """The comb's slots, without making the comb."""
    return slot_widths(project.comb, today_of(project, stock_id).drawn)


def layout_of(project: Project, stock_id: str) -> Layout:
    """The pieces of one stock on its sheets."""
    stock = project.stock(stock_id)
    size = (stock.sheet_width, stock.sheet_height)
    return _layout(project.structure, sheets_of(project), stock_id, size, project.sheets)


def pieces_of(project: Project, stock_id: str | None = None) -> tuple[Piece, ...]:
    """The pieces to cut, of one stock or of all."""
    pieces = build_of(project).pieces
    return tuple(p for p in pieces if stock_id is None or p.stock_id == stock_id)


def findings_of(project: Project) -> tuple[Finding, ...]:
    """Everything noticed about stocks, joints and sheets."""
    used = project.stocks_in_use
    stocks = [finding for stock in used for finding in _stock_findings(stock)]
    layouts = [finding for stock in used for finding in layout_of(project, stock.id).findings]
    return (*stocks, *build_of(project).findings, *layouts)


def _sheet(stock: Stock) -> Sheet:
    said = stock.statistics
    limits = (said.least, said.greatest) if said else None
    return Sheet(stock.id, stock.measured_thickness, stock.kerf, limits)


def _stock_findings(stock: Stock) -> list[Finding]:
    if not stock.is_measured:
        message = "not measured; the nominal thickness is used, and that is never the real one."
        mend = "Measure it with calipers in several places."
        return [Finding("stock-not-measured", Severity.WARNING, stock.name, message, mend)]
    if len(stock.readings) < _FEW_READINGS:
        message = f"only {len(stock.readings)} reading(s)."
        mend = f"Take at least {_FEW_READINGS}, far apart on the sheet."
        return [Finding("few-readings", Severity.NOTE, stock.name, message, mend)]
    return []


@lru_cache(maxsize=32)
def _build(structure: AnyForm, sheets: Sheets) -> Build:
    return build(structure, sheets)


@lru_cache(maxsize=32)
def _comb(settings: CombSettings, sheet: Sheet, rule: FitRule) -> Comb:
    return comb(settings, sheet, rule)


@lru_cache(maxsize=32)
def _layout(
    structure: AnyForm,
    sheets: Sheets,
    stock_id: str,
    size: tuple[float, float],
    settings: SheetSettings,
) -> Layout:
    pieces = [p for p in _build(structure, sheets).pieces if p.stock_id == stock_id]
    return lay_out(pieces, stock_id, *size, settings)
