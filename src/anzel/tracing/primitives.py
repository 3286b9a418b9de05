"""Lines, circles and cubics fitted to points by least squares."""

from dataclasses import dataclass

import numpy as np

from anzel.geometry.segments import Floats

_REFINED = 4
"""How often the parameters of a cubic's points are set anew."""
_NEIGHBOURS = 3


@dataclass(frozen=True)
class FittedLine:
    """A line through `middle` along the unit vector `way`; `worst` is the furthest point's off."""

    middle: Floats
    way: Floats
    worst: float

    def off(self, points: Floats) -> Floats:
        """Return how far points are off the line, to its left."""
        beside = points - self.middle
        return np.asarray(beside[:, 1] * self.way[0] - beside[:, 0] * self.way[1])


@dataclass(frozen=True)
class FittedCircle:
    """A circle; `worst` is how far off the furthest point is."""

    centre: Floats
    radius: float
    worst: float

    def off(self, points: Floats) -> Floats:
        """Return how far points are outside the circle."""
        return np.asarray(np.hypot(*(points - self.centre).T) - self.radius)


def fitted_line(points: Floats) -> FittedLine:
    """Return the line of least squared distances: the first principal direction."""
    middle = points.mean(axis=0)
    beside = points - middle
    (xx, xy), (_, yy) = beside.T @ beside
    angle = 0.5 * np.arctan2(2 * xy, xx - yy)
    way = np.array([np.cos(angle), np.sin(angle)])
    if way @ (points[-1] - points[0]) < 0:
        way = -way
    off = beside[:, 0] * -way[1] + beside[:, 1] * way[0]
    return FittedLine(middle, way, worst_of(off))


def worst_of(off: Floats) -> float:
    """Return how far the furthest point is off, without the noise of single pixels.

    Of many points it is the mean of so many neighbours that counts.
    """
    if len(off) >= 2 * _NEIGHBOURS:
        off = np.convolve(off, np.full(_NEIGHBOURS, 1 / _NEIGHBOURS), mode="valid")
    return float(np.abs(off).max(initial=0.0))


def fitted_circle(points: Floats) -> FittedCircle | None:
    """Return the circle of least algebraic distances, improved by two geometric steps.

    The algebraic fit solves x² + y² = 2 a x + 2 b y + c, which is linear (Kåsa 1976, from memory);
    the steps are Gauss-Newton on the distances. None for points on a line.
    """
    middle = points.mean(axis=0)
    local = points - middle
    scale = float(np.abs(local).max()) or 1.0
    local = local / scale
    system = np.column_stack((2 * local, np.ones(len(local))))
    solution, _, rank, _ = np.linalg.lstsq(system, (local**2).sum(axis=1), rcond=1e-9)
    if rank < 3:
        return None
    centre, square = solution[:2], solution[2] + solution[:2] @ solution[:2]
    if square <= 0:
        return None
    radius = float(np.sqrt(square))
    for _ in range(2):
        out = local - centre
        apart = np.hypot(*out.T)
        if apart.min() < 1e-9:
            break
        jacobian = np.column_stack((-out / apart[:, None], -np.ones(len(local))))
        step = np.linalg.lstsq(jacobian, -(apart - radius), rcond=1e-9)[0]
        centre, radius = centre + step[:2], radius + float(step[2])
    off = np.hypot(*(local - centre).T) - radius
    return FittedCircle(middle + scale * centre, scale * radius, worst_of(off) * scale)


def fitted_cubic(points: Floats, start: Floats, end: Floats) -> tuple[Floats, float]:
    """Return the four control points of a cubic between two places, and the furthest point's off.

    The inner control points are those of least squares for parameters by chord length, which are
    then set to each point's nearest place by Newton's method, a few times.
    """
    chain = np.vstack((start, points, end))
    lengths = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(chain, axis=0).T))))
    t = lengths[1:-1] / max(lengths[-1], 1e-12)
    controls = _cubic_through(points, start, end, t)
    for _ in range(_REFINED):
        t = _nearest_parameters(controls, points, t)
        controls = _cubic_through(points, start, end, t)
    return controls, worst_of(np.hypot(*(cubic_at(controls, t) - points).T))


def _cubic_through(points: Floats, start: Floats, end: Floats, t: Floats) -> Floats:
    s = 1 - t
    one, two = 3 * s * s * t, 3 * s * t * t
    rest = points - np.outer(s**3, start) - np.outer(t**3, end)
    inner = np.linalg.lstsq(np.column_stack((one, two)), rest, rcond=1e-9)[0]
    return np.vstack((start, inner, end))


def cubic_at(controls: Floats, t: Floats) -> Floats:
    """Return the points of a cubic at parameters, (n, 2)."""
    s = 1 - t
    weights = np.column_stack((s**3, 3 * s * s * t, 3 * s * t * t, t**3))
    return np.asarray(weights @ controls)


def _nearest_parameters(controls: Floats, points: Floats, t: Floats) -> Floats:
    first = 3 * np.diff(controls, axis=0)
    second = 2 * np.diff(first, axis=0)
    s = 1 - t
    off = cubic_at(controls, t) - points
    slope = np.column_stack((s * s, 2 * s * t, t * t)) @ first
    bend = np.column_stack((s, t)) @ second
    over = (off * slope).sum(axis=1)
    under = (slope**2).sum(axis=1) + (off * bend).sum(axis=1)
    step = np.where(np.abs(under) > 1e-12, over / np.where(under == 0, 1, under), 0.0)
    return np.clip(t - step, 0.0, 1.0)
