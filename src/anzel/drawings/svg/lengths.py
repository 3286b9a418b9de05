"""Lengths in SVG: CSS units, and shares of the viewport they are in (CSS Values 4; SVG 2, 8.9)."""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from math import sqrt

from anzel.drawings.svg.path_data import NUMBER

_LENGTH = re.compile(rf"\s*+({NUMBER.pattern})\s*+([a-zA-Z]*+|%)\s*+")
PIXELS = {
    "": 1.0, "px": 1.0, "in": 96.0, "mm": 96 / 25.4, "cm": 960 / 25.4, "pt": 96 / 72, "pc": 16.0,
    "q": 24 / 25.4, "rem": 16.0,
}  # fmt: skip
"""CSS px in each unit (CSS Values, 6.2); the root's size of type is what browsers begin with."""
FONT_SIZE = 16.0
"""The size of type where none is said, px (CSS Fonts, 2.5: medium)."""
_EX = 0.5
"""The height of an x in sizes of type, where the typeface is not known (CSS Values, 6.1.1)."""
_ACROSS = frozenset({"x", "x1", "x2", "cx", "rx", "width", "dx"})
_UP = frozenset({"y", "y1", "y2", "cy", "ry", "height", "dy"})
_WORDS = frozenset({"auto", "none", "inherit", "initial", "unset"})


def _ignore(text: str) -> None:
    """Nobody is told."""


@dataclass(frozen=True)
class Lengths:
    """What lengths mean in one place: the viewport's size in its user units, and the type's, px.

    `width` and `height` are None where the file does not say them. What is no length is told to
    `not_understood`.
    """

    width: float | None = None
    height: float | None = None
    font_size: float = FONT_SIZE
    not_understood: Callable[[str], None] = _ignore

    def of(self, values: Mapping[str, str], name: str, otherwise: float = 0.0) -> float:
        """Return the length of an attribute, px; `otherwise` where it has none."""
        return self.px(values.get(name, ""), name, otherwise)

    def px(self, text: str, name: str = "", otherwise: float = 0.0) -> float:
        """Return a length as px; a percentage is of the size that belongs to the attribute's name.

        `otherwise` is for what is not there and for what is no length.
        """
        if not text:
            return otherwise
        found = _LENGTH.fullmatch(text)
        unit = found[2].lower() if found is not None else ""
        share = self._share(unit, name)
        if found is None or share is None:
            if text.strip().lower() not in _WORDS:
                self.not_understood(text.strip())
            return otherwise
        return float(found[1]) * share

    def _share(self, unit: str, name: str) -> float | None:
        """Return the px in a unit; None for one that is not known here."""
        if unit in ("em", "ex"):
            return self.font_size * (1.0 if unit == "em" else _EX)
        if unit != "%":
            return PIXELS.get(unit)
        if name == "font-size":
            return self.font_size / 100
        sizes = (
            (self.width,) if name in _ACROSS
            else (self.height,) if name in _UP else (self.width, self.height)
        )  # fmt: skip
        known = [size for size in sizes if size is not None]
        if len(known) < len(sizes):
            return None
        return sqrt(sum(size * size for size in known) / len(known)) / 100


def pixels(text: str, otherwise: float = 0.0) -> float:
    """Return a length that needs no viewport as px; `otherwise` for what is none."""
    return Lengths().px(text, "", otherwise)
