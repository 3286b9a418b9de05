"""Intersections of endless lines and whole circles."""

from math import hypot

from anzel.core.tolerances import COINCIDENT, VANISHING
from anzel.geometry.rigid_transform import Point


def lines_meet(
    p: Point, u: Point, q: Point, v: Point, *, least_sine: float = VANISHING
) -> Point | None:
    """Return where the endless lines p + s u and q + t v meet.

    The result is None where the sine of the angle between them is less than `least_sine`, or
    where `u` or `v` has no length.

    Examples
    --------
    >>> lines_meet((0, 0), (2, 0), (3, 5), (0, 1))
    (3.0, 0.0)
    """
    turn = u[0] * v[1] - u[1] * v[0]
    if abs(turn) <= least_sine * hypot(*u) * hypot(*v):  # equal where one of them has no length
        return None
    s = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / turn
    return (p[0] + s * u[0], p[1] + s * u[1])


def line_and_circle(p: Point, u: Point, centre: Point, radius: float) -> list[Point]:
    """Return where the endless line p + s u meets a circle, in the line's direction.

    Examples
    --------
    >>> line_and_circle((-9, 3), (1, 0), (0, 0), 5)
    [(-4.0, 3.0), (4.0, 3.0)]
    """
    size = hypot(*u)
    ux, uy = u[0] / size, u[1] / size
    cx, cy = centre[0] - p[0], centre[1] - p[1]
    along, lateral = cx * ux + cy * uy, cx * uy - cy * ux
    if abs(lateral) > radius:
        return []
    half = (radius**2 - lateral**2) ** 0.5
    return [(p[0] + s * ux, p[1] + s * uy) for s in (along - half, along + half)]


def circles_meet(
    centre: Point, radius: float, other_centre: Point, other_radius: float
) -> list[Point]:
    """Return where two circles meet; nothing where they do not, or where they are one.

    Examples
    --------
    >>> circles_meet((0, 0), 5, (6, 0), 5)
    [(3.0, 4.0), (3.0, -4.0)]
    """
    dx, dy = other_centre[0] - centre[0], other_centre[1] - centre[1]
    apart = hypot(dx, dy)
    if apart < COINCIDENT or not abs(radius - other_radius) <= apart <= radius + other_radius:
        return []
    along = (apart**2 + radius**2 - other_radius**2) / (2 * apart)
    half = max(radius**2 - along**2, 0.0) ** 0.5
    ux, uy = dx / apart, dy / apart
    x, y = centre[0] + along * ux, centre[1] + along * uy
    return [(x - half * uy, y + half * ux), (x + half * uy, y - half * ux)]
