"""The bare nesting problem: items to place in containers, without pieces, stocks or files.

- *Item*: a polygon (chords; it may have holes), its count, and its allowed orientations.
- *Container*: a sheet or a scrap, and how many of it there are.
- *Placed item*: one copy of an item in one copy of a container.
- *Solution*: the placed items, and the items that are left out.

Lengths are mm. The (x, y) of a placed item is the lower left corner of its bounds as it lies there.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from enum import Enum, auto
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from anzel.core.tolerances import COINCIDENT, NO_DISTANCE
from anzel.geometry.rigid_transform import RigidTransform

Floats = NDArray[np.float64]

HANDLING = 0.1
"""Taking a further sheet costs as much as this share of the largest one's area, so that a few
sheets beat slightly less area on many. Common practice, no source."""
SCRAP_WORTH = 0.5
"""A scrap's area counts this much of a sheet's: it is there to be used up, but not for nothing."""


BOUGHT = 4.0
"""A sheet that has to be bought counts as so many: not while anything on the rack will do."""


@dataclass(frozen=True)
class Orientation:
    """One orientation of an item: turned over or not, then turned counter-clockwise, degrees."""

    turn: float = 0.0
    over: bool = False

    @property
    def motion(self) -> RigidTransform:
        """The transform about the origin."""
        return RigidTransform.rotation(self.turn, over=self.over)


@dataclass(frozen=True, eq=False)
class Item:
    """A polygon to place `count` times, in one of its orientations."""

    name: str
    polygon: shapely.Polygon
    count: int = 1
    orientations: tuple[Orientation, ...] = (Orientation(),)
    _oriented: dict[Orientation, shapely.Polygon] = field(default_factory=dict, repr=False)

    @cached_property
    def area(self) -> float:
        """The area of one copy, mm²."""
        return float(self.polygon.area)

    def oriented(self, orientation: Orientation) -> shapely.Polygon:
        """Return the polygon in an orientation, the corner of its bounds at the origin."""
        if orientation not in self._oriented:
            m = orientation.motion
            flip = -1.0 if m.over else 1.0
            turn = np.array([[m.cosine * flip, m.sine * flip], [-m.sine, m.cosine]])
            turned = shapely.transform(self.polygon, lambda points: points @ turn)
            self._oriented[orientation] = translated(turned, -turned.bounds[0], -turned.bounds[1])
        return self._oriented[orientation]

    def size(self, orientation: Orientation) -> tuple[float, float]:
        """Return (width, height) of the bounds in an orientation."""
        _, _, width, height = self.oriented(orientation).bounds
        return (width, height)


class ContainerKind(Enum):
    """What a container is: a sheet on the rack, a scrap, or a sheet that has to be bought."""

    SHEET = auto()
    SCRAP = auto()
    TO_BUY = auto()


_WORTH = {
    ContainerKind.SHEET: 1.0, ContainerKind.SCRAP: SCRAP_WORTH, ContainerKind.TO_BUY: BOUGHT
}  # fmt: skip


@dataclass(frozen=True, eq=False)
class Container:
    """A sheet or scrap; its bounds begin at the origin.

    `count` None: as many as are needed. One to buy is used only when nothing else is
    left.
    """

    name: str
    polygon: shapely.Polygon
    count: int | None = None
    kind: ContainerKind = ContainerKind.SHEET

    @classmethod
    def rectangle(
        cls, name: str, width: float, height: float, count: int | None = None, *,
        kind: ContainerKind = ContainerKind.SHEET,
    ) -> "Container":  # fmt: skip
        """Return a rectangular container."""
        return cls(name, shapely.box(0.0, 0.0, width, height), count, kind)

    @cached_property
    def area(self) -> float:
        """The area, mm²."""
        return float(self.polygon.area)

    @property
    def size(self) -> tuple[float, float]:
        """(width, height) of the bounds."""
        left, low, right, high = self.polygon.bounds
        return (right - left, high - low)

    @cached_property
    def is_rectangle(self) -> bool:
        """Whether it fills its bounds."""
        width, height = self.size
        return abs(self.area - width * height) < COINCIDENT * self.area


@dataclass(frozen=True)
class PlacedItem:
    """One copy of an item (by its number) in the n-th copy of a container (by its number)."""

    item: int
    container: int
    copy_number: int
    orientation: Orientation
    x: float
    y: float


@dataclass(frozen=True)
class NestingProblem:
    """Items and containers: items at least `spacing` apart and `margin` from a container's edge.

    The `fixed` items stay as they are; their copies count.
    """

    items: tuple[Item, ...]
    containers: tuple[Container, ...]
    spacing: float
    margin: float
    fixed: tuple[PlacedItem, ...] = ()

    def polygon(self, placed_item: PlacedItem) -> shapely.Polygon:
        """Return the polygon of a placed item."""
        return translated(
            self.items[placed_item.item].oriented(placed_item.orientation),
            placed_item.x,
            placed_item.y,
        )

    @cached_property
    def inner(self) -> tuple[shapely.Geometry, ...]:
        """The inside of each container within its margin; it may be empty, or in several parts."""
        return tuple(self._inside(container) for container in self.containers)

    def _inside(self, container: Container) -> shapely.Geometry:
        margin, (width, height) = self.margin, container.size
        if not container.is_rectangle:
            return (
                container.polygon.buffer(-margin, join_style="mitre")
                if margin > NO_DISTANCE
                else container.polygon
            )
        if min(width, height) <= 2 * margin:
            return shapely.Polygon()
        return shapely.box(margin, margin, width - margin, height - margin)

    @cached_property
    def loose(self) -> tuple[int, ...]:
        """The item number of every copy that is not fixed."""
        left = [item.count for item in self.items]
        for placed_item in self.fixed:
            left[placed_item.item] -= 1
        return tuple(number for number, count in enumerate(left) for _ in range(max(count, 0)))

    def only(self, loose: Sequence[int], containers: Sequence[int]) -> "NestingProblem":
        """Return the same problem for some items in one copy of some containers, nothing fixed.

        Numbers stay.
        """
        counts = np.bincount(np.array(loose, dtype=int), minlength=len(self.items)).tolist()
        items = (replace(s, count=c) for s, c in zip(self.items, counts, strict=True))
        kept = (replace(r, count=int(i in containers)) for i, r in enumerate(self.containers))
        return NestingProblem(tuple(items), tuple(kept), self.spacing, self.margin)


@dataclass(frozen=True)
class Solution:
    """The placed items, and the numbers of the items left out, one for each copy."""

    placed: tuple[PlacedItem, ...]
    left_out: tuple[int, ...] = ()

    @property
    def sheets(self) -> tuple[tuple[int, int], ...]:
        """The (container, copy) of every used container, in order."""
        return tuple(
            sorted(
                {(placed_item.container, placed_item.copy_number) for placed_item in self.placed}
            )
        )

    def on(self, container: int, sheet: int) -> tuple[PlacedItem, ...]:
        """Return the items placed in one copy of a container."""
        return tuple(s for s in self.placed if (s.container, s.copy_number) == (container, sheet))


def cost_of(problem: NestingProblem, solution: Solution) -> tuple[float, float, float]:
    """Return what makes a solution worse, in order.

    Area left out, containers used (by area and number), and area occupied in them.
    """
    largest = max((container.area for container in problem.containers), default=0.0)
    taken = sum(
        HANDLING * largest + _worth(problem.containers[container])
        for container, _ in solution.sheets
    )
    left_out = sum(problem.items[number].area for number in solution.left_out)
    return (left_out, taken, round(occupied_area(problem, solution), 3))


def _worth(container: Container) -> float:
    """Return the cost of using a container, as an area."""
    return container.area * (_WORTH[container.kind])


def occupied_area(problem: NestingProblem, solution: Solution) -> float:
    """Return the occupied area of all used containers, mm².

    In each it is the strip along one side that holds all that lies in it.
    """
    total = 0.0
    for container, sheet in solution.sheets:
        width, height = problem.containers[container].size
        reach = np.array(
            [
                (placed_item.x + w, placed_item.y + h)
                for placed_item in solution.on(container, sheet)
                for w, h in [problem.items[placed_item.item].size(placed_item.orientation)]
            ]
        ).max(axis=0)
        total += min(float(reach[0]) * height, width * float(reach[1]))
    return total


def density_of(problem: NestingProblem, solution: Solution) -> float:
    """Return the area of the placed items over the area occupied for them, 0 to 1."""
    laid = sum(problem.items[placed_item.item].area for placed_item in solution.placed)
    return laid / occupied_area(problem, solution) if solution.placed else 0.0


def translated(polygon: shapely.Polygon, dx: float, dy: float) -> shapely.Polygon:
    """Return a translated polygon."""
    shift = np.array([dx, dy])
    return shapely.transform(polygon, lambda points: points + shift)
