"""Signs of our own for what words would say: mallet, glue, turn over, turn about, mind the grain.

Each is drawn in a square of 10 mm, in one ink.
"""

from math import cos, pi, radians, sin

import numpy as np
import shapely

from anzel.illustration.picture import Fill, Mark, Stroke

SIDE = 10.0
_WIDTH = 0.5


def mallet(ink: str) -> tuple[Mark, ...]:
    """Return a mallet over a short line: what must be driven in."""
    turn = shapely.affinity.rotate
    head = turn(shapely.box(2.9, 5.6, 7.5, 8.2), 35, origin=(5, 5))
    handle = turn(shapely.LineString([(5, 6.0), (5, 1.4)]), 35, origin=(5, 5))
    return (
        Stroke(handle, ink, 1.1), Fill(head.buffer(0.3), ink),
        Stroke(shapely.LineString([(0.6, 0.8), (3.2, 0.8)]), ink, _WIDTH),
    )  # fmt: skip


def glue(ink: str) -> tuple[Mark, ...]:
    """Return a drop over a line."""
    turn = np.linspace(0.0, 2 * pi, 49)
    # a round drop whose top is drawn out to a point
    width = np.sin(turn) * np.sin(turn / 2) ** 1.4 * 3.0
    drop = shapely.Polygon(np.stack([5 + width, 5.6 + 3.6 * np.cos(turn)], axis=1))
    line = shapely.LineString([(1.6, 0.9), (8.4, 0.9)])
    return (Fill(drop, ink), Stroke(line, ink, 2 * _WIDTH))


def turn_over(ink: str) -> tuple[Mark, ...]:
    """Return an arrow over a slab, from one side to the other: upside down now."""
    slab = shapely.box(1.4, 0.4, 8.6, 2.0)
    return (
        *_round_arrow((4.7, 4.3), 3.3, 200.0, 10.0, 1.0, ink),
        Fill(slab.buffer(0.2), ink),
    )


def turn_about(ink: str) -> tuple[Mark, ...]:
    """Return an arrow round an upright axis: seen from another side now."""
    return (
        *_round_arrow((5.0, 3.6), 4.0, 160.0, 380.0, 0.45, ink),
        Stroke(shapely.LineString([(5, 3.4), (5, 9.4)]), ink, _WIDTH),
    )


def grain(ink: str) -> tuple[Mark, ...]:
    """Return lines as wood has them: they must run as drawn."""
    x = np.linspace(0.8, 9.2, 33)
    lines = [
        shapely.LineString(np.stack([x, y + 0.5 * np.sin(x / 8.4 * 2 * pi + y)], axis=1))
        for y in (2.2, 4.1, 6.0, 7.9)
    ]
    return (Stroke(shapely.multilinestrings(lines), ink, _WIDTH),)


def _round_arrow(
    middle: tuple[float, float], radius: float, start: float, end: float, flat: float, ink: str
) -> tuple[Mark, ...]:  # fmt: skip
    """Return an arc with an arrow head at its end; degrees, `flat` presses it together."""
    angles = np.radians(np.linspace(start, end, 33))
    x = middle[0] + radius * np.cos(angles)
    y = middle[1] + radius * flat * np.sin(angles)
    sign = 1.0 if end > start else -1.0
    last = radians(end)
    way = np.array([-sin(last) * sign, cos(last) * sign * flat])
    way /= np.hypot(*way)
    return (
        Stroke(shapely.LineString(np.stack([x, y], axis=1)), ink, 2 * _WIDTH),
        Fill(arrow_head((float(x[-1]), float(y[-1])), (float(way[0]), float(way[1])), 2.6), ink),
    )


def arrow_head(
    at: tuple[float, float], way: tuple[float, float], size: float
) -> shapely.Polygon:  # fmt: skip
    """Return the head of an arrow that points along a unit direction, its tip ahead of a place."""
    (x, y), (u, v) = at, way
    return shapely.Polygon(
        [
            (x + u * size, y + v * size),
            (x - v * size * 0.6, y + u * size * 0.6),
            (x + v * size * 0.6, y - u * size * 0.6),
        ]
    )
