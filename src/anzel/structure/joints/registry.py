"""Every kind of joint by its stored name, with its record.

A record is `{"kind": NAME, …}` and the fields of that kind.
"""

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from typing import Annotated, Any

from pydantic import (
    BeforeValidator,
    ConfigDict,
    PlainSerializer,
    TypeAdapter,
    ValidationError,
    WithJsonSchema,
)

from anzel.core.immutable import to_parameter_error
from anzel.structure.joints.corner_lap import CornerLap
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.cutting_shapes import Tab
from anzel.structure.joints.finger_corner import FingerCorner
from anzel.structure.joints.pin import Pin
from anzel.structure.joints.pocket import Pocket
from anzel.structure.joints.relief_trim import ReliefTrim
from anzel.structure.joints.stack_lap import StackLap
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.joints.three_lap import ThreeLap
from anzel.structure.joints.through_mortise import ThroughMortise
from anzel.structure.model import JointSpec

AnyKind = (
    CrossLap
    | StackLap
    | ThreeLap
    | TabMortise
    | FingerCorner
    | CornerLap
    | ThroughMortise
    | Pin
    | Pocket
    | ReliefTrim
)


@dataclass(frozen=True)
class JointKind:
    """One kind of joint: its class, its words, and which fields name plates."""

    declaration: type[AnyKind]
    words: str
    plates: tuple[str, ...]
    lengths: tuple[str, ...] = ()
    """Fields that are measured along the plates and go along when they are scaled."""


KINDS: Mapping[str, JointKind] = {
    "cross-lap": JointKind(CrossLap, "slotted into one another", ("from_above", "from_below")),
    "stack-lap": JointKind(StackLap, "a stack slotted with one", ("layers", "plate")),
    "three-lap": JointKind(ThreeLap, "three on one line", ("lowest", "middle", "highest")),
    "tabs": JointKind(
        TabMortise, "tabs through mortises", ("tabbed", "mortised"), ("tabs", "beyond")
    ),
    "fingers": JointKind(FingerCorner, "fingers at a corner", ("first", "second")),
    "corner-lap": JointKind(
        CornerLap, "overlapping slots at a corner", ("from_above", "from_below"), ("beyond",)
    ),
    "passing": JointKind(ThroughMortise, "goes right through", ("passing", "pierced")),
    "pin": JointKind(Pin, "turns on a pin", ("door", "plate")),
    "seat": JointKind(Pocket, "lies in a pocket", ("insert", "plate", "lower")),
    "clearing": JointKind(ReliefTrim, "trimmed to let it pass", ("trimmed", "passing")),
}

for _kind in KINDS.values():
    # how their records are read; pydantic looks for this on a dataclass
    _kind.declaration.__pydantic_config__ = ConfigDict(  # type: ignore[union-attr]
        extra="forbid", allow_inf_nan=False
    )


_NAMES: Mapping[type, str] = {kind.declaration: name for name, kind in KINDS.items()}


def kind_of(joint_spec: JointSpec) -> str:
    """Return the stored name of a joint's kind."""
    return _NAMES[type(joint_spec)]


def plates_of(joint_spec: JointSpec) -> tuple[str, ...]:
    """Return the plates of a joint."""
    names: list[str] = []
    for field in KINDS[kind_of(joint_spec)].plates:
        value: str | tuple[str, ...] = getattr(joint_spec, field)
        names += value if isinstance(value, tuple) else [value]
    return tuple(name for name in names if name)


def joint_with_changes(declared: AnyKind, **changes: Any) -> AnyKind:  # noqa: ANN401
    """Return the joint with some fields changed.

    Raises
    ------
    ValueError
        For a value out of range.
    """
    return joint_of({**joint_record(declared), **changes})


def joint_with_renamed_plates(
    declared: AnyKind, renamed: Mapping[str, str], joint_id: str | None = None
) -> AnyKind:
    """Return the joint between plates of other names, with another id if one is given."""
    changes: dict[str, Any] = {} if joint_id is None else {"id": joint_id}
    for field in KINDS[kind_of(declared)].plates:
        value = getattr(declared, field)
        if isinstance(value, tuple):
            changes[field] = tuple(renamed.get(name, name) for name in value)
        else:
            changes[field] = renamed.get(value, value)
    return replace(declared, **changes)


def scaled_joint(declared: AnyKind, factor: float) -> AnyKind:
    """Return the joint when its plates are larger or smaller; hardware sizes stay."""
    along = KINDS[kind_of(declared)].lengths
    values = {field: getattr(declared, field) for field in along}
    return joint_with_changes(
        declared, **{f: _times(v, factor) for f, v in values.items() if v is not None}
    )


def reversed_along(declared: AnyKind) -> AnyKind:
    """Return the joint with what is measured along its line measured the other way."""
    if isinstance(declared, TabMortise):
        return replace(declared, tabs=tuple((-middle, width) for middle, width in declared.tabs))
    return replace(declared, at=-declared.at) if isinstance(declared, Pin) else declared


def _times(length: float | tuple[Tab, ...], factor: float) -> float | tuple[Tab, ...]:
    if isinstance(length, float | int):
        return length * factor
    return tuple((middle * factor, width * factor) for middle, width in length)


def joint_record(declared: AnyKind) -> dict[str, Any]:
    """Return a joint as plain values."""
    values = {field.name: getattr(declared, field.name) for field in fields(declared)}
    return {"kind": kind_of(declared), **values}


def joint_of(record: Any) -> AnyKind:  # noqa: ANN401
    """Return a joint from its record.

    Raises
    ------
    ValueError
        For an invalid record.
    """
    if isinstance(record, AnyKind):
        return record
    if not isinstance(record, dict):
        raise ValueError("a joint is missing")
    rest = dict(record)
    kind = KINDS.get(rest.pop("kind", ""))
    if kind is None:
        raise ValueError(f"there is no joint “{record.get('kind')}”")
    try:
        made: AnyKind = TypeAdapter(kind.declaration).validate_python(rest)
    except ValidationError as error:
        raise ValueError(to_parameter_error(error).message) from error
    return made


AnyJoint = Annotated[
    AnyKind,
    BeforeValidator(joint_of),
    PlainSerializer(joint_record),
    WithJsonSchema(
        {
            "type": "object",
            "properties": {"kind": {"enum": list(KINDS)}, "id": {"type": "string"}},
            "required": ["kind"],
        }
    ),
]
"""Any joint's specification, told apart by `kind` in its record."""
