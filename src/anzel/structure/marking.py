"""Where a piece's name is engraved: in the middle of its widest clear place."""

from math import hypot

from anzel.geometry.lettering import lettering
from anzel.geometry.outlines import Region, Stroke
from anzel.geometry.roomy import roomiest

_TALLEST, _SMALLEST = 6.0, 1.5
_WIDE = 0.85
"""A letter's width, of its height, with the gap beside it."""


def mark_on(region: Region, text: str, tallest: float = _TALLEST) -> tuple[Stroke, ...]:
    """`text` in single strokes, no larger than fits; nothing where there is no room."""
    x, y, clear = roomiest(region)
    height = min(tallest, 1.6 * clear / hypot(1.0, _WIDE * len(text)))
    return lettering(text, height, (x, y)) if height >= _SMALLEST else ()
