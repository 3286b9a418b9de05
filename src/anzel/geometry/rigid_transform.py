"""Rigid transforms in the plane: flip, rotate, then translate.

Lengths and angles never change.

Quarter turns use exact cosines, so that coordinates keep their digits on a sheet.
"""

from dataclasses import dataclass
from math import cos, radians, sin

Point = tuple[float, float]

_QUARTERS = {0: (1.0, 0.0), 90: (0.0, 1.0), 180: (-1.0, 0.0), 270: (0.0, -1.0)}


@dataclass(frozen=True)
class RigidTransform:
    """A flip, a rotation and a translation.

    First it flips `over` about the y axis or not, then it rotates by (cosine, sine) about the
    origin, counter-clockwise, then it translates by (dx, dy) mm.
    """

    cosine: float = 1.0
    sine: float = 0.0
    dx: float = 0.0
    dy: float = 0.0
    over: bool = False

    @classmethod
    def rotation(cls, degrees: float, *, over: bool = False) -> "RigidTransform":
        """Return a rotation about the origin."""
        quarter = degrees % 360
        if quarter in _QUARTERS:
            return cls(*_QUARTERS[int(quarter)], over=over)
        return cls(cos(radians(degrees)), sin(radians(degrees)), over=over)

    def translated(self, dx: float, dy: float) -> "RigidTransform":
        """Return the same transform followed by a translation."""
        return RigidTransform(self.cosine, self.sine, self.dx + dx, self.dy + dy, self.over)

    def then(self, after: "RigidTransform") -> "RigidTransform":
        """Return the transform followed by another one."""
        sine = -self.sine if after.over else self.sine
        dx, dy = after((self.dx, self.dy))
        return RigidTransform(
            after.cosine * self.cosine - after.sine * sine,
            after.sine * self.cosine + after.cosine * sine,
            dx, dy, self.over is not after.over,
        )  # fmt: skip

    def __call__(self, point: Point) -> Point:
        """Return the point after the transform."""
        x, y = point
        if self.over:
            x = -x
        return (
            self.cosine * x - self.sine * y + self.dx,
            self.sine * x + self.cosine * y + self.dy,
        )
