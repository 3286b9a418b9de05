"""A picture behind a plate: the file, where it lies, and how it is shown."""

from typing import Annotated, ClassVar

from pydantic import Field

from anzel.core.asset import Asset
from anzel.core.immutable import Immutable
from anzel.tracing.tracing import PicturePlacement

Coordinate = Annotated[float, Field(ge=-5000, le=5000)]
MOST_PICTURES = 100


class PlatePicture(Immutable):
    """A PNG, JPEG or SVG whose middle lies at (x, y) mm of the plate, turned by `turn` degrees.

    `fade` is how much it is faded, from 0 to 1. A locked one stays where it is when dragged.
    """

    other_numbers: ClassVar[frozenset[str]] = frozenset({"turn", "fade"})
    plate: str = Field(min_length=1, max_length=60)
    file: Asset
    x: Coordinate = 0.0
    y: Coordinate = 0.0
    width: float = Field(default=100.0, gt=0, le=20_000)
    turn: float = Field(default=0.0, ge=-360, le=360)
    fade: float = Field(default=0.5, ge=0, le=1)
    locked: bool = False

    @property
    def is_drawing(self) -> bool:
        """Whether it is an SVG, whose outlines are known exactly."""
        return self.file.name.lower().endswith(".svg")

    @property
    def placement(self) -> PicturePlacement:
        """Where it lies on the plate."""
        return PicturePlacement(self.x, self.y, self.width, self.turn)
