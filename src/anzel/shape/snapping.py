"""Help while drawing: the place that the maker most likely means near the pointer.

Coordinates are mm; angles are degrees, counter-clockwise from along x.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, radians, sin

from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Line, Segment
from anzel.shape.outline_building import segments_of
from anzel.shape.sketch import Sketch

TURN_STEP = 15.0
_EXACT = {0.0: (1.0, 0.0), 90.0: (0.0, 1.0), 180.0: (-1.0, 0.0), 270.0: (0.0, -1.0)}


@dataclass(frozen=True)
class SnappedPlace:
    """A place for a point, with the levels it lies at, the angle its leg came to, or what it met.

    `met` is one of “end”, “middle”, “centre”, “tangent”, “edge”; "" for a place without a mark.
    """

    place: Point
    level_x: float | None = None
    level_y: float | None = None
    angle: float | None = None
    met: str = ""


@dataclass(frozen=True)
class SnapTargets:
    """What a place can meet: points whose levels count too, marked spots, edges and circles."""

    points: tuple[Point, ...] = ()
    spots: tuple[tuple[Point, str], ...] = ()
    edges: tuple[Segment, ...] = ()
    circles: tuple[tuple[Point, float], ...] = ()

    def with_points(self, points: Iterable[Point]) -> "SnapTargets":
        """Return the targets with some points more."""
        return SnapTargets((*self.points, *points), self.spots, self.edges, self.circles)


def targets_of(
    sketch: Sketch, *, without: str = "", neighbours: Sequence[Segment] = ()
) -> SnapTargets:
    """Return what can be met on a sketch, and on the edges of neighbours.

    A point that is being moved does not meet itself nor the legs beside it.
    """
    points, spots, circles = [], [], []
    for path in sketch.paths:
        points += [(p.x, p.y) for p in path.points if p.id != without]
        ids = [point.id for point in path.points]
        for at, segment in enumerate(segments_of(path)):
            if without in (ids[at], ids[(at + 1) % len(ids)]):
                continue
            spots.append((segment.point_at(0.5), "middle"))
            if isinstance(segment, Arc):
                spots.append((segment.centre, "centre"))
                circles.append((segment.centre, segment.radius))
    for disc in sketch.discs:
        if disc.id != without:
            points.append((disc.x, disc.y))
            spots.append(((disc.x, disc.y), "centre"))
            circles.append(((disc.x, disc.y), disc.radius))
    spots += [(end, "end") for edge in neighbours for end in (edge.start, edge.end)]
    return SnapTargets(tuple(points), tuple(spots), tuple(neighbours), tuple(circles))


def snapped_place(
    at: Point, last: Point | None, targets: SnapTargets, reach: float, step: float
) -> SnappedPlace:
    """Return the best place within `reach` of where the maker points.

    Marked spots come first: ends, middles, centres, and where a leg from the last corner touches a
    circle. Then the levels of other points, then the edges of neighbours, then the directions at
    whole 15° from the last corner with a length of whole steps, then the grid of steps.
    """
    spots = [*targets.spots, *_touches(last, targets.circles)]
    near = min(spots, key=lambda spot: _apart(spot[0], at), default=None)
    if near is not None and _apart(near[0], at) <= reach:
        return SnappedPlace(near[0], met=near[1])
    level_x, level_y = (
        _nearest((p[axis] for p in targets.points), at[axis], reach) for axis in (0, 1)
    )
    if level_x is None and level_y is None:
        feet = [foot for edge in targets.edges if (foot := foot_on(edge, at)) is not None]
        foot = min(feet, key=lambda place: _apart(place, at), default=None)
        if foot is not None and _apart(foot, at) <= reach:
            return SnappedPlace(foot, met="edge")
        if last is not None and at != last:
            turned = _at_whole_angle(at, last, reach, step)
            if turned is not None:
                return turned
    x = level_x if level_x is not None else round(at[0] / step) * step
    y = level_y if level_y is not None else round(at[1] / step) * step
    return SnappedPlace((x, y), level_x, level_y)


def _at_whole_angle(at: Point, last: Point, reach: float, step: float) -> SnappedPlace | None:
    dx, dy = at[0] - last[0], at[1] - last[1]
    angle = round(degrees(atan2(dy, dx)) / TURN_STEP) * TURN_STEP
    ux, uy = direction(angle)
    if abs(ux * dy - uy * dx) > reach:
        return None
    length = max(round((ux * dx + uy * dy) / step), 1) * step
    return SnappedPlace((last[0] + ux * length, last[1] + uy * length), angle=angle)


def _touches(
    last: Point | None, circles: Sequence[tuple[Point, float]]
) -> list[tuple[Point, str]]:  # fmt: skip
    """Return where straight legs from a point touch circles.

    The touching point, the centre and the point from outside form a right angle, so it lies at the
    angle acos(r / d) about the centre (any geometry handbook).
    """
    found: list[tuple[Point, str]] = []
    for (x, y), radius in circles if last is not None else ():
        assert last is not None
        dx, dy = last[0] - x, last[1] - y
        apart = hypot(dx, dy)
        if apart <= radius:
            continue
        along, across = radius / apart, (1 - (radius / apart) ** 2) ** 0.5
        for side in (across, -across):
            ux, uy = dx / apart, dy / apart
            place = (
                x + radius * (ux * along - uy * side), y + radius * (uy * along + ux * side)
            )  # fmt: skip
            found.append((place, "tangent"))
    return found


def foot_on(edge: Segment, at: Point) -> Point | None:
    """Return the nearest place on a straight edge or arc; None beside its ends."""
    if isinstance(edge, Line):
        (ax, ay), (dx, dy) = edge.start, edge.chord
        share = ((at[0] - ax) * dx + (at[1] - ay) * dy) / (dx * dx + dy * dy)
        return (ax + share * dx, ay + share * dy) if 0 <= share <= 1 else None
    return None


def _nearest(levels: Iterable[float], at: float, reach: float) -> float | None:
    near = min(levels, key=lambda level: abs(level - at), default=None)
    return near if near is not None and abs(near - at) <= reach else None


def _apart(one: Point, other: Point) -> float:
    return hypot(one[0] - other[0], one[1] - other[1])


def direction(angle: float) -> Point:
    """Return the unit vector of an angle, exact at whole right angles."""
    exact = _EXACT.get(angle % 360.0)
    return exact or (cos(radians(angle)), sin(radians(angle)))
