"""Opening a drawing to refit it: read, looked over, its unit guessed where the file is silent."""

from anzel.drawings.reading import read_drawing
from anzel.drawings.record import Tell, UnitSource, silent
from anzel.geometry.units import MILLIMETRES_PER_INCH
from anzel.refit.survey import Survey, surveyed

_THINNEST = 0.4
_THICKEST = 26.0
"""A drawing without units is in inches if as mm it were made for sheet thinner than anybody slots
together, and as inches for one that people do, mm. Common practice, no source."""


def opened(
    content: bytes,
    name: str,
    units: str | None = None,
    scale: float = 1.0,
    tell: Tell = silent,
) -> Survey:
    """A drawing looked over, `scale` times as large as drawn. Raises DrawingError, and whatever
    `tell` raises to stop it."""
    drawing = read_drawing(content, name, units, scale, tell)
    tell(f"{name}: looking for pieces and their features …")
    survey = surveyed(drawing)
    known = survey.drawing.units
    if known.source is UnitSource.GUESS and known.name == "mm" and survey.evidence:
        size = survey.evidence[0].value / scale
        if size < _THINNEST <= size * MILLIMETRES_PER_INCH < _THICKEST:
            return surveyed(read_drawing(content, name, "in", scale, tell).guessed())
    return survey
