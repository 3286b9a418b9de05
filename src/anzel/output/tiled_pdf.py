"""Paper templates: pages at 1:1 tiled onto paper of any size, to be cut out or stuck on card.

Neighbouring tiles show the same strip, `OVERLAP` wide. One tile is cut along its crop marks and
glued onto the glue strip of the other. Every sheet of paper has a ruler to check the print, and
says which tile it is and whether its lines are for a knife or for a kerf.
"""

import io
from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from anzel.core.findings import ParameterError
from anzel.core.tolerances import ROUNDING
from anzel.core.units import parse_length
from anzel.cutjob.operations import Pens
from anzel.output.for_knife import meant_for
from anzel.output.pages import Page, draw
from anzel.output.pdf_writer import PageMarks, ruler

OVERLAP = 10.0
"""Width of the strip that two tiles share, mm. Common practice, no source."""
_EDGE = 10.0
"""Printers leave this much at the paper's edge, mm. Common practice, no source."""
_FOOT = 14.0
PAPERS = {
    "A5": (148.0, 210.0), "A4": (210.0, 297.0), "A3": (297.0, 420.0), "A2": (420.0, 594.0),
    "LETTER": (215.9, 279.4), "LEGAL": (215.9, 355.6), "TABLOID": (279.4, 431.8),
}  # fmt: skip
"""ISO 216 and ANSI/ASME Y14.1 sizes, mm; Legal is common practice."""


@dataclass(frozen=True)
class Tile:
    """One sheet of paper.

    Its column and row (from the lower left), and where its window begins on the page, mm.
    """

    column: int
    row: int
    left: float
    low: float

    @property
    def name(self) -> str:
        """The name of the tile; B2 is the second column, second row."""
        more, letter = divmod(self.column, 26)
        return f"{chr(65 + letter)}{more or ''}{self.row + 1}"


def paper_size(text: str) -> tuple[float, float]:
    """Return the size of a paper by name or as `WxH`, mm.

    Raises
    ------
    ParameterError
    """
    known = PAPERS.get(text.strip().upper())
    if known:
        return known
    width, by, height = text.lower().partition("x")
    if by:
        size = (parse_length(width), parse_length(height))
        if min(size) >= 60:
            return size
    names = ", ".join(name.capitalize() for name in PAPERS)
    raise ParameterError(f"“{text}” is no paper.", hint=f"Use {names} or WIDTHxHEIGHT.")


def tiles_of(page: Page, paper: tuple[float, float]) -> tuple[Tile, ...]:
    """Return the tiles of a page, row by row."""
    window = _window(paper)
    counts = [
        max(ceil((size - OVERLAP) / (room - OVERLAP) - ROUNDING), 1)
        for size, room in zip((page.width, page.height), window, strict=True)
    ]
    return tuple(
        Tile(column, row, column * (window[0] - OVERLAP), row * (window[1] - OVERLAP))
        for row in range(counts[1])
        for column in range(counts[0])
    )


def paper_bytes(
    pages: Sequence[Page], pens: Pens, paper: tuple[float, float], *, metric: bool = True
) -> bytes:
    """Return a PDF of all pages, tiled; the paper of each lies the way that takes fewer sheets."""
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pageCompression=1, invariant=1)
    canvas.setTitle(" + ".join(page.name for page in pages))
    canvas.setCreator("Anzel")
    for page in pages:
        upright, across = paper, (paper[1], paper[0])
        fewer = min((upright, across), key=lambda size: len(tiles_of(page, size)))
        tiles = tiles_of(page, fewer)
        for tile in tiles:
            words = f"{page.name}, tile {tile.name} of {tiles[-1].name}"
            _tile(canvas, page, pens, fewer, tile, tiles)
            _foot(canvas, fewer[0], words, meant_for(page, metric=metric))
            room = 100.0 if _window(fewer)[0] >= 120 else 50.0
            ruler(canvas, room, left=_EDGE, base=_EDGE - 4, metric=metric)
            canvas.showPage()
    canvas.save()
    return buffer.getvalue()


def _window(paper: tuple[float, float]) -> tuple[float, float]:
    """Return the part of a page that one sheet of paper shows."""
    return (paper[0] - 2 * _EDGE, paper[1] - 2 * _EDGE - _FOOT)


def _tile(
    canvas: Canvas, page: Page, pens: Pens, paper: tuple[float, float], tile: Tile,
    tiles: tuple[Tile, ...],
) -> None:  # fmt: skip
    width, height = _window(paper)
    canvas.setPageSize((paper[0] * mm, paper[1] * mm))
    canvas.saveState()
    canvas.translate(_EDGE * mm, (_EDGE + _FOOT) * mm)
    clip = canvas.beginPath()
    clip.rect(0, 0, width * mm, height * mm)
    canvas.clipPath(clip, stroke=0)
    canvas.scale(mm, mm)
    canvas.translate(-tile.left, -tile.low)
    draw([page], PageMarks(canvas, pens))
    canvas.restoreState()
    _around(canvas, width, height, tile, tiles)


def _foot(canvas: Canvas, width: float, *lines: str) -> None:
    """Say which tile it is, and what its lines are for."""
    canvas.setFont("Helvetica", 7)
    for number, words in enumerate(reversed(lines)):
        canvas.drawRightString((width - _EDGE) * mm, (_EDGE - 2 + 3.2 * number) * mm, words)


def _around(
    canvas: Canvas, width: float, height: float, tile: Tile, tiles: tuple[Tile, ...]
) -> None:
    """Draw crop marks at the window's corners, and dashed lines and words along its glue strips."""
    left, low = _EDGE, _EDGE + _FOOT
    right, top = left + width, low + height
    canvas.setStrokeGray(0.35)
    canvas.setLineWidth(0.15 * mm)
    for x, away in ((left, -1), (right, 1)):
        for y, off in ((low, -1), (top, 1)):
            canvas.line((x + away) * mm, y * mm, (x + away * 5) * mm, y * mm)
            canvas.line(x * mm, (y + off) * mm, x * mm, (y + off * 5) * mm)
    last = (max(t.column for t in tiles), max(t.row for t in tiles))
    canvas.setDash(2, 2)
    canvas.setFont("Helvetica", 6)
    canvas.setFillGray(0.35)
    if tile.column < last[0]:
        canvas.line((right - OVERLAP) * mm, low * mm, (right - OVERLAP) * mm, top * mm)
        canvas.drawRightString((right - 1) * mm, (low + 2) * mm, "glue")
    if tile.row < last[1]:
        canvas.line(left * mm, (top - OVERLAP) * mm, right * mm, (top - OVERLAP) * mm)
        canvas.drawString((left + 1) * mm, (top - 4) * mm, "glue")
    canvas.setDash()
    canvas.setFillGray(0)
