"""Bottom-left fill: items one after the other, each in the first clear place.

Places are searched on a grid of cells on which every item counts a little too large, so a place
found there is always free. Then the item slides, exactly, as far down and to the left as it can.
Holes and odd outlines need no special treatment: they are just cells.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import count
from math import ceil, floor, sqrt

import numpy as np
import shapely

from anzel.core.tolerances import ROUNDING, SLIDING
from anzel.nesting.compaction import Obstacles
from anzel.nesting.problem import (
    ContainerKind,
    NestingProblem,
    Orientation,
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
    cells_of,
    full_blocks,
    surely_covered_blocks,
)
from anzel.nesting.validation import depth

_CELLS_ACROSS = 420
"""Cells along the longest side of the largest container: fine enough, and its transforms take a
millisecond or two."""
_FINEST, _COARSEST = 0.5, 4.0
_MOST_ACROSS = 4000
"""Cells along a container, however large: a grid of more takes gigabytes."""
_FEW = 4
"""On a sheet with fewer placed items than this nearly everything fits."""
_BEYOND = 3
"""Blocks by which a patch may stand over the frame of blocks, before it would wrap round."""
_MOST_SPECTRA = 600
"""Transforms kept: each takes up to a megabyte."""
_ROUND = 8
"""Chords to a quarter turn of a grown corner."""
_INSCRIBED = 1.005
"""Such chords stay this much inside the true round."""


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


@dataclass(frozen=True)
class _RasterItem:
    """An item in one orientation as cells, and the blocks of cells that it surely covers."""

    orientation: Orientation
    cells: Cells
    blocks: Cells
    size: tuple[float, float]


class RasterGrids:
    """Cells of items and containers, the same for every strategy."""

    def __init__(self, problem: NestingProblem, cell: float | None = None) -> None:
        self.problem = problem
        longest = max((max(container.size) for container in problem.containers), default=1.0)
        usual = min(max(longest / _CELLS_ACROSS, _FINEST), _COARSEST)
        self.cell = cell or max(usual, longest / _MOST_ACROSS)
        self.grown = (problem.spacing / 2 + self.cell * sqrt(0.5)) * _INSCRIBED
        self._patches: dict[int, tuple[_RasterItem, ...]] = {}
        self._spectra: dict[tuple[int, int, PaddedGrid, bool], Spectrum] = {}
        self._blocked: dict[int, Cells] = {}

    def patches(self, item: int) -> tuple[_RasterItem, ...]:
        """Return an item in each of its orientations."""
        if item not in self._patches:
            self._patches[item] = tuple(
                self._patch(item, orientation)
                for orientation in self.problem.items[item].orientations
            )
        return self._patches[item]

    def spectrum(
        self, item: int, number: int, frame: PaddedGrid, *, coarse: bool = False
    ) -> Spectrum:
        """Return the transform of an item in a container's grid.

        With `coarse`, of its surely covered blocks.
        """
        key = (item, number, frame, coarse)
        if key not in self._spectra:
            if len(self._spectra) > _MOST_SPECTRA:
                self._spectra.clear()
            patch = self._patches[item][number]
            self._spectra[key] = frame.spectrum(patch.blocks if coarse else patch.cells)
        return self._spectra[key]

    def cells(self, polygon: shapely.Geometry, rows: int, columns: int) -> Cells:
        """Return the cells of a container's grid that a grown polygon covers."""
        grown = polygon.buffer(self.grown, quad_segs=_ROUND)
        at = translated(grown, self.edge * self.cell, self.edge * self.cell)
        return cells_of(at, self.cell, (rows, columns))

    @property
    def edge(self) -> int:
        """The number of cells outside a container's inside that a grown item may cover."""
        return ceil(self.grown / self.cell)

    def blocked(self, container: int) -> Cells:
        """Return the cells of an empty container that nothing may cover; the grid has this size."""
        if container not in self._blocked:
            self._blocked[container] = self._block(container)
        return self._blocked[container]

    def _block(self, container: int) -> Cells:
        inner = self.problem.inner[container]
        left, low, right, high = inner.bounds
        columns, rows = self._cells_along(right - left), self._cells_along(high - low)
        if self.problem.containers[container].is_rectangle:
            return np.zeros((rows, columns), dtype=bool)
        # patches are grown by half the spacing, which here is lost; but to give it back would lose
        # what stands out of an edge and is narrower than the spacing
        free = inner.buffer(-self.cell * sqrt(0.5) * _INSCRIBED, quad_segs=_ROUND)
        shift = self.edge * self.cell
        return ~cells_of(translated(free, shift - left, shift - low), self.cell, (rows, columns))

    def _cells_along(self, length: float) -> int:
        return ceil(length / self.cell) + 1 + 2 * self.edge

    def _patch(self, item: int, orientation: Orientation) -> _RasterItem:
        polygon = self.problem.items[item].oriented(orientation)
        width, height = self.problem.items[item].size(orientation)
        columns, rows = self._cells_along(width), self._cells_along(height)
        cells = self.cells(polygon, rows, columns)
        return _RasterItem(orientation, cells, surely_covered_blocks(cells), (width, height))


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
    spectrum: Spectrum | None = None
    coarse: Spectrum | None = None


