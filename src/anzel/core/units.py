"""Lengths as people type them.

The core uses millimetres only; inches exist only in this module and in `arithmetic`.

`1/8 in`, `2*3 + 0.02`, `2.94mm`, `0.116"` and `2,94` are all understood. A bare number is mm.
"""

import re
from math import floor, log10

from anzel.core.arithmetic import MILLIMETRES_PER_INCH, Amount, evaluate
from anzel.core.findings import QuantityError

__all__ = ["MILLIMETRES_PER_INCH", "need_length", "parse_length", "plain_text", "round_step"]
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
    return need_length(evaluate(plain_text(text)), text)


def need_length(amount: Amount, text: str) -> float:
    """Return the mm of what a typed sum comes to.

    Raises
    ------
    QuantityError
        For an area, and for what is longer than a kilometre.
    """
    if amount.power > 1:
        message = f"“{text.strip()}” is a length times a length."
        raise QuantityError(message, hint="Multiply by a plain number.")
    if not abs(amount.value) < _LARGEST:
        raise QuantityError(f"“{text.strip()}” is longer than a kilometre.", hint="Check the unit.")
    return amount.value


def round_step(least: float) -> float:
    """Return the smallest of … 0.01, 0.02, 0.05, 0.1 … that is at least `least`."""
    decade = 10.0 ** floor(log10(max(least, 1e-6)))
    return next(decade * step for step in (1, 2, 5, 10) if decade * step >= least * (1 - 1e-9))


def plain_text(text: str) -> str:
    """Return typed text with a decimal point for a decimal comma.

    Raises
    ------
    QuantityError
        For a comma that might separate thousands.
    """
    if re.search(r"\d,\d{3}(?!\d)", text):
        raise QuantityError(
            f"“{text}” could mean a decimal or a thousand.", hint="Write it with a point."
        )
    return re.sub(r"(?<=\d),(?=\d)", ".", text)
