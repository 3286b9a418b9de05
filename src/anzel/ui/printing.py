"""Printing at true size: the pages of a PDF on a real printer.

The PDF is composed once, for file and printer alike, and is drawn on the printer as it is. One
millimetre stays one millimetre: a page is printed at 100 % and never fitted to the paper.
"""

from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from time import sleep

from PySide6.QtCore import QMarginsF, QRectF
from PySide6.QtGui import QImage, QPageLayout, QPageSize, QPainter
from PySide6.QtPrintSupport import QPrinter

from anzel.core.number_format import format_length
from anzel.drawings.model import Tell, no_progress
from anzel.storage.atomic_file import FileError

_MM_PER_POINT = 25.4 / 72
"""A PDF's unit (ISO 32000-1, 8.3.2.3)."""
_MOST_DPI = 300
"""Finer than lines need to be, and a page stays under 40 MB in memory up to A3."""
_BAND, _PAUSE = 200, 0.02
"""Rows of pixels that are printed at once, and seconds between two bands. Nobody else has the
interpreter during a band, and the window asks for it dozens of times to paint itself once: without
a pause each of them would wait for a band."""
_ALIKE = 1.0
"""Pages and paper that differ by less than this, mm, are of one size."""


@dataclass(frozen=True)
class PrintedPage:
    """One page as pixels, with its true size in mm."""

    image: QImage
    width: float
    height: float


def pages_of(pdf: bytes, dpi: float) -> Iterator[PrintedPage]:
    """Yield the pages of a PDF, drawn with so many dots per inch, one at a time."""
    from pypdfium2 import PdfDocument

    with closing(PdfDocument(pdf)) as document:
        for page in document:
            width, height = page.get_size()
            bitmap = page.render(scale=dpi / 72, rev_byteorder=True, prefer_bgrx=True)
            pixels = QImage(bitmap.buffer, bitmap.width, bitmap.height, bitmap.stride,
                            QImage.Format.Format_RGBX8888).copy()  # fmt: skip
            yield PrintedPage(pixels, width * _MM_PER_POINT, height * _MM_PER_POINT)


def page_sizes(pdf: bytes) -> list[tuple[float, float]]:
    """Return the width and height of each page, mm."""
    from pypdfium2 import PdfDocument

    with closing(PdfDocument(pdf)) as document:
        points = [document.get_page_size(number) for number in range(len(document))]
    return [(width * _MM_PER_POINT, height * _MM_PER_POINT) for width, height in points]


def paper_of(printer: QPrinter) -> tuple[float, float]:
    """Return the width and height of the paper that is set, in mm, upright."""
    size = printer.pageLayout().pageSize().size(QPageSize.Unit.Millimeter)
    return (size.width(), size.height())


def print_pdf(printer: QPrinter, pdf: bytes, tell: Tell = no_progress) -> int:
    """Print a PDF at true size and return the number of its pages; `tell` is told of each.

    Raises FileError if a page is larger than the paper, or if the printer cannot be started. What
    `tell` raises ends the printing.
    """
    sizes, paper = page_sizes(pdf), paper_of(printer)
    for size in sizes:
        if not _goes_on(size, paper):
            raise FileError(
                f"A page of {_size(*size)} does not go on paper of {_size(*paper)}.",
                hint="Choose that paper in the printer's settings; nothing is made smaller here.",
            )
    printer.setFullPage(True)
    painter = QPainter()
    try:
        for number, page in enumerate(pages_of(pdf, min(printer.resolution(), _MOST_DPI)), 1):
            tell(f"Printing page {number} of {len(sizes)} …")
            _print_page(printer, painter, page)
    except BaseException:
        printer.abort()
        raise
    finally:
        if painter.isActive():
            painter.end()
    return len(sizes)


def _print_page(printer: QPrinter, painter: QPainter, page: PrintedPage) -> None:
    """Print one page, on a sheet of its own."""
    wide = page.width > page.height
    way = QPageLayout.Orientation.Landscape if wide else QPageLayout.Orientation.Portrait
    printer.setPageOrientation(way)
    printer.setPageMargins(QMarginsF(0, 0, 0, 0))
    if painter.isActive():
        printer.newPage()
    elif not painter.begin(printer):
        raise FileError("The printer does not answer.", hint="Look whether it is on.")
    dots = printer.resolution() / 25.4
    image, rows = page.image, page.image.height()
    across, row = page.width * dots, page.height * dots / rows
    for top in range(0, rows, _BAND):
        high = min(_BAND + 1, rows - top)  # with a row of the next one, so that no seam shows
        band = image.copy(0, top, image.width(), high)
        painter.drawImage(QRectF(0, top * row, across, high * row), band)
        sleep(_PAUSE)


def _goes_on(page: tuple[float, float], paper: tuple[float, float]) -> bool:
    needed, there = sorted(page), sorted(paper)
    return all(mine <= room + _ALIKE for mine, room in zip(needed, there, strict=True))


def _size(width: float, height: float) -> str:
    return f"{format_length(width, 0)} × {format_length(height, 0)}"
