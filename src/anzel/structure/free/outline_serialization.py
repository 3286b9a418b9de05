"""Outlines in a project's record: plain lists of numbers that lose no digit.

A contour is `[[x, y], …]`: its start, then a list for each segment. Two numbers are a line to that
point; five an arc to (x, y) about (cx, cy), the last 1 counter-clockwise or -1 clockwise; six a
cubic curve: both control points, then its end. The last segment ends where the first starts.
"""

from math import isfinite
from typing import Annotated, Any

from pydantic import BeforeValidator, PlainSerializer, WithJsonSchema

from anzel.core.findings import GeometryError
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import Point
from anzel.geometry.segments import Arc, Cubic, Line, Segment

Record = list[list[float]]
_MOST_EDGES = 20_000
_LARGEST = 1e5
"""No coordinate is further out, mm."""


def contour_record(contour: Contour) -> Record:
    """Return a contour as lists of numbers."""
    return [list(contour.segments[0].start), *map(_segment_record, contour.segments)]


def contour_of(record: Any) -> Contour:  # noqa: ANN401
    """Return a contour from lists of numbers.

    Raises
    ------
    ValueError
        For an invalid record.
    """
    if not isinstance(record, list | tuple) or len(record) > _MOST_EDGES:
        raise ValueError(f"an outline is no list of edges, or has more than {_MOST_EDGES}")
    rows = [[float(number) for number in row] for row in record]
    if len(rows) < 2 or len(rows[0]) != 2:
        raise ValueError("an outline needs a start and segments")
    if not all(isfinite(n) and abs(n) <= _LARGEST for row in rows for n in row):
        raise ValueError("an outline has a coordinate that is out of reason")
    at: Point = (rows[0][0], rows[0][1])
    segments = []
    for row in rows[1:]:
        segments.append(_segment_of(at, row))
        at = segments[-1].end
    try:
        return Contour(tuple(segments))
    except GeometryError as error:
        raise ValueError(error.message) from error


def region_record(region: Region) -> dict[str, Any]:
    """Return a region as lists of numbers."""
    return {
        "outer": contour_record(region.outer),
        "holes": [contour_record(hole) for hole in region.holes],
    }


def region_of(record: Any) -> Region:  # noqa: ANN401
    """Return a region from its record.

    Raises
    ------
    ValueError
        For an invalid record.
    """
    if isinstance(record, Region):
        region = record
    elif isinstance(record, dict) and "outer" in record:
        holes = list(map(contour_of, record.get("holes", [])))
        region = Region.of(contour_of(record["outer"]), holes)
    else:
        raise ValueError("an outline is missing")
    if not all(abs(side) <= _LARGEST for side in region.bounds):
        raise ValueError(f"an outline is further than {_LARGEST:g} mm off")
    if not region.shape.is_valid or region.area <= 0:
        raise ValueError("crosses itself")
    return region


def _segment_record(segment: Segment) -> list[float]:
    if isinstance(segment, Arc):
        return [*segment.end, *segment.centre, -1.0 if segment.clockwise else 1.0]
    if isinstance(segment, Cubic):
        return [*segment.control1, *segment.control2, *segment.end]
    return list(segment.end)


def _segment_of(at: Point, row: list[float]) -> Segment:
    match row:
        case [x, y]:
            return Line(at, (x, y))
        case [x, y, cx, cy, turn]:
            return Arc(at, (x, y), (cx, cy), clockwise=turn < 0)
        case [x1, y1, x2, y2, x, y]:
            return Cubic(at, (x1, y1), (x2, y2), (x, y))
    raise ValueError("a segment has two, five or six numbers")


_CONTOUR = {"type": "array", "items": {"type": "array", "items": {"type": "number"}}}
AnyRegion = Annotated[
    Region,
    BeforeValidator(region_of),
    PlainSerializer(region_record),
    WithJsonSchema(
        {
            "type": "object",
            "properties": {"outer": _CONTOUR, "holes": {"type": "array", "items": _CONTOUR}},
            "required": ["outer"],
        }
    ),
]
"""A region that knows its record."""
