"""The numbers of a free structure by path, for names and formulas.

A path is `Side/width` for a plate's number, `joint J1/proud`, `relation R2/distance` and
`repeat M1/count` for the others.
"""

from collections.abc import Callable, Mapping
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
from anzel.structure.joints.registry import joint_with_changes
from anzel.structure.model import FitContext

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
    change: Callable[[Any], Any]
    if at.kind == "plate":
        names = [plate.name for plate in free.plates]
        change = lambda plate: _plate_with(plate, at.field, value)  # noqa: E731
        return free.with_changes(plates=_with(free.plates, names, at.name, change))
    if at.kind == "joint":
        ids = [joint.id for joint in free.joints]
        change = lambda joint: _joint_with(joint, at.field, value)  # noqa: E731
        return free.with_changes(joints=_with(free.joints, ids, at.name, change))
    field = "relations" if at.kind == "relation" else "repeats"
    items = getattr(free, field)
    wanted = round(value) if at.field in ("count", "rows") else value
    change = lambda item: item.with_changes(**{at.field: wanted})  # noqa: E731
    made = _with(items, [item.id for item in items], at.name, change)
    return free.with_changes(**{field: made})


def _with(
    items: tuple[Any, ...], names: list[str], name: str, change: Callable[[Any], Any]
) -> tuple[Any, ...]:
    if name not in names:
        raise ParameterError(f"There is no “{name}” any more.", hint="Take the formula away.")
    return tuple(
        change(item) if its == name else item for item, its in zip(items, names, strict=True)
    )


def _plate_with(plate: FreePlate, field: str, value: float) -> FreePlate:
    if field in type(plate.outline).model_fields:
        return plate.with_changes(outline=plate.outline.with_changes(**{field: value}))
    return plate.with_changes(**{field: value})


def _joint_with(joint: Any, field: str, value: float) -> Any:  # noqa: ANN401
    wanted = round(value) if field == "cells" else value
    try:
        return joint_with_changes(joint, **{field: wanted})
    except ValueError as error:
        raise ParameterError(str(error), field=field) from error


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
