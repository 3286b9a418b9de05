"""Engraved names: in the middle of a piece's largest inscribed circle."""

from math import hypot

from anzel.geometry.lettering import lettering
from anzel.geometry.regions import Region, Stroke

_TALLEST = 6.0
SMALLEST_LETTER = 1.5
"""No letter is smaller, mm: it could not be read. Common practice, no source."""
LETTER_WIDTH = 0.85
"""A letter's width, of its height, with the gap beside it."""


def engraved_name(region: Region, text: str, tallest: float = _TALLEST) -> tuple[Stroke, ...]:
    """Return `text` in single strokes, no larger than fits; nothing where there is no room."""
    x, y, clear = region.largest_inscribed_circle
    height = min(tallest, 1.6 * clear / hypot(1.0, LETTER_WIDTH * len(text)))
    return lettering(text, height, (x, y)) if height >= SMALLEST_LETTER else ()
