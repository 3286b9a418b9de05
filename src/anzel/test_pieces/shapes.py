"""Outlines that several test pieces use."""

from math import sqrt

from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Line, Segment

_CORNER = 2.5


def rounded_rectangle(width: float, height: float) -> Region:
    """Return a rectangle with rounded corners, its lower left at the origin."""
    corners = ((width, 0.0), (width, height), (0.0, height), (0.0, 0.0))
    steps = ((1, 0), (0, 1), (-1, 0), (0, -1))
    segments: list[Segment] = []
    at = (_CORNER, 0.0)
    for index, ((x, y), (dx, dy)) in enumerate(zip(corners, steps, strict=True)):
        nx, ny = steps[(index + 1) % 4]
        before = (x - dx * _CORNER, y - dy * _CORNER)
        after = (x + nx * _CORNER, y + ny * _CORNER) if index < 3 else (_CORNER, 0.0)
        centre = (before[0] + nx * _CORNER, before[1] + ny * _CORNER)
        segments += [Line(at, before), Arc(before, after, centre)]
        at = after
    return Region.of(Contour(tuple(segments)))


def notched_square(centre: Point, side: float, notch: float, outward: float) -> Contour:
    """Return a square with one corner cut off, offset outward all round.

    It fits one way round only.

    The cut corner's leg grows by (2 - √2) times the offset, so that every side moves alike.
    """
    half, leg = side / 2 + outward, notch + (2 - sqrt(2)) * outward
    x, y = centre
    points = ((-half, -half), (half, -half), (half, half - leg), (half - leg, half), (-half, half))
    return Contour.polygon([(x + dx, y + dy) for dx, dy in points])
