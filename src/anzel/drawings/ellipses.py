"""Elliptical arcs as cubics, for where circles do not stay circles."""

from math import ceil, cos, pi, radians, sin, tan

from anzel.drawings.affine import Affine
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Cubic, Segment


def cubics(
    centre: Point,
    ellipse: tuple[float, float, float],
    angles: tuple[float, float],
    at: Affine,
    start: Point,
    end: Point,
) -> tuple[Segment, ...]:
    """An arc of an ellipse (rx, ry, rotation in degrees) from an angle through a turn (radians),
    mapped, as cubics of an eighth turn at most: off by less than 1e-6 of its size (from the usual
    tangent length 4/3 tan(θ/4)). `start` and `end` are its ends where mapped to."""
    (rx, ry, rotation), (first, turn) = ellipse, angles
    c, s = cos(radians(rotation)), sin(radians(rotation))
    count = max(1, ceil(abs(turn) / (pi / 4) - 1e-9))
    step = turn / count
    reach = 4 / 3 * tan(step / 4)

    def on(angle: float, ahead: float = 0.0) -> Point:
        x = rx * (cos(angle) - ahead * sin(angle))
        y = ry * (sin(angle) + ahead * cos(angle))
        return at((centre[0] + c * x - s * y, centre[1] + s * x + c * y))

    made: list[Segment] = []
    for i in range(count):
        a, b = first + i * step, first + (i + 1) * step
        begin = start if i == 0 else made[-1].end
        stop = end if i == count - 1 else on(b)
        made.append(Cubic(begin, on(a, reach), on(b, -reach), stop))
    return tuple(made)
