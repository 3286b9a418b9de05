"""Segments mirrored or resized, their kind kept: a circle stays a circle."""

from collections.abc import Callable

from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment


def flipped(segment: Segment, height: float = 0.0) -> Segment:
    """Return the segment with y mirrored: y becomes `height` - y."""

    def at(point: Point) -> Point:
        return (point[0], height - point[1])

    return _mapped(segment, at, turns_over=True)


def scaled_segment(segment: Segment, factor: float, about: Point = (0.0, 0.0)) -> Segment:
    """Return a segment larger or smaller about a place; its kind stays."""

    def at(point: Point) -> Point:
        x, y = about
        return (x + (point[0] - x) * factor, y + (point[1] - y) * factor)

    return _mapped(segment, at, turns_over=False)


def _mapped(segment: Segment, at: Callable[[Point], Point], *, turns_over: bool) -> Segment:
    """Return a segment with its points moved; an arc runs the other way after turning over."""
    if isinstance(segment, Line):
        return Line(at(segment.start), at(segment.end))
    if isinstance(segment, Arc):
        start, end, centre = at(segment.start), at(segment.end), at(segment.centre)
        return Arc(start, end, centre, segment.clockwise != turns_over)
    return Cubic(*map(at, segment.controls))
