"""Numbers of what a maker adds to plates: their units, as typed, and as shown."""

from anzel.app.edits.project_edits import typed_length, typed_number
from anzel.core.findings import ParameterError
from anzel.core.immutable import Immutable, field_title
from anzel.core.number_format import plain_figure

COUNTS = ("corners", "count", "rows")
_UNITS = {"turn": "°", "bend_angle": "°", "allowed_strain": "%"}


def unit_of(field: str) -> str:
    """Return the unit of a number: none for a count, and mm where it is a length."""
    return "" if field in COUNTS else _UNITS.get(field, "mm")


def typed_value(text: str, field: str) -> float:
    """Return typed text as a number in its unit; a count is whole.

    Raises ParameterError naming the field.
    """
    if field in COUNTS:
        return _typed_count(text, field)
    unit = unit_of(field)
    return (
        typed_length(text, field) if unit == "mm" else typed_number(text.removesuffix(unit), field)
    )


def figure_of(record: Immutable, field: str) -> str:
    """Return a number of a record as a mark for a text."""
    value = getattr(record, field)
    return str(value) if field in COUNTS else plain_figure(value, unit_of(field))


def _typed_count(text: str, field: str) -> int:
    value = typed_number(text, field)
    if value != value // 1:
        raise ParameterError(f"{field_title(field)}: “{text}” is no whole number.", field=field)
    return int(value)
