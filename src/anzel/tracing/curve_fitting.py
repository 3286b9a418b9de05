"""A closed contour fitted by lines, arcs and cubics within a distance, its corners kept.

The contour is cut at its corners into runs, and these into *stretches*, each as long as one line,
arc or cubic can follow. Where two fits meet at an angle, their crossing is the corner; where a line
and an arc touch, they go on into one another.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import hypot, inf

import numpy as np
import shapely

from anzel.geometry.intersections import circles_meet, line_and_circle, lines_meet
from anzel.geometry.regions import Contour
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Floats, Line, Segment
from anzel.tracing.corners import FoundCorner, found_corners, margin
from anzel.tracing.picture import PictureError
from anzel.tracing.primitives import (
    FittedCircle,
    FittedLine,
    fitted_circle,
    fitted_cubic,
    fitted_line,
)

_FEWEST = 4
"""A stretch has at least so many points, a pixel apart."""
_STRAIGHTER, _ROUNDER = 0.85, 0.6
"""A line is taken where an arc follows the contour hardly further, and a line or an arc where a
cubic does not follow it much further."""
_CLOSER, _LEAST = 0.5, 0.35
"""Stretches follow closer than the tolerance, as far as the noise of pixels lets them: so a line
reaches little into the arc after it."""
_WINDOW = 8
_PASSES = 2
"""How often lines and arcs are parted anew."""
_TURN = 0.35
"""Sine of the angle from which two stretches meet in a corner, some 20°."""
_FAR = 3.0
"""A corner lies no further than this from the contour, in tolerances."""
Fit = FittedLine | FittedCircle | None
"""What a stretch follows; None for a cubic, which is fitted last."""


@dataclass(frozen=True)
class _Run:
    """A part of a contour without corners, and the corner that it begins at, if it does."""

    points: Floats
    corner: Point | None


@dataclass(frozen=True)
class _Stretch:
    """A part of a run that one fit follows, and the corner that it begins at, if it does."""

    points: Floats
    fit: Fit
    corner: Point | None

    def local(self, side: int) -> FittedLine | FittedCircle:
        """Return its fit; of a cubic, the line that its start (1) or its end (-1) follows."""
        if self.fit is not None:
            return self.fit
        part = self.points[:_WINDOW] if side > 0 else self.points[-_WINDOW:]
        return fitted_line(part)


def fitted_contour(
    ring: Floats, tolerance: float, blunt: float, most: int
) -> Contour | None:  # fmt: skip
    """Return a ring of points, (n, 2), as a contour of lines, arcs and cubics.

    It lies within the tolerance of the points, except at corners, which blurring has blunted over
    `blunt` pixels. None for a ring that is too small.

    Raises
    ------
    PictureError
        Where it would have more than `most` legs.
    """
    points = _even(ring)
    if len(points) < 3 * _FEWEST:
        return None
    whole = fitted_circle(points)
    if whole is not None and whole.worst <= tolerance:
        return Contour.circle(_point(whole.centre), whole.radius)
    stretches: list[_Stretch] = []
    for run in _runs(points, found_corners(points, blunt), margin(blunt), tolerance):
        stretches += _stretches(run, tolerance, most - len(stretches))
    for _ in range(_PASSES):
        stretches = _settled(stretches)
    starts = [_start(stretches[at - 1], stretch, tolerance) for at, stretch in enumerate(stretches)]
    segments: list[Segment] = []
    for stretch, start, end in zip(stretches, starts, (*starts[1:], starts[0]), strict=True):
        segments += _segments(stretch, start, end, tolerance)
    contour = Contour(tuple(segments))
    encloses = len(segments) > 2 or any(not isinstance(each, Line) for each in segments)
    is_whole = encloses and shapely.is_valid(contour.polygon_shape)
    return contour if is_whole else _by_chords(points, tolerance)


def _even(ring: Floats) -> Floats:
    """Return the ring with its points about a pixel apart."""
    closed = np.vstack((ring, ring[:1]))
    lengths = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))))
    count = max(round(lengths[-1]), 3)
    stations = np.arange(count) * lengths[-1] / count
    return np.column_stack([np.interp(stations, lengths, closed[:, axis]) for axis in (0, 1)])


def _runs(
    points: Floats, corners: Sequence[FoundCorner], blunted: int, tolerance: float
) -> list[_Run]:  # fmt: skip
    """Return the parts of a ring between corners, without the points that are blunted.

    A ring without corners begins where one fit ends and another begins.
    """
    count = len(points)
    if not corners:
        first = _furthest(np.vstack((points, points[:1])), 0, tolerance)[0]
        turned = np.roll(points, -first, axis=0)
        return [_Run(np.vstack((turned, turned[:1])), None)]
    runs = []
    for at, corner in enumerate(corners):
        after = corners[(at + 1) % len(corners)]
        long = (after.number - corner.number - 1) % count + 1
        cut = min(blunted, (long - 2) // 2)
        numbers = np.arange(corner.number + cut, corner.number + long - cut + 1) % count
        runs.append(_Run(points[numbers], corner.place))
    return runs


def _stretches(run: _Run, tolerance: float, most: int) -> list[_Stretch]:
    """Return a run cut greedily into the longest stretches that one fit follows."""
    points, first = run.points, 0
    found: list[_Stretch] = []
    end = len(points) - 1
    while first < end or not found:
        if len(found) >= most:
            raise PictureError(
                "The picture has outlines of very many small steps.",
                hint="Smooth it more, or take another dark.",
            )
        last, kind = _furthest(points, first, tolerance)
        if end - last < _FEWEST:  # a rest too short for itself goes along
            last = end
        part = points[first : last + 1]
        found.append(_Stretch(part, _fit(part, kind), run.corner if first == 0 else None))
        first = last
    return found


def _furthest(points: Floats, first: int, tolerance: float) -> tuple[int, str]:
    """Return how far one fit follows the points from a first one, and which fit."""
    close = max(_CLOSER * tolerance, _LEAST)
    line = _reach(points, first, lambda part: fitted_line(part).worst <= close)
    arc = max(line, _reach(points, first, lambda part: _is_arc(part, close)))
    cubic = _reach(
        points, first, lambda part: fitted_cubic(part[1:-1], part[0], part[-1])[1] <= close
    )
    furthest = max(arc, cubic)
    if line - first >= _STRAIGHTER * (arc - first) and line - first >= _ROUNDER * (
        furthest - first
    ):
        return line, "line"
    if arc - first >= _ROUNDER * (furthest - first):
        return arc, "arc"
    return cubic, "cubic"


def _reach(points: Floats, first: int, follows: Callable[[Floats], bool]) -> int:
    """Return the last point of the longest stretch that a fit follows, found by doubling."""
    end = len(points) - 1
    good, step = min(first + _FEWEST, end), _FEWEST
    while good < end:
        tried = min(first + 2 * step, end)
        if not follows(points[first : tried + 1]):
            break
        good, step = tried, 2 * step
    bad = min(first + 2 * step, end) + 1
    while bad - good > 1 and good < end:
        tried = (good + bad) // 2
        if follows(points[first : tried + 1]):
            good = tried
        else:
            bad = tried
    return min(good, end)


def _is_arc(points: Floats, tolerance: float) -> bool:
    circle = fitted_circle(points)
    return circle is not None and circle.worst <= tolerance


def _fit(part: Floats, kind: str) -> Fit:
    """Return the fit of a stretch, without its first and last points where it has many."""
    cut = min(2, len(part) // 5)
    inner = part[cut : len(part) - cut]
    if kind == "line":
        return fitted_line(inner)
    return fitted_circle(inner) if kind == "arc" else None


def _starts(stretches: Sequence[_Stretch], tolerance: float) -> list[Point]:
    """Return where each stretch begins, in order."""
    return [_start(stretches[at - 1], each, tolerance) for at, each in enumerate(stretches)]


def _settled(stretches: Sequence[_Stretch]) -> list[_Stretch]:
    """Return the stretches with lines and arcs parted where both together fit best.

    What was cut greedily reaches a little too far: a line into the arc after it.
    """
    settled = list(stretches)
    for at, stretch in enumerate(stretches):
        before, after = settled[at - 1], settled[at]
        is_corner = stretch.corner is not None or len(stretches) < 2
        if is_corner or before.fit is None or after.fit is None:
            continue
        both = np.vstack((before.points, after.points[1:]))
        kinds = (type(before.fit), type(after.fit))
        here = len(before.points) - 1
        reach = min(here, len(both) - 1 - here) // 3
        cut = min(
            range(here - reach, here + reach + 1, max(reach // 6, 1)),
            key=lambda cut: _squares(both[: cut + 1], kinds[0]) + _squares(both[cut:], kinds[1]),
        )
        settled[at - 1] = _Stretch(
            both[: cut + 1], _fitted(both[: cut + 1], kinds[0]), before.corner
        )
        settled[at] = _Stretch(both[cut:], _fitted(both[cut:], kinds[1]), None)
    return settled


def _fitted(part: Floats, kind: type) -> Fit:
    return fitted_line(part) if kind is FittedLine else fitted_circle(part)


def _squares(part: Floats, kind: type) -> float:
    """Return the sum of the squared distances of points from what is fitted to them."""
    fit = _fitted(part, kind) if len(part) >= _FEWEST else None
    return float((fit.off(part) ** 2).sum()) if fit is not None else inf


def _start(before: _Stretch, after: _Stretch, tolerance: float) -> Point:
    """Return where a stretch begins: at its corner, or where it meets the one before."""
    one, other = before.local(-1), after.local(1)
    if after.corner is not None:
        found = _crossing(one, other, after.corner)
        return found if found is not None and _near(found, after.corner, 1.0) else after.corner
    raw = _point(after.points[0])
    found = _crossing(one, other, raw)
    if found is not None and _near(found, raw, _FAR * tolerance + 1):
        return found
    for each in (before.fit, after.fit):
        if each is not None:
            return _foot(each, raw)
    return raw


def _near(one: Point, other: Point, reach: float) -> bool:
    return hypot(one[0] - other[0], one[1] - other[1]) <= reach


def _crossing(
    one: FittedLine | FittedCircle, other: FittedLine | FittedCircle, near: Point
) -> Point | None:
    """Return where two fits cross at an angle, or touch; None where they run into one another."""
    if isinstance(one, FittedLine) and isinstance(other, FittedLine):
        return lines_meet(
            _point(one.middle), _point(one.way), _point(other.middle), _point(other.way),
            least_sine=_TURN,
        )  # fmt: skip
    if isinstance(one, FittedCircle) and isinstance(other, FittedCircle):
        places = circles_meet(
            _point(one.centre), one.radius, _point(other.centre), other.radius
        ) or [_between(one, other)]
    else:
        line, circle = (one, other) if isinstance(one, FittedLine) else (other, one)
        assert isinstance(line, FittedLine)
        assert isinstance(circle, FittedCircle)
        foot = _point(line.middle + line.way * ((circle.centre - line.middle) @ line.way))
        off = hypot(foot[0] - circle.centre[0], foot[1] - circle.centre[1])
        places = line_and_circle(
            _point(line.middle), _point(line.way), _point(circle.centre), circle.radius
        )
        if off > circle.radius * (1 - _TURN**2 / 2):  # tangent, or nearly
            places = [foot]
    return min(places, key=lambda p: hypot(p[0] - near[0], p[1] - near[1]), default=None)


def _between(one: FittedCircle, other: FittedCircle) -> Point:
    """Return the middle of the gap between two circles that do not meet."""
    way = other.centre - one.centre
    apart = float(np.hypot(*way)) or 1.0
    return _point((one.centre + way / apart * one.radius
                   + other.centre - way / apart * other.radius) / 2)  # fmt: skip


def _foot(fit: FittedLine | FittedCircle, at: Point) -> Point:
    place = np.asarray(at)
    if isinstance(fit, FittedLine):
        return _point(fit.middle + fit.way * ((place - fit.middle) @ fit.way))
    out = place - fit.centre
    return _point(fit.centre + out / (np.hypot(*out) or 1.0) * fit.radius)


def _segments(stretch: _Stretch, start: Point, end: Point, tolerance: float) -> list[Segment]:
    part = stretch.points
    if isinstance(stretch.fit, FittedLine):
        return [Line(start, end)]
    if isinstance(stretch.fit, FittedCircle):
        arc = _arc(stretch.fit, part, start, end)
        if arc is not None and _off(arc, part[2:-2]) <= 1.5 * tolerance:
            return [arc]
    return _cubics(part, start, end, tolerance)


def _arc(circle: FittedCircle, part: Floats, start: Point, end: Point) -> Arc | None:
    """Return the arc between two places whose centre is nearest to the fitted one."""
    dx, dy = end[0] - start[0], end[1] - start[1]
    chord = hypot(dx, dy)
    if chord < _FEWEST:
        return None
    ux, uy = -dy / chord, dx / chord
    mx, my = (start[0] + end[0]) / 2, (start[1] + end[1]) / 2
    off = (circle.centre[0] - mx) * ux + (circle.centre[1] - my) * uy
    middle = part[len(part) // 2]
    side = dx * (middle[1] - start[1]) - dy * (middle[0] - start[0])
    centre = (float(mx + off * ux), float(my + off * uy))
    return Arc(start, end, centre, clockwise=bool(side > 0))


def _off(segment: Segment, part: Floats) -> float:
    """Return how far the furthest of some points is off a segment."""
    if len(part) == 0:
        return 0.0
    along = shapely.LineString([segment.point_at(t) for t in np.linspace(0, 1, 65)])
    return float(shapely.distance(along, shapely.points(part)).max())


def _cubics(part: Floats, start: Point, end: Point, tolerance: float) -> list[Segment]:
    """Return cubics along points: one, or more where one does not follow them."""
    inner = part[1:-1]
    if len(inner) < 2:
        return [Line(start, end)]
    controls, worst = fitted_cubic(inner, np.asarray(start), np.asarray(end))
    if worst <= tolerance or len(part) < 4 * _FEWEST:
        return [Cubic(start, _point(controls[1]), _point(controls[2]), end)]
    half = len(part) // 2
    middle = _point(part[half])
    return [
        *_cubics(part[: half + 1], start, middle, tolerance),
        *_cubics(part[half:], middle, end, tolerance),
    ]


def _by_chords(points: Floats, tolerance: float) -> Contour | None:
    """Return the ring by straight legs, where curves would cross one another."""
    simple = shapely.Polygon(points).simplify(tolerance)
    if simple.geom_type != "Polygon" or len(simple.exterior.coords) < 4 or not simple.is_valid:
        return None
    return Contour.polygon([(x, y) for x, y in simple.exterior.coords[:-1]])


def _point(place: Floats) -> Point:
    return (float(place[0]), float(place[1]))
