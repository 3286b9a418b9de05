"""The functions that the equations of a sketch are made of.

They are analytic, so that the complex step finds their derivatives; see `shape.equations`.
"""

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

Complex = NDArray[Any]
"""Coordinates as complex numbers, one row each; columns for equations and variables stepped."""
Residual = Callable[[Complex], Complex]


def itself(v: Complex) -> Complex:
    """Return the one variable."""
    found: Complex = v[0]
    return found


def difference(v: Complex) -> Complex:
    """Return by how much the second of two variables is greater."""
    found: Complex = v[1] - v[0]
    return found


def difference_of_middles(v: Complex) -> Complex:
    """Return how much greater the middle of two variables is than that of two others."""
    found: Complex = (v[0] + v[1] - v[2] - v[3]) / 2
    return found


def middle_along(v: Complex) -> Complex:
    """Return how far along a span (x, y, x, y) the middle of another one is from its middle."""
    x, y = (v[4] + v[6] - v[0] - v[2]) / 2, (v[5] + v[7] - v[1] - v[3]) / 2
    found: Complex = (x * (v[2] - v[0]) + y * (v[3] - v[1])) / distance(v[:4])
    return found


def difference_of_reach(v: Complex) -> Complex:
    """Return how much further from a centre (x, y) one point is than another."""
    return distance(v[[0, 1, 2, 3]]) - distance(v[[0, 1, 4, 5]])


def sine(v: Complex) -> Complex:
    """Return the sine of the angle from one span to another."""
    found: Complex = cross(v) / (distance(v[:4]) * distance(v[4:]))
    return found


def cosine(v: Complex) -> Complex:
    """Return the cosine of the angle from one span to another."""
    found: Complex = dot(v) / (distance(v[:4]) * distance(v[4:]))
    return found


def reach_across(v: Complex) -> Complex:
    """Return how far the second of two spans reaches square to the first."""
    found: Complex = cross(v) / distance(v[:4])
    return found


def reach_along(v: Complex) -> Complex:
    """Return how far the second of two spans reaches along the first."""
    found: Complex = dot(v) / distance(v[:4])
    return found


def distance(v: Complex) -> Complex:
    """Return the distance of two points (x, y, x, y)."""
    found: Complex = np.sqrt((v[2] - v[0]) ** 2 + (v[3] - v[1]) ** 2)
    return found


def cross(v: Complex) -> Complex:
    """Return the cross product of two spans (x, y, x, y, x, y, x, y)."""
    found: Complex = (v[2] - v[0]) * (v[7] - v[5]) - (v[3] - v[1]) * (v[6] - v[4])
    return found


def dot(v: Complex) -> Complex:
    """Return the dot product of two spans (x, y, x, y, x, y, x, y)."""
    found: Complex = (v[2] - v[0]) * (v[6] - v[4]) + (v[3] - v[1]) * (v[7] - v[5])
    return found


def turn(v: Complex) -> Complex:
    """Return the angle from one span to another, radians; its derivatives are those of atan2."""
    up, ahead = cross(v), dot(v)
    slope = (ahead.real * up.imag - up.real * ahead.imag) / (up.real**2 + ahead.real**2)
    found: Complex = np.arctan2(up.real, ahead.real) + 1j * slope
    return found


def left_of(v: Complex) -> Complex:
    """Return how far left of a line (x, y, x, y) a point (x, y) is."""
    area = (v[2] - v[0]) * (v[5] - v[1]) - (v[3] - v[1]) * (v[4] - v[0])
    found: Complex = area / distance(v)
    return found


def longest(v: Complex) -> float:
    """Return the length of the longer of two spans, at least 1: it turns sines into mm."""
    return max(abs(float(distance(v[:4]).real)), abs(float(distance(v[4:]).real)), 1.0)
