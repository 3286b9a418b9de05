"""Cells of items and containers, worked out once for all ways of filling."""

from dataclasses import dataclass
from math import ceil, sqrt

import numpy as np
import shapely

from anzel.nesting.problem import NestingProblem, Orientation, translated
from anzel.nesting.raster import (
    Cells,
    PaddedGrid,
    Spectrum,
    cells_of,
    surely_covered_blocks,
)

_CELLS_ACROSS = 420
"""Cells along the longest side of the largest container: fine enough, and its transforms take a
millisecond or two."""
_FINEST, _COARSEST = 0.5, 4.0
_MOST_ACROSS = 4000
"""Cells along a container, however large: a grid of more takes gigabytes."""
_MOST_SPECTRA = 600
"""Transforms kept: each takes up to a megabyte."""
ROUND = 8
"""Chords to a quarter turn of a grown corner."""
INSCRIBED = 1.005
"""Such chords stay this much inside the true round."""


@dataclass(frozen=True)
class RasterItem:
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
        self.grown = (problem.spacing / 2 + self.cell * sqrt(0.5)) * INSCRIBED
        self._patches: dict[int, tuple[RasterItem, ...]] = {}
        self._spectra: dict[tuple[int, int, PaddedGrid, bool], Spectrum] = {}
        self._blocked: dict[int, Cells] = {}

    def patches(self, item: int) -> tuple[RasterItem, ...]:
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
        grown = polygon.buffer(self.grown, quad_segs=ROUND)
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
        free = inner.buffer(-self.cell * sqrt(0.5) * INSCRIBED, quad_segs=ROUND)
        shift = self.edge * self.cell
        return ~cells_of(translated(free, shift - left, shift - low), self.cell, (rows, columns))

    def _cells_along(self, length: float) -> int:
        return ceil(length / self.cell) + 1 + 2 * self.edge

    def _patch(self, item: int, orientation: Orientation) -> RasterItem:
        polygon = self.problem.items[item].oriented(orientation)
        width, height = self.problem.items[item].size(orientation)
        columns, rows = self._cells_along(width), self._cells_along(height)
        cells = self.cells(polygon, rows, columns)
        return RasterItem(orientation, cells, surely_covered_blocks(cells), (width, height))
