"""Validation of a nesting solution with shapely, independent of the solvers."""

from collections.abc import Sequence
from dataclasses import dataclass

import shapely

from anzel.core.tolerances import CHORD_SLACK, OVERLAP_AREA, OVERLAP_DEPTH, SLIDING
from anzel.nesting.problem import NestingProblem, PlacedItem, Solution


@dataclass(frozen=True)
class Clash:
    """Two placed items too near to each other, by `by` mm.

    With `other` None, one is too near to the container's edge.
    """

    placed: PlacedItem
    other: PlacedItem | None
    by: float


def clashes(problem: NestingProblem, solution: Solution) -> tuple[Clash, ...]:
    """Return everything that overlaps, is too near, or crosses an edge.

    Nothing for a valid solution.
    """
    found: list[Clash] = []
    for container, sheet in solution.sheets:
        placed_items = solution.on(container, sheet)
        polygons = [problem.polygon(placed_item) for placed_item in placed_items]
        for placed_item, polygon in zip(placed_items, polygons, strict=True):
            over = _over(problem, container, polygon)
            if over > CHORD_SLACK:
                found.append(Clash(placed_item, None, over))
        found += _near(problem.spacing, placed_items, polygons)
    return tuple(found)


def miscounted(problem: NestingProblem, solution: Solution) -> bool:
    """Return whether an item is missing or placed twice, or too many containers are used."""
    laid = sorted([*(placed_item.item for placed_item in solution.placed), *solution.left_out])
    wanted = sorted(n for n, item in enumerate(problem.items) for _ in range(item.count))
    used = [container for container, _ in solution.sheets]
    short = any(
        r.count is not None and used.count(i) > r.count for i, r in enumerate(problem.containers)
    )
    return laid != wanted or short


def _over(problem: NestingProblem, container: int, polygon: shapely.Polygon) -> float:
    """Return how far a polygon reaches over the inside of its container."""
    inner = problem.inner[container]
    if inner.covers(polygon):
        return 0.0
    outside = polygon.difference(inner)
    return (
        float(shapely.hausdorff_distance(outside, inner))
        if inner.is_empty
        else max(
            (shapely.Point(p).distance(inner) for p in shapely.get_coordinates(outside)),
            default=0.0,
        )
    )


def _near(
    spacing: float, placed_items: tuple[PlacedItem, ...], polygons: list[shapely.Polygon]
) -> list[Clash]:
    if len(polygons) < 2:
        return []
    tree = shapely.STRtree(polygons)
    grown = [shapely.box(*polygon.buffer(spacing).bounds) for polygon in polygons]
    pairs = {tuple(sorted(pair)) for pair in tree.query(grown).T.tolist()}
    found = []
    for a, b in sorted(pair for pair in pairs if pair[0] != pair[1]):
        apart = polygons[a].distance(polygons[b])
        by = spacing - apart
        if apart == 0.0:
            by += depth(polygons[a], polygons[b])
        if by > CHORD_SLACK:
            found.append(Clash(placed_items[a], placed_items[b], by))
    return found


def slid_too_near(
    polygon: shapely.Polygon, others: Sequence[shapely.Polygon], spacing: float
) -> bool:
    """Return whether a slid polygon is too near to others: a check on sliding, which rounds."""
    if spacing > SLIDING:
        return bool(shapely.dwithin(polygon, others, spacing - SLIDING).any())
    return any(depth(polygon, other) > SLIDING for other in others)


def depth(a: shapely.Polygon, b: shapely.Polygon) -> float:
    """Return the depth by which two polygons overlap: half the overlap's greatest width."""
    shared = a.intersection(b)
    if shared.area < OVERLAP_AREA:
        return 0.0
    depths = (
        2 * float(shapely.maximum_inscribed_circle(part, tolerance=OVERLAP_DEPTH).length)
        for part in shapely.get_parts(shared)
        if part.geom_type == "Polygon" and part.area >= OVERLAP_AREA
    )
    return max(depths, default=0.0)
