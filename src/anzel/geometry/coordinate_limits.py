"""Limits of coordinates and curves, checked before anything is computed from them.

NaN or a control point a thousand kilometres away makes geometry libraries fail without an
exception, or makes curves of millions of chords.
"""

from collections.abc import Iterable
from itertools import chain

import numpy as np

from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Line, Segment

FURTHEST = 1e6
"""Nothing that is cut is further from the origin, mm: a kilometre."""
MOST_CHORDS = 5_000_000
"""Chords of all curves of one file: more than any drawing has, and few enough to hold."""


def defining_points(segment: Segment) -> tuple[Point, ...]:
    """Return the points that define a segment: ends, an arc's centre, a cubic's control points."""
    if isinstance(segment, Line):
        return segment
    if isinstance(segment, Arc):
        return (segment.start, segment.end, segment.centre)
    return segment.controls


def limit_violation(segments: Iterable[Segment]) -> str:
    """Return in words why segments cannot be worked with; "" where they can."""
    all_of_them = list(segments)
    points = chain.from_iterable(map(defining_points, all_of_them))
    values = np.fromiter(chain.from_iterable(points), dtype=float)
    if values.size and not np.abs(values).max() < FURTHEST:
        return "coordinates that are no numbers, or more than a kilometre off"
    curves = (segment for segment in all_of_them if not isinstance(segment, Line))
    if sum(curve.chord_count() for curve in curves) > MOST_CHORDS:
        return "curves too large and too many to be worked with"
    return ""
