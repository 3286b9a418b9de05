"""Corners between two legs: rounded by an arc, chamfered, or relieved by a round hole."""

from math import hypot

from anzel.core.tolerances import PARALLEL, ROUNDING
from anzel.geometry.intersections import circles_meet, line_and_circle, lines_meet
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment

Joined = tuple[Segment, Segment, Segment]
"""The leg before, shortened; what lies between; the leg after, shortened."""


def rounded(before: Segment, after: Segment, radius: float) -> Joined | None:
    """Return a corner rounded by a tangent arc; None where it has no room or is none.

    Its centre is as far from both legs as the radius is long: on their parallels on the inside.
    Legs may be lines and arcs.

    Examples
    --------
    >>> before, join, after = rounded(Line((0, 0), (10, 0)), Line((10, 0), (10, 10)), 3)
    >>> join.start, join.end, join.centre
    ((7.0, 0.0), (10.0, 3.0), (7.0, 3.0))
    """
    if isinstance(before, Cubic) or isinstance(after, Cubic):
        return None
    turn = turn_at(before, after)
    if abs(turn) < PARALLEL:
        return None
    side = 1.0 if turn > 0 else -1.0
    corner = before.end
    centres = _parallels_meet(before, after, side * radius)
    if not centres:
        return None
    centre = min(centres, key=lambda c: hypot(c[0] - corner[0], c[1] - corner[1]))
    start, end = _foot(before, centre, radius), _foot(after, centre, radius)
    if not (_lies_on(before, start) and _lies_on(after, end)):
        return None
    join = Arc(start, end, centre, clockwise=turn < 0)
    return _cut_end(before, start), join, _cut_start(after, end)


def turn_at(before: Segment, after: Segment) -> float:
    """Return the sine of the turn from one leg to the next; positive to the left."""
    (ux, uy), (vx, vy) = heading_at_end(before), _heading_at_start(after)
    return ux * vy - uy * vx


def chamfered(before: Segment, after: Segment, size: float) -> Joined | None:
    """Return a corner with a straight cut that takes `size` mm off each leg; None without room."""
    if not (isinstance(before, Line) and isinstance(after, Line)):
        return None
    if size > min(before.length, after.length) - ROUNDING:
        return None
    start = before.point_at(1 - size / before.length)
    end = after.point_at(size / after.length)
    return Line(before.start, start), Line(start, end), Line(end, after.end)


def relief_hole(before: Segment, after: Segment, radius: float) -> tuple[Point, float]:
    """Return the hole that lets a round tool into a corner: its centre and radius.

    The corner lies on it, and its centre on the corner's bisector, between the legs.
    """
    (ux, uy), (vx, vy) = heading_at_end(before), _heading_at_start(after)
    bx, by = vx - ux, vy - uy
    size = hypot(bx, by) or 1.0
    x, y = before.end
    return (x + bx / size * radius, y + by / size * radius), radius


def heading_at_end(segment: Segment) -> Point:
    """Return the unit direction in which a leg ends."""
    if isinstance(segment, Arc):
        return _along_arc(segment, segment.end)
    return _unit(segment.controls[2], segment.end) if isinstance(segment, Cubic) else _unit(
        segment.start, segment.end
    )  # fmt: skip


def _heading_at_start(segment: Segment) -> Point:
    if isinstance(segment, Arc):
        return _along_arc(segment, segment.start)
    return _unit(segment.start, segment.controls[1]) if isinstance(segment, Cubic) else _unit(
        segment.start, segment.end
    )  # fmt: skip


def _along_arc(arc: Arc, at: Point) -> Point:
    x, y = at[0] - arc.centre[0], at[1] - arc.centre[1]
    size = hypot(x, y)
    return (y / size, -x / size) if arc.clockwise else (-y / size, x / size)


def _unit(start: Point, end: Point) -> Point:
    x, y = end[0] - start[0], end[1] - start[1]
    size = hypot(x, y) or 1.0
    return (x / size, y / size)


def _parallels_meet(before: Segment, after: Segment, offset: float) -> list[Point]:
    """Return where the parallels of two legs meet; a positive offset is to the left."""
    if isinstance(before, Line) and isinstance(after, Line):
        met = lines_meet(_beside(before, offset), before.chord, _beside(after, offset), after.chord)
        return [] if met is None else [met]
    if isinstance(before, Line) and isinstance(after, Arc):
        return line_and_circle(
            _beside(before, offset), before.chord, after.centre, _reach(after, offset)
        )
    if isinstance(before, Arc) and isinstance(after, Line):
        return line_and_circle(
            _beside(after, offset), after.chord, before.centre, _reach(before, offset)
        )
    assert isinstance(before, Arc)
    assert isinstance(after, Arc)
    return circles_meet(before.centre, _reach(before, offset), after.centre, _reach(after, offset))


def _beside(line: Line, offset: float) -> Point:
    ux, uy = _unit(line.start, line.end)
    return (line.start[0] - uy * offset, line.start[1] + ux * offset)


def _reach(arc: Arc, offset: float) -> float:
    """Return the radius of an arc's parallel to the left of its way."""
    return max(arc.radius + (offset if arc.clockwise else -offset), 0.0)


def _foot(segment: Segment, centre: Point, radius: float) -> Point:
    """Return where a circle about `centre` touches a leg."""
    if isinstance(segment, Line):
        ux, uy = _unit(segment.start, segment.end)
        along = (centre[0] - segment.start[0]) * ux + (centre[1] - segment.start[1]) * uy
        return (segment.start[0] + along * ux, segment.start[1] + along * uy)
    assert isinstance(segment, Arc)
    x, y = centre[0] - segment.centre[0], centre[1] - segment.centre[1]
    size = hypot(x, y) or 1.0
    return (
        segment.centre[0] + x / size * segment.radius,
        segment.centre[1] + y / size * segment.radius,
    )


def _lies_on(segment: Segment, point: Point) -> bool:
    """Whether a foot is between the ends of its leg."""
    if isinstance(segment, Line):
        x, y = segment.chord
        along = (point[0] - segment.start[0]) * x + (point[1] - segment.start[1]) * y
        return -ROUNDING <= along <= segment.length**2 + ROUNDING
    assert isinstance(segment, Arc)
    part = Arc(segment.start, point, segment.centre, segment.clockwise)
    return abs(part.sweep) <= abs(segment.sweep) + ROUNDING


def _cut_end(segment: Segment, at: Point) -> Segment:
    if isinstance(segment, Arc):
        return Arc(segment.start, at, segment.centre, segment.clockwise)
    return Line(segment.start, at)


def _cut_start(segment: Segment, at: Point) -> Segment:
    if isinstance(segment, Arc):
        return Arc(at, segment.end, segment.centre, segment.clockwise)
    return Line(at, segment.end)
