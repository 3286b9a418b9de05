"""The pages of a PDF as pixels.

PDFium, which draws them, works for one thread at a time, in all that it does. A document is
therefore opened, asked and closed under one lock, and none stays open: one that is closed later,
when what held it is forgotten, would be closed by any thread.
"""

from collections.abc import Iterator
from contextlib import closing, contextmanager
from threading import Lock
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from pypdfium2 import PdfDocument

MM_PER_POINT = 25.4 / 72
"""A PDF's unit (ISO 32000-1, 8.3.2.3)."""
_ONE_AT_A_TIME = Lock()


def page_sizes(pdf: bytes) -> list[tuple[float, float]]:
    """Return the width and height of each page, mm."""
    with _opened(pdf) as document:
        points = [document.get_page_size(number) for number in range(len(document))]
    return [(width * MM_PER_POINT, height * MM_PER_POINT) for width, height in points]


def page_pixels(pdf: bytes, number: int, dots_per_inch: float) -> NDArray[np.uint8]:
    """Return a page, counted from 0: height × width × 4 of red, green, blue and nothing."""
    scale = dots_per_inch / 72
    with (
        _opened(pdf) as document,
        closing(document[number]) as page,
        closing(page.render(scale=scale, rev_byteorder=True, prefer_bgrx=True)) as bitmap,
    ):
        return np.array(bitmap.to_numpy())


@contextmanager
def _opened(pdf: bytes) -> "Iterator[PdfDocument]":
    from pypdfium2 import PdfDocument

    with _ONE_AT_A_TIME, closing(PdfDocument(pdf)) as document:
        yield document
