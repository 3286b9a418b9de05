"""The bare layout puzzle: shapes to lay in rooms. It knows nothing of pieces, stocks or files.

- *Shape*: a polygon (chords; it may have holes), how many of it, and how it may lie.
- *Room*: a sheet or a scrap, how many of it there are.
- *Spot*: one copy of a shape in one copy of a room.
- *Answer*: the spots, and the shapes for which no room was found.

Lengths are mm. A spot's (x, y) is the lower left corner of its shape's bounds as it lies there.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from anzel.geometry.rigid_transform import RigidTransform

Floats = NDArray[np.float64]

HANDLING = 0.1
"""Taking a further sheet costs as much as this share of the largest one's area, so that a few
sheets beat slightly less area on many. Common practice, no source."""
SCRAP_WORTH = 0.5
"""A scrap's area counts this much of a sheet's: it is there to be used up, but not for nothing."""


_NONE = 1e-6
"""Distances below this are none, mm."""
BOUGHT = 4.0
"""A sheet that has to be bought counts as so many: not while anything on the rack will do."""


@dataclass(frozen=True)
class Orientation:
    """One way for a shape to lie: turned counter-clockwise, degrees, after it was turned over."""

    turn: float = 0.0
    over: bool = False

    @property
    def motion(self) -> RigidTransform:
        """The turn about the origin."""
        return RigidTransform.rotation(self.turn, over=self.over)


@dataclass(frozen=True, eq=False)
class Item:
    """A polygon to lay `count` times, in one of the poses."""

    name: str
    polygon: shapely.Polygon
    count: int = 1
    orientations: tuple[Orientation, ...] = (Orientation(),)
    _oriented: dict[Orientation, shapely.Polygon] = field(default_factory=dict, repr=False)

    @cached_property
    def area(self) -> float:
        """Area of one copy, mm²."""
        return float(self.polygon.area)

    def oriented(self, pose: Orientation) -> shapely.Polygon:
        """The polygon as it lies, the lower left corner of its bounds at the origin."""
        if pose not in self._oriented:
            m = pose.motion
            flip = -1.0 if m.over else 1.0
            turn = np.array([[m.cosine * flip, m.sine * flip], [-m.sine, m.cosine]])
            turned = shapely.transform(self.polygon, lambda points: points @ turn)
            self._oriented[pose] = translated(turned, -turned.bounds[0], -turned.bounds[1])
        return self._oriented[pose]

    def size(self, pose: Orientation) -> tuple[float, float]:
        """(width, height) of the bounds as it lies."""
        _, _, width, height = self.oriented(pose).bounds
        return (width, height)


@dataclass(frozen=True, eq=False)
class Container:
    """A sheet or scrap; its bounds begin at the origin. `count` None: as many as are needed. One
    `to_buy` is taken only when nothing else is left."""

    name: str
    polygon: shapely.Polygon
    count: int | None = None
    is_scrap: bool = False
    to_buy: bool = False

    @classmethod
    def rectangle(
        cls, name: str, width: float, height: float, count: int | None = None, *,
        is_scrap: bool = False,
    ) -> "Container":  # fmt: skip
        """A whole sheet."""
        return cls(name, shapely.box(0.0, 0.0, width, height), count, is_scrap)

    @cached_property
    def area(self) -> float:
        """Area, mm²."""
        return float(self.polygon.area)

    @property
    def size(self) -> tuple[float, float]:
        """(width, height) of the bounds."""
        left, low, right, high = self.polygon.bounds
        return (right - left, high - low)

    @cached_property
    def is_rectangle(self) -> bool:
        """Whether the room fills its bounds."""
        width, height = self.size
        return abs(self.area - width * height) < 1e-6 * self.area


@dataclass(frozen=True)
class PlacedItem:
    """One copy of a shape (by its number) in the n-th copy of a room (by its number)."""

    item: int
    container: int
    copy_number: int
    orientation: Orientation
    x: float
    y: float


@dataclass(frozen=True)
class NestingProblem:
    """What is to be laid where: at least `spacing` apart, `margin` from a room's edge. The
    `fixed` spots stay as they are; their copies count."""

    items: tuple[Item, ...]
    containers: tuple[Container, ...]
    spacing: float
    margin: float
    fixed: tuple[PlacedItem, ...] = ()

    def polygon(self, spot: PlacedItem) -> shapely.Polygon:
        """The polygon at its spot."""
        return translated(self.items[spot.item].oriented(spot.orientation), spot.x, spot.y)

    @cached_property
    def inner(self) -> tuple[shapely.Geometry, ...]:
        """What is left of each room inside its margin; it may be empty, or in several parts."""
        return tuple(self._inside(room) for room in self.containers)

    def _inside(self, room: Container) -> shapely.Geometry:
        margin, (width, height) = self.margin, room.size
        if not room.is_rectangle:
            return (
                room.polygon.buffer(-margin, join_style="mitre") if margin > _NONE else room.polygon
            )
        if min(width, height) <= 2 * margin:
            return shapely.Polygon()
        return shapely.box(margin, margin, width - margin, height - margin)

    @cached_property
    def loose(self) -> tuple[int, ...]:
        """The number of the shape of every copy that is not fixed."""
        left = [shape.count for shape in self.items]
        for spot in self.fixed:
            left[spot.item] -= 1
        return tuple(number for number, count in enumerate(left) for _ in range(max(count, 0)))

    def only(self, loose: Sequence[int], rooms: Sequence[int]) -> "NestingProblem":
        """The same for some copies in one copy of some rooms, nothing fixed. Numbers stay."""
        counts = np.bincount(np.array(loose, dtype=int), minlength=len(self.items)).tolist()
        shapes = (replace(s, count=c) for s, c in zip(self.items, counts, strict=True))
        kept = (replace(r, count=int(i in rooms)) for i, r in enumerate(self.containers))
        return NestingProblem(tuple(shapes), tuple(kept), self.spacing, self.margin)


@dataclass(frozen=True)
class Solution:
    """Where everything lies, and the numbers of the shapes that lie nowhere, a copy each."""

    placed: tuple[PlacedItem, ...]
    left_out: tuple[int, ...] = ()

    @property
    def sheets(self) -> tuple[tuple[int, int], ...]:
        """(room, sheet) of every copy of a room that is used, in order."""
        return tuple(sorted({(spot.container, spot.copy_number) for spot in self.placed}))

    def on(self, room: int, sheet: int) -> tuple[PlacedItem, ...]:
        """The spots on one copy of a room."""
        return tuple(s for s in self.placed if (s.container, s.copy_number) == (room, sheet))


def cost_of(puzzle: NestingProblem, answer: Solution) -> tuple[float, float, float]:
    """What makes an answer worse, in order: area left out, sheets taken (by area and number), and
    the area that is taken up on them."""
    largest = max((room.area for room in puzzle.containers), default=0.0)
    taken = sum(HANDLING * largest + _worth(puzzle.containers[room]) for room, _ in answer.sheets)
    left_out = sum(puzzle.items[number].area for number in answer.left_out)
    return (left_out, taken, round(occupied_area(puzzle, answer), 3))


def _worth(room: Container) -> float:
    """What taking a sheet costs, as an area."""
    return room.area * (SCRAP_WORTH if room.is_scrap else BOUGHT if room.to_buy else 1.0)


def occupied_area(puzzle: NestingProblem, answer: Solution) -> float:
    """Area of the strip, along one side of each sheet used, that holds all that lies on it, mm²."""
    total = 0.0
    for room, sheet in answer.sheets:
        width, height = puzzle.containers[room].size
        reach = np.array(
            [
                (spot.x + w, spot.y + h)
                for spot in answer.on(room, sheet)
                for w, h in [puzzle.items[spot.item].size(spot.orientation)]
            ]
        ).max(axis=0)
        total += min(float(reach[0]) * height, width * float(reach[1]))
    return total


def density_of(puzzle: NestingProblem, answer: Solution) -> float:
    """Area of what is laid over the area taken up for it, 0 to 1."""
    laid = sum(puzzle.items[spot.item].area for spot in answer.placed)
    return laid / occupied_area(puzzle, answer) if answer.placed else 0.0


def translated(polygon: shapely.Polygon, dx: float, dy: float) -> shapely.Polygon:
    """A polygon shifted."""
    shift = np.array([dx, dy])
    return shapely.transform(polygon, lambda points: points + shift)
