"""Printing at true size: the pages of a PDF on a real printer.

The PDF is composed once, for file and printer alike, and is drawn on the printer as it is. One
millimetre stays one millimetre: a page is printed at 100 % and never fitted to the paper.
"""

from time import sleep

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QMarginsF, QRectF
from PySide6.QtGui import QImage, QPageLayout, QPageSize, QPainter
from PySide6.QtPrintSupport import QPrinter

from anzel.core.number_format import format_length
from anzel.drawings.model import Tell, no_progress
from anzel.output.pdf_pixels import page_pixels, page_sizes
from anzel.storage.atomic_file import FileError

_MOST_DPI = 300
"""Finer than lines need to be, and a page stays under 40 MB in memory up to A3."""
_BAND, _PAUSE = 200, 0.02
"""Rows of pixels that are printed at once, and seconds between two bands. Nobody else has the
interpreter during a band, and the window asks for it dozens of times to paint itself once: without
a pause each of them would wait for a band."""
_ALIKE = 1.0
"""Pages and paper that differ by less than this, mm, are of one size."""


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
    painter, dots_per_inch = QPainter(), min(printer.resolution(), _MOST_DPI)
    try:
        for number, size in enumerate(sizes):
            tell(f"Printing page {number + 1} of {len(sizes)} …")
            _print_page(printer, painter, page_pixels(pdf, number, dots_per_inch), size)
    except BaseException:
        printer.abort()
        raise
    finally:
        if painter.isActive():
            painter.end()
    return len(sizes)


def _print_page(
    printer: QPrinter, painter: QPainter, pixels: NDArray[np.uint8], size: tuple[float, float]
) -> None:
    """Print one page of a size in mm, on a sheet of its own."""
    width, height = size
    wide = width > height
    way = QPageLayout.Orientation.Landscape if wide else QPageLayout.Orientation.Portrait
    printer.setPageOrientation(way)
    printer.setPageMargins(QMarginsF(0, 0, 0, 0))
    if painter.isActive():
        printer.newPage()
    elif not painter.begin(printer):
        raise FileError("The printer does not answer.", hint="Look whether it is on.")
    dots = printer.resolution() / 25.4
    rows = len(pixels)
    across, row = width * dots, height * dots / rows
    for top in range(0, rows, _BAND):
        band = pixels[top : top + _BAND + 1]  # with a row of the next one, so that no seam shows
        high, wide_pixels, _ = band.shape
        image = QImage(band.data, wide_pixels, high, band.strides[0], QImage.Format.Format_RGBX8888)
        painter.drawImage(QRectF(0, top * row, across, high * row), image)
        sleep(_PAUSE)


def _goes_on(page: tuple[float, float], paper: tuple[float, float]) -> bool:
    needed, there = sorted(page), sorted(paper)
    return all(mine <= room + _ALIKE for mine, room in zip(needed, there, strict=True))


def _size(width: float, height: float) -> str:
    return f"{format_length(width, 0)} × {format_length(height, 0)}"
