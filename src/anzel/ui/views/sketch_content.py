"""What the view of a plate that is drawn large shows."""

from dataclasses import dataclass, field

from anzel.app.selection import Thing
from anzel.geometry.regions import Region
from anzel.geometry.segments import Segment
from anzel.shape.sketch import Sketch
from anzel.structure.dimension import Dimension
from anzel.structure.line_work import PlateLine
from anzel.structure.neighbours import Neighbour
from anzel.structure.plate_picture import PlatePicture


@dataclass(frozen=True)
class SketchContent:
    """What the view shows: a plate's sketch and region, what joints make of it, and the picks."""

    plate: str
    sketch: Sketch
    region: Region
    tint: str
    produced: Region | None = None
    dimensions: tuple[Dimension, ...] = ()
    picked: tuple[Thing, ...] = ()
    free: frozenset[str] = field(default_factory=frozenset)
    neighbours: tuple[Neighbour, ...] = ()
    lines: tuple[PlateLine, ...] = ()
    picture: PlatePicture | None = None
    frame: tuple[float, float, float, float] | None = None
    """The largest size of a piece, about this one."""
    is_fixed: bool = False
    """Whether a form makes the outline: nothing on it is picked or moved."""

    @property
    def neighbour_edges(self) -> tuple[Segment, ...]:
        """The edges of neighbours, where they meet the plate."""
        return tuple(edge for each in self.neighbours for edge in each.outline.segments)
