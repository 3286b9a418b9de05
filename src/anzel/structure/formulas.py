"""Numbers that follow others: named numbers, and fields that hold a sum instead of a figure.

A formula is kept beside the number that it last gave. While it cannot be worked out, because a
name is gone, names go round in a circle or something is divided by nothing, that number stays.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import partial
from typing import Annotated

from pydantic import Field

from anzel.core.arithmetic import (
    LONGEST_TEXT,
    UNITS,
    Amount,
    evaluate_with,
    tokens_of,
    with_renamed,
)
from anzel.core.findings import Finding, ParameterError, QuantityError, Severity
from anzel.core.immutable import Immutable
from anzel.core.units import plain_text
from anzel.structure.model import FitContext

MOST = 400
PLAIN_FIELDS = frozenset(
    {"count", "rows", "cells", "tab_count", "angle", "spread", "turn", "tilt", "spin", "split"}
)
"""Fields that are no lengths."""
SHEET = "sheet"
"""The measured thickness of the sheet that a field's own plate is cut from."""
Text = Annotated[str, Field(min_length=1, max_length=LONGEST_TEXT)]


class NamedNumber(Immutable):
    """A number with a name of its own, which formulas refer to."""

    name: str = Field(pattern=r"^[^\W\d]\w{0,29}$")
    text: Text


class Formula(Immutable):
    """The sum that a field holds; `field` is the path to it, as `width` or `Side/width`."""

    field: str = Field(min_length=1, max_length=140)
    text: Text


@dataclass(frozen=True)
class Quantities:
    """What formulas may refer to: amounts by name, and the field that each is the value of."""

    amounts: Mapping[str, Amount]
    fields: Mapping[str, str] = field(default_factory=dict)


def sheet_amounts(fit_context: FitContext) -> dict[str, Amount]:
    """Return the measured thickness of every sheet, by the name that formulas give it."""
    return {
        f"{SHEET} {sheet.stock_id}": Amount(sheet.measured_thickness, 1)
        for sheet in fit_context.by_stock
    }


@dataclass(frozen=True)
class WorkedOut:
    """The values of all formulas that can be worked out, by field; why the others cannot."""

    values: Mapping[str, float]
    troubles: Mapping[str, str]
    names: Mapping[str, Amount]


def work_out(
    numbers: tuple[NamedNumber, ...],
    formulas: tuple[Formula, ...],
    quantities: Quantities,
    sheet_of: Callable[[str], float | None],
) -> WorkedOut:
    """Return what all names and formulas come to.

    `sheet_of` gives the thickness, mm, that `sheet` means in a field.
    """
    reader = _Evaluation(numbers, formulas, quantities, sheet_of)
    values: dict[str, float] = {}
    troubles: dict[str, str] = {}
    for formula in formulas:
        try:
            values[formula.field] = reader.of_field(formula.field).value
        except QuantityError as error:
            troubles[formula.field] = str(error)
    names: dict[str, Amount] = {}
    for number in numbers:
        try:
            names[number.name] = reader.of_name(number.name)
        except QuantityError as error:
            troubles[number.name] = str(error)
    return WorkedOut(values, troubles, names)


class _Evaluation:
    """Works out names and fields as they are met, each once, and sees circles.

    Names may follow one another in a chain of any length, so what a formula needs is worked out
    before it, without one calling the other.
    """

    def __init__(
        self, numbers: tuple[NamedNumber, ...], formulas: tuple[Formula, ...],
        quantities: Quantities, sheet_of: Callable[[str], float | None],
    ) -> None:  # fmt: skip
        self._numbers = {number.name: number.text for number in numbers}
        self._formulas = {formula.field: formula.text for formula in formulas}
        self._quantities, self._sheet_of = quantities, sheet_of
        self._known = names_known(numbers, quantities)
        self._done: dict[str, Amount] = {}

    def of_field(self, path: str) -> Amount:
        return self._worked_out(_Entry(path, self._formulas[path], path))

    def of_name(self, name: str, path: str = "") -> Amount:
        """Return the value of a name, in the formula of a field."""
        if name == SHEET:
            thickness = self._sheet_of(path)
            if thickness is None:
                hint = "Name the stock, as in “sheet ply-3”."
                raise QuantityError(f"“{SHEET}” could be several sheets here.", hint=hint)
            return Amount(thickness, 1)
        if (entry := self._entry(name)) is not None:
            return self._worked_out(entry)
        field_path = self._quantities.fields.get(name, "")
        if field_path and field_path == path:
            raise QuantityError(f"“{name}” would follow itself.", hint="Refer to another number.")
        return self._quantities.amounts[name]

    def _entry(self, name: str) -> "_Entry | None":
        """Return what a name stands for where that is itself worked out; None for a given one."""
        if name in self._numbers:
            return _Entry(name, self._numbers[name], "")
        path = self._quantities.fields.get(name, "")
        return _Entry(path, self._formulas[path], path) if path in self._formulas else None

    def _worked_out(self, wanted: "_Entry") -> Amount:
        open_entries = {} if wanted.key in self._done else {wanted.key: wanted}
        while open_entries:
            entry = next(reversed(open_entries.values()))
            if (needed := self._still_needed(entry)) is None:
                self._done[entry.key] = evaluate_with(
                    plain_text(entry.text), self._known,
                    partial(self.of_name, path=entry.path),
                )  # fmt: skip
                del open_entries[entry.key]
            elif needed.key in open_entries:
                keys = list(open_entries)
                circle = " → ".join([*keys[keys.index(needed.key) :], needed.key])
                hint = "Give one of them a figure."
                raise QuantityError(f"These follow one another in a circle: {circle}.", hint=hint)
            else:
                open_entries[needed.key] = needed
        return self._done[wanted.key]

    def _still_needed(self, entry: "_Entry") -> "_Entry | None":
        """Return the first that a formula refers to and that is not worked out yet."""
        try:
            tokens = tokens_of(plain_text(entry.text), self._known)
        except QuantityError:
            return None  # evaluating it says what is wrong
        needed = (self._entry(token.text) for token in tokens if token.kind == "name")
        return next((n for n in needed if n is not None and n.key not in self._done), None)


