"""The records of relations and repeats between the plates of a free structure.

A *side* of a plate is a plane that belongs to it: its `front` and `back` faces and the `middle`
between them, the `left`, `right`, `bottom` and `top` of its outline as drawn, the middles of its
width and height, and each straight edge by its name. The table has one side, its top.
"""

from collections.abc import Mapping
from enum import StrEnum
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from anzel.core.immutable import Immutable

TABLE = ""
"""The name that stands for the table instead of a plate's."""
FRONT, BACK, MIDDLE = "front", "back", "middle"
LEFT, RIGHT, BOTTOM, TOP = "left", "right", "bottom", "top"
MIDDLE_OF_WIDTH, MIDDLE_OF_HEIGHT = "middle of width", "middle of height"
FACES = (FRONT, BACK, MIDDLE)
EDGES = (LEFT, RIGHT, BOTTOM, TOP)
MIDDLES = (MIDDLE, MIDDLE_OF_WIDTH, MIDDLE_OF_HEIGHT)
MOST_MEMBERS = 400
WHOLE_NUMBERS = ("count", "rows")
"""Fields of repeats that are whole numbers."""
Id = Annotated[str, Field(pattern=r"^[A-Z][0-9]{1,5}$")]
PlateName = Annotated[str, Field(max_length=60)]
Distance = Annotated[float, Field(ge=-5000, le=5000)]


class Side(Immutable):
    """One side of a plate, or the table's top."""

    plate: PlateName = TABLE
    side: str = Field(default=TOP, min_length=1, max_length=40)

    def renamed(self, names: Mapping[str, str]) -> Self:
        """Return the side after plates have got other names."""
        return self.with_changes(plate=names.get(self.plate, self.plate))

    @property
    def words(self) -> str:
        """What the side is called in a list."""
        if self.plate == TABLE:
            return "the table"
        return f"{self.side} of {self.plate}"


class Facing(StrEnum):
    """How two sides face: towards one another, as touching faces do, or the same way, flush."""

    TOWARDS = "towards"
    SAME = "same"


class _Relation(Immutable):
    """What all relations have in common: a side of the plate that is placed, and one of another."""

    id: Id
    side: Side
    to: Side

    def renamed(self, names: Mapping[str, str]) -> Self:
        """Return the relation after plates have got other names."""
        sides = {field: value.renamed(names) for field, value in self if isinstance(value, Side)}
        return self.with_changes(**sides)

    def scaled(self, factor: float) -> Self:
        """Return the relation when the structure is larger or smaller."""
        distance = getattr(self, "distance", None)
        return self if distance is None else self.with_changes(distance=distance * factor)

    @property
    def needs(self) -> tuple[str, ...]:
        """The plates that it places a plate by."""
        sides = (value for field, value in self if isinstance(value, Side) and field != "side")
        return tuple(dict.fromkeys(side.plate for side in sides if side.plate != TABLE))


class Against(_Relation):
    """A side of a plate lies on a side of another, or `distance` mm off it.

    Sides that face one another leave the distance between them; sides that face the same way are
    flush, and the plate's stands the distance further out.
    """

    kind: Literal["against"] = "against"
    facing: Facing = Facing.TOWARDS
    distance: Distance = 0.0
    numbers: ClassVar[tuple[str, ...]] = ("distance",)

    @property
    def words(self) -> str:
        """What holds, for a list."""
        how = "on" if self.facing is Facing.TOWARDS else "flush with"
        return f"{self.side.words} {how} {self.to.words}"


class Centred(_Relation):
    """A side of a plate, mostly a middle, lies midway between two others, or `distance` mm off."""

    kind: Literal["centred"] = "centred"
    other: Side
    distance: Distance = 0.0
    numbers: ClassVar[tuple[str, ...]] = ("distance",)

    @property
    def words(self) -> str:
        """What holds, for a list."""
        return f"{self.side.words} between {self.to.words} and {self.other.words}"


