"""Entry points: where the cutter enters an outline.

An entry is in a corner, or where a straight edge begins, and on a curve only if there is no other
place, because the mark of the entry shows least there.
"""

from math import hypot

from anzel.geometry.regions import Contour
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Line
from anzel.geometry.tool_path import end_tangent, start_tangent

_CORNER = 0.15
"""Sine of the turn, from which a vertex counts as a corner: about 9°."""
_DETOUR = 25.0
"""A corner may be this much farther off than the start of a straight edge, mm."""


def with_entry_point(contour: Contour, near: Point) -> Contour:
    """Return the outline started from its best entry point.

    Among equal ones, the nearest to a point.
    """
    segments = contour.segments
    if len(segments) == 1:
        return contour
    ranked = []
    for index, segment in enumerate(segments):
        before = segments[index - 1]
        x, y = segment.start
        away = hypot(x - near[0], y - near[1])
        (ax, ay), (bx, by) = end_tangent(before), start_tangent(segment)
        if abs(ax * by - ay * bx) > _CORNER or ax * bx + ay * by < 0:
            ranked.append((away, index))
        elif isinstance(before, Line) or isinstance(segment, Line):
            ranked.append((away + _DETOUR, index))
        else:
            ranked.append((away + 1e6, index))
    _, first = min(ranked)
    return Contour((*segments[first:], *segments[:first])) if first else contour
