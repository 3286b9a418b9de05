"""The frame of an edge: where it starts, which way it runs, and which way is into the plate."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import hypot

import shapely

from anzel.core.findings import ParameterError
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point
from anzel.structure.openings.plate_opening import SIDES, PlateOpening, Start

Edges = Mapping[str, tuple[Point, Point]]
"""The edges of a plate that have names of their own, by name: start and end, mm."""


@dataclass(frozen=True)
class EdgeFrame:
    """An edge in the plate's coordinates; `across` is how far the plate reaches inwards, mm."""

    start: Point
    direction: Point
    inward: Point
    length: float
    across: float

    def at(self, along: float, inward: float = 0.0) -> Point:
        """Return the point at two distances."""
        (x, y), (dx, dy), (nx, ny) = self.start, self.direction, self.inward
        return (x + along * dx + inward * nx, y + along * dy + inward * ny)

    def distances_of(self, point: Point) -> tuple[float, float]:
        """Return how far along and inwards a point lies."""
        x, y = point[0] - self.start[0], point[1] - self.start[1]
        (dx, dy), (nx, ny) = self.direction, self.inward
        return (x * dx + y * dy, x * nx + y * ny)


def frame_of(region: Region, edge: str, edges: Edges, plate: str) -> EdgeFrame:
    """Return the frame of a plate's side, or of one of its own edges.

    Raises
    ------
    ParameterError
        Where the edge is gone.
    """
    if edge in SIDES:
        return _side(region, edge)
    ends = edges.get(edge)
    if ends is None or ends[0] == ends[1]:
        raise ParameterError(
            f"{plate} has no edge “{edge}” any more.",
            hint="Place it from another edge, or take it out.", field="edge",
        )  # fmt: skip
    (ax, ay), (bx, by) = ends
    length = hypot(bx - ax, by - ay)
    direction = ((bx - ax) / length, (by - ay) / length)
    inward = (-direction[1], direction[0])
    body = region.outer.polygon_shape
    middle = ((ax + bx) / 2 + 0.01 * inward[0], (ay + by) / 2 + 0.01 * inward[1])
    if not shapely.contains_xy(body, *middle):
        inward = (-inward[0], -inward[1])
    reach = max((x - ax) * inward[0] + (y - ay) * inward[1] for x, y in region.outer.vertices)
    return EdgeFrame((ax, ay), direction, inward, length, float(reach))


def _side(region: Region, side: str) -> EdgeFrame:
    left, low, right, high = region.outer.bounds
    width, height = right - left, high - low
    match side:
        case "bottom":
            return EdgeFrame((left, low), (1.0, 0.0), (0.0, 1.0), width, height)
        case "top":
            return EdgeFrame((left, high), (1.0, 0.0), (0.0, -1.0), width, height)
        case "left":
            return EdgeFrame((left, low), (0.0, 1.0), (1.0, 0.0), height, width)
    return EdgeFrame((right, low), (0.0, 1.0), (-1.0, 0.0), height, width)


def places_of(opening: PlateOpening, frame: EdgeFrame) -> list[tuple[float, float]]:
    """Return how far along and inwards the middle of each of an opening's row lies, mm.

    A row measured from the middle lies evenly about its place, one measured from an end goes on
    away from it.
    """
    row = range(opening.count)
    inward = opening.inward + (frame.across / 2 if opening.inward_from_middle else 0.0)
    match opening.along_from:
        case Start.START:
            stations = [opening.along + at * opening.pitch for at in row]
        case Start.END:
            stations = [frame.length - opening.along - at * opening.pitch for at in row]
        case Start.MIDDLE:
            first = frame.length / 2 + opening.along - (opening.count - 1) * opening.pitch / 2
            stations = [first + at * opening.pitch for at in row]
    return [(along, inward) for along in stations]