def fill(
    problem: NestingProblem,
    strategy: FillStrategy,
    grids: "RasterGrids | None" = None,
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
        """Return place every loose item."""
        loose = sorted(self.problem.loose, key=self._rank) if order is None else order
        left_out, hopeless = [], set()
        for item in loose:
            if item in hopeless or not self._lay(item):
                hopeless.add(item)
                left_out.append(item)
        placed_items = [placed_item for sheet in self.sheets for placed_item in sheet.placed]
        return Solution(tuple(placed_items), tuple(left_out))

    def _rank(self, number: int) -> tuple[float, int]:
        item = self.problem.items[number]
        width, height = item.size(item.orientations[0])
        by = {
            "area": item.area, "length": max(width, height), "box": width * height,
            "reach": width + height,
        }  # fmt: skip
        return (-by[self.strategy.order], number)

    def _lay(self, item: int) -> bool:
        for sheet in self.sheets:
            if self._try(sheet, item):
                return True
        for container in self._rooms_to_open():
            fresh = self._sheet(container, self._next_number(container), keep=False)
            if fresh and self._try(fresh, item):
                self.sheets.append(fresh)
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
        inside = self.problem.inner[container].buffer(SLIDING)
        shapely.prepare(inside)
        return inside

    def _try(self, sheet: _OpenContainer, item: int) -> bool:
        """Return place an item in a container if it fits.

        What once did not fit never will, because containers only fill up.
        """
        if item in sheet.refused:
            return False
        found = self._place(sheet, item)
        if found is None:
            sheet.refused.add(item)
            return False
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
            if sheet.spectrum is None:
                sheet.spectrum = sheet.frame.spectrum(sheet.occupied)
            own = self.grids.spectrum(item, number, sheet.frame)
            clear = sheet.frame.clear(sheet.spectrum, own, (steps[1], steps[0]))
            key = self._best(clear, patch)
            if key is not None and (best is None or key[0] < best):
                best, (row, column) = key
                x, y = sheet.corner[0] + column * cell, sheet.corner[1] + row * cell
                placed_item = PlacedItem(
                    item, sheet.container, sheet.number, patch.orientation, x, y
                )
        return placed_item

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
        self, clear: Cells, patch: _RasterItem
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
        return slid if inside and not self._is_near(here, sheet.polygons) else placed_item

    def _is_near(self, polygon: shapely.Polygon, others: list[shapely.Polygon]) -> bool:
        """Return whether a polygon is too near to others: a check on the sliding, which rounds."""
        if self.problem.spacing > SLIDING:
            return bool(shapely.dwithin(polygon, others, self.problem.spacing - SLIDING).any())
        return any(depth(polygon, other) > SLIDING for other in others)

    def _put(self, sheet: _OpenContainer, placed_item: PlacedItem) -> None:
        polygon = self.problem.polygon(placed_item)
        local = translated(polygon, -sheet.corner[0], -sheet.corner[1])
        sheet.occupied |= self.grids.cells(local, *sheet.occupied.shape)
        sheet.spectrum = sheet.coarse = None
        grown = polygon.buffer(self.problem.spacing * _INSCRIBED, quad_segs=_ROUND)
        sheet.obstacles.add(grown if self.problem.spacing else polygon)
        sheet.free_area -= self.problem.items[placed_item.item].area
        sheet.placed.append(placed_item)
        sheet.polygons.append(polygon)