class Hinged(_Relation):
    """An edge of a plate lies along an edge of another, the plates at an `angle` between them.

    180 degrees continues the other plate, less folds towards its front. The lines that meet are
    those of the edges on the front, in the middle or on the back of both sheets.
    """

    kind: Literal["hinged"] = "hinged"
    angle: float = Field(default=90.0, gt=0, lt=360)
    at: Literal["front", "middle", "back"] = "middle"
    numbers: ClassVar[tuple[str, ...]] = ("angle",)
    other_numbers: ClassVar[frozenset[str]] = frozenset({"angle"})

    @model_validator(mode="after")
    def _is_at_edges(self) -> Self:
        for side in (self.side, self.to):
            if side.plate == TABLE or side.side in (*FACES, *MIDDLES):
                raise ValueError("an angle needs an edge of each of two plates")
        return self

    @property
    def words(self) -> str:
        """What holds, for a list."""
        return f"{self.side.words} at an angle along {self.to.words}"


Relation = Annotated[Against | Centred | Hinged, Field(discriminator="kind")]


class RepeatWay(StrEnum):
    """How a plate is repeated."""

    ROW = "row"
    GRID = "grid"
    RING = "ring"
    CROSSED = "crossed"


class Direction(StrEnum):
    """A direction that plates are repeated along."""

    RIGHTWARDS = "rightwards"
    BACKWARDS = "backwards"
    UPWARDS = "upwards"
    FACE = "off its face"
    WIDTH = "along its width"
    HEIGHT = "along its height"


class PlateRepeat(Immutable):
    """A plate with its joints, several times over.

    In a row it stands `count` times `pitch` mm apart along a direction; in a grid `rows` such rows
    stand `row_pitch` apart. In a ring it stands `count` times round an upright axis, or the middle
    of the plate `about`, over `spread` degrees. Crossed boards repeat the plate along its
    direction and the plate `with_plate`, `rows` times, along the other. Members that are
    `left_out`, by number from 1, are not there; joints that are `single` are not repeated.
    """

    id: Id
    plate: PlateName
    way: RepeatWay = RepeatWay.ROW
    count: int = Field(default=2, ge=1, le=MOST_MEMBERS)
    pitch: Distance = 20.0
    direction: Direction = Direction.FACE
    rows: int = Field(default=1, ge=1, le=MOST_MEMBERS)
    row_pitch: Distance = 20.0
    row_direction: Direction = Direction.RIGHTWARDS
    with_plate: PlateName = ""
    about: PlateName = ""
    x: Distance = 0.0
    y: Distance = 0.0
    spread: float = Field(default=360.0, gt=0, le=360)
    left_out: tuple[Annotated[int, Field(ge=2)], ...] = ()
    single: tuple[str, ...] = ()
    other_numbers: ClassVar[frozenset[str]] = frozenset({"spread"})

    @model_validator(mode="after")
    def _is_reasonable(self) -> Self:
        if self.way is RepeatWay.GRID and self.count * self.rows > MOST_MEMBERS:
            raise ValueError(f"a grid has at most {MOST_MEMBERS} plates")
        if self.way is RepeatWay.CROSSED and self.with_plate in ("", self.plate):
            raise ValueError("crossed boards need another plate to cross with")
        return self

    def renamed(self, names: Mapping[str, str]) -> Self:
        """Return the repeat after plates have got other names."""
        fields = ("plate", "with_plate", "about")
        changes = {name: names.get(getattr(self, name), getattr(self, name)) for name in fields}
        return self.with_changes(**changes)

    def scaled(self, factor: float) -> Self:
        """Return the repeat when the structure is larger or smaller."""
        lengths = ("pitch", "row_pitch", "x", "y")
        return self.with_changes(**{name: getattr(self, name) * factor for name in lengths})

    @property
    def numbers(self) -> tuple[str, ...]:
        """The numbers that shape it."""
        return NUMBERS_OF[self.way]

    @property
    def is_closed(self) -> bool:
        """Whether the last member stands beside the first."""
        return self.way is RepeatWay.RING and self.spread == 360

    @property
    def members(self) -> dict[str, int]:
        """How many members there are of each plate."""
        if self.way is RepeatWay.CROSSED:
            return {self.plate: self.count, self.with_plate: self.rows}
        return {self.plate: self.count * (self.rows if self.way is RepeatWay.GRID else 1)}


NUMBERS_OF = {
    RepeatWay.ROW: ("count", "pitch"),
    RepeatWay.GRID: ("count", "pitch", "rows", "row_pitch"),
    RepeatWay.RING: ("count", "spread", "x", "y"),
    RepeatWay.CROSSED: ("count", "pitch", "rows", "row_pitch"),
}


def member_name(plate: str, number: int) -> str:
    """Return the name of a member of a repeat: the plate's own for the first."""
    return plate if number == 1 else f"{plate} {number}"
