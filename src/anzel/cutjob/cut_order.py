"""The order in which the lines of a sheet are cut, and where each begins.

Engraving comes first, then scoring, then slits, then inner cuts, then outer cuts. Nothing is cut
free before what lies inside it: a piece placed in another piece's hole comes before that hole.
Otherwise the nearest line is next (the nearest-neighbour rule).
"""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np
import shapely

from anzel.core.tolerances import COINCIDENT
from anzel.cutjob.cut_lines import CutLine
from anzel.cutjob.entry_points import with_entry_point
from anzel.cutjob.operations import Operation
from anzel.geometry.regions import Contour
from anzel.geometry.rigid_transform import Point

HOME: Point = (0.0, 0.0)
"""Where the head starts, the sheet's lower left corner."""


def in_cut_order(marks: Sequence[CutLine]) -> tuple[CutLine, ...]:
    """Return the lines in the order in which they are cut."""
    head, done = HOME, []
    for operation in (Operation.ENGRAVE, Operation.SCORE):
        own = [mark for mark in marks if mark.operation is operation]
        for mark in _by_piece(own, head):
            done.append(mark)
            head = mark.end
    for mark in _by_piece([m for m in marks if m.operation.cuts and m.contour is None], head):
        done.append(mark)  # slits, before anything is cut free
        head = mark.end
    return (*done, *_cuts([m for m in marks if m.operation.cuts and m.contour is not None], head))


def _by_piece(marks: list[CutLine], head: Point) -> list[CutLine]:
    """Return the lines piece by piece, the nearest piece next.

    The lines of one piece keep their order.
    """
    pieces: dict[str, list[CutLine]] = {}
    for mark in marks:
        pieces.setdefault(mark.owner, []).append(mark)
    groups = list(pieces.values())
    starts = np.array([group[0].start for group in groups]).reshape(-1, 2)
    left = np.ones(len(groups), dtype=bool)
    found: list[CutLine] = []
    for _ in groups:
        away = np.where(left, np.hypot(*(starts - head).T), np.inf)
        nearest = int(away.argmin())
        left[nearest] = False
        found += groups[nearest]
        head = groups[nearest][-1].end
    return found


def _cuts(marks: list[CutLine], head: Point) -> list[CutLine]:
    """Return cuts in order.

    The inside comes before the outside, inner before outer where both are free, the nearest next.
    """
    if not marks:
        return []
    contours = [mark.contour for mark in marks]
    polygons = [contour.polygon_shape for contour in contours if contour is not None]
    pairs = _pairs(polygons)
    waits = np.bincount(pairs[:, 1], minlength=len(polygons))  # how many lie inside each
    holders = _holders(pairs, len(polygons))
    boxes = shapely.bounds(polygons)
    is_outer = np.array([mark.operation is Operation.OUTER for mark in marks])
    left = np.ones(len(marks), dtype=bool)
    found = []
    for _ in marks:
        free = left & (waits == 0)
        first = free & ~is_outer
        choice = first if first.any() else free
        nearest = int(np.where(choice, _away(boxes, head), np.inf).argmin())
        left[nearest] = False
        waits[holders[nearest]] -= 1
        mark = marks[nearest]
        if isinstance(mark.line, Contour):
            mark = replace(mark, line=with_entry_point(mark.line, head))
        found.append(mark)
        head = mark.end
    return found


def _away(boxes: np.ndarray, head: Point) -> np.ndarray:
    """Return the distance from the head to the bounds of each outline, mm."""
    dx = np.maximum(np.maximum(boxes[:, 0] - head[0], head[0] - boxes[:, 2]), 0.0)
    dy = np.maximum(np.maximum(boxes[:, 1] - head[1], head[1] - boxes[:, 3]), 0.0)
    corner = np.hypot(boxes[:, 0] - head[0], boxes[:, 1] - head[1])
    return np.asarray(np.hypot(dx, dy) + COINCIDENT * corner)


def _pairs(polygons: list[shapely.Polygon]) -> np.ndarray:
    """Return (n, 2) (inside, outside) for every two outlines of which one lies in the other."""
    tree = shapely.STRtree(polygons)
    points = shapely.points([polygon.exterior.coords[0] for polygon in polygons])
    pairs = tree.query(points, predicate="within").T
    apart = pairs[pairs[:, 0] != pairs[:, 1]]
    areas = shapely.area(polygons)
    return np.asarray(apart[areas[apart[:, 0]] < areas[apart[:, 1]]])


def _holders(pairs: np.ndarray, count: int) -> list[np.ndarray]:
    """Return, for each outline, the outlines that it lies in."""
    order = np.argsort(pairs[:, 0], kind="stable")
    bounds = np.searchsorted(pairs[order, 0], np.arange(count + 1))
    return [pairs[order[a:b], 1] for a, b in pairwise(bounds)]
