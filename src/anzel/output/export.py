"""Select what goes into a cut file, and write it in the format of its name."""

import re
from collections.abc import Callable, Sequence
from dataclasses import replace
from glob import escape
from hashlib import sha256
from itertools import chain, count
from pathlib import Path

from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_length, plain_measure
from anzel.core.tolerances import ROUNDING
from anzel.cutjob.job import job_of
from anzel.cutjob.job_settings import JobSettings
from anzel.cutjob.operations import Pens
from anzel.layout.layout import CLASH, TOO_LARGE
from anzel.layout.rows import close_cut, side_by_side
from anzel.materials.stock import Stock
from anzel.output.pages import Page, file_notes, job_page, loose_page, piece_page, sheet_pages
from anzel.project.derive import (
    derived_test_piece,
    layout_of,
    layout_of_test_piece,
    outset_of,
    pieces_of,
)
from anzel.project.model import Project
from anzel.storage.atomic_file import FileError, write_all_atomically
from anzel.structure.engraved_picture import EngravedPicture
from anzel.test_pieces.model import TestPieceKind
from anzel.test_pieces.registry import ON_THE_LINE

_SHEET = re.compile(r" sheet \d+")
"""In the name of a page that is a sheet as it lies on the bed."""
Writer = Callable[[Sequence[Page], Pens], bytes]


def _writers() -> dict[str, Callable[[], Writer]]:
    """Return the formats by file ending; their packages are only imported when used."""

    def svg() -> Writer:
        from anzel.output.svg_writer import svg_bytes

        return svg_bytes

    def dxf() -> Writer:
        from anzel.output.dxf_writer import dxf_bytes

        return dxf_bytes

    def pdf() -> Writer:
        from anzel.output.pdf_writer import pdf_bytes

        return pdf_bytes

    return {".svg": svg, ".dxf": dxf, ".pdf": pdf}


FORMATS = tuple(_writers())


def structure_pages(
    project: Project, *, stock_id: str | None = None, sheet: int | None = None,
    loose: bool = False, apart: bool = False,
) -> tuple[Page, ...]:  # fmt: skip
    """Return the pages to write.

    Sheets of one or all stocks, one sheet of them, `loose` pieces side by side, or each piece
    `apart` on a page of its own.

    Raises
    ------
    ParameterError
        Naming a piece that is larger than its sheet or clashes.
    """
    stocks = [project.stock(stock_id)] if stock_id else list(project.stocks_in_use)
    used = [stock for stock in stocks if stock in project.stocks_in_use]
    if apart:
        return tuple(page for stock in used for page in apart_pages(project, stock))
    if loose:
        return tuple(piece_page(project, stock) for stock in used)
    for stock in stocks:
        for finding in layout_of(project, stock.id).findings:
            if finding.code not in (TOO_LARGE, CLASH):
                continue
            raise ParameterError(  # never leave a piece out silently
                f"{finding.where}: {finding.message}",
                hint=f"{finding.hint} Or write the pieces side by side.",
                field="sheets",
            )
    pages = [page for stock in stocks for page in sheet_pages(project, stock)]
    if sheet is not None:
        endings = (f" sheet {sheet}", f" sheet {sheet} back")
        wanted = [page for page in pages if page.name.endswith(endings)]
        if not wanted:
            raise ParameterError(f"There is no sheet {sheet}.", hint=f"There are {len(pages)}.")
        pages = wanted
    return tuple(pages)


def apart_pages(project: Project, stock: Stock) -> list[Page]:
    """Return every kind of piece of one stock on a page just large enough for it."""
    pages = []
    for piece in pieces_of(project, stock.id):
        if project.sheets.count_of(piece.name, piece.count):
            plan = side_by_side([replace(piece, count=1)], stock.id)
            pages.append(loose_page(project, stock, plan, f"{stock.id} {piece.name}"))
    return pages


def write_each(
    pages: Sequence[Page], pens: Pens, path: Path, *, hashes: bool = False,
    even_read_only: bool = False,
) -> list[Path]:  # fmt: skip
    """Write every page to a file of its own, named after it: all of them or none.

    With `hashes`, `NAME.sha256` lists what the files hold, as `sha256sum --check` reads it.

    Returns the files.
    """
    targets = files_of(pages, path)
    contents = {
        target: render([page], pens, path.suffix)
        for target, page in zip(targets, pages, strict=True)
    }
    if hashes:
        lines = [
            f"{sha256(each).hexdigest()}  {target.name}\n" for target, each in contents.items()
        ]
        contents[path.with_suffix(".sha256")] = "".join(lines).encode()
    write_all_atomically(contents, even_read_only=even_read_only)
    return list(contents)


