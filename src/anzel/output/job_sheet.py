"""The job sheet: one page of A4 with all that is needed at the cutter.

It shows stocks with their readings, fits, where the kerf is taken care of, the sheets drawn small,
the times, and the pieces with counts and sizes. Where pieces do not fit on the page, it refers to
the cut list.
"""

import io
from datetime import date

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from anzel.core.number_format import (
    MILLIMETRES,
    UNIT,
    NumberFormat,
    format_length,
    format_measure,
    format_number,
)
from anzel.cutjob.job import SheetJob
from anzel.cutjob.operations import Operation
from anzel.materials.fits import KERF_WORDS
from anzel.materials.stock import Stock
from anzel.output.pages import draw, file_notes, job_page
from anzel.output.pdf_writer import PageMarks
from anzel.project.alike_counts import piece_lines
from anzel.project.derive import fit_context_of, jobs_of
from anzel.project.estimate import Estimate, estimate_of, format_duration
from anzel.project.model import Project
from anzel.structure.model import Piece

_WIDTH, _HEIGHT, _EDGE = 210.0, 297.0, 14.0
_LINE = 4.4
_DRAWN_TALL = 84.0
"""Height of the strip with the drawn sheets, mm."""
_PIECES_FROM = 18.0


class _Sheet(Canvas):  # type: ignore[misc]
    """A canvas that writes numbers in the maker's units."""

    def __init__(self, buffer: io.BytesIO, numbers: NumberFormat) -> None:
        super().__init__(
            buffer, pagesize=(_WIDTH * mm, _HEIGHT * mm), pageCompression=1, invariant=1
        )
        self.numbers = numbers


def job_sheet_bytes(
    project: Project, today: date | None = None, numbers: NumberFormat = MILLIMETRES
) -> bytes:
    """Return the page as a PDF."""
    buffer = io.BytesIO()
    canvas = _Sheet(buffer, numbers)
    canvas.setTitle(f"Job sheet: {project.name}")
    canvas.setCreator("Anzel")
    estimate = estimate_of(project)
    y = _head(canvas, project, estimate, (today or date.today()).isoformat())
    for stock in project.stocks_in_use:
        y = _stock(canvas, project, stock, y)
    y = _sheets(canvas, project, y - 2)
    _pieces(canvas, project, y - 4)
    canvas.showPage()
    canvas.save()
    return buffer.getvalue()


def _text(canvas: _Sheet, x: float, y: float, text: str, size: float = 8.5, bold: str = "") -> None:
    canvas.setFont(f"Helvetica{bold}", size)
    canvas.drawString(x * mm, y * mm, canvas.numbers.write(text))


def _head(canvas: _Sheet, project: Project, estimate: Estimate, today: str) -> float:
    """Draw name, date, cutter, fit, kerf and the whole time.

    Return where to go on.
    """
    y = _HEIGHT - _EDGE - 4
    _text(canvas, _EDGE, y, project.name, 15, "-Bold")
    canvas.setFont("Helvetica", 8.5)
    canvas.drawRightString((_WIDTH - _EDGE) * mm, y * mm, today)
    times = estimate.times
    fit = project.fits.in_use
    lines = (
        f"{project.cutter.name}, fit {fit.value} "
        f"({format_measure(project.fits.clearance, 3)}), "
        f"kerf taken care of {KERF_WORDS[project.kerf_at]}",
        f"{format_duration(times.whole)} in all: cutting {format_duration(times.cutting)}, "
        f"scoring {format_duration(times.scoring)}, engraving {format_duration(times.engraving)}, "
        f"on the way {format_duration(times.travel)}, "
        f"getting through {format_duration(times.piercing)}",
        *([f"Cost {format_number(estimate.cost, 2)}"] if estimate.cost else []),
    )
    for line in lines:
        y -= _LINE + 0.6
        _text(canvas, _EDGE, y, line)
    return y - 3


