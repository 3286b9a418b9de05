"""Elliptical arcs as cubics, where circles do not stay circles."""

from math import ceil, cos, pi, radians, sin, tan

from anzel.core.tolerances import ROUNDING
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
    """Return a mapped arc of an ellipse as cubics, each over an eighth of a turn at most.

    The ellipse is (rx, ry, rotation in degrees), the angles are a start angle and a sweep in
    radians. `start` and `end` are the mapped end points. The curves are off by less than 1e-6 of
    the size; the tangent length is 4/3 tan(θ/4).
    """
    (rx, ry, rotation), (first, turn) = ellipse, angles
    c, s = cos(radians(rotation)), sin(radians(rotation))
    count = max(1, ceil(abs(turn) / (pi / 4) - ROUNDING))
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
