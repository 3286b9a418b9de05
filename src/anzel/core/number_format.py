"""Numbers inside texts: the core marks them, the edges write them in the maker's units.

A text of the core holds a number as a mark, such as `⟦2.94 mm .2⟧`: the exact value, its unit and
the digits that matter in millimetres. `NumberFormat.write` puts figures in place of all marks. So
one finding, computed once and shared, reads 2.94 mm in one window and 0.1157 in in another, and
nothing is converted from a number that was rounded before.
"""

import re
from dataclasses import dataclass
from enum import StrEnum
from math import ceil, copysign, floor

from anzel.core.units import MILLIMETRES_PER_INCH

UNIT = "⟦mm⟧"
"""The word of the unit of the lengths before it."""

_MARK = re.compile(
    r"⟦(?:(-?[\d.]+(?:e[+-]?\d+)?|-?inf|nan) )?(mm²|mm³|cm²|mm/s|mm|m²|m|#)(?: ([.g<>+])(\d))?⟧"
)
_FOOT = 12 * MILLIMETRES_PER_INCH / 1000
_IN_INCHES = {
    "mm": ("in", MILLIMETRES_PER_INCH), "mm/s": ("in/s", MILLIMETRES_PER_INCH),
    "cm²": ("in²", (MILLIMETRES_PER_INCH / 10) ** 2), "mm²": ("in²", MILLIMETRES_PER_INCH**2),
    "mm³": ("in³", MILLIMETRES_PER_INCH**3), "m": ("ft", _FOOT), "m²": ("ft²", _FOOT**2),
}  # fmt: skip
"""Unit → the word in inches, and how much of it is one of that."""
_FINER = {"mm": 0, "mm/s": -2, "cm²": 2, "mm²": 4, "mm³": 4, "m": 0, "m²": 0}
"""Further digits that a number needs in inches, beyond those that follow from `places`."""
_LENGTHS = ("mm", "mm/s")
_LARGEST_DENOMINATOR = 64
_ROUNDING = 1e-9
_SIGNIFICANT = 9


class Unit(StrEnum):
    """The unit that lengths are shown in."""

    MILLIMETRES = "mm"
    INCHES = "in"
    FRACTIONS = "in/64"


@dataclass(frozen=True)
class NumberFormat:
    """How numbers are shown and typed.

    `places` are the decimals of an inch that stand for hundredths of a millimetre. In fractions, a
    length is a fraction where it is one as exactly as it would be shown in millimetres, and a
    decimal elsewhere, so that no fit is ever hidden by a sixty-fourth.
    """

    unit: Unit = Unit.MILLIMETRES
    places: int = 4
    decimal_comma: bool = False

    @property
    def is_metric(self) -> bool:
        """Whether lengths are shown in millimetres."""
        return self.unit is Unit.MILLIMETRES

    @property
    def word(self) -> str:
        """The unit's word, mm or in."""
        return self.write(UNIT)

    def write(self, text: str) -> str:
        """Return a text with figures in place of its marks.

        Examples
        --------
        >>> words = f"a slot of {format_measure(6.35)}"
        >>> MILLIMETRES.write(words)
        'a slot of 6.35 mm'
        >>> NumberFormat(Unit.INCHES).write(words)
        'a slot of 0.2500 in'
        >>> NumberFormat(Unit.FRACTIONS).write(words)
        'a slot of 1/4 in'
        """
        return _MARK.sub(self._written, text) if "⟦" in text else text

    def typed(self, text: str) -> str:
        """Return typed text as `parse_length` understands it: with a point, and with its unit.

        A bare number is in the unit that is shown.

        Examples
        --------
        >>> NumberFormat(Unit.INCHES).typed("1 1/8")
        '(1 1/8) in'
        """
        if self.decimal_comma:
            text = re.sub(r"(?<=\d),(?=\d)", ".", text)
        if self.is_metric or re.search(r"[a-z\"″]", text, re.IGNORECASE) or not text.strip():
            return text
        return f"({text.strip()}) in"

    def stepped(self, length: float, steps: float) -> str:
        """Return a length in mm, after a step of so many mm, as it would be typed.

        In inches a step of 1 mm becomes 0.05 in, in fractions 1/16 in; none is finer than 1/64.
        """
        if self.is_metric:
            return f"{round(length + steps, 4):g}"
        step = steps / 20
        if self.unit is Unit.FRACTIONS:
            step = copysign(max(round(4 * abs(steps)), 1), steps) / _LARGEST_DENOMINATOR
        return _rounded(length / MILLIMETRES_PER_INCH + step, "g", 6)

    def _written(self, mark: re.Match[str]) -> str:
        value, unit, style, digits = mark.groups()
        if value is None:
            return unit if self.is_metric else _IN_INCHES[unit][0]
        figures = self._figures(float(value), unit, style, int(digits))
        return figures.replace(".", ",") if self.decimal_comma else figures

    def _figures(self, value: float, unit: str, style: str, digits: int) -> str:
        if self.is_metric or unit == "#":
            return _rounded(value, style, digits)
        if self.unit is Unit.FRACTIONS and unit == "mm" and style != "+":
            fraction = _fraction(value, _ROUNDING if style in "<>" else 0.5 * 10.0**-digits)
            if fraction is not None:
                return fraction
        places = self.places - (3 if style == "g" else 2)
        wanted = digits + _FINER[unit] + (places if unit in _LENGTHS else 0)
        return _rounded(value / _IN_INCHES[unit][1], style, max(wanted, 1))


