"""Polygons as cells of a grid, and clear places of a patch of cells on a grid, by correlation.

Cells are sampled at their centres. A patch is *clear* where it shares no marked cell with the grid.
Correlation by FFT finds every clear place at once (the convolution theorem; scipy.fft).
"""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray
from scipy import fft

Cells = NDArray[np.bool_]
Spectrum = NDArray[np.complex64]


def cells_of(polygon: shapely.Geometry, cell: float, shape: tuple[int, int]) -> Cells:
    """Return the cells whose centres lie inside, the first centre at the origin.

    Even-odd rule along each row: where an edge crosses a row, every later cell of it changes.

    Returns
    -------
    (rows, columns) bool
    """
    rows, columns = shape
    flips = np.zeros((rows, columns + 1), dtype=np.int32)
    for ring in _rings(polygon):
        start, end = ring[:-1] / cell, ring[1:] / cell
        low = np.ceil(np.minimum(start[:, 1], end[:, 1])).astype(int).clip(0, rows)
        high = np.ceil(np.maximum(start[:, 1], end[:, 1])).astype(int).clip(0, rows)
        count = high - low
        if not count.sum():
            continue
        edge = np.repeat(np.arange(len(count)), count)
        before = np.repeat(np.cumsum(count) - count, count)
        row = np.arange(len(edge)) - before + low[edge]
        run = end[edge] - start[edge]
        x = start[edge, 0] + (row - start[edge, 1]) * run[:, 0] / run[:, 1]
        np.add.at(flips, (row, np.ceil(x).astype(int).clip(0, columns)), 1)
    return (np.cumsum(flips, axis=1)[:, :columns] % 2).astype(bool)


def _rings(polygon: shapely.Geometry) -> list[NDArray[np.float64]]:
    return [
        np.asarray(ring.coords)
        for part in shapely.get_parts(polygon)
        for ring in (part.exterior, *part.interiors)
    ]


@dataclass(frozen=True)
class PaddedGrid:
    """The size of a grid, and the sizes to which its transforms are padded."""

    rows: int
    columns: int

    @property
    def padded(self) -> tuple[int, int]:
        """Sizes with quick transforms."""
        return (fft.next_fast_len(self.rows, True), fft.next_fast_len(self.columns, True))

    def spectrum(self, cells: Cells) -> Spectrum:
        """Return the transform of a grid or a patch."""
        found: Spectrum = fft.rfft2(cells.astype(np.float32), s=self.padded)
        return found

    def clear(self, grid: Spectrum, patch: Spectrum, steps: tuple[int, int]) -> Cells:
        """Return whether the patch, moved so many cells up and to the right, is clear.

        Exact, because sums of ones differ by whole numbers.

        Returns
        -------
        (rows, columns) of `steps`, bool
        """
        shared = fft.irfft2(grid * patch.conj(), s=self.padded)
        found: Cells = shared[: steps[0], : steps[1]] < 0.5
        return found


BLOCK = 4
"""Cells along one side of a block."""


def full_blocks(grid: Cells) -> Cells:
    """Return the blocks of a grid of which every cell is marked.

    Cells beyond its edge count as unmarked.
    """
    rows, columns = (side // BLOCK for side in grid.shape)
    whole = grid[: rows * BLOCK, : columns * BLOCK]
    found = np.asarray(whole.reshape(rows, BLOCK, columns, BLOCK).all(axis=(1, 3)))
    return found


def surely_covered_blocks(patch: Cells) -> Cells:
    """Return the blocks that are covered for every offset of the patch inside its first block."""
    reach = 2 * BLOCK - 1
    rows, columns = (side // BLOCK + 1 for side in patch.shape)
    around = np.zeros((rows * BLOCK + reach, columns * BLOCK + reach), dtype=bool)
    around[BLOCK - 1 : BLOCK - 1 + patch.shape[0], BLOCK - 1 : BLOCK - 1 + patch.shape[1]] = patch
    windows = sliding_window_view(around, (reach, reach))[::BLOCK, ::BLOCK]
    found = np.asarray(windows[:rows, :columns].all(axis=(2, 3)))
    return found


def block_steps(steps: tuple[int, int]) -> tuple[int, int]:
    """Return the number of whole blocks that cover so many steps of cells."""
    return (-(-steps[0] // BLOCK), -(-steps[1] // BLOCK))
