"""Free curves as arcs: pairs of arcs that share the curve's ends and tangents, halved until near.

The pair is the one with equal handles: with v from end to end, unit tangents t0 and t1 and handles
d, the joint lies between p0 + d t0 and p1 - d t1, and |v - d (t0 + t1)| = 2 d (D. Walton and
D. Meek, “Approximating smooth planar curves by arc splines”, J. Comput. Appl. Math. 59, 1995; from
memory).
"""

from collections.abc import Iterator
from math import atan2, dist, hypot, pi, sqrt

from anzel.core.tolerances import ARCS_OFF, VANISHING
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line
from anzel.geometry.tool_path import end_tangent, start_tangent

_FINEST = 12
"""A curve is halved at most so many times; what is left then is far below what can be cut."""
_SAMPLES = [step / 16 for step in range(1, 16)]


def arcs_of_curve(curve: Cubic) -> tuple[Arc | Line, ...]:
    """Return arcs, and lines where it is straight, within `tolerances.ARCS_OFF` of a free curve."""
    return tuple(_arcs(curve, 0))


def _arcs(curve: Cubic, depth: int) -> Iterator[Arc | Line]:
    made = _pair(curve)
    if depth < _FINEST and any(_off(curve.point_at(t), made) > ARCS_OFF for t in _SAMPLES):
        yield from _arcs(curve.subsegment(0.0, 0.5), depth + 1)
        yield from _arcs(curve.subsegment(0.5, 1.0), depth + 1)
        return
    yield from made


def _pair(curve: Cubic) -> list[Arc | Line]:
    """Return the pair of arcs; a line where the tangents cannot be joined so."""
    p0, p1 = curve.start, curve.end
    t0, t1 = start_tangent(curve), end_tangent(curve)
    v = (p1[0] - p0[0], p1[1] - p0[1])
    along = v[0] * (t0[0] + t1[0]) + v[1] * (t0[1] + t1[1])
    bend = 1 - (t0[0] * t1[0] + t0[1] * t1[1])
    square = v[0] ** 2 + v[1] ** 2
    if bend > VANISHING:
        handle = (sqrt(along**2 + 2 * bend * square) - along) / (2 * bend)
    else:
        handle = square / (2 * along) if along > VANISHING else 0.0
    joint = (
        (p0[0] + handle * t0[0] + p1[0] - handle * t1[0]) / 2,
        (p0[1] + handle * t0[1] + p1[1] - handle * t1[1]) / 2,
    )
    if handle <= 0 or joint in (p0, p1):
        return [Line(p0, p1)]
    second = _arc(p1, (-t1[0], -t1[1]), joint)
    return [_arc(p0, t0, joint), _reversed(second)]


def _arc(start: Point, tangent: Point, end: Point) -> Arc | Line:
    """Return the arc from a point in a direction to another point."""
    v = (end[0] - start[0], end[1] - start[1])
    aside = tangent[0] * v[1] - tangent[1] * v[0]
    if abs(aside) < VANISHING * hypot(*v) or not aside:
        return Line(start, end)
    radius = (v[0] ** 2 + v[1] ** 2) / (2 * aside)
    if abs(radius) > _STRAIGHT:
        return Line(start, end)
    return Arc(
        start, end, (start[0] - radius * tangent[1], start[1] + radius * tangent[0]), radius < 0
    )


_STRAIGHT = 1e6
"""An arc of a larger radius, mm, cannot be told from its chord."""


def _reversed(edge: Arc | Line) -> Arc | Line:
    if isinstance(edge, Line):
        return Line(edge.end, edge.start)
    return Arc(edge.end, edge.start, edge.centre, not edge.clockwise)


def _off(point: Point, pair: list[Arc | Line]) -> float:
    """Return how far a point lies from the nearer of two edges."""
    return min(_off_edge(point, edge) for edge in pair)


def _off_edge(point: Point, edge: Arc | Line) -> float:
    if isinstance(edge, Arc):
        x, y = point[0] - edge.centre[0], point[1] - edge.centre[1]
        turned = (atan2(y, x) - edge.start_angle) * (-1 if edge.clockwise else 1)
        if turned % (2 * pi) <= abs(edge.sweep):
            return abs(hypot(x, y) - edge.radius)
        return min(dist(point, edge.start), dist(point, edge.end))
    (ax, ay), (bx, by) = edge.start, edge.end
    square = (bx - ax) ** 2 + (by - ay) ** 2
    along = ((point[0] - ax) * (bx - ax) + (point[1] - ay) * (by - ay)) / square if square else 0.0
    along = min(max(along, 0.0), 1.0)
    return dist(point, (ax + along * (bx - ax), ay + along * (by - ay)))
