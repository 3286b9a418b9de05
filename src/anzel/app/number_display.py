"""The numbers that this process shows: in the maker's units, wherever a text leaves the core.

A process shows one window, or is one command, so there is one format of numbers in it.
"""

from math import ceil, floor

from anzel.core.number_format import (
    UNIT,
    NumberFormat,
    Unit,
    format_length,
    format_measure,
    format_number,
    format_quantity,
    format_share,
    plain_length,
    plain_measure,
    plain_number,
    plain_quantity,
    signed_length,
)
from anzel.core.tolerances import ROUNDING
from anzel.core.units import MILLIMETRES_PER_INCH, round_step
from anzel.project.model import Project

_FINEST = 6
_format = NumberFormat()


def number_format() -> NumberFormat:
    """Return the format in use."""
    return _format


def show_numbers(number_format: NumberFormat) -> None:
    """Use another format from now on."""
    global _format
    _format = number_format


def as_shown(project: Project) -> Project:
    """Return the project with the unit of the numbers shown, where it has none of its own.

    Engraved numbers follow it; nothing else of the project depends on it.
    """
    if project.shown_unit is not None or _format.unit is Unit.MILLIMETRES:
        return project
    return project.with_changes(shown_unit=_format.unit)


def shown(text: str) -> str:
    """Return a text with its numbers as the maker reads them."""
    return _format.write(text)


def shown_length(value: float, digits: int = 2) -> str:
    """Return a length in mm as the maker reads it, without its unit."""
    return shown(format_length(value, digits))


def shown_plain_length(value: float, digits: int = 3) -> str:
    """Return a length in mm as the maker reads it, without trailing zeros and without its unit."""
    return shown(plain_length(value, digits))


def shown_signed_length(value: float, digits: int = 3) -> str:
    """Return a length in mm as the maker reads it, with its sign and without its unit."""
    return shown(signed_length(value, digits))


def shown_measure(value: float, digits: int = 2) -> str:
    """Return a length in mm as the maker reads it, with its unit."""
    return shown(format_measure(value, digits))


def shown_plain_measure(value: float, digits: int = 3) -> str:
    """Return a length in mm as the maker reads it, without trailing zeros, with its unit."""
    return shown(plain_measure(value, digits))


def shown_number(value: float, digits: int) -> str:
    """Return a number that is no length."""
    return shown(format_number(value, digits))


def shown_plain_number(value: float, digits: int = 3) -> str:
    """Return a number that is no length, without trailing zeros."""
    return shown(plain_number(value, digits))


def shown_quantity(value: float, unit: str, digits: int) -> str:
    """Return a number with its unit: m, m², cm², mm², mm³ or mm/s."""
    return shown(format_quantity(value, unit, digits))


def shown_plain_quantity(value: float, unit: str) -> str:
    """Return a number without trailing zeros, with its unit."""
    return shown(plain_quantity(value, unit))


def shown_share(value: float, digits: int = 0) -> str:
    """Return a share in per cent."""
    return shown(format_share(value, digits))


def ticks(low: float, high: float, most: int) -> list[tuple[float, str]]:
    """Return at most so many places of an axis, mm, round in the unit shown, with their figures."""
    size = 1.0 if _format.is_metric else MILLIMETRES_PER_INCH
    step = round_step((high - low) / size / most)
    first, last = ceil(low / size / step - ROUNDING), floor(high / size / step + ROUNDING)
    digits = 2
    while digits < _FINEST and abs(round(step, digits) - step) > ROUNDING * step:
        digits += 1  # so many that neighbours do not look alike
    return [
        (number * step * size, shown_number(number * step, digits))
        for number in range(first, last + 1)
    ]


def unit() -> str:
    """Return the word of the unit of lengths."""
    return shown(UNIT)