MILLIMETRES = NumberFormat()
"""As files and scripts have it."""


def format_length(value: float, digits: int = 2) -> str:
    """Return the mark of a length in mm that is shown with so many digits."""
    return _mark(value, "mm", ".", digits)


def plain_length(value: float, digits: int = 3) -> str:
    """Return the mark of a length in mm that is shown without trailing zeros."""
    return _mark(value, "mm", "g", digits)


def format_measure(value: float, digits: int = 2) -> str:
    """Return the marks of a length in mm and of its unit."""
    return f"{format_length(value, digits)} {UNIT}"


def plain_measure(value: float, digits: int = 3) -> str:
    """Return the marks of a length in mm, without trailing zeros, and of its unit."""
    return f"{plain_length(value, digits)} {UNIT}"


def signed_length(value: float, digits: int = 3) -> str:
    """Return the mark of a length in mm that is shown with its sign."""
    return _mark(value, "mm", "+", digits)


def least_length(value: float, digits: int = 1) -> str:
    """Return the mark of a lower bound in mm, which is rounded up wherever it is shown."""
    return _mark(value, "mm", "<", digits)


def most_length(value: float, digits: int = 1) -> str:
    """Return the mark of an upper bound in mm, which is rounded down wherever it is shown."""
    return _mark(value, "mm", ">", digits)


def format_number(value: float, digits: int) -> str:
    """Return the mark of a number without a unit."""
    return _mark(value, "#", ".", digits)


def plain_number(value: float, digits: int = 3) -> str:
    """Return the mark of a number without a unit that is shown without trailing zeros."""
    return _mark(value, "#", "g", digits)


def format_quantity(value: float, unit: str, digits: int) -> str:
    """Return the marks of a number and its unit: m, m², cm², mm², mm³ or mm/s."""
    return f"{_mark(value, unit, '.', digits)} ⟦{unit}⟧"


def plain_figure(value: float, unit: str) -> str:
    """Return the mark of a number in a field of this unit, which may be one that has no inches."""
    return _mark(value, unit if unit in _IN_INCHES else "#", "g", 3)


def plain_quantity(value: float, unit: str, digits: int = 3) -> str:
    """Return the marks of a number, without trailing zeros, and of its unit."""
    return f"{_mark(value, unit, 'g', digits)} ⟦{unit}⟧"


def format_share(value: float, digits: int = 0) -> str:
    """Return the mark of a share, in per cent."""
    return f"{format_number(100 * value, digits)}%"


def _mark(value: float, unit: str, style: str, digits: int) -> str:
    return f"⟦{float(value)!r} {unit} {style}{digits}⟧"


def _rounded(value: float, style: str, digits: int) -> str:
    """Return a number in one of the styles of marks.

    "." has all digits, a true minus sign and no negative zero; "+" always has a sign; "g" has no
    trailing zeros; "<" is rounded up and ">" down.
    """
    if style in ".+":
        sign = "+" * (style == "+")
        return f"{round(value, digits) + 0.0:{sign}.{digits}f}".replace("-", "−")
    if style in "<>":
        scaled = value * 10**digits
        value = (
            ceil(scaled - _ROUNDING) if style == "<" else floor(scaled + _ROUNDING)
        ) / 10**digits
    return f"{round(value, digits):.{_SIGNIFICANT}g}"


def _fraction(value: float, within: float) -> str | None:
    """Return a length as whole inches and a fraction; None where it is none within so many mm."""
    parts = round(abs(value) / MILLIMETRES_PER_INCH * _LARGEST_DENOMINATOR)
    exact = parts / _LARGEST_DENOMINATOR * MILLIMETRES_PER_INCH
    if abs(exact - abs(value)) > within:
        return None
    whole, rest = divmod(parts, _LARGEST_DENOMINATOR)
    denominator = _LARGEST_DENOMINATOR
    while rest and not rest % 2:
        rest, denominator = rest // 2, denominator // 2
    words = [str(whole)] * (whole > 0 or not rest) + [f"{rest}/{denominator}"] * (rest > 0)
    return "−" * (value < 0 and parts > 0) + " ".join(words)
