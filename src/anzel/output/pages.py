"""Pages: the description of everything that is drawn, on screen and in files.

A *page* is one sheet (or a row of pieces) in mm, y up, origin lower left. A *line* is one contour
or stroke with the operation that the cutter runs along it and the piece that owns it.
"""

from abc import ABC, abstractmethod
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace

from anzel.core.number_format import MILLIMETRES, format_length
from anzel.cutjob.cut_lines import CutLine, cut_lines_of
from anzel.cutjob.job import SheetJob, job_of, owner_names
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import BridgedContour, Contour, Stroke
from anzel.layout.layout import SheetPlan
from anzel.layout.rows import side_by_side
from anzel.materials.fits import KERF_WORDS, KerfAt
from anzel.materials.stock import Stock
from anzel.project.derive import jobs_of, outset_of, pieces_of
from anzel.project.inspection import left_out_of
from anzel.project.model import Project
from anzel.structure.engraved_picture import EngravedPicture


@dataclass(frozen=True)
class Page:
    """One sheet.

    Its name, its size in mm, its lines in cutting order, notes for the reader, and the same notes
    as metadata for programs.
    """

    name: str
    width: float
    height: float
    lines: tuple[CutLine, ...]
    notes: tuple[str, ...] = ()
    metadata: tuple[tuple[str, str], ...] = ()


class Backend(ABC):
    """A target that lines can be drawn with."""

    def begin(self, page: Page) -> None:  # noqa: B027  (most need nothing here)
        """Start a page."""

    @abstractmethod
    def contour(self, contour: Contour, line: CutLine) -> None:
        """Draw a closed outline."""

    @abstractmethod
    def stroke(self, stroke: Stroke, line: CutLine) -> None:
        """Draw an open run of points."""

    def open_path(self, path: OpenPath, line: CutLine) -> None:
        """Draw an open path; as a run of points where nothing else can be held."""
        self.stroke(path.stroke, line)

    def picture(self, picture: EngravedPicture, line: CutLine) -> None:  # noqa: B027
        """Draw an engraved picture; nothing where none can be held."""

    def bridged(self, outline: BridgedContour, line: CutLine) -> None:
        """Draw an outline with gaps; without them where nobody needs them."""
        self.contour(outline.closed, line)


def draw(pages: Sequence[Page], backend: Backend) -> None:
    """Draw the pages in order."""
    for page in pages:
        backend.begin(page)
        for mark in page.lines:
            if isinstance(mark.line, Contour):
                backend.contour(mark.line, mark)
            elif isinstance(mark.line, BridgedContour):
                backend.bridged(mark.line, mark)
            elif isinstance(mark.line, OpenPath):
                backend.open_path(mark.line, mark)
            elif isinstance(mark.line, EngravedPicture):
                backend.picture(mark.line, mark)
            else:
                backend.stroke(mark.line, mark)


def page_of(plan: SheetPlan, name: str) -> Page:
    """Return a sheet as a page to look at: piece by piece, engraving first, the outline last."""
    marks = tuple(
        mark for laid, owner in owner_names(plan.placed) for mark in cut_lines_of(laid, owner)
    )
    return Page(name, plan.width, plan.height, marks)


def job_page(job: SheetJob, name: str, told: "FileNotes") -> Page:
    """Return a sheet as a page to cut: its lines in cutting order."""
    return Page(name, job.plan.width, job.plan.height, job.lines, told.notes, told.metadata)


def sheet_pages(project: Project, stock: Stock) -> tuple[Page, ...]:
    """Return the sheets of one stock as laid out."""
    told = file_notes(project, stock)
    jobs = jobs_of(project, stock.id)
    return tuple(
        page for job in jobs
        for page in _both_faces(job, f"{stock.id} sheet {job.plan.number}", told)
    )  # fmt: skip


def _both_faces(job: SheetJob, name: str, told: "FileNotes") -> Iterator[Page]:
    """Yield the page of a sheet, before it one of its back if anything is engraved there."""
    if job.back:
        yield Page(
            f"{name} back", job.plan.width, job.plan.height, job.back, (BACK_FIRST, *told.notes),
            (("face", "back"), *told.metadata),
        )  # fmt: skip
    yield job_page(job, name, told)


