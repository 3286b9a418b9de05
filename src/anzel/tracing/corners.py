"""Corners of a contour that blurring has blunted: where two straight or bent sides meet."""

from dataclasses import dataclass
from math import atan2, hypot, pi, tan

import numpy as np

from anzel.geometry.intersections import lines_meet
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Floats
from anzel.tracing.primitives import fitted_line

_WINDOW = 6
"""So many points on either side tell the direction there."""
_LEAST_TURN = 0.42
"""A corner turns by at least this, radians: some 24°."""
_PIXEL_BLUR = 0.9
"""The blur of pixels and of a usual scan, pixels."""
_BLUNTED = 0.77
"""A square corner, blurred by σ, is blunted by so many σ along its middle [derived: the contour of
half darkness passes where Φ(a)² = 1/2, a = 0.545 σ on both sides, and 0.545 √2 = 0.77]."""
_SLACK = (1.2, 0.3)


@dataclass(frozen=True)
class FoundCorner:
    """A corner at the point of that number, and the place where its sides meet."""

    number: int
    place: Point


def margin(blunt: float) -> int:
    """Return how many points on either side of a corner are blunted."""
    return round(1.5 * blunt) + 1


def found_corners(points: Floats, blunt: float) -> list[FoundCorner]:
    """Return the corners of a ring of points a pixel apart, in order.

    A bend is no corner where the contour lies further inside the meeting of its sides than blurring
    can have moved it: there the outline itself is round.
    """
    count, near = len(points), margin(blunt)
    reach = near + _WINDOW
    if count < 3 * reach:
        return []
    turns = _turns(points, near)
    found: list[FoundCorner] = []
    order = np.argsort(-turns)
    taken = np.zeros(count, dtype=bool)
    for number in order:
        if turns[number] < _LEAST_TURN:
            break
        if taken[number]:
            continue
        place = _meeting(points, int(number), near, blunt)
        if place is None:
            continue
        taken[np.arange(number - reach, number + reach + 1) % count] = True
        found.append(FoundCorner(int(number), place))
    return sorted(found, key=lambda corner: corner.number)


def _turns(points: Floats, near: int) -> Floats:
    """Return how much the ring turns about each point, radians, by the chords on either side."""
    far = near + _WINDOW
    before = np.roll(points, near, axis=0) - np.roll(points, far, axis=0)
    after = np.roll(points, -far, axis=0) - np.roll(points, -near, axis=0)
    turn = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    return np.asarray(np.abs(np.arctan2(turn, (before * after).sum(axis=1))))


def _meeting(points: Floats, number: int, near: int, blunt: float) -> Point | None:
    """Return where the sides about a point meet, if that is a corner that blurring explains."""
    count = len(points)
    behind = points[np.arange(number - near - _WINDOW, number - near + 1) % count]
    ahead = points[np.arange(number + near, number + near + _WINDOW + 1) % count]
    one, other = fitted_line(behind), fitted_line(ahead)
    (ax, ay), (bx, by) = one.way, other.way
    turn = abs(atan2(ax * by - ay * bx, ax * bx + ay * by))
    place = lines_meet(
        (one.middle[0], one.middle[1]), (ax, ay), (other.middle[0], other.middle[1]), (bx, by)
    )
    if place is None or turn < _LEAST_TURN:
        return None
    around = points[np.arange(number - near, number + near + 1) % count]
    off = min(hypot(x - place[0], y - place[1]) for x, y in around)
    blur = hypot(blunt, _PIXEL_BLUR)
    most = _SLACK[0] * _BLUNTED * blur / tan((pi - turn) / 2) + _SLACK[1]
    return (float(place[0]), float(place[1])) if off <= most else None
