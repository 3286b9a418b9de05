"""Find slots and mortises in drawn outlines, and measure them on the produced pieces.

- *slot*: three straight edges of an outer outline, wall, floor, wall, at right angles and turning
  inwards;
- *mortise*: a hole of four straight edges at right angles.

Both must be about as wide as a sheet of the given thickness; anything else is a window or a step.
No name in the file is trusted for this: only its outlines.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise
from math import hypot

import shapely

from anzel.core.tolerances import PRODUCED_SQUARE
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Line
from anzel.simulation.simulated_cutter import ProducedPiece
from anzel.structure.joints.cutting_shapes import along
from anzel.structure.model import FeatureKind

_PLAUSIBLE = (0.3, 4.0)
"""Openings for a sheet are this many times as wide as it is thick."""
_FAR = 1000.0


@dataclass(frozen=True)
class DrawnOpening:
    """A slot or mortise as drawn: its middle, the direction across its width, both sizes, mm."""

    kind: FeatureKind
    at: Point
    across: Point
    width: float
    depth: float


@dataclass(frozen=True)
class ProducedOpening:
    """The same opening as produced: its width, and its clearance to the sheet that goes in, mm."""

    kind: FeatureKind
    width: float
    clearance: float


def openings_of(region: Region, thickness: float) -> tuple[DrawnOpening, ...]:
    """Return the openings of a drawn region for sheets of a thickness."""
    found = [
        *_slots(region.outer),
        *(m for hole in region.holes for m in _mortise(hole, thickness)),
    ]
    low, high = (factor * thickness for factor in _PLAUSIBLE)
    plausible = (opening for opening in found if low < opening.width < high)
    return tuple(sorted(plausible, key=lambda opening: opening.at))


def produced_openings(piece: ProducedPiece) -> tuple[ProducedOpening, ...]:
    """Return the openings of a produced piece, against the sheet as it is there."""
    found = []
    for opening in openings_of(piece.drawn.region, piece.thickness):
        width = width_at(piece.shape, opening.at, opening.across)
        thickness = piece.sheet.thickness_at(*opening.at)
        found.append(ProducedOpening(opening.kind, width, width - thickness))
    return tuple(found)


def width_at(shape: shapely.Polygon, at: Point, across: Point) -> float:
    """Return the width of the opening round a point, along a direction, mm."""
    sides = []
    for sign in (1.0, -1.0):
        ray = shapely.LineString([at, along(at, across, sign * _FAR)])
        met = ray.intersection(shape)
        sides.append(_FAR if met.is_empty else met.distance(shapely.Point(at)))
    return sides[0] + sides[1]


def _slots(contour: Contour) -> Iterable[DrawnOpening]:
    segments = contour.segments
    count = len(segments)
    if count < 3:
        return
    for index in range(count):
        wall, floor, other = (segments[(index + step) % count] for step in range(3))
        if not (isinstance(wall, Line) and isinstance(floor, Line) and isinstance(other, Line)):
            continue
        if _turn(wall, floor) < -1 + PRODUCED_SQUARE and _turn(floor, other) < -1 + PRODUCED_SQUARE:
            depth = min(wall.length, other.length)
            middle, across = floor.point_at(0.5), _direction(floor)
            out = _direction(other)
            at = along(middle, out, depth / 2)
            yield DrawnOpening(FeatureKind.SLOT, at, across, floor.length, depth)


def _mortise(hole: Contour, thickness: float) -> Iterable[DrawnOpening]:
    sides = [segment for segment in hole.segments if isinstance(segment, Line)]
    if len(sides) != 4 or len(hole.segments) != 4:
        return
    if any(abs(_turn(a, b)) < 1 - PRODUCED_SQUARE for a, b in pairwise([*sides, sides[0]])):
        return
    first, second = sides[0], sides[1]
    nearer = min((first, second), key=lambda side: abs(side.length - thickness))
    other = second if nearer is first else first
    at = (
        sum(side.start[0] for side in sides) / 4,
        sum(side.start[1] for side in sides) / 4,
    )
    yield DrawnOpening(FeatureKind.MORTISE, at, _direction(nearer), nearer.length, other.length)


def _turn(before: Line, after: Line) -> float:
    """Return the sine of the turn between two edges; 1 is square to the left."""
    (ax, ay), (bx, by) = _direction(before), _direction(after)
    return ax * by - ay * bx


def _direction(line: Line) -> Point:
    dx, dy = line.end[0] - line.start[0], line.end[1] - line.start[1]
    size = hypot(dx, dy)
    return (dx / size, dy / size)