@dataclass(frozen=True)
class _Entry:
    """A name or field that is worked out: its key, its formula, and the field it is in."""

    key: str
    text: str
    path: str


def names_known(numbers: tuple[NamedNumber, ...], quantities: Quantities) -> tuple[str, ...]:
    """Return every name that a formula may use."""
    names = (*(number.name for number in numbers), *quantities.amounts, SHEET)
    return tuple(dict.fromkeys(names))


def need_free_name(name: str, known: tuple[str, ...]) -> None:
    """Raise ParameterError for a name that means something already."""
    taken = {each.lower() for each in known} | set(UNITS)
    if name.lower() in taken:
        hint = "Use another name."
        raise ParameterError(f"“{name}” means something already.", hint=hint, field="name")


def renamed_formulas(
    numbers: tuple[NamedNumber, ...], formulas: tuple[Formula, ...], known: tuple[str, ...],
    renamed: Mapping[str, str],
) -> tuple[tuple[NamedNumber, ...], tuple[Formula, ...]]:  # fmt: skip
    """Return numbers and formulas after names in them have become others."""
    return (
        tuple(n.with_changes(text=with_renamed(n.text, known, renamed)) for n in numbers),
        tuple(f.with_changes(text=with_renamed(f.text, known, renamed)) for f in formulas),
    )


def formula_findings(troubles: Mapping[str, str]) -> tuple[Finding, ...]:
    """Return a finding for each name or field whose formula cannot be worked out."""
    return tuple(
        Finding("formula", Severity.PROBLEM, key, words, "The last good value stays.")
        for key, words in troubles.items()
    )


def scaled_formulas(
    numbers: tuple[NamedNumber, ...], formulas: tuple[Formula, ...], quantities: Quantities,
    factor: float,
) -> tuple[tuple[NamedNumber, ...], tuple[Formula, ...]]:  # fmt: skip
    """Return numbers and formulas when the structure is larger or smaller.

    Named lengths that are figures grow along; what counts or turns does not. A sum of figures and
    sheets alone gives way to its figure, which grows: nothing in it would.
    """
    known = names_known(numbers, quantities)
    counts = {
        name for formula in formulas if formula.field.rpartition("/")[2] in PLAIN_FIELDS
        for name in _names_in(formula.text, known)
    }  # fmt: skip
    grown = tuple(
        number.with_changes(text=f"{float(number.text.replace(',', '.')) * factor!r}")
        if is_figure(number.text) and number.name not in counts else number
        for number in numbers
    )  # fmt: skip
    lengths = {number.name for number in numbers} | set(quantities.fields)
    kept = tuple(
        formula for formula in formulas
        if formula.field.rpartition("/")[2] in PLAIN_FIELDS
        or not lengths.isdisjoint(_names_in(formula.text, known))
    )  # fmt: skip
    return grown, kept


def is_figure(text: str) -> bool:
    """Return whether the text of a number is a figure, not a sum."""
    try:
        float(text.replace(",", "."))
    except ValueError:
        return False
    return True


def _names_in(text: str, known: tuple[str, ...]) -> set[str]:
    try:
        return {token.text for token in tokens_of(plain_text(text), known) if token.kind == "name"}
    except QuantityError:  # a sheet that is not known here
        return {name for name in known if name.lower() in text.lower()}
