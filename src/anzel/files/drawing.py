"""One description of what is drawn; screen and files are backends of it.

A *page* is one sheet (or a row of pieces) in mm, y up, origin lower left. A *mark* is one
contour or stroke with the operation the cutter runs along it and the piece it belongs to.
"""

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass

from anzel.geometry.outlines import Contour, Stroke
from anzel.geometry.units import format_length
from anzel.project.derive import layout_of, pieces_of
from anzel.project.model import Project
from anzel.sheets.layout import Laid, SheetPlan, side_by_side
from anzel.sheets.operations import Operation
from anzel.stock.fits import KERF_WORDS, KerfAt
from anzel.stock.stock import Stock


@dataclass(frozen=True)
class Mark:
    """One contour or stroke, on the page, with its operation and its piece."""

    operation: Operation
    owner: str
    line: Contour | Stroke


@dataclass(frozen=True)
class Page:
    """One sheet: its name, size in mm, marks in cutting order, and notes for the reader."""

    name: str
    width: float
    height: float
    marks: tuple[Mark, ...]
    notes: tuple[str, ...] = ()


class Backend(ABC):
    """Something marks can be drawn with."""

    def begin(self, page: Page) -> None:  # noqa: B027  (most need nothing here)
        """A page starts."""

    @abstractmethod
    def contour(self, contour: Contour, mark: Mark) -> None:
        """Draw a closed outline."""

    @abstractmethod
    def stroke(self, stroke: Stroke, mark: Mark) -> None:
        """Draw an open run of points."""


def draw(pages: Sequence[Page], backend: Backend) -> None:
    """Draw the pages in order."""
    for page in pages:
        backend.begin(page)
        for mark in page.marks:
            if isinstance(mark.line, Contour):
                backend.contour(mark.line, mark)
            else:
                backend.stroke(mark.line, mark)


def page_of(plan: SheetPlan, name: str, notes: tuple[str, ...] = ()) -> Page:
    """A sheet as a page: per piece engraving first, then inner cuts, then the outline."""
    marks = tuple(mark for laid, owner in _owners(plan.laid) for mark in _marks(laid, owner))
    return Page(name, plan.width, plan.height, marks, notes)


def sheet_pages(project: Project, stock: Stock) -> tuple[Page, ...]:
    """The sheets of one stock as laid out."""
    notes = notes_of(project, stock)
    plans = layout_of(project, stock.id).plans
    return tuple(page_of(plan, f"{stock.id} sheet {plan.number}", notes) for plan in plans)


def piece_page(project: Project, stock: Stock) -> Page:
    """The pieces of one stock side by side, on no sheet."""
    plan = side_by_side(pieces_of(project, stock.id), stock.id)
    return page_of(plan, f"{stock.id} pieces", notes_of(project, stock))


def notes_of(project: Project, stock: Stock) -> tuple[str, ...]:
    """What whoever opens the file must know: the sheet, the fit, and who minds the kerf."""
    fits = project.fits
    measured = "measured" if stock.is_measured else "not measured, nominal"
    thickness = format_length(stock.measured_thickness, 3)
    advice = (
        "run the cutter on the line, with its own kerf compensation off"
        if project.kerf_at is KerfAt.DRAWING
        else "let the cutter offset its path by half the kerf to the waste side"
    )
    return (
        f"{project.name}: {stock.name}, {measured} thickness {thickness} mm",
        f"fit {fits.in_use.value}, clearance {format_length(fits.clearance, 3)} mm",
        f"kerf {format_length(stock.kerf, 3)} mm taken care of "
        f"{KERF_WORDS[project.kerf_at]}: {advice}",
        "all sizes in millimetres, true size",
    )


def _owners(laid: Sequence[Laid]) -> list[tuple[Laid, str]]:
    """Each laid piece with a name of its own, numbered where several are alike."""
    names: dict[str, int] = {}
    owners = []
    for each in laid:
        names[each.piece.name] = number = names.get(each.piece.name, 0) + 1
        owners.append((each, each.piece.name + (f" {number}" if number > 1 else "")))
    return owners


def _marks(laid: Laid, owner: str) -> list[Mark]:
    piece, motion = laid.piece, laid.motion
    engraved = [
        Mark(Operation.ENGRAVE, owner, tuple(map(motion, stroke))) for stroke in piece.engraved
    ]
    contours = (*piece.region.holes, piece.region.outer)
    return engraved + [Mark(Operation.CUT, owner, c.moved(motion)) for c in contours]
