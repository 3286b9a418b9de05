"""The base class of all the maker's decisions: immutable, validated records."""

from collections.abc import Collection
from typing import Any, ClassVar, Self

from pydantic import BaseModel, ConfigDict, ValidationError

from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_length, plain_number

_PLAIN_WORDS = {
    "greater_than": "must be more than {gt}",
    "greater_than_equal": "must be at least {ge}",
    "less_than": "must be less than {lt}",
    "less_than_equal": "must be at most {le}",
    "float_parsing": "must be a number",
    "float_type": "must be a number",
    "int_parsing": "must be a whole number",
    "int_type": "must be a whole number",
    "int_from_float": "must be a whole number",
    "multiple_of": "must be a multiple of {multiple_of}",
    "finite_number": "must be a finite number",
    "string_too_short": "must not be empty",
    "missing": "is missing",
    "extra_forbidden": "is not known here",
    "literal_error": "must be {expected}",
    "enum": "must be {expected}",
    "union_tag_invalid": "must be one of {expected_tags}",
    "union_tag_not_found": "does not say of which kind it is",
}

_LONG_NUMBER, _LONG_WORD = 10**15, 60


class Immutable(BaseModel):
    """An immutable record.

    It refuses unknown fields, NaN and infinities.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, defer_build=True)
    other_numbers: ClassVar[frozenset[str]] = frozenset()
    """Numbers with a point that are no lengths; all others are in mm."""

    @classmethod
    def length_fields(cls) -> tuple[str, ...]:
        """Return the names of the fields that are lengths."""
        floats = (n for n, about in cls.model_fields.items() if about.annotation is float)
        return tuple(name for name in floats if name not in cls.other_numbers)

    @classmethod
    def validated(cls, **fields: Any) -> Self:  # noqa: ANN401
        """Return a validated record of fields that came from outside.

        Raises
        ------
        ParameterError
            Naming the field at fault.
        """
        try:
            return cls(**fields)
        except ValidationError as error:
            raise to_parameter_error(error, cls.length_fields()) from error

    def with_changes(self, **changes: Any) -> Self:  # noqa: ANN401
        """Return a validated copy with some fields changed.

        Raises
        ------
        ParameterError
            Naming the field at fault.
        """
        try:
            return type(self).model_validate({**self.__dict__, **changes})
        except ValidationError as error:
            raise to_parameter_error(error, self.length_fields()) from error


def to_parameter_error(error: ValidationError, lengths: Collection[str] = ()) -> ParameterError:
    """Return the first validation error, worded for the maker, with the field's name.

    Numbers of fields among `lengths` are told in the maker's units, all others as they are.
    """
    first = error.errors()[0]
    names = [str(part) for part in first["loc"]]
    field = next((name for name in reversed(names) if not name.isdigit()), "")
    given = first.get("input")
    words = _PLAIN_WORDS.get(first["type"])
    figure = plain_length if field in lengths else plain_number
    limits = {
        name: figure(limit) if isinstance(limit, int | float) else limit
        for name, limit in first.get("ctx", {}).items()
    }
    what = words.format(**limits) if words else first["msg"].lower()
    if first["type"] == "value_error":  # worded by ourselves
        what = str(first["ctx"]["error"])
    shown = ""
    if isinstance(given, float):
        shown = f", not {figure(given)}"
    elif isinstance(given, int):
        shown = f", not {given}" if abs(given) < _LONG_NUMBER else ", not so large"
    elif isinstance(given, str) and given:
        shown = f", not “{given[:40]}”"
    # what a file holds may be endless, also as the name of a field
    said = " ".join(_cut_off(word) for word in f"{field_title(field)} {what}{shown}.".split())
    return ParameterError(said, field=field)


def _cut_off(word: str) -> str:
    return word if len(word) <= _LONG_WORD else f"{word[:_LONG_WORD]}…"


def field_title(field: str) -> str:
    """Return a field's name as people read it.

    Examples
    --------
    >>> field_title("foot_span")
    'Foot span'
    """
    if field == "readings":
        return "A thickness reading"
    return field.replace("_", " ").capitalize()