def _stock(canvas: _Sheet, project: Project, stock: Stock, y: float) -> float:
    kerf = project.kerf_in(stock.id)
    said = stock.statistics
    readings = ", ".join(format_length(r) for r in stock.readings[:8]) or "not measured"
    doubt = said.standard_uncertainty if said else None
    spread = f" ± {format_length(doubt, 3)}" if doubt is not None else ""
    y -= _LINE
    _text(canvas, _EDGE, y, stock.name, 9.5, "-Bold")
    line = (
        f"{format_length(stock.measured_thickness, 3)}{spread} {UNIT}; readings {readings}; "
        f"kerf {format_length(kerf.kerf, 3)} ± {format_length(kerf.uncertainty, 3)}"
    )
    _text(canvas, _EDGE + 42, y, line)
    return y - 1.2


def _sheets(canvas: _Sheet, project: Project, y: float) -> float:
    """Draw every sheet small, in one strip, to one scale.

    Return where to go on.
    """
    jobs = [
        (stock, number, job)
        for stock in project.stocks_in_use
        for number, job in enumerate(jobs_of(project, stock.id), start=1)
    ]
    if not jobs:
        return y
    wide = sum(job.plan.width for *_, job in jobs)
    tall = max(job.plan.height for *_, job in jobs)
    gap = 4.0
    room = _WIDTH - 2 * _EDGE - gap * (len(jobs) - 1)
    scale = min(room / wide, (_DRAWN_TALL - 6) / tall)
    x = _EDGE
    for stock, number, job in jobs:
        _small(canvas, project, (stock, number, job), (x, y - 5 - tall * scale), scale)
        x += job.plan.width * scale + gap
    return y - 8 - tall * scale


def _small(
    canvas: _Sheet, project: Project, what: tuple[Stock, int, SheetJob],
    at: tuple[float, float], scale: float,
) -> None:  # fmt: skip
    stock, number, job = what
    canvas.saveState()
    canvas.translate(at[0] * mm, at[1] * mm)
    canvas.scale(mm * scale, mm * scale)
    canvas.setStrokeColor(HexColor("#9a9484"))
    canvas.setLineWidth(0.2 / scale)
    canvas.rect(0, 0, job.plan.width, job.plan.height)
    thin = {o: project.pens.pen(o).with_changes(width=0.12 / scale) for o in Operation}
    pens = project.pens.with_changes(**{o.field: pen for o, pen in thin.items()})
    draw([job_page(job, "", file_notes(project, stock))], PageMarks(canvas, pens))
    canvas.restoreState()
    size = f"{format_length(job.plan.width, 0)} × {format_length(job.plan.height, 0)}"
    above = at[1] + job.plan.height * scale + 1.2
    _text(canvas, at[0], above, f"{stock.name} {number}: {size}", 6.5)


def _pieces(canvas: _Sheet, project: Project, y: float) -> None:
    """Draw pieces in two columns, as many as there is room for."""
    rows = [
        (
            line.count,
            line.title,
            stock.name,
            line.piece.region.size,
            _comes_out(project, line.piece),
        )
        for stock in project.stocks_in_use
        for line in piece_lines(project, stock.id)
    ]
    per_column = max(int((y - _PIECES_FROM) / _LINE), 0)
    column = (_WIDTH - 2 * _EDGE) / 2
    for index, (count, name, stock, (width, height), outside) in enumerate(rows[: 2 * per_column]):
        x = _EDGE + (index // per_column) * column
        at = y - (index % per_column + 1) * _LINE
        sizes = f"{format_length(width, 1)} × {format_length(height, 1)}"
        _text(canvas, x, at, f"{count} × {name}", 8)
        _text(canvas, x + 36, at, sizes, 8)
        _text(canvas, x + 64, at, f"{stock}{outside}", 7)
    if len(rows) > 2 * per_column:
        left = len(rows) - 2 * per_column
        _text(canvas, _EDGE, _EDGE - 3, f"and {left} more, in the cut list", 7)


def _comes_out(project: Project, piece: Piece) -> str:
    """Return how a piece's outside comes out beside what is drawn; "" where that is the same."""
    lost = fit_context_of(project).rule(piece.stock_id).drawn_kerf
    if lost == 0:
        return ""
    if piece.outset:
        return ", comes out in its true size"
    return f", comes out {format_length(lost)} smaller"
