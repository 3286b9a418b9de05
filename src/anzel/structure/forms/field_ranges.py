"""The ranges of a form's numbers: checked, and told such that they can be kept."""

from collections.abc import Mapping
from math import ceil, floor
from typing import Any, Protocol, Self

from anzel.core.findings import ParameterError
from anzel.core.immutable import field_title
from anzel.core.number_format import least_length, most_length, plain_length, plain_number
from anzel.core.tolerances import ROUNDING
from anzel.structure.model import FitContext

Range = tuple[float, float]
_FINEST = 3
_NUDGE = 1.01
_MOST_NAMED = 3


class Ranged(Protocol):
    """What has numbers whose ranges depend on one another."""

    def ranges(self, fit_context: FitContext) -> Mapping[str, Range]:
        """Return for each numeric field the least and greatest value that the others allow."""

    def length_fields(self) -> tuple[str, ...]:
        """Return the names of the fields that are lengths."""

    def numbers(self) -> tuple[str, ...]:
        """Return the names of all numeric fields."""

    def is_whole(self, field: str) -> bool:
        """Whether a field is a whole number."""

    def with_changes(self, **changes: Any) -> Self:  # noqa: ANN401
        """Return it with some fields changed."""


def check_ranges(form: Ranged, fit_context: FitContext) -> None:
    """Raise ParameterError for the first field outside what the others allow."""
    for field, (low, high) in form.ranges(fit_context).items():
        value = getattr(form, field)
        if low - ROUNDING <= value <= high + ROUNDING:
            continue
        name = field_title(field)
        if form.is_whole(field):
            low, high = ceil(low - ROUNDING), floor(high + ROUNDING)
        if low > high:
            raise _impossible(form, fit_context, field, (low, high))
        is_length = field in form.length_fields()
        shown = plain_length(value) if is_length else plain_number(value)
        raise ParameterError(
            f"{name} {shown} is {'less' if value < low else 'more'} than possible here.",
            hint=_hint(low, high, is_length=is_length), field=field,
        )  # fmt: skip


def limits_of(low: float, high: float, *, is_length: bool) -> tuple[str, str]:
    """Return the marks of a range, which is never shown wider than it is.

    A narrow one is shown finer, so that its marks do not cross.
    """
    digits = 1
    while digits < _FINEST and _up(low, digits) > _down(high, digits):
        digits += 1
    if is_length:
        return least_length(low, digits), most_length(high, digits)
    return plain_number(_up(low, digits)), plain_number(_down(high, digits))


def _up(value: float, digits: int) -> float:
    return ceil(value * 10.0**digits - ROUNDING) / 10.0**digits


def _down(value: float, digits: int) -> float:
    return floor(value * 10.0**digits + ROUNDING) / 10.0**digits


def _hint(low: float, high: float, *, is_length: bool) -> str:
    least, most = limits_of(low, high, is_length=is_length)
    if _up(low, _FINEST) >= _down(high, _FINEST):
        return f"Only {plain_length(low, _FINEST) if is_length else plain_number(low)} will do."
    return f"Between {least} and {most} will do."


def _impossible(
    form: Ranged, fit_context: FitContext, field: str, limits: Range
) -> ParameterError:  # fmt: skip
    """Return the error for a field that the others leave no value, naming those."""
    is_length = field in form.length_fields()
    low, high = (plain_length(e) if is_length else plain_number(e) for e in limits)
    others = " or ".join(
        field_title(each).lower() for each in _shaping(form, fit_context, field)[:_MOST_NAMED]
    )
    return ParameterError(
        f"{field_title(field)}: at least {low} is needed, and at most {high} has room.",
        hint=f"Change {others}." if others else "Take the last change back.", field=field,
    )  # fmt: skip


def _shaping(form: Ranged, fit_context: FitContext, field: str) -> list[str]:
    """Return the other fields that the range of one depends on, as a small change of each shows."""
    before = form.ranges(fit_context)[field]
    found = []
    for other in form.numbers():
        value = getattr(form, other)
        if other == field or not value:
            continue
        try:
            changed = form.with_changes(
                **{other: value + 1 if form.is_whole(other) else value * _NUDGE}
            )
            after = changed.ranges(fit_context)[field]
        except (ParameterError, ArithmeticError, ValueError):
            continue
        if any(abs(a - b) > ROUNDING for a, b in zip(before, after, strict=True)):
            found.append(other)
    return found
