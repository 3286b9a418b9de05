"""The record of an opening on a plate: what it is, and where, measured from the plate's edges.

*Plain* openings are as wide as they are typed. *Fitting* ones take a named sheet that has no plate
in this structure: their width follows from its measured thickness like any joint's.
"""

from enum import StrEnum
from typing import Annotated, ClassVar, Self

from pydantic import Field, model_validator

from anzel.core.immutable import Immutable
from anzel.materials.fits import FitName
from anzel.shape.sketch import Corner

Id = Annotated[str, Field(pattern=r"^O[1-9][0-9]{0,5}$")]
Length = Annotated[float, Field(gt=0, le=5000)]
Distance = Annotated[float, Field(ge=-5000, le=5000)]
MOST_OPENINGS = 400


class OpeningKind(StrEnum):
    """What is cut, or for a tab added."""

    WINDOW = "window"
    ROUND_ENDED = "round-ended opening"
    DISC = "disc"
    POLYGON = "polygon"
    NOTCH = "notch"
    SLOT = "slot"
    MORTISE = "mortise"
    PLUS = "plus-shaped mortise"
    TAB = "edge tab"


FITTING = frozenset(
    {OpeningKind.SLOT, OpeningKind.MORTISE, OpeningKind.PLUS, OpeningKind.TAB}
)  # fmt: skip
"""Kinds that take a named sheet."""
AT_EDGE = frozenset({OpeningKind.NOTCH, OpeningKind.SLOT, OpeningKind.TAB})
"""Kinds that lie at their edge, so that they have no distance from it and no turn."""
SIDES = ("bottom", "top", "left", "right")
"""Edges that every plate has; a drawn plate's legs are edges too, by their ids."""

_SIZES: dict[OpeningKind, tuple[str, ...]] = {
    OpeningKind.WINDOW: ("width", "depth"),
    OpeningKind.ROUND_ENDED: ("width", "depth"),
    OpeningKind.DISC: ("width",),
    OpeningKind.POLYGON: ("width", "corners"),
    OpeningKind.NOTCH: ("width", "depth"),
    OpeningKind.SLOT: ("depth",),
    OpeningKind.MORTISE: ("width",),
    OpeningKind.PLUS: ("width",),
    OpeningKind.TAB: ("width", "proud"),
}


class Start(StrEnum):
    """Where along its edge a distance starts."""

    START = "start"
    MIDDLE = "middle"
    END = "end"


class OpeningRepeat(StrEnum):
    """How several of one opening stand."""

    ROW = "in a row"
    GRID = "in a grid"
    RING = "in a ring"


class PlateOpening(Immutable):
    """An opening on a plate, or on all plates that are `alike`.

    Its middle lies `along` mm from the edge's start, middle or end, and `inward` mm from the edge
    or from the middle of the plate. It is `width` wide along the edge and `depth` deep: of a disc
    `width` is the diameter, of a polygon the side, of a mortise what the tab that goes through is
    wide. `count` of them stand `pitch` apart along the edge, in a grid in `rows` also, `row_pitch`
    apart, in a ring evenly about the middle of the plate, each turned along. Seen with the
    plate's front, an edge runs to the right or up; a leg runs as it was drawn.
    """

    other_numbers: ClassVar[frozenset[str]] = frozenset({"turn"})
    id: Id
    plate: str = Field(min_length=1, max_length=60)
    kind: OpeningKind
    alike: bool = False
    edge: str = Field(default="bottom", min_length=1, max_length=40)
    along_from: Start = Start.MIDDLE
    along: Distance = 0.0
    inward_from_middle: bool = False
    inward: Distance = 0.0
    width: Length = 20.0
    depth: Length = 20.0
    corners: int = Field(default=6, ge=3, le=60)
    proud: float = Field(default=0.0, ge=-50, le=200)
    turn: float = Field(default=0.0, ge=-360, le=360)
    repeated: OpeningRepeat = OpeningRepeat.ROW
    count: int = Field(default=1, ge=1, le=200)
    rows: int = Field(default=2, ge=1, le=200)
    pitch: Distance = 20.0
    row_pitch: Distance = 20.0
    sheet: str = Field(default="", max_length=60)
    fit: FitName | None = None

    @model_validator(mode="after")
    def _has_its_sheet(self) -> Self:
        if self.is_fitting and not self.sheet:
            raise ValueError(f"{self.id} needs a sheet to take")
        if not self.is_fitting and self.sheet:
            raise ValueError(f"{self.id} takes no sheet")
        if self.is_at_edge and self.repeated is not OpeningRepeat.ROW:
            raise ValueError(f"{self.id} lies at its edge, so it is repeated in a row only")
        if self.repeated is OpeningRepeat.GRID and self.count * self.rows > MOST_OPENINGS:
            raise ValueError(f"a grid has at most {MOST_OPENINGS} openings")
        return self

    @property
    def is_fitting(self) -> bool:
        """Whether it takes a named sheet."""
        return self.kind in FITTING

    @property
    def is_at_edge(self) -> bool:
        """Whether it lies at its edge."""
        return self.kind in AT_EDGE

    @property
    def numbers(self) -> tuple[str, ...]:
        """The names of the numbers that shape and place it."""
        place = ("along",) if self.is_at_edge else ("along", "inward", "turn")
        return (*_SIZES[self.kind], *place, *self._repeat_numbers)

    @property
    def _repeat_numbers(self) -> tuple[str, ...]:
        if self.repeated is OpeningRepeat.GRID:
            return ("count", "rows", "pitch", "row_pitch")
        is_row = self.repeated is OpeningRepeat.ROW and self.count > 1
        return ("count", "pitch") if is_row else ("count",)

    @property
    def title(self) -> str:
        """What it is, in words."""
        return f"{self.kind.value} for {self.sheet}" if self.is_fitting else self.kind.value

    def joint_id(self, plate: str) -> str:
        """Return the id of its joint on a plate."""
        return self.id if plate == self.plate else f"{self.id} {plate}"

    def scaled(self, factor: float) -> "PlateOpening":
        """Return it on a plate that is larger or smaller; what its sheet decides stays."""
        names = ("along", "inward", "width", "depth", "pitch", "row_pitch")
        return self.with_changes(**{name: getattr(self, name) * factor for name in names})


class PlateCorner(Immutable):
    """A wish for the free corners of a plate that a form makes, or of all plates alike."""

    plate: str = Field(min_length=1, max_length=60)
    alike: bool = True
    corner: Corner
