"""Exact parallel outlines: lines stay lines, arcs keep their centres.

Corners between straight edges stay sharp, and smooth joins stay smooth. An outline for which
neither holds is refused: a kink between a line and an arc, or a free curve.
"""

from math import hypot

from anzel.core.findings import GeometryError
from anzel.core.tolerances import COINCIDENT
from anzel.geometry.intersections import lines_meet
from anzel.geometry.regions import Contour
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Line, Segment, circle


def offset(contour: Contour, distance: float) -> Contour:
    """Return the contour moved outward by `distance` mm; inward where negative.

    Raises
    ------
    GeometryError
        For an outline that cannot be offset exactly or that vanishes.
    """
    outline = contour if contour.signed_area > 0 else contour.reversed()
    if isinstance(only := outline.segments[0], Arc) and outline.is_circle:
        return Contour((circle(only.centre, _radius(only.radius + distance)),))
    moved = [offset_segment(segment, distance) for segment in outline.segments]
    starts = [_meeting(moved[i - 1], segment) for i, segment in enumerate(moved)]
    ends = [*starts[1:], starts[0]]
    made = Contour(tuple(_between(s, a, b) for s, a, b in zip(moved, starts, ends, strict=True)))
    if not made.polygon_shape.is_valid or made.signed_area <= 0:
        raise GeometryError("An outline would vanish or cross itself.", hint="Offset it less.")
    return made


def _radius(wanted: float) -> float:
    if wanted <= COINCIDENT:
        raise GeometryError("A circle would vanish.", hint="Make it larger.")
    return wanted


def offset_segment(segment: Segment, distance: float) -> Segment:
    """Return one segment moved to its right, which is outward on a counter-clockwise outline.

    Raises
    ------
    GeometryError
        For an arc that would vanish, and for a free curve, whose parallel is no cubic.
    """
    if isinstance(segment, Line):
        dx, dy = segment.end[0] - segment.start[0], segment.end[1] - segment.start[1]
        size = hypot(dx, dy)
        shift = (dy / size * distance, -dx / size * distance)
        return Line(_plus(segment.start, shift), _plus(segment.end, shift))
    if isinstance(segment, Arc):
        radius = _radius(segment.radius + (-distance if segment.clockwise else distance))
        scale = radius / segment.radius
        start, end = (_from(segment.centre, p, scale) for p in (segment.start, segment.end))
        return Arc(start, end, segment.centre, segment.clockwise)
    raise GeometryError(
        "An outline with free curves cannot be offset exactly.", hint="Use lines and arcs."
    )


def _meeting(before: Segment, after: Segment) -> Point:
    """Return where two offset neighbours meet."""
    gap = hypot(before.end[0] - after.start[0], before.end[1] - after.start[1])
    if gap < COINCIDENT:
        return after.start
    if isinstance(before, Line) and isinstance(after, Line):
        found = lines_meet(before.start, before.chord, after.start, after.chord)
        if found is not None:
            return found
    raise GeometryError(
        "An outline has a kink between a line and an arc.", hint="Round the corner."
    )


def _between(segment: Segment, start: Point, end: Point) -> Segment:
    if isinstance(segment, Arc):
        return Arc(start, end, segment.centre, segment.clockwise)
    dx, dy = segment.end[0] - segment.start[0], segment.end[1] - segment.start[1]
    if dx * (end[0] - start[0]) + dy * (end[1] - start[1]) <= 0:
        raise GeometryError("An edge would vanish.", hint="Offset it less.")
    return Line(start, end)


def _plus(a: Point, b: Point) -> Point:
    return (a[0] + b[0], a[1] + b[1])


def _from(centre: Point, point: Point, scale: float) -> Point:
    return (
        centre[0] + (point[0] - centre[0]) * scale,
        centre[1] + (point[1] - centre[1]) * scale,
    )
