"""The ranges of a form's numbers: checked, and told such that they can be kept."""

from collections.abc import Mapping
from math import ceil, floor
from typing import Any, Protocol, Self, TypeVar

from anzel.core.findings import Finding, ParameterError, Severity
from anzel.core.immutable import field_title
from anzel.core.number_format import least_length, most_length, plain_length, plain_number
from anzel.core.tolerances import ROUNDING
from anzel.structure.model import FitContext

Range = tuple[float, float]
_FINEST = 3
_NUDGE = 1.01
_MOST_NAMED = 3


_MOST_GIVING_WAY = 20
"""Fields that give way, one after the other: more than any form has."""


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


Form = TypeVar("Form", bound=Ranged)


def out_of_range(form: Ranged, fit_context: FitContext) -> dict[str, ParameterError]:
    """Return why fields cannot be as they are, by name, for those outside what others allow."""
    found = {}
    for field, (low, high) in form.ranges(fit_context).items():
        value = getattr(form, field)
        if low - ROUNDING <= value <= high + ROUNDING:
            continue
        low, high = _whole(form, field, (low, high))
        if low > high:
            found[field] = _impossible(form, fit_context, field, (low, high))
            continue
        is_length = field in form.length_fields()
        shown = plain_length(value) if is_length else plain_number(value)
        found[field] = ParameterError(
            f"{field_title(field)} {shown} is {'less' if value < low else 'more'} than possible "
            "here.",
            hint=_hint(low, high, is_length=is_length), field=field,
        )  # fmt: skip
    return found


def within_ranges(form: Form, fit_context: FitContext) -> tuple[Form, tuple[Finding, ...]]:
    """Return a form as near as possible to what was wished, and findings on what gave way.

    A sheet that measures thicker than expected, or another fit, may leave a field less room than it
    had. The wish stays in the project, and holds again once there is room.

    Raises
    ------
    ParameterError
        Where the other fields leave one no value at all.
    """
    findings = []
    for _ in range(_MOST_GIVING_WAY):
        error = next(iter(out_of_range(form, fit_context).values()), None)
        if error is None:
            break
        field = error.field
        low, high = _whole(form, field, form.ranges(fit_context)[field])
        if low > high:
            raise error
        nearest = min(max(getattr(form, field), low), high)
        nearest = int(nearest) if form.is_whole(field) else nearest
        shown = plain_length(nearest) if field in form.length_fields() else plain_number(nearest)
        words = f"{error.message} It is built with {shown}."
        findings.append(
            Finding("gave-way", Severity.WARNING, field_title(field), words, error.hint)
        )
        form = form.with_changes(**{field: nearest})
    return form, tuple(findings)


def _whole(form: Ranged, field: str, limits: Range) -> Range:
    """Return the limits of a field, those of a whole number as whole numbers."""
    low, high = limits
    if form.is_whole(field):
        return ceil(low - ROUNDING), floor(high + ROUNDING)
    return low, high


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