BACK_FIRST = "engrave the back first, then turn the sheet over left to right and cut"


def piece_page(project: Project, stock: Stock) -> Page:
    """Return the pieces of one stock side by side, on no sheet."""
    counts = project.sheets.count_of
    wanted = [replace(p, count=counts(p.name, p.count)) for p in pieces_of(project, stock.id)]
    plan = side_by_side(wanted, stock.id)
    return loose_page(project, stock, plan, f"{stock.id} pieces")


def pages_of_pieces(project: Project, names: Collection[str]) -> tuple[Page, ...]:
    """Return one each of some pieces side by side, on no sheet; a page for each stock."""
    pages = []
    for stock in project.stocks_in_use:
        wanted = [replace(p, count=1) for p in pieces_of(project, stock.id) if p.name in names]
        if wanted:
            name = " + ".join(piece.name for piece in wanted)
            plan = side_by_side(wanted, stock.id)
            pages.append(loose_page(project, stock, plan, name))
    return tuple(pages)


def loose_page(project: Project, stock: Stock, plan: SheetPlan, name: str) -> Page:
    """Return pieces placed elsewhere than on their sheets, to cut."""
    kerf, outset = project.kerf_in(stock.id).kerf, outset_of(project, stock.id)
    job = job_of(plan, project.job, kerf=kerf, outset=outset)
    return job_page(job, name, file_notes(project, stock))


@dataclass(frozen=True)
class FileNotes:
    """What a reader of a file must know: as sentences, and as metadata for programs."""

    notes: tuple[str, ...]
    metadata: tuple[tuple[str, str], ...]


KERF_ADVICE = {
    KerfAt.DRAWING: "run the cutter on the line, with its own kerf compensation off",
    KerfAt.PATH: "run the cutter on the line, which lies half a kerf beside the pieces",
    KerfAt.CUTTER: "let the cutter offset its path by half the kerf to the waste side",
}


def file_notes(project: Project, stock: Stock, *, on_the_line: bool = False) -> FileNotes:
    """Return the sheet, the fit, and where the kerf is taken care of.

    `on_the_line`: nowhere, to measure it.
    """
    fit = project.fits.in_use.value
    kerf, clearance = project.kerf_in(stock.id), project.clearance_in(stock.id)
    measured = "measured" if stock.is_measured else "not measured, nominal"
    thickness = format_length(stock.measured_thickness, 3)
    doubt = f"{format_length(kerf.kerf, 3)} ± {format_length(kerf.uncertainty, 3)} mm"
    minded = f"kerf {doubt} taken care of {KERF_WORDS[project.kerf_at]}: "
    minded += KERF_ADVICE[project.kerf_at]
    place = project.kerf_at.value
    if on_the_line:
        place = "nowhere"
        minded = f"kerf taken care of nowhere, to be measured: {KERF_ADVICE[KerfAt.DRAWING]}"
    notes = (
        f"{project.name}: {stock.name}, {measured} thickness {thickness} mm",
        f"fit {fit}, clearance {format_length(clearance, 3)} mm",
        f"{minded} ({project.cutter.name})",
        *_corners(project, stock, kerf.kerf),
        *(() if on_the_line else (f"left out: {each}" for each in left_out_of(project))),
        "all sizes in millimetres, true size",
    )
    facts = {
        "stock": stock.id, "thickness": f"{stock.measured_thickness:.6g}",
        "kerf": f"{kerf.kerf:.6g}", "kerf-uncertainty": f"{kerf.uncertainty:.3g}",
        "kerf-at": place, "fit": fit, "clearance": f"{clearance:.6g}",
        "cutter": project.cutter.name,
    }  # fmt: skip
    return FileNotes(tuple(map(MILLIMETRES.write, notes)), tuple(facts.items()))


def _corners(project: Project, stock: Stock, kerf: float) -> tuple[str, ...]:
    """Return what a round tool leaves where it turns a corner inside a piece."""
    if project.kerf_at is KerfAt.DRAWING or kerf == 0:
        return ()
    radius = format_length(kerf / 2, 3)
    return (f"inner corners of {stock.name} keep the beam's radius, {radius} mm",)
