"""Bottom-left fill: items one after the other, each in the first clear place.

Places are searched on a grid of cells on which every item counts a little too large, so a place
found there is always free. Then the item slides, exactly, as far down and to the left as it can.
Holes and odd outlines need no special treatment: they are just cells.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import count
from math import floor

import numpy as np
import shapely

from anzel.core.tolerances import ROUNDING, SLIDING
from anzel.geometry.prepared import prepared
from anzel.nesting.compaction import Obstacles
from anzel.nesting.problem import (
    ContainerKind,
    NestingProblem,
    PlacedItem,
    Solution,
    translated,
)
from anzel.nesting.raster import (
    BLOCK,
    Cells,
    PaddedGrid,
    Spectrum,
    block_steps,
    full_blocks,
)
from anzel.nesting.raster_grids import INSCRIBED, ROUND, RasterGrids, RasterItem
from anzel.nesting.validation import slid_too_near

_FEW = 4
"""On a sheet with fewer placed items than this nearly everything fits."""
_PATIENCE = 24
"""A container that has refused so many different items, one after the other, is asked ever less
often, so that the time for many pieces grows like n log n."""
_BEYOND = 3
"""Blocks by which a patch may stand over the frame of blocks, before it would wrap round."""


_FIRST = (ContainerKind.SCRAP, ContainerKind.SHEET, ContainerKind.TO_BUY)
"""Kinds of container in the order in which they are filled."""


@dataclass(frozen=True)
class FillStrategy:
    """The order of items and the preferred places on a sheet.

    `across` fills a sheet from its lower edge up instead of from the left; `by_start` takes the
    place that begins first, not the one that ends first; `largest_first` opens large containers
    first; without `slides` items stay where the grid has them.
    """

    order: str = "area"
    across: bool = False
    by_start: bool = False
    largest_first: bool = False
    slides: bool = True

    def ordered(self, problem: NestingProblem) -> list[int]:
        """Return the items that are not fixed, one for each copy, in the order of laying them."""

        def rank(number: int) -> tuple[float, int]:
            item = problem.items[number]
            width, height = item.size(item.orientations[0])
            by = {
                "area": item.area, "length": max(width, height), "box": width * height,
                "reach": width + height,
            }  # fmt: skip
            return (-by[self.order], number)

        return sorted(problem.loose, key=rank)


@dataclass
class _OpenContainer:
    """One copy of a container that is being filled."""

    container: int
    number: int
    occupied: Cells
    frame: PaddedGrid
    corner: tuple[float, float]
    far: tuple[float, float]
    obstacles: Obstacles
    free_area: float
    inside: shapely.Geometry | None
    placed: list[PlacedItem] = field(default_factory=list)
    polygons: list[shapely.Polygon] = field(default_factory=list)
    refused: set[int] = field(default_factory=set)
    in_a_row: int = 0
    rests: int = 0
    spectrum: Spectrum | None = None
    coarse: Spectrum | None = None


def fill(
    problem: NestingProblem,
    strategy: FillStrategy,
    grids: RasterGrids | None = None,
    order: Sequence[int] | None = None,
) -> Solution:
    """Return all items placed by one strategy, in a given `order` if there is one."""
    return _Filling(problem, strategy, grids or RasterGrids(problem)).run(order)


class _Filling:
    def __init__(self, problem: NestingProblem, strategy: FillStrategy, grids: RasterGrids) -> None:
        self.problem, self.strategy, self.grids = problem, strategy, grids
        self.sheets: list[_OpenContainer] = []
        for placed_item in problem.fixed:
            self._put(self._sheet(placed_item.container, placed_item.copy_number), placed_item)

    def run(self, order: Sequence[int] | None) -> Solution:
        """Place every loose item, and return where."""
        loose = self.strategy.ordered(self.problem) if order is None else order
        left_out, hopeless = [], set()
        for item in loose:
            if item in hopeless or not self._lay(item):
                hopeless.add(item)
                left_out.append(item)
        placed_items = [placed_item for sheet in self.sheets for placed_item in sheet.placed]
        return Solution(tuple(placed_items), tuple(left_out))

    def _lay(self, item: int) -> bool:
        passed: list[_OpenContainer] = []
        for sheet in self.sheets:
            if self._is_passed(sheet, item):
                passed.append(sheet)
            elif self._try(sheet, item):
                return True
        for container in self._rooms_to_open():
            fresh = self._sheet(container, self._next_number(container), keep=False)
            if fresh and self._try(fresh, item):
                self.sheets.append(fresh)
                return True
        return any(self._try(sheet, item) for sheet in passed)

    @staticmethod
    def _is_passed(sheet: _OpenContainer, item: int) -> bool:
        """Return whether a container that has refused a lot is passed by; it counts the times."""
        if sheet.rests and item not in sheet.refused:
            sheet.rests -= 1
            return True
        return False

    def _rooms_to_open(self) -> list[int]:
        """Return the containers with copies left.

        Scraps first, then sheets by size, last what is to be bought.
        """
        containers = self.problem.containers
        used = Counter(sheet.container for sheet in self.sheets)
        left = [
            index
            for index, container in enumerate(containers)
            if container.count is None or used[index] < container.count
        ]
        sign = -1 if self.strategy.largest_first else 1

        def rank(index: int) -> tuple[int, float, int]:
            container = containers[index]
            return (_FIRST.index(container.kind), sign * container.area, index)

        return sorted(left, key=rank)

    def _next_number(self, container: int) -> int:
        taken = {sheet.number for sheet in self.sheets if sheet.container == container}
        return next(number for number in count() if number not in taken)

    def _sheet(self, container: int, number: int, *, keep: bool = True) -> _OpenContainer:
        """Return the copy of that number, opened if it is not there."""
        for sheet in self.sheets:
            if (sheet.container, sheet.number) == (container, number):
                return sheet
        inner = self.problem.inner[container]
        left, low, right, high = inner.bounds if not inner.is_empty else (0.0, 0.0, -1.0, -1.0)
        occupied = (
            self.grids.blocked(container).copy() if not inner.is_empty else np.ones((1, 1), bool)
        )
        made = _OpenContainer(
            container, number, occupied, PaddedGrid(*occupied.shape), (left, low), (right, high),
            Obstacles(), inner.area, self._odd_inside(container),
        )  # fmt: skip
        made.obstacles.add(inner)
        if keep:
            self.sheets.append(made)
        return made

    def _odd_inside(self, container: int) -> shapely.Geometry | None:
        """Return what a slid item must stay in where bounds alone do not tell; None otherwise."""
        if self.problem.containers[container].is_rectangle:
            return None
        return prepared(self.problem.inner[container].buffer(SLIDING))

    def _try(self, sheet: _OpenContainer, item: int) -> bool:
        """Place an item in a container if it fits, and return whether.

        What once did not fit never will, because containers only fill up.
        """
        if item in sheet.refused:
            return False
        found = self._place(sheet, item)
        if found is None:
            sheet.refused.add(item)
            sheet.in_a_row += 1
            if sheet.in_a_row > _PATIENCE:
                sheet.rests = 1 << (sheet.in_a_row - _PATIENCE)
            return False
        sheet.in_a_row = sheet.rests = 0
        self._put(sheet, self._slid(sheet, found) if self.strategy.slides else found)
        return True

    def _place(self, sheet: _OpenContainer, item: int) -> PlacedItem | None:
        """Return the best clear place for an item."""
        if self.problem.items[item].area > sheet.free_area:
            return None
        best: tuple[float, float] | None = None
        placed_item = None
        cell = self.grids.cell
        for number, patch in enumerate(self.grids.patches(item)):
            container = [far - near for far, near in zip(sheet.far, sheet.corner, strict=True)]
            steps = [
                floor((r - s) / cell + ROUNDING) + 1
                for r, s in zip(container, patch.size, strict=True)
            ]
            if min(steps) < 1 or not self._may_fit(sheet, item, number, (steps[1], steps[0])):
                continue
            clear = self._clear(sheet, item, number, (steps[1], steps[0]))
            key = self._best(clear, patch)
            if key is not None and (best is None or key[0] < best):
                best, (row, column) = key
                x, y = sheet.corner[0] + column * cell, sheet.corner[1] + row * cell
                placed_item = PlacedItem(
                    item, sheet.container, sheet.number, patch.orientation, x, y
                )
        return placed_item

    def _clear(
        self, sheet: _OpenContainer, item: int, number: int, steps: tuple[int, int]
    ) -> Cells:  # fmt: skip
        """Return the cells at which an item may lie: all those of an empty rectangle."""
        if not sheet.placed and self.problem.containers[sheet.container].is_rectangle:
            return np.ones(steps, dtype=bool)
        if sheet.spectrum is None:
            sheet.spectrum = sheet.frame.spectrum(sheet.occupied)
        own = self.grids.spectrum(item, number, sheet.frame)
        return sheet.frame.clear(sheet.spectrum, own, steps)

    def _may_fit(
        self, sheet: _OpenContainer, item: int, number: int, steps: tuple[int, int]
    ) -> bool:  # fmt: skip
        """Return whether an item may have a place, decided by blocks at a small part of the cost.

        An item that covers a full block has none.
        """
        if len(sheet.placed) < _FEW:
            return True
        rows, columns = sheet.occupied.shape
        frame = PaddedGrid(rows // BLOCK + _BEYOND, columns // BLOCK + _BEYOND)
        if sheet.coarse is None:
            sheet.coarse = frame.spectrum(full_blocks(sheet.occupied))
        own = self.grids.spectrum(item, number, frame, coarse=True)
        return bool(frame.clear(sheet.coarse, own, block_steps(steps)).any())

    def _best(
        self, clear: Cells, patch: RasterItem
    ) -> tuple[tuple[float, float], tuple[int, int]] | None:
        """Return the rank and (row, column) of the best clear place."""
        lines = clear if self.strategy.across else clear.T
        some = lines.any(axis=1)
        if not some.any():
            return None
        line = int(some.argmax())
        along = int(lines[line].argmax())
        main, other = (1, 0) if self.strategy.across else (0, 1)
        start, beside = line * self.grids.cell, along * self.grids.cell
        ends = start + (0.0 if self.strategy.by_start else patch.size[main])
        row, column = (line, along) if self.strategy.across else (along, line)
        return (ends, beside + patch.size[other]), (row, column)

    def _slid(self, sheet: _OpenContainer, placed_item: PlacedItem) -> PlacedItem:
        """Return the item slid as far down and to the left as it goes.

        The direction of filling comes first.
        """
        x, y = placed_item.x, placed_item.y
        axes = (1, 0, 1, 0) if self.strategy.across else (0, 1, 0, 1)
        for axis in axes:
            here = translated(
                self.problem.items[placed_item.item].oriented(placed_item.orientation), x, y
            )
            most = (x - sheet.corner[0], y - sheet.corner[1])[axis]
            run = sheet.obstacles.free_distance(here, axis, most) if most > 0 else 0.0
            x, y = (x - run, y) if axis == 0 else (x, y - run)
        slid = replace(placed_item, x=x, y=y)
        here = self.problem.polygon(slid)
        inside = sheet.inside is None or sheet.inside.covers(here)
        is_near = slid_too_near(here, sheet.polygons, self.problem.spacing)
        return slid if inside and not is_near else placed_item

    def _put(self, sheet: _OpenContainer, placed_item: PlacedItem) -> None:
        polygon = self.problem.polygon(placed_item)
        local = translated(polygon, -sheet.corner[0], -sheet.corner[1])
        sheet.occupied |= self.grids.cells(local, *sheet.occupied.shape)
        sheet.spectrum = sheet.coarse = None
        grown = polygon.buffer(self.problem.spacing * INSCRIBED, quad_segs=ROUND)
        sheet.obstacles.add(grown if self.problem.spacing else polygon)
        sheet.free_area -= self.problem.items[placed_item.item].area
        sheet.placed.append(placed_item)
        sheet.polygons.append(polygon)
