"""Where what lies on a plate lies, each time that it is repeated."""

from collections.abc import Iterator
from itertools import pairwise
from math import atan2, degrees, floor, hypot, radians

import numpy as np
import shapely

from anzel.core.findings import ParameterError
from anzel.geometry.regions import Region
from anzel.geometry.rigid_transform import Point, RigidTransform
from anzel.geometry.segments import Floats
from anzel.structure.artwork.records import MOST_REPEATED, OnPlate, Repeated
from anzel.structure.openings.edge_frame import EdgeFrame, Edges, frame_of

_CORNER = radians(30)
"""A border is parted where its outline turns by more."""


def middle_of(region: Region) -> Point:
    """Return the middle of an outline."""
    left, low, right, top = region.outer.bounds
    return ((left + right) / 2, (low + top) / 2)


def to_back(region: Region) -> RigidTransform:
    """Return what takes a place as seen from the back of a plate to one as seen with its front."""
    return RigidTransform(over=True).translated(2 * middle_of(region)[0], 0.0)


def motions_of(item: OnPlate, region: Region, edges: Edges) -> list[RigidTransform]:
    """Return where an item lies, each time that it is repeated.

    Raises
    ------
    ParameterError
        Where its edge is gone, or its border has no room.
    """
    middle = middle_of(region)
    turned = RigidTransform.rotation(item.turn)
    match item.repeated:
        case Repeated.RING:
            turns = [360.0 * at / item.count for at in range(item.count)]
            places = [RigidTransform.rotation(turn)((item.x, item.y)) for turn in turns]
            return [
                RigidTransform.rotation(item.turn + turn).translated(middle[0] + x, middle[1] + y)
                for turn, (x, y) in zip(turns, places, strict=True)
            ]
        case Repeated.EDGE:
            frame = frame_of(region, item.edge, edges, item.plate)
            return [_beside(item, *place) for place in _along(item, frame)]
        case Repeated.BORDER:
            return [_beside(item, *place) for place in _round(item, region)]
    columns = item.count if item.repeated is not Repeated.ONCE else 1
    rows = item.rows if item.repeated is Repeated.GRID else 1
    steps = [
        turned(((at - (columns - 1) / 2) * item.pitch, (row - (rows - 1) / 2) * item.row_pitch))
        for row in range(rows) for at in range(columns)
    ]  # fmt: skip
    return [turned.translated(middle[0] + item.x + dx, middle[1] + item.y + dy) for dx, dy in steps]


def _beside(item: OnPlate, at: Point, inward: Point) -> RigidTransform:
    """Return where an item stands with its foot to an edge, `inward` being its own way up."""
    turn = degrees(atan2(-inward[0], inward[1]))
    return RigidTransform.rotation(item.turn + turn).translated(*at)


def _along(item: OnPlate, frame: EdgeFrame) -> Iterator[tuple[Point, Point]]:
    first = frame.length / 2 - (item.count - 1) * item.pitch / 2
    for at in range(item.count):
        yield frame.at(first + at * item.pitch, item.inset), frame.inward


def _round(item: OnPlate, region: Region) -> Iterator[tuple[Point, Point]]:
    """Yield places and ways inwards along the outline, evenly between its corners."""
    inset = region.outer.polygon_shape.buffer(-item.inset, join_style="mitre")
    parts = [part for part in shapely.get_parts(inset) if part.length > item.pitch]
    if not parts:
        raise ParameterError(
            f"{item.plate} has no room for a border so far from its edge.",
            hint="Set it less far in, or nearer to one another.", field="inset",
        )  # fmt: skip
    largest = max(parts, key=lambda part: part.area)
    if largest.length / item.pitch > MOST_REPEATED:
        raise ParameterError(
            f"A border would take more than {MOST_REPEATED} of {item.id}.",
            hint="Set them further apart.", field="pitch",
        )  # fmt: skip
    ring = shapely.get_coordinates(largest.exterior.normalize())[::-1]  # counter-clockwise
    for run in _runs(ring):
        yield from _spread(run, item.pitch)


def _runs(ring: Floats) -> list[Floats]:
    """Return a closed ring of points (n, 2) parted at its corners; whole if it has none."""
    points = ring[:-1]
    steps = np.roll(points, -1, axis=0) - points
    heading = np.arctan2(steps[:, 1], steps[:, 0])
    turn = (heading - np.roll(heading, 1) + np.pi) % (2 * np.pi) - np.pi
    corners = np.flatnonzero(np.abs(turn) > _CORNER)
    if not corners.size:
        return [ring]
    points = np.roll(points, -corners[0], axis=0)
    stops = [*(corners - corners[0]), len(points)]
    closed = np.vstack([points, points[:1]])
    return [closed[a : b + 1] for a, b in pairwise(stops)]


def _spread(run: Floats, pitch: float) -> Iterator[tuple[Point, Point]]:
    lengths = np.hypot(*np.diff(run, axis=0).T)
    reach = np.concatenate([[0.0], np.cumsum(lengths)])
    count = floor(reach[-1] / pitch + 1e-9)
    for at in range(count):
        station = (at + 0.5) * reach[-1] / count
        chord = min(int(np.searchsorted(reach, station, side="right")) - 1, len(lengths) - 1)
        share = (station - reach[chord]) / lengths[chord]
        (ax, ay), (bx, by) = run[chord].tolist(), run[chord + 1].tolist()
        long = hypot(bx - ax, by - ay)
        yield (
            (ax + share * (bx - ax), ay + share * (by - ay)),
            (-(by - ay) / long, (bx - ax) / long),
        )
