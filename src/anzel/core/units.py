"""Lengths as people type them.

The core uses millimetres only; inches exist only in this module.

`1/8 in`, `2*3 + 0.02`, `2.94mm`, `0.116"` and `2,94` are all understood. A bare number is mm.
"""

import re
from functools import cache
from math import floor, log10
from typing import TYPE_CHECKING, Any

from anzel.core.findings import QuantityError

if TYPE_CHECKING:
    from pint import UnitRegistry

MILLIMETRES_PER_INCH = 25.4
"""Exact by definition (international yard and pound agreement, 1959)."""

_PLAIN = re.compile(r"([+-]?(?:\d+\.?\d*|\.\d+))\s*(mm|millimetres?|in|inch|inches|\"|″)?")
_ALLOWED = re.compile(r"[\d.\s+*/()\-]|mm|cm|inch(?:es)?|in")
_TWO_NUMBERS = re.compile(r"\d\s+[\d.]|\.\d*\.")
"""Numbers side by side, which pint would multiply."""
_LONGEST_TEXT = 80
_LARGEST = 1e6


def parse_length(text: str) -> float:
    """Return the length in mm that the text means.

    Raises
    ------
    QuantityError
        For anything that is not a finite length under a kilometre.

    Examples
    --------
    >>> parse_length("1/8 in")
    3.175
    >>> parse_length("2,94")
    2.94
    """
    wanted = _decimal_point(text.strip())
    plain = _PLAIN.fullmatch(wanted)
    if plain:
        value = float(plain[1]) * (MILLIMETRES_PER_INCH if _is_inch(plain[2]) else 1.0)
    else:
        value = _evaluate(wanted, text)
    if not abs(value) < _LARGEST:
        raise QuantityError(f"“{text.strip()}” is longer than a kilometre.", hint="Check the unit.")
    return value


def round_step(least: float) -> float:
    """Return the smallest of … 0.01, 0.02, 0.05, 0.1 … that is at least `least`."""
    decade = 10.0 ** floor(log10(max(least, 1e-6)))
    return next(decade * step for step in (1, 2, 5, 10) if decade * step >= least * (1 - 1e-9))


def _is_inch(unit: str | None) -> bool:
    return unit is not None and not unit.startswith("m")


def _decimal_point(text: str) -> str:
    """Return the text with a decimal point for a decimal comma.

    Refuse a comma that might separate thousands.
    """
    if re.search(r"\d,\d{3}(?!\d)", text):
        raise QuantityError(
            f"“{text}” could mean a decimal or a thousand.", hint="Write it with a point."
        )
    return re.sub(r"(?<=\d),(?=\d)", ".", text).replace("−", "-")


def _evaluate(wanted: str, typed: str) -> float:
    """Return the value of an expression with units.

    Only digits, + - * / ( ) and length units reach pint.
    """
    sum_text = re.sub(r"[\"″]", " in", wanted)
    sum_text = re.sub(r"(\d+)\s+(\d+\s*/\s*\d+)", r"(\1+\2)", sum_text)  # 1 1/8 in
    failure = QuantityError(
        f"“{typed.strip()}” is not a length.", hint="Type a number, such as 2.94 or 1/8 in."
    )
    if not sum_text or len(sum_text) > _LONGEST_TEXT or "**" in sum_text:
        raise failure
    if _ALLOWED.sub("", sum_text) or _TWO_NUMBERS.search(sum_text):
        raise failure
    try:
        quantity: Any = _known_units().parse_expression(sum_text)
        if isinstance(quantity, int | float):
            return float(quantity)
        if quantity.dimensionless:
            return float(quantity.magnitude)
        return float(quantity.to("millimetre").magnitude)
    except Exception as error:  # pint raises its tokenizer's, Python's and its own errors
        raise failure from error


@cache
def _known_units() -> "UnitRegistry[Any]":
    """Return pint's table of units, made when somebody first types a sum: that takes 0.5 s."""
    import pint

    return pint.UnitRegistry()
