"""Findings about stocks, cutter, joints and sheets, in one list."""

from collections.abc import Sequence

from anzel.core.findings import Finding, Severity
from anzel.core.number_format import UNIT, format_length, plain_length, plain_measure
from anzel.layout.layout import Layout
from anzel.materials.cutter import KerfSource
from anzel.materials.fits import FitName
from anzel.materials.material import PressBehaviour
from anzel.materials.stock import Stock
from anzel.project.bounds import findings_on_bounds
from anzel.project.derive import layout_of, solved_structure_of
from anzel.project.model import Project
from anzel.structure.model import LEFT_OUT

_FEW_READINGS = 3


def findings_of(
    project: Project, layouts: Sequence[Layout] | None = None
) -> tuple[Finding, ...]:  # fmt: skip
    """Return all findings in the order of work; of the given layouts, or of all."""
    used = project.stocks_in_use
    stocks = [finding for stock in used for finding in stock_findings(project, stock)]
    if layouts is None:
        layouts = [layout_of(project, stock.id) for stock in used]
    laid = [finding for layout in layouts for finding in layout.findings]
    solved = solved_structure_of(project)
    beyond = findings_on_bounds(project, solved)
    return (*stocks, *_cutter(project), *beyond, *solved.findings, *laid)


def left_out_of(project: Project) -> tuple[Finding, ...]:
    """Return findings on the items of a drawing that are on no sheet and in no cut file."""
    return tuple(each for each in solved_structure_of(project).findings if each.code == LEFT_OUT)


def stock_findings(project: Project, stock: Stock) -> list[Finding]:
    """Return the findings about one stock: its readings, its kerf, and its press behaviour."""
    found = [*_measured(stock), *_readings(stock)]
    if project.kerf_in(stock.id).learnt is KerfSource.ASSUMED:
        message = f"kerf not learnt; {format_length(project.kerf_in(stock.id).kerf)} is assumed."
        mend = "Cut kerf strips, or type what you know."
        found.append(Finding("kerf-assumed", Severity.WARNING, stock.name, message, mend))
    if stock.press_behaviour is PressBehaviour.BRITTLE and project.fits.in_use is FitName.PRESS:
        message = "brittle; pressed joints crack it."
        found.append(
            Finding(
                "press-in-brittle", Severity.WARNING, stock.name, message, "Use snug or looser."
            )
        )
    return found


def _measured(stock: Stock) -> list[Finding]:
    if not stock.is_measured:
        message = "not measured; the nominal thickness is used, and that is never the real one."
        mend = "Measure it with calipers in several places."
        return [Finding("stock-not-measured", Severity.WARNING, stock.name, message, mend)]
    if len(stock.readings) < _FEW_READINGS:
        message = f"only {len(stock.readings)} reading(s)."
        mend = f"Take at least {_FEW_READINGS}, far apart on the sheet."
        return [Finding("few-readings", Severity.NOTE, stock.name, message, mend)]
    return []


def _readings(stock: Stock) -> list[Finding]:
    found = [
        Finding(
            "doubtful-reading", Severity.WARNING, stock.name,
            f"the reading {format_length(stock.readings[each.index], 3)} {each.why}.",
            "Measure there again, correct it, or strike it out with a reason.",
        )
        for each in stock.suspect_readings
    ]  # fmt: skip
    band, thickness = stock.tolerance_band, stock.measured_thickness
    if band is not None and not band[0] <= thickness <= band[1]:
        message = (
            f"measures {format_length(thickness)}, outside the "
            f"{format_length(band[0])} to {format_length(band[1])} its label allows."
        )
        mend = "Nothing to do: the measured thickness is used."
        found.append(Finding("outside-tolerance", Severity.NOTE, stock.name, message, mend))
    return found


def _cutter(project: Project) -> list[Finding]:
    """Return the findings about the cutter: its kerf setting, and pieces larger than its bed."""
    cutter, found = project.cutter, []
    if project.contradicts_cutter:
        mend = "Switch who minds the kerf, or the cutter's own compensation."
        found.append(
            Finding(
                "kerf-twice-or-never", Severity.PROBLEM, "Kerf", project.contradicts_cutter, mend
            )
        )
    bed = sorted((cutter.bed_width, cutter.bed_height))
    for piece in solved_structure_of(project).pieces:
        size = sorted(piece.region.size)
        if size[0] > bed[0] or size[1] > bed[1]:
            words = " × ".join(f"{format_length(side, 1)}" for side in piece.region.size)
            found.append(
                Finding(
                    "piece-larger-than-bed", Severity.PROBLEM, piece.name,
                    f"{words} {UNIT} does not fit the bed of {cutter.name}, "
                    f"{plain_length(cutter.bed_width)} × {plain_measure(cutter.bed_height)}.",
                    "Make the structure smaller, or use another cutter.",
                )
            )  # fmt: skip
    return found
