"""Load a drawing to refit it: read and analysed, its unit guessed where the file states none."""

from anzel.drawings.model import UNITS, Tell, Units, UnitSource, no_progress
from anzel.drawings.reader import read_drawing
from anzel.refit.analysis import DrawingAnalysis, analyse

_LIKELY = (0.4, 26.0)
"""A drawing without units is in inches if, as mm, it were made for no sheet that can be told, and
as inches for one that people slot together, mm. Common practice, no source."""


def load_drawing(
    content: bytes,
    name: str,
    units: str | None = None,
    scale: float = 1.0,
    tell: Tell = no_progress,
) -> DrawingAnalysis:
    """Return the analysis of a drawing, `scale` times as large as drawn.

    Raises
    ------
    DrawingError
        `tell` raises to stop it.
    """
    drawing = read_drawing(content, name, units, scale, tell)
    tell(f"{name}: looking for pieces and their features …")
    analysis = analyse(drawing)
    known = analysis.drawing.units
    is_guess = known.source is UnitSource.GUESS and known.name == "mm"
    if is_guess and (analysis.drawn_for() or 0.0) < _LIKELY[0] * scale:
        inches = Units("in", UNITS["in"], UnitSource.GUESS)
        in_inches = analyse(drawing.source.in_units(drawing, inches))
        size = (in_inches.drawn_for() or 0.0) / scale
        return in_inches if _LIKELY[0] <= size < _LIKELY[1] else analysis
    return analysis
