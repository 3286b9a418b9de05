"""Living hinges that a found drawing has: fields of parallel slits across a piece.

A drawing does not say how far its hinge is bent, so that is the maker's; the slits say where.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import atan2, cos, degrees, dist, radians, sin

import shapely

from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Line
from anzel.structure.artwork.folds import Fold
from anzel.structure.line_work import LineOperation, PlateLine
from anzel.structure.model import Plate

USUAL_ANGLE = 90.0
_FEWEST_ROWS, _FEWEST_SLITS = 4, 6
"""A hinge has at least so many (common practice, no source)."""
_APART = 8.0
"""Rows of one hinge are no further apart, mm (common practice, no source)."""
_ACROSS = 0.6
"""A row of slits goes over at least this share of its piece."""
_SLENDER = 4.0
"""A hole that is so many times as long as it is wide is a slit."""
_ONE_ROW = 0.25
"""Slits of one row lie on one line within this, mm."""
Slit = tuple[Point, Point]


@dataclass(frozen=True)
class DrawnHinge:
    """A field of slits: where its rows are along `heading` from the origin, mm, and its middle."""

    rows: tuple[float, ...]
    heading: Point
    middle: Point

    @property
    def developed(self) -> float:
        """How much of the sheet bends, mm."""
        return self.rows[-1] - self.rows[0]

    def inner_radius(self, angle: float, thickness: float) -> float:
        """Return the radius inside the bend, mm, for an angle in degrees: D / θ - t / 2."""
        return self.developed / radians(angle) - thickness / 2


def drawn_hinges(region: Region, lines: Sequence[PlateLine]) -> tuple[DrawnHinge, ...]:
    """Return the hinges of a piece, from the lines that are cut on it and its slender holes."""
    slits = list(_slits(region, lines))
    by_heading: dict[int, list[Slit]] = {}
    for slit in slits:
        by_heading.setdefault(round(_angle(slit)) % 180, []).append(slit)
    return tuple(
        hinge for heading, own in sorted(by_heading.items()) if len(own) >= _FEWEST_SLITS
        for hinge in _fields(own, heading, region)
    )  # fmt: skip


def folds_of(plate: Plate) -> list[Sequence[Fold]]:
    """Return the folds of the hinges that are drawn on a plate, by their angles; 0 is flat."""
    left, low, right, top = plate.region.outer.bounds
    centre = ((left + right) / 2, (low + top) / 2)
    groups: list[Sequence[Fold]] = []
    hinges = drawn_hinges(plate.region, plate.lines)
    for hinge, angle in zip(hinges, plate.bends, strict=False):
        if not angle:
            continue
        x, y = hinge.heading
        offset = centre[0] * x + centre[1] * y
        way = 1.0 if (hinge.rows[0] + hinge.rows[-1]) / 2 >= offset else -1.0
        links = list(pairwise(hinge.rows))[:: int(way)]
        turn = radians(angle) / len(links)
        groups.append([
            Fold(((a + b) / 2 * x, (a + b) / 2 * y), (way * x, way * y), turn) for a, b in links
        ])  # fmt: skip
    return groups


def _slits(region: Region, lines: Sequence[PlateLine]) -> Iterator[Slit]:
    for line in lines:
        first = line.path.segments[0]
        if (
            line.operation is LineOperation.CUT and len(line.path.segments) == 1
            and isinstance(first, Line)
        ):  # fmt: skip
            yield (first.start, first.end)
    for hole in region.holes:
        box = shapely.minimum_rotated_rectangle(hole.polygon_shape)
        corners = shapely.get_coordinates(box)[:3].tolist()  # two of a hole that is but a line
        sides = sorted((dist(*side), *side) for side in pairwise(corners))
        short = sides[0][0] if len(sides) > 1 else 0.0
        if sides and sides[-1][0] > _SLENDER * short:
            _, (ax, ay), (bx, by) = sides[-1]
            (mx, my) = hole.polygon_shape.centroid.coords[0]
            half = ((bx - ax) / 2, (by - ay) / 2)
            yield (mx - half[0], my - half[1]), (mx + half[0], my + half[1])


def _angle(slit: Slit) -> float:
    (ax, ay), (bx, by) = slit
    return degrees(atan2(by - ay, bx - ax))


def _fields(slits: Sequence[Slit], heading: int, region: Region) -> Iterator[DrawnHinge]:
    """Yield the hinges among parallel slits: rows close together, each across the piece."""
    along = (cos(radians(heading)), sin(radians(heading)))
    across = (-along[1], along[0])
    placed = sorted(
        (((a[0] + b[0]) * across[0] + (a[1] + b[1]) * across[1]) / 2, (a, b)) for a, b in slits
    )
    rows: list[tuple[float, list[Slit]]] = []
    for offset, slit in placed:
        if rows and offset - rows[-1][0] <= _ONE_ROW:
            rows[-1][1].append(slit)
        else:
            rows.append((offset, [slit]))
    fields: list[list[tuple[float, list[Slit]]]] = []
    for row in (row for row in rows if _goes_across(row, along, across, region)):
        if fields and row[0] - fields[-1][-1][0] <= _APART:
            fields[-1].append(row)
        else:
            fields.append([row])
    for field in fields:
        if len(field) >= _FEWEST_ROWS:
            points = [point for _, own in field for slit in own for point in slit]
            middle = (
                sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points)
            )  # fmt: skip
            yield DrawnHinge(tuple(offset for offset, _ in field), across, middle)


def _goes_across(
    row: tuple[float, list[Slit]], along: Point, across: Point, region: Region
) -> bool:
    """Whether slits of a row go over most of the piece where they are."""
    offset, slits = row
    start = (offset * across[0], offset * across[1])
    there = sum(high - low for low, high in Region.of(region.outer).spans(start, along))
    return bool(sum(shapely.LineString(slit).length for slit in slits) > _ACROSS * there)
