"""Containment: which loop is the outline of a piece and which is a hole in it.

Every loop is turned so that material is on its left.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from anzel.core.tolerances import SMALLEST
from anzel.drawings.loops import Loop
from anzel.geometry.regions import Contour, Indices, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Floats, Line, Segment

Flags = NDArray[np.bool_]

_FRAME = 0.98
"""A rectangle is a sheet's border if it is as large as all that is drawn, to this share."""
_FEWEST = 3
_SHARE = 0.04
"""...and what lies in it looks like pieces: holes in them, or this share of its area each."""


@dataclass(frozen=True)
class NestedLoops:
    """All closed loops of a drawing, turned so that material is on their left.

    `piece_number` (n,) numbers the piece of each loop, -1 for the border of a sheet; `is_hole`
    (n,); `is_line` (n,), of those that run along themselves and enclose nothing.
    """

    loops: tuple[Loop, ...]
    piece_number: Indices
    is_hole: Flags
    is_line: Flags
    has_border: bool = False

    @property
    def pieces(self) -> int:
        """The number of pieces."""
        return int(self.piece_number.max(initial=-1)) + 1

    def regions(self, loops: Sequence[Sequence[Segment]]) -> list[Region]:
        """Return each piece with its holes, given the edges of every loop."""
        outlines: dict[int, Contour] = {}
        holes: dict[int, list[Contour]] = {}
        for number, segments in enumerate(loops):
            piece = int(self.piece_number[number])
            if piece < 0 or not segments:
                continue
            if self.is_hole[number]:
                holes.setdefault(piece, []).append(Contour(tuple(segments)))
            else:
                outlines[piece] = Contour(tuple(segments))
        return [Region.of(outlines[piece], holes.get(piece, [])) for piece in sorted(outlines)]


def contained_regions(contours: Sequence[Contour]) -> list[Region]:
    """Return outlines with the holes that lie directly in them, largest first.

    An outline in a hole is a region of its own.
    """
    by_size = sorted(contours, key=lambda contour: -abs(contour.signed_area))
    loops = [Loop(contour.segments, ()) for contour in by_size]
    return nest_loops(loops, borders=False).regions([loop.segments for loop in loops])


def nest_loops(loops: Sequence[Loop], *, borders: bool = True) -> NestedLoops:
    """Return the loops sorted into outlines and holes by how many others enclose each.

    With `borders`, a rectangle round everything counts as the edge of a sheet.
    """
    if not loops:
        nothing = np.zeros(0, dtype=np.int64)
        return NestedLoops((), nothing, nothing.astype(bool), nothing.astype(bool))
    corners = [chord_points(loop.segments) for loop in loops]
    counts = [len(each) for each in corners]
    points = np.array([point for each in corners for point in each])
    rings = shapely.linearrings(points, indices=np.repeat(np.arange(len(loops)), counts))
    shapes = shapely.polygons(rings)
    areas = shapely.area(shapes)
    depth, parent = _depths(shapes, points[np.cumsum([0, *counts[:-1]])], areas)
    border = _border(shapes, areas, depth, parent) if borders else None
    if border is not None:
        depth = depth - 1
    is_hole = depth % 2 == 1
    piece = _numbered(is_hole & (depth > 0), parent, border)
    left = shapely.is_ccw(rings)
    turned = tuple(
        loop if bool(on_left) != bool(hole) else loop.reversed()
        for loop, on_left, hole in zip(loops, left, is_hole, strict=True)
    )
    return NestedLoops(turned, piece, is_hole, without_area(shapes), border is not None)


def without_area(shapes: Floats) -> Flags:
    """Return (n,) whether polygons are lines there and back, nowhere wider than SMALLEST.

    One that crosses itself is none, even if its halves cancel each other's area.
    """
    widest = SMALLEST * shapely.length(shapes) / 2
    is_line: Flags = shapely.area(shapes) <= widest
    for number in np.flatnonzero(is_line):
        enclosed = shapely.polygonize([shapely.node(shapely.get_exterior_ring(shapes[number]))])
        is_line[number] = shapely.area(enclosed) <= widest[number]
    return is_line


def chord_points(segments: Sequence[Segment]) -> list[Point]:
    """Return the corners of a loop with its curves replaced by chords; at least three."""
    points = [segment.start for segment in segments if type(segment) is Line]
    if len(points) == len(segments) and len(points) >= _FEWEST:
        return points
    points = []
    for segment in segments:
        points.append(segment.start)
        if not isinstance(segment, Line):
            count = max(segment.chord_count(), 2)
            points += (segment.point_at(step / count) for step in range(1, count))
    if len(points) < _FEWEST:
        points += [segments[0].point_at(0.5)] * (_FEWEST - len(points))
    return points


def _depths(shapes: Floats, first: Floats, areas: Floats) -> tuple[Indices, Indices]:
    """Return (n,) how many loops enclose each loop, and (n,) the smallest of those, -1 for none."""
    tree = shapely.STRtree(shapely.points(first))
    around, inner = tree.query(shapes, predicate="contains")
    other = around != inner
    around, inner = around[other], inner[other]
    larger = areas[around] > areas[inner]
    around, inner = around[larger], inner[larger]
    depth = np.bincount(inner, minlength=len(areas))
    parent = np.full(len(areas), -1)
    largest_first = np.argsort(-areas[around], kind="stable")
    parent[inner[largest_first]] = around[largest_first]
    return depth, parent


def _border(shapes: Floats, areas: Floats, depth: Indices, parent: Indices) -> int | None:
    """Return the loop that is no piece but the sheet's edge drawn round all pieces.

    None where there is none.
    """
    outermost = np.flatnonzero(depth == 0)
    if len(outermost) != 1 or len(areas) < 3:
        return None
    only = int(outermost[0])
    if shapely.get_num_coordinates(shapes[only]) != 5:
        return None
    left, low, right, high = shapely.bounds(shapes[only])
    if areas[only] < _FRAME * (right - left) * (high - low):
        return None
    inside = np.flatnonzero(parent == only)
    has_holes = np.isin(inside, parent)
    sizeable = areas[inside] > _SHARE * areas[only]
    looks = has_holes | sizeable & (shapely.get_num_coordinates(shapes[inside]) > 9)
    return only if len(inside) >= 2 and looks.mean() > 0.5 else None


def _numbered(is_hole: Flags, parent: Indices, border: int | None) -> Indices:
    """Return (n,) the piece number of each loop; outlines are numbered in drawing order."""
    piece = np.full(len(parent), -1)
    outlines = np.flatnonzero(~is_hole)
    outlines = outlines[outlines != border] if border is not None else outlines
    piece[outlines] = np.arange(len(outlines))
    holes = np.flatnonzero(is_hole)
    piece[holes] = piece[parent[holes]]
    return piece
