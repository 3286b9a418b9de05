"""Single-stroke lettering for engraving: one pass of the cutter per line, no outlines."""

from functools import lru_cache
from typing import TYPE_CHECKING

from anzel.geometry.regions import Stroke
from anzel.geometry.rigid_transform import Point

if TYPE_CHECKING:
    from HersheyFonts import HersheyFonts

_FONT = "futural"


def lettering(text: str, height: float, centre: Point) -> tuple[Stroke, ...]:
    """Return `text` in single strokes with digits `height` mm tall, centred on a point."""
    strokes = _strokes(text)
    xs = [x for stroke in strokes for x, _ in stroke]
    if not xs:
        return ()
    digit = [y for stroke in _strokes("0") for _, y in stroke]
    low, high = min(digit), max(digit)
    scale = height / (high - low)
    middle_x, middle_y = (min(xs) + max(xs)) / 2, (low + high) / 2
    return tuple(
        tuple(
            (centre[0] + (x - middle_x) * scale, centre[1] + (y - middle_y) * scale)
            for x, y in stroke
        )
        for stroke in strokes
    )


@lru_cache(maxsize=512)  # short strokes: the texts of a large job
def _strokes(text: str) -> tuple[Stroke, ...]:
    # the font's y runs downwards in its own units; its renderer already turns it up
    drawn = _font().strokes_for_text(text)
    return tuple(tuple((float(x), float(y)) for x, y in stroke) for stroke in drawn)


@lru_cache(maxsize=1)
def _font() -> "HersheyFonts":
    """Return the font.

    It is unpacked only once, because that takes longer than all lettering of a test piece.
    """
    from HersheyFonts import HersheyFonts  # not while the window starts

    font = HersheyFonts()
    font.load_default_font(_FONT)
    font.normalize_rendering(100)
    return font
