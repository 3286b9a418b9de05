"""The sizes of a sketch as dimension lines on the flat piece."""

from math import hypot, sqrt

from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Segment
from anzel.shape.outline_building import segments_of
from anzel.shape.sketch import HeldSize, SizeKind, Sketch
from anzel.structure.dimension import SEPARATOR, Dimension

_OFFSET = 13.0
_CORNER = 0.3
"""An angle stands across its corner, at this share of the shorter leg."""
Ends = tuple[Point, Point]


def sketch_dimensions(
    plate: str, sketch: Sketch, *, with_angles: bool = False
) -> tuple[Dimension, ...]:
    """Return a dimension line for every size, its field PLATE/SIZE.

    A line is as long as its size, but for angles, which stand across their corners.
    """
    points = sketch.places() | {disc.id: (disc.x, disc.y) for disc in sketch.discs}
    legs = {
        leg.id: segment for path in sketch.paths
        for leg, segment in zip(path.legs, segments_of(path), strict=True)
    }  # fmt: skip
    radii = {disc.id: disc.radius for disc in sketch.discs}
    xs, ys = zip(*((point.x, point.y) for point in sketch.paths[0].points), strict=True)
    middle = ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
    found = []
    for size in sketch.sizes:
        if size.kind is SizeKind.ANGLE and not with_angles:
            continue
        ends, is_beside = _ends(size, points, legs, radii)
        offset = _outward(*ends, middle) if is_beside else 0.0
        found.append(Dimension(f"{plate}{SEPARATOR}{size.name}", plate, *ends, offset))
    return tuple(found)


def _outward(start: Point, end: Point, middle: Point) -> float:
    """Return how far left of a size its line stands: away from the plate's middle."""
    left = (start[1] - end[1], end[0] - start[0])
    to_middle = (middle[0] - (start[0] + end[0]) / 2, middle[1] - (start[1] + end[1]) / 2)
    return -_OFFSET if left[0] * to_middle[0] + left[1] * to_middle[1] > 0 else _OFFSET


def _ends(
    size: HeldSize, points: dict[str, Point], legs: dict[str, Segment], radii: dict[str, float]
) -> tuple[Ends, bool]:
    """Return between which points a size stands, and whether its line lies beside them."""
    match size.kind:
        case SizeKind.LENGTH:
            leg = legs[size.of[0]]
            return (leg.start, leg.end), True
        case SizeKind.RADIUS | SizeKind.DIAMETER:
            return _across(size, points, legs, radii), False
        case SizeKind.TO_LEG:
            return _to_leg(_point(size.of[0], points, legs), legs[size.of[1]]), False
        case SizeKind.ANGLE:
            return _corner(*(legs[name] for name in size.of)), False
    start, end = (_point(name, points, legs) for name in size.of)
    if size.kind is SizeKind.ALONG_X:
        return (start, (end[0], start[1])), True
    return ((start, (start[0], end[1])) if size.kind is SizeKind.ALONG_Y else (start, end)), True


def _point(name: str, points: dict[str, Point], legs: dict[str, Segment]) -> Point:
    """Return a point, or the centre of a disc or arc."""
    return points[name] if name in points else _centre(legs[name])


def _centre(leg: Segment) -> Point:
    centre: Point = getattr(leg, "centre", leg.start)
    return centre


def _across(
    size: HeldSize, points: dict[str, Point], legs: dict[str, Segment], radii: dict[str, float]
) -> Ends:
    """Return the ends of a radius, or of a diameter: at 45° of a disc, to the middle of an arc."""
    name = size.of[0]
    if name in radii:
        x, y = points[name]
        to = (x + radii[name] / sqrt(2), y + radii[name] / sqrt(2))
    else:
        (x, y), to = _centre(legs[name]), legs[name].point_at(0.5)
    return ((x, y) if size.kind is SizeKind.RADIUS else (2 * x - to[0], 2 * y - to[1])), to


def _to_leg(point: Point, leg: Segment) -> Ends:
    """Return a point and its foot on the line of a leg."""
    (ax, ay), (bx, by) = leg.start, leg.end
    dx, dy = bx - ax, by - ay
    share = ((point[0] - ax) * dx + (point[1] - ay) * dy) / (dx * dx + dy * dy)
    return point, (ax + share * dx, ay + share * dy)


def _corner(one: Segment, other: Segment) -> Ends:
    """Return a point on each of two legs near where they meet, or their middles."""
    corner = next((at for at in (one.start, one.end) if at in (other.start, other.end)), None)
    if corner is None:
        return one.point_at(0.5), other.point_at(0.5)
    away = [leg.end if leg.start == corner else leg.start for leg in (one, other)]
    reach = _CORNER * min(hypot(x - corner[0], y - corner[1]) for x, y in away)
    first, second = (_towards(corner, at, reach) for at in away)
    return first, second


def _towards(start: Point, end: Point, reach: float) -> Point:
    dx, dy = end[0] - start[0], end[1] - start[1]
    long = hypot(dx, dy)
    return (start[0] + reach * dx / long, start[1] + reach * dy / long)
