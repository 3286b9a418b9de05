"""Adjustment of a plate's edge to where its joint needs it, whatever the sheets measure.

A free plate is drawn by its maker; a tab's shoulder and a finger corner's end depend on the mating
sheet. The straight edge nearest to that place is moved there, and its neighbours are extended or
shortened. What cannot be moved is cut off, or left for the joint to report.
"""

from collections.abc import Sequence
from math import isfinite

from anzel.core.findings import ParameterError
from anzel.core.tolerances import COINCIDENT, SMALLEST, SQUARE
from anzel.geometry.booleans import combine
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Line, Segment
from anzel.structure.joints.cutting_shapes import away_from_body, strip
from anzel.structure.joints.tab_mortise import shoulder_distance
from anzel.structure.model import FitContext, Plate
from anzel.structure.plane_intersection import intersect_planes

_NEAR = 4.0
"""An edge is brought to its joint from no further than so many times half a crossing."""


def with_edge_at(region: Region, direction: Point, out: Point, level: float, most: float) -> Region:
    """Return the region with its outermost edge along `direction` at `level` mm along `out`.

    An edge further than `most` from there is left alone.
    """
    heights = [dot_2d(corner, out) for corner in region.outer.corners]
    top = max(heights)
    if abs(top - level) < COINCIDENT or abs(top - level) > most:
        return region
    moved = _moved(region.outer, direction, out, top, level)
    if moved is not None:
        made = Region.of(moved, region.holes)
        if made.shape.is_valid:
            return made
    return _cut_off(region, direction, out, top, level) if top > level else region


def dot_2d(a: Point, b: Point) -> float:
    """Return the scalar product in the plane."""
    return a[0] * b[0] + a[1] * b[1]


def _moved(
    contour: Contour, direction: Point, out: Point, top: float, level: float
) -> Contour | None:
    """Return the contour with its straight edges at the top moved to the level.

    None where one has no straight neighbours to slide along.
    """
    segments = list(contour.segments)
    edges = [
        index
        for index, segment in enumerate(segments)
        if isinstance(segment, Line) and _lies_at(segment, direction, out, top)
    ]
    if not edges:
        return None
    for index in edges:
        before, after = (index - 1) % len(segments), (index + 1) % len(segments)
        start = _slid(segments, before, segments[before].start, out, level)
        end = _slid(segments, after, segments[after].end, out, level)
        if start is None or end is None:
            return None
        segments[index] = Line(start, end)
        segments[before] = Line(segments[before].start, start)
        segments[after] = Line(end, segments[after].end)
    return Contour(tuple(segments))


def _slid(
    segments: Sequence[Segment], index: int, fixed: Point, out: Point, level: float
) -> Point | None:
    """Return where a straight neighbour, held at its far end, reaches the level."""
    side = segments[index]
    if not isinstance(side, Line):
        return None
    far = side.end if fixed == side.start else side.start
    rise, start = dot_2d(far, out) - dot_2d(fixed, out), dot_2d(fixed, out)
    if rise <= SMALLEST or level - start <= SMALLEST:
        return None
    share = (level - start) / rise
    return (fixed[0] + share * (far[0] - fixed[0]), fixed[1] + share * (far[1] - fixed[1]))


def _lies_at(line: Line, direction: Point, out: Point, top: float) -> bool:
    run = (line.end[0] - line.start[0], line.end[1] - line.start[1])
    slant = abs(dot_2d(run, out))
    return (
        slant <= SQUARE * abs(dot_2d(run, direction))
        and abs(dot_2d(line.start, out) - top) < SMALLEST
    )


def _cut_off(region: Region, direction: Point, out: Point, top: float, level: float) -> Region:
    across = [dot_2d(corner, direction) for corner in region.outer.corners]
    low, high = min(across) - 1, max(across) + 1
    middle, high_out = (low + high) / 2, top + 1
    foot = (middle * direction[0], middle * direction[1])
    parts = combine(region, cut=[strip(foot, out, level, high_out, high - low)])
    return parts[0] if parts else region


def brought_to(
    plate: Plate, mate: Plate, side: float, fit_context: FitContext, beyond: float = 0.0
) -> Region:
    """Return a plate's outline with its edge at the near (-1) or the far (1) face of its mate.

    It reaches `beyond` mm further than that face.

    It stays as it is where no edge is near, or both lie parallel, as the joint will say.
    """
    own, other = (fit_context.of(each.stock_id).measured_thickness for each in (plate, mate))
    try:
        intersection = intersect_planes(plate, mate)
    except ParameterError:
        return plate.region
    half = shoulder_distance(intersection.angle, own, other)
    if not isfinite(half):
        return plate.region
    origin, along = intersection.in_plate(plate)
    out = away_from_body(plate.region, origin, along)
    level = dot_2d(origin, out) + side * half + beyond
    return with_edge_at(plate.region, along, out, level, _NEAR * half + 2 * beyond)
