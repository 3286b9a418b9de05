"""Exact sections of solids by upright and level planes.

An upright plane is given by the angle φ of its normal from east and its distance d from the z axis.
The coordinates of a section are u, along the plane to the left of the normal, and z, up. All bodies
are centred on the z axis; sizes in mm.

Sphere of radius R cut at d: a circle of radius √(R² - d²) (any geometry text). Ellipsoid: an
ellipse, see `ellipsoid`. Bodies of revolution: u = ±√(r(z)² - d²) for the profile r(z).
"""

from collections.abc import Callable
from math import cos, hypot, pi, sin, sqrt

from anzel.core.tolerances import COINCIDENT, ROUNDING, VANISHING
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Line
from anzel.structure.forms.common_outlines import board, disc, ellipse, through

_POINTS = 48
"""Points on a curve that has no exact form here; its chords are shorter than a fortieth of it."""

Section = tuple[Region, ...]


def ellipsoid(a: float, b: float, c: float, turn: float, d: float) -> Section:
    """Return the section of an ellipsoid with half axes a (east), b (north), c (up).

    With s² = a² cos² φ + b² sin² φ the section's half axes are ab/s and c, both times √(1 - d²/s²);
    its middle is off by d (b² - a²) sin φ cos φ / s².

    Examples
    --------
    >>> (section,) = ellipsoid(38.1, 38.1, 38.1, 0.7, 19.05)
    >>> round(section.size[0], 3)
    65.991
    """
    s = hypot(a * cos(turn), b * sin(turn))
    if abs(d) >= s:
        return ()
    share = sqrt(1 - (d / s) ** 2)
    off = d * (b * b - a * a) * sin(turn) * cos(turn) / s**2
    return (Region.of(ellipse(a * b / s * share, c * share, (off, c))),)


def box(a: float, b: float, height: float, turn: float, d: float) -> Section:
    """Return the section of a box with half sides a (east) and b (north).

    A rectangle where the plane meets the ground plan.
    """
    nx, ny = cos(turn), sin(turn)
    ends = []
    for x, y, dx, dy, size in ((a, -b, 0, 1, 2 * b), (-a, -b, 0, 1, 2 * b),
                               (-a, b, 1, 0, 2 * a), (-a, -b, 1, 0, 2 * a)):  # fmt: skip
        slope = nx * dx + ny * dy
        if abs(slope) > VANISHING:
            t = (d - nx * x - ny * y) / slope
            if -ROUNDING <= t <= size + ROUNDING:
                ends.append(-ny * (x + t * dx) + nx * (y + t * dy))
    if len(ends) < 2 or max(ends) - min(ends) < ROUNDING:
        return ()
    return (board(min(ends), 0.0, max(ends), height),)


def egg_radius(radius: float, height: float, z: float) -> float:
    """Return the radius of an egg, blunt end down, at a height.

    An ellipse whose lower half is shorter than its upper.
    """
    middle = 0.42 * height
    t = (z - middle) / (height - middle if z > middle else middle)
    return radius * sqrt(max(1 - t * t, 0.0))


def revolved(profile: Callable[[float], float], height: float, d: float) -> Section:
    """Return the section of a body of revolution with a convex profile r(z), 0 ≤ z ≤ height."""
    low, high = _reached(profile, height, d)
    if high - low < ROUNDING:
        return ()
    zs = [low + (high - low) * (1 - cos(pi * i / _POINTS)) / 2 for i in range(_POINTS + 1)]
    right = [(sqrt(max(profile(z) ** 2 - d * d, 0.0)), z) for z in zs]
    left = [(-u, z) for u, z in reversed(right)]
    segments = through(right)
    if right[-1][0] > COINCIDENT:
        segments.append(Line(right[-1], left[0]))
    segments += through([right[-1], *left[1:]] if right[-1][0] <= COINCIDENT else left)
    start, end = segments[0].start, segments[-1].end
    if start != end:
        segments.append(Line(end, start))
    return (Region.of(Contour(tuple(segments))),)


def cone(radius: float, height: float, d: float) -> Section:
    """Return the section of a cone with its base on the table and its apex on the axis."""
    return revolved(lambda z: radius * (1 - z / height), height, d)


def egg(radius: float, height: float, d: float) -> Section:
    """Return the section of an egg, a body of revolution; see `egg_radius`."""
    return revolved(lambda z: egg_radius(radius, height, z), height, d)


def torus(radius: float, tube: float, d: float) -> Section:
    """Return the section of a torus that lies flat: a tube round a circle of `radius`.

    Two ovals, or one bean.
    """
    d = abs(d)
    if d >= radius + tube:
        return ()
    if d < radius - tube:
        ovals = []
        for sign in (1, -1):
            points = [_on_torus(radius, tube, d, 2 * pi * i / _POINTS, sign) for i in
                      range(_POINTS)]  # fmt: skip
            ovals.append(Region.of(Contour(tuple(through(points, closed=True)))))
        return tuple(ovals)
    widest = _last_angle(radius, tube, d)
    angles = [widest * (1 - 2 * i / _POINTS) for i in range(_POINTS + 1)]
    right = [_on_torus(radius, tube, d, angle, 1) for angle in reversed(angles)]
    left = [_on_torus(radius, tube, d, angle, -1) for angle in angles]
    return (Region.of(Contour(tuple(through([*right[:-1], *left[:-1]], closed=True)))),)


def level_ellipsoid(a: float, b: float, c: float, z: float) -> Section:
    """Return the level section of an ellipsoid.

    An ellipse with half axes a and b times √(1 - t²), t the height off the middle over c.
    """
    share = sqrt(max(1 - ((z - c) / c) ** 2, 0.0))
    return (Region.of(ellipse(a * share, b * share)),) if share > COINCIDENT else ()


def level_disc(radius: float) -> Section:
    """Return the level section of a body of revolution, a disc at every height."""
    return (disc(2 * radius),) if radius > COINCIDENT else ()


def level_torus(radius: float, tube: float, z: float) -> Section:
    """Return the level section of a torus.

    A ring between the two circles of the tube at this height.
    """
    half = sqrt(max(tube**2 - (z - tube) ** 2, 0.0))
    if half < COINCIDENT:
        return ()
    hole = Contour.circle((0.0, 0.0), radius - half)
    return (Region.of(disc(2 * (radius + half)).outer, (hole,)),)


def _on_torus(radius: float, tube: float, d: float, angle: float, sign: int) -> Point:
    rho = radius + tube * cos(angle)
    return (sign * sqrt(max(rho * rho - d * d, 0.0)), tube + tube * sin(angle))


def _last_angle(radius: float, tube: float, d: float) -> float:
    """Return the tube angle at which the section reaches its middle."""
    low, high = 0.0, pi
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if radius + tube * cos(middle) > d else (low, middle)
    return low


def _reached(profile: Callable[[float], float], height: float, d: float) -> tuple[float, float]:
    """Return the heights between which a convex profile is wider than a plane is off its axis."""
    d = abs(d)
    steps = [height * i / 400 for i in range(401)]
    widest = max(steps, key=profile)
    if profile(widest) <= d:
        return (0.0, 0.0)
    return (_border(profile, 0.0, widest, d), _border(profile, height, widest, d))


def _border(profile: Callable[[float], float], outside: float, inside: float, d: float) -> float:
    if profile(outside) >= d:
        return outside
    for _ in range(60):
        middle = (outside + inside) / 2
        outside, inside = (middle, inside) if profile(middle) < d else (outside, middle)
    return inside
