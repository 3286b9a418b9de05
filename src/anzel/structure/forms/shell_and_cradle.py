"""Shells and cradles made of a body's sections.

A hole that another slice must pass is opened towards where that slice comes from. A cradle is
opened upwards wherever the body could not be laid in otherwise.
"""

from collections.abc import Iterable, Sequence
from itertools import combinations, pairwise
from math import hypot

import shapely
from shapely.geometry.polygon import orient

from anzel.core.findings import GeometryError
from anzel.core.tolerances import CHORD_GRID, CONVEX_AREA, SHELL_STRAIGHT, SMALLEST
from anzel.geometry.booleans import combine
from anzel.geometry.offset import offset
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.structure.forms.common_outlines import board

_CRUMB = 1.0
"""A part smaller than this, mm², is nothing."""


def hollowed(region: Region, wall: float, *, opened: bool) -> tuple[Region, ...]:
    """Return the region less its inside, a wall left all round.

    Or, `opened`, everywhere but downwards.
    """
    inside = _inside(region, wall)
    if opened:
        low = region.bounds[1] - 1.0
        inside = swept([Region.of(hole) for hole in inside], low)
    return _large(combine(region, cut=inside)) if inside else (region,)


def cradle(block: Region, sections: Sequence[Region]) -> tuple[Region, ...]:
    """Return the block less what a body fills, and less all above it."""
    cut = swept(sections, block.bounds[3] + 1.0)
    return _large(combine(block, cut=cut)) if cut else (block,)


def grown(region: Region, by: float) -> tuple[Region, ...]:
    """Return a region larger by `by` mm all round, without holes; itself for 0."""
    if by <= 0:
        return (region,)
    try:
        return (Region.of(offset(region.outer, by)),)
    except GeometryError:  # a free curve has no exact parallel
        larger = region.shape.buffer(by)
        return tuple(Region.of(_polygon(part.exterior)) for part in shapely.get_parts(larger))


def beyond(region: Region, least: float) -> tuple[Region, ...]:
    """Return the part of a region at x ≥ `least`."""
    left, low, right, high = region.bounds
    if left >= least:
        return (region,)
    return _large(
        combine(
            region, cut=[board(left - 1.0, low - 1.0, min(least, right + 1.0), high + 1.0).outer]
        )
    )


def swept(regions: Sequence[Region], to: float) -> list[Contour]:
    """Return what regions sweep on their way up (or down) until they are beyond y = `to`.

    Convex outlines apart from one another keep their curves and get straight sides; others are
    swept by their chords. What lies inside another does not count.
    """
    outlines = _outermost([region.outer for region in regions])
    shapes = [outline.polygon_shape for outline in outlines]
    apart = not any(a.intersects(b) for a, b in combinations(shapes, 2))
    if apart and all(map(_is_convex, outlines)):
        return [contour for outline in outlines for contour in _convex_swept(outline, to)]
    passed = [shape for outline in outlines for shape in _passed(outline, to)]
    whole = shapely.union_all(passed, grid_size=CHORD_GRID)
    return [_polygon(part.exterior) for part in shapely.get_parts(whole) if part.area > _CRUMB]


def _outermost(outlines: Sequence[Contour]) -> list[Contour]:
    large = sorted(outlines, key=lambda outline: -abs(outline.signed_area))
    kept: list[Contour] = []
    for outline in large:
        if not any(other.polygon_shape.covers(outline.polygon_shape) for other in kept):
            kept.append(outline)
    return kept


def _is_convex(outline: Contour) -> bool:
    shape = outline.polygon_shape
    return bool(shape.convex_hull.area - shape.area < CONVEX_AREA)


def _beyond(outline: Contour, to: float) -> float:
    _, lowest, _, highest = outline.bounds
    return max(to, highest + 1.0) if to > lowest else min(to, lowest - 1.0)


def _convex_swept(outline: Contour, to: float) -> list[Contour]:
    end = _beyond(outline, to)
    left, right = min(outline.corners), max(outline.corners, key=lambda c: (c[0], -c[1]))
    straight = Contour.polygon([left, right, (right[0], end), (left[0], end)])
    whole = combine(Region.of(outline), add=[straight])
    return [contour for part in whole for contour in part.contours]


def _passed(outline: Contour, to: float) -> list[shapely.Polygon]:
    """Return the outline, and the strip between each of its chords and the end of the way."""
    end = _beyond(outline, to)
    strips = [
        shapely.Polygon([a, b, (b[0], end), (a[0], end)])
        for a, b in pairwise([*outline.corners, outline.corners[0]])
        if abs(a[0] - b[0]) > CHORD_GRID
    ]
    return [outline.polygon_shape, *strips]


def _inside(region: Region, wall: float) -> list[Contour]:
    """Return the outlines of what is further than `wall` from every edge."""
    if not region.holes:
        try:
            return [offset(region.outer, -wall)]
        except GeometryError:
            pass  # a curve that has no exact parallel, or nothing is left
    inner = region.shape.buffer(-wall, join_style="mitre")
    return [_polygon(p.exterior) for p in shapely.get_parts(inner) if p.area > _CRUMB]


def _polygon(ring: shapely.LinearRing) -> Contour:
    """Return straight edges, none of them too short to cut."""
    points: list[Point] = []
    for x, y in orient(shapely.Polygon(ring)).simplify(SHELL_STRAIGHT).exterior.coords[:-1]:
        if not points or hypot(x - points[-1][0], y - points[-1][1]) > 2 * SMALLEST:
            points.append((float(x), float(y)))
    return Contour.polygon(points)


def _large(parts: Iterable[Region]) -> tuple[Region, ...]:
    return tuple(part for part in parts if part.area > _CRUMB)
