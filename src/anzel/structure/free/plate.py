"""A plate of a free structure: an outline, a sheet, and its placement in numbers."""

from math import atan2, degrees, hypot
from typing import Annotated

from pydantic import Field

from anzel.core.immutable import Immutable
from anzel.core.tolerances import EXACTLY_SQUARE
from anzel.geometry.placement import Placement, Vector
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.structure.free.outline_shapes import AnyShape, Coordinate


class FreePlate(Immutable):
    """A plate where the maker put it: the middle at (x, y, z) mm.

    One of `true_size` comes out as large as typed: its outline is drawn larger by the kerf.
    `bends` are by how many degrees living hinges are bent that a drawing brought along.

    *tilt* is 0 lying and 90 upright, *turn* is about the vertical axis, *spin* about the plate's
    own axis; degrees.
    """

    name: str = Field(min_length=1, max_length=60)
    stock: str
    outline: AnyShape
    x: Coordinate = 0.0
    y: Coordinate = 0.0
    z: Coordinate = 0.0
    turn: float = Field(default=0.0, ge=-360, le=360)
    tilt: float = Field(default=0.0, ge=-180, le=180)
    spin: float = Field(default=0.0, ge=-360, le=360)
    mark: str = ""
    may_part: bool = False
    true_size: bool = False
    bends: tuple[Annotated[float, Field(ge=0, le=360)], ...] = Field(default=(), max_length=40)

    @property
    def placement(self) -> Placement:
        """The placement: spun, then tilted, then turned."""
        turn, tilt, spin = (
            RigidTransform.rotation(angle) for angle in (self.turn, self.tilt, self.spin)
        )
        x_axis = _tilted(turn, tilt, (spin.cosine, spin.sine))
        y_axis = _tilted(turn, tilt, (-spin.sine, spin.cosine))
        return Placement((self.x, self.y, self.z), x_axis, y_axis)

    def placed(self, placement: Placement) -> "FreePlate":
        """Return the same plate elsewhere."""
        x, y, z = placement.origin
        turn, tilt, spin = angles_of(placement)
        return self.with_changes(x=x, y=y, z=z, turn=turn, tilt=tilt, spin=spin)

    def with_number(self, field: str, value: float) -> "FreePlate":
        """Return the plate with another number of its outline or of its placement.

        Raises
        ------
        ParameterError
            Naming the field at fault.
        """
        if field in type(self.outline).model_fields:
            return self.with_changes(outline=self.outline.with_changes(**{field: value}))
        return self.with_changes(**{field: value})

    def scaled(self, factor: float) -> "FreePlate":
        """Return the same plate, larger or smaller, about the world's origin."""
        return self.with_changes(
            outline=self.outline.scaled(factor),
            x=self.x * factor, y=self.y * factor, z=self.z * factor,
        )  # fmt: skip


def angles_of(placement: Placement) -> tuple[float, float, float]:
    """Return (turn, tilt, spin) of a placement, degrees; a flat plate is turned and not spun."""
    across = hypot(*placement.normal[:2])
    tilt = atan2(across, placement.normal[2])
    if across > EXACTLY_SQUARE:
        turn = atan2(placement.normal[0], -placement.normal[1])
        spin = atan2(placement.x_axis[2], placement.y_axis[2])
    else:
        turn, spin = atan2(placement.x_axis[1], placement.x_axis[0]), 0.0
    # dust of the trigonometry rounded away, far below what moves anything by a picometre
    turned, tilted, spun = (round(degrees(angle), 12) + 0.0 for angle in (turn, tilt, spin))
    return turned, tilted, spun


def _tilted(turn: RigidTransform, tilt: RigidTransform, spun: Point) -> Vector:
    """Return a direction in the plate, tilted and turned into the world."""
    x, y = turn((spun[0], spun[1] * tilt.cosine))
    return (x, y, spun[1] * tilt.sine)
