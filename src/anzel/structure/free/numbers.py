"""The numbers of a free structure by path, for names and formulas.

A path is `Side/width` for a plate's number, `joint J1/proud`, `relation R2/distance` and
`repeat M1/count` for the others.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, TypeVar

from anzel.core.arithmetic import Amount
from anzel.core.findings import ParameterError
from anzel.structure.formulas import (
    Formula,
    NamedNumber,
    Quantities,
    names_known,
    renamed_formulas,
    sheet_amounts,
)
from anzel.structure.free.outline_shapes import Circle, Rectangle
from anzel.structure.free.plate import FreePlate
from anzel.structure.model import FitContext
from anzel.structure.relations.records import WHOLE_NUMBERS

if TYPE_CHECKING:
    from anzel.structure.forms.free_structure import FreeStructure

Free = TypeVar("Free", bound="FreeStructure")
SIZES: Mapping[type, tuple[str, ...]] = {
    Rectangle: ("width", "height", "rounding"), Circle: ("diameter", "hole")
}  # fmt: skip
"""The sizes of outlines that are typed, which formulas may refer to."""
ANGLES = ("turn", "tilt", "spin")


@dataclass(frozen=True)
class NumberPath:
    """A path taken apart: the kind of thing, its name, and its field."""

    kind: str
    name: str
    field: str

    @classmethod
    def of(cls, path: str) -> "NumberPath":
        """Return a path taken apart."""
        owner, _, field = path.rpartition("/")
        kind, _, name = owner.partition(" ")
        if kind in ("joint", "relation", "repeat") and name:
            return cls(kind, name, field)
        return cls("plate", owner, field)


def plate_path(plate: str, field: str) -> str:
    """Return the path of a plate's number."""
    return f"{plate}/{field}"


def sizes_of(plate: FreePlate) -> dict[str, float]:
    """Return the sizes of a plate's outline that are typed."""
    return {name: getattr(plate.outline, name) for name in SIZES.get(type(plate.outline), ())}


def quantities_of(free: "FreeStructure", fit_context: FitContext) -> Quantities:
    """Return what formulas may refer to: the plates' sizes and the sheets' thicknesses."""
    amounts = sheet_amounts(fit_context)
    fields: dict[str, str] = {}
    for plate in free.plates:
        for field, value in sizes_of(plate).items():
            amounts[f"{plate.name} {field}"] = Amount(value, 1)
            fields[f"{plate.name} {field}"] = plate_path(plate.name, field)
    return Quantities(amounts, fields)


def sheet_at(free: "FreeStructure", path: str, fit_context: FitContext) -> float | None:
    """Return the thickness of the sheet of the plate that a path belongs to, mm.

    None where it belongs to no single plate and the structure is of several stocks.
    """
    at = NumberPath.of(path)
    owner = at.name if at.kind == "plate" else ""
    if at.kind == "relation":
        owner = next((r.side.plate for r in free.relations if r.id == at.name), "")
    if at.kind == "repeat":
        owner = next((r.plate for r in free.repeats if r.id == at.name), "")
    stocks = {plate.stock for plate in free.plates if owner in ("", plate.name)}
    if len(stocks) != 1:
        return None
    return fit_context.of(stocks.pop()).measured_thickness


def with_number(free: Free, path: str, value: float) -> Free:
    """Return the structure with another value of a number.

    Raises
    ------
    ParameterError
        For a value out of range, or a path that leads nowhere.
    """
    at = NumberPath.of(path)
    if (at.kind, at.name) not in owners_of(free):
        raise ParameterError(f"There is no “{at.name}” any more.", hint="Take the formula away.")
    wanted = round(value) if at.field in (*WHOLE_NUMBERS, "cells") else value
    if at.kind == "joint":
        return free.with_joint(at.name, **{at.field: wanted})
    if at.kind == "plate":
        plates = (p.with_number(at.field, value) if p.name == at.name else p for p in free.plates)
        return free.with_changes(plates=tuple(plates))
    items: tuple[Any, ...] = free.relations if at.kind == "relation" else free.repeats
    made = (i.with_changes(**{at.field: wanted}) if i.id == at.name else i for i in items)
    return free.with_changes(**{f"{at.kind}s": tuple(made)})


def owners_of(free: "FreeStructure") -> set[tuple[str, str]]:
    """Return the kind and name of everything in a structure that has numbers."""
    return {
        *(("plate", plate.name) for plate in free.plates),
        *(("joint", joint.id) for joint in free.joints),
        *(("relation", relation.id) for relation in free.relations),
        *(("repeat", repeat.id) for repeat in free.repeats),
    }


def formulas_of_what_is_there(free: "FreeStructure") -> tuple[Formula, ...]:
    """Return the formulas but for those whose plate, joint, relation or repeat is gone."""
    there = owners_of(free)
    return tuple(
        formula for formula in free.own_formulas
        if (NumberPath.of(formula.field).kind, NumberPath.of(formula.field).name) in there
    )  # fmt: skip


def formulas_after_rename(
    free: "FreeStructure", name: str, new: str, fit_context: FitContext
) -> tuple[tuple[NamedNumber, ...], tuple[Formula, ...]]:
    """Return the named numbers and formulas after a plate has got another name."""
    known = names_known(free.own_numbers, quantities_of(free, fit_context))
    plate = next(plate for plate in free.plates if plate.name == name)
    renamed = {f"{name} {field}": f"{new} {field}" for field in sizes_of(plate)}
    numbers, formulas = renamed_formulas(free.own_numbers, free.own_formulas, known, renamed)
    moved = []
    for formula in formulas:
        at = NumberPath.of(formula.field)
        is_its = at.kind == "plate" and at.name == name
        field = plate_path(new, at.field) if is_its else formula.field
        moved.append(formula.with_changes(field=field))
    return numbers, tuple(moved)