def files_of(pages: Sequence[Page], path: Path) -> list[Path]:
    """Return a file name for each page, no two alike."""
    targets: list[Path] = []
    for page in pages:
        plain = re.sub(r"[^\w-]+", "-", page.name).strip("-")
        numbers = chain([""], (f"-{number}" for number in count(2)))
        names = (f"{path.stem}-{plain}{number}{path.suffix}" for number in numbers)
        targets.append(next(t for name in names if (t := path.with_name(name)) not in targets))
    return targets


def earlier_files(written: Sequence[Path], path: Path) -> list[Path]:
    """Return files of the same series that an earlier job wrote and this one did not."""
    series = path.parent.glob(f"{escape(path.stem)}-*{path.suffix}")
    return sorted(each for each in series if each not in written)


def pages_of_test_piece(project: Project, stock_id: str, kind: TestPieceKind) -> tuple[Page, ...]:
    """Return the pages of a test piece, placed on its scrap as closely as possible.

    In a row where it does not fit.
    """
    stock, layout = project.stock(stock_id), layout_of_test_piece(project, stock_id, kind)
    if layout.findings or len(layout.plans) != 1:
        plan = side_by_side(derived_test_piece(project, stock_id, kind).pieces, stock_id)
    else:
        plan = close_cut(layout.plans[0], 2.0)
    on_the_line = kind in ON_THE_LINE
    told = file_notes(project, stock, on_the_line=on_the_line)
    outset = 0.0 if on_the_line else outset_of(project, stock_id)
    job = job_of(plan, JobSettings(), outset=outset)
    return (job_page(job, f"{stock_id} {kind.value}", told),)


def contradiction(project: Project, kind: TestPieceKind | None = None) -> str:
    """Return why a file would not suit the cutter's own kerf setting; "" if it would.

    A test piece for the kerf must be cut without any compensation.
    """
    if kind in ON_THE_LINE:
        cutter = project.cutter
        return f"{cutter.name} offsets its path, which hides the kerf." * cutter.offsets_path
    return project.contradicts_cutter


def over_bed(project: Project, pages: Sequence[Page]) -> str:
    """Return which sheets are larger than the bed of the cutter, in words; "" where none is."""
    cutter = project.cutter
    low, high = sorted((cutter.bed_width, cutter.bed_height))

    def is_larger(page: Page) -> bool:
        less, more = sorted((page.width, page.height))
        return less > low + ROUNDING or more > high + ROUNDING

    larger = [
        f"{page.name} is {plain_length(page.width)} × {plain_measure(page.height)}"
        for page in pages if _SHEET.search(page.name) and is_larger(page)
    ]  # fmt: skip
    if not larger:
        return ""
    room = f"{plain_length(cutter.bed_width)} × {plain_measure(cutter.bed_height)}"
    return f"{'; '.join(larger)}: the bed of {cutter.name} holds {room}."


def cannot_hold(pages: Sequence[Page], ending: str) -> str:
    """Return what a format cannot hold of some pages, in words; "" where it holds all."""
    count = sum(isinstance(line.line, EngravedPicture) for page in pages for line in page.lines)
    if ending.lower() != ".dxf" or not count:
        return ""
    return f"DXF holds no pictures: {count} would be missing. SVG and PDF hold them true."


def render(pages: Sequence[Page], pens: Pens, ending: str) -> bytes:
    """Return the pages as a file's content.

    Raises
    ------
    FileError
        For an unknown ending.
    ParameterError
        For no pages.
    """
    if not pages:
        raise ParameterError("There is nothing to write.", hint="Put pieces into the job first.")
    writers = _writers()
    if ending.lower() not in writers:
        known = ", ".join(writers)
        raise FileError(f"Files ending in “{ending}” cannot be written.", hint=f"Use {known}.")
    return writers[ending.lower()]()(pages, pens)


def write(pages: Sequence[Page], pens: Pens, path: Path) -> None:
    """Write the pages to a file, atomically; scripts do."""
    write_all_atomically({path: render(pages, pens, path.suffix)})
