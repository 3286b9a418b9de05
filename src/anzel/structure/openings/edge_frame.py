"""The frame of an edge: where it starts, which way it runs, and which way is into the plate."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import cos, hypot, radians, sin

from anzel.core.findings import ParameterError
from anzel.geometry.prepared import is_in
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point
from anzel.structure.openings.plate_opening import SIDES, OpeningRepeat, PlateOpening, Start

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
    if not is_in(body, *middle):
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


@dataclass(frozen=True)
class OpeningPlace:
    """How far along its edge and inwards the middle of an opening lies, mm, and its turn, °."""

    along: float
    inward: float
    turn: float = 0.0


def places_of(opening: PlateOpening, frame: EdgeFrame) -> list[OpeningPlace]:
    """Return where each of an opening's row, grid or ring lies.

    What is measured from a middle lies evenly about its place, what is measured from an edge or its
    end goes on away from it. A ring is about the middle of the plate.
    """
    columns = opening.count if opening.repeated is not OpeningRepeat.RING else 1
    rows = opening.rows if opening.repeated is OpeningRepeat.GRID else 1
    origin = {Start.START: 0.0, Start.MIDDLE: frame.length / 2, Start.END: frame.length}
    from_middle = opening.along_from is Start.MIDDLE
    sign = -1.0 if opening.along_from is Start.END else 1.0
    stations = [
        origin[opening.along_from] + sign * (opening.along + step)
        for step in _steps(columns, opening.pitch, about=from_middle)
    ]
    start = frame.across / 2 if opening.inward_from_middle else 0.0
    levels = [
        start + opening.inward + step
        for step in _steps(rows, opening.row_pitch, about=opening.inward_from_middle)
    ]
    if opening.repeated is OpeningRepeat.RING:
        return _ring(opening, frame, stations[0], levels[0])
    return [
        OpeningPlace(station, level, opening.turn) for level in levels for station in stations
    ]  # fmt: skip


def _steps(count: int, pitch: float, *, about: bool) -> list[float]:
    first = -(count - 1) * pitch / 2 if about else 0.0
    return [first + at * pitch for at in range(count)]


def _ring(
    opening: PlateOpening, frame: EdgeFrame, along: float, inward: float
) -> list[OpeningPlace]:
    x, y = along - frame.length / 2, inward - frame.across / 2
    places = []
    for at in range(opening.count):
        turn = 360.0 * at / opening.count
        c, s = cos(radians(turn)), sin(radians(turn))
        places.append(OpeningPlace(
            frame.length / 2 + x * c - y * s, frame.across / 2 + x * s + y * c, opening.turn + turn
        ))  # fmt: skip
    return places
