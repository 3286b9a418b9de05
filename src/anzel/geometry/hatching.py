"""Hatching: the strokes that engrave an area."""

from collections.abc import Sequence
from math import ceil, floor

import numpy as np
import shapely

from anzel.core.tolerances import SMALLEST
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import Contour
from anzel.geometry.segments import Line


def hatched(outlines: Sequence[Contour], spacing: float) -> list[OpenPath]:
    """Return level strokes, `spacing` mm apart, over all that an odd number of outlines enclose.

    They run to and fro, so that the cutter's way from one to the next is short. Their ends lie on
    the chords of the outlines.
    """
    area: shapely.Geometry = shapely.Polygon()
    for outline in outlines:
        area = area.symmetric_difference(shapely.make_valid(outline.polygon_shape))
    if area.is_empty:
        return []
    left, low, right, top = area.bounds
    first, last = ceil(low / spacing - 0.5), floor(top / spacing - 0.5)
    levels = (np.arange(first, last + 1) + 0.5) * spacing
    if first > last:  # it is lower than the spacing, and lies between two levels
        levels = np.array([(low + top) / 2])
    scans = shapely.linestrings([[(left - 1, y), (right + 1, y)] for y in levels])
    strokes: list[OpenPath] = []
    for number, run in enumerate(shapely.intersection(scans, area)):
        ends = [
            sorted((part.coords[0], part.coords[-1])) for part in shapely.get_parts(run)
            if part.geom_type == "LineString" and part.length >= SMALLEST
        ]  # fmt: skip
        ends.sort()
        if number % 2:
            ends = [[b, a] for a, b in reversed(ends)]
        strokes += [OpenPath((Line(a, b),)) for a, b in ends]
    return strokes
