"""The fast engine: copies one after the other, each to the first clear place.

Places are looked for on a grid of cells on which everything counts a little too large, so a place
found there is always free; then the copy slides on, exactly, as far down and to the left as it
can. Holes and odd outlines need nothing special: they are just cells.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import count
from math import ceil, floor, sqrt

import numpy as np
import shapely

from anzel.nesting.compaction import Obstacles
from anzel.nesting.problem import NestingProblem, Orientation, PlacedItem, Solution, translated
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
"""Cells along the longest side of the largest room: fine enough, and its transforms take a
millisecond or two."""
_FINEST, _COARSEST = 0.5, 4.0
_MOST_ACROSS = 4000
"""Cells along a room, however large: a grid of more takes gigabytes."""
_FEW = 4
"""On a sheet with fewer spots than this nearly everything fits."""
_BEYOND = 3
"""Blocks by which a patch may stand over the frame of blocks, before it would wrap round."""
_MOST_SPECTRA = 600
"""Transforms kept: each takes up to a megabyte."""
_ROUND = 8
"""Chords to a quarter turn of a grown corner."""
_ROUNDING = 1e-3
"""Sliding is exact but for this, mm: chords of round corners, and shapes a hair slimmer."""
_INSCRIBED = 1.005
"""Such chords stay this much inside the true round."""


@dataclass(frozen=True)
class FillStrategy:
    """How to go about it: which copies first, and where on a sheet. `across` fills a sheet from
    its lower edge up instead of from the left; `by_start` takes the place that begins first, not
    the one that ends first; `largest_first` opens large rooms first; without `slides` copies stay
    where the grid has them."""

    order: str = "area"
    across: bool = False
    by_start: bool = False
    largest_first: bool = False
    slides: bool = True


@dataclass(frozen=True)
class _RasterItem:
    """A shape in one pose as cells, and the blocks of cells that it surely fills."""

    orientation: Orientation
    cells: Cells
    blocks: Cells
    size: tuple[float, float]


class RasterGrids:
    """What is the same for every manner: cells of shapes and rooms."""

    def __init__(self, puzzle: NestingProblem, cell: float | None = None) -> None:
        self.puzzle = puzzle
        longest = max((max(room.size) for room in puzzle.containers), default=1.0)
        usual = min(max(longest / _CELLS_ACROSS, _FINEST), _COARSEST)
        self.cell = cell or max(usual, longest / _MOST_ACROSS)
        self.grown = (puzzle.spacing / 2 + self.cell * sqrt(0.5)) * _INSCRIBED
        self._patches: dict[int, tuple[_RasterItem, ...]] = {}
        self._spectra: dict[tuple[int, int, PaddedGrid, bool], Spectrum] = {}
        self._blocked: dict[int, Cells] = {}

    def patches(self, shape: int) -> tuple[_RasterItem, ...]:
        """A shape in each of its poses."""
        if shape not in self._patches:
            self._patches[shape] = tuple(
                self._patch(shape, pose) for pose in self.puzzle.items[shape].orientations
            )
        return self._patches[shape]

    def spectrum(
        self, shape: int, number: int, frame: PaddedGrid, *, coarse: bool = False
    ) -> Spectrum:
        """A patch's transform in a room's frame, or of its sure blocks in that of the blocks."""
        key = (shape, number, frame, coarse)
        if key not in self._spectra:
            if len(self._spectra) > _MOST_SPECTRA:
                self._spectra.clear()
            patch = self._patches[shape][number]
            self._spectra[key] = frame.spectrum(patch.blocks if coarse else patch.cells)
        return self._spectra[key]

    def cells(self, polygon: shapely.Geometry, rows: int, columns: int) -> Cells:
        """What a polygon, grown, covers of a room's grid."""
        grown = polygon.buffer(self.grown, quad_segs=_ROUND)
        at = translated(grown, self.edge * self.cell, self.edge * self.cell)
        return cells_of(at, self.cell, (rows, columns))

    @property
    def edge(self) -> int:
        """Cells outside a room's inside that a grown patch may cover."""
        return ceil(self.grown / self.cell)

    def blocked(self, room: int) -> Cells:
        """The cells of an empty room that nothing may cover; its frame is this one's size."""
        if room not in self._blocked:
            self._blocked[room] = self._block(room)
        return self._blocked[room]

    def _block(self, room: int) -> Cells:
        inner = self.puzzle.inner[room]
        left, low, right, high = inner.bounds
        columns, rows = self._cells_along(right - left), self._cells_along(high - low)
        if self.puzzle.containers[room].is_rectangle:
            return np.zeros((rows, columns), dtype=bool)
        # patches are grown by half the spacing, which here is lost; but to give it back would lose
        # what stands out of an edge and is narrower than the spacing
        free = inner.buffer(-self.cell * sqrt(0.5) * _INSCRIBED, quad_segs=_ROUND)
        shift = self.edge * self.cell
        return ~cells_of(translated(free, shift - left, shift - low), self.cell, (rows, columns))

    def _cells_along(self, length: float) -> int:
        return ceil(length / self.cell) + 1 + 2 * self.edge

    def _patch(self, shape: int, pose: Orientation) -> _RasterItem:
        polygon = self.puzzle.items[shape].oriented(pose)
        width, height = self.puzzle.items[shape].size(pose)
        columns, rows = self._cells_along(width), self._cells_along(height)
        cells = self.cells(polygon, rows, columns)
        return _RasterItem(pose, cells, surely_covered_blocks(cells), (width, height))


@dataclass
class _OpenContainer:
    """One copy of a room being filled."""

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
    puzzle: NestingProblem,
    manner: FillStrategy,
    grids: "RasterGrids | None" = None,
    order: Sequence[int] | None = None,
) -> Solution:
    """Everything laid in one manner, in an `order` of copies of its own if one is given."""
    return _Filling(puzzle, manner, grids or RasterGrids(puzzle)).run(order)


class _Filling:
    def __init__(self, puzzle: NestingProblem, manner: FillStrategy, grids: RasterGrids) -> None:
        self.puzzle, self.manner, self.grids = puzzle, manner, grids
        self.sheets: list[_OpenContainer] = []
        for spot in puzzle.fixed:
            self._put(self._sheet(spot.container, spot.copy_number), spot)

    def run(self, order: Sequence[int] | None) -> Solution:
        """Lay every loose copy."""
        loose = sorted(self.puzzle.loose, key=self._rank) if order is None else order
        left_out, hopeless = [], set()
        for shape in loose:
            if shape in hopeless or not self._lay(shape):
                hopeless.add(shape)
                left_out.append(shape)
        spots = [spot for sheet in self.sheets for spot in sheet.placed]
        return Solution(tuple(spots), tuple(left_out))

    def _rank(self, number: int) -> tuple[float, int]:
        shape = self.puzzle.items[number]
        width, height = shape.size(shape.orientations[0])
        by = {
            "area": shape.area, "length": max(width, height), "box": width * height,
            "reach": width + height,
        }  # fmt: skip
        return (-by[self.manner.order], number)

    def _lay(self, shape: int) -> bool:
        for sheet in self.sheets:
            if self._try(sheet, shape):
                return True
        for room in self._rooms_to_open():
            fresh = self._sheet(room, self._next_number(room), keep=False)
            if fresh and self._try(fresh, shape):
                self.sheets.append(fresh)
                return True
        return False

    def _rooms_to_open(self) -> list[int]:
        """Rooms of which copies are left: scraps first, then sheets by size, last what is to be
        bought."""
        rooms = self.puzzle.containers
        left = [
            index for index, room in enumerate(rooms)
            if room.count is None or sum(s.container == index for s in self.sheets) < room.count
        ]  # fmt: skip
        sign = -1 if self.manner.largest_first else 1

        def rank(index: int) -> tuple[bool, bool, float, int]:
            room = rooms[index]
            return (room.to_buy, not room.is_scrap, sign * room.area, index)

        return sorted(left, key=rank)

    def _next_number(self, room: int) -> int:
        taken = {sheet.number for sheet in self.sheets if sheet.container == room}
        return next(number for number in count() if number not in taken)

    def _sheet(self, room: int, number: int, *, keep: bool = True) -> _OpenContainer:
        """The sheet of that number, made if it is not there."""
        for sheet in self.sheets:
            if (sheet.container, sheet.number) == (room, number):
                return sheet
        inner = self.puzzle.inner[room]
        left, low, right, high = inner.bounds if not inner.is_empty else (0.0, 0.0, -1.0, -1.0)
        occupied = self.grids.blocked(room).copy() if not inner.is_empty else np.ones((1, 1), bool)
        made = _OpenContainer(
            room, number, occupied, PaddedGrid(*occupied.shape), (left, low), (right, high),
            Obstacles(), inner.area, self._odd_inside(room),
        )  # fmt: skip
        made.obstacles.add(inner)
        if keep:
            self.sheets.append(made)
        return made

    def _odd_inside(self, room: int) -> shapely.Geometry | None:
        """What a slid copy must stay in, where its bounds alone do not tell."""
        if self.puzzle.containers[room].is_rectangle:
            return None
        inside = self.puzzle.inner[room].buffer(_ROUNDING)
        shapely.prepare(inside)
        return inside

    def _try(self, sheet: _OpenContainer, shape: int) -> bool:
        """Lay a copy on a sheet if it fits. What once did not fit never will: sheets only fill."""
        if shape in sheet.refused:
            return False
        found = self._place(sheet, shape)
        if found is None:
            sheet.refused.add(shape)
            return False
        self._put(sheet, self._slid(sheet, found) if self.manner.slides else found)
        return True

    def _place(self, sheet: _OpenContainer, shape: int) -> PlacedItem | None:
        """The best clear place for a copy."""
        if self.puzzle.items[shape].area > sheet.free_area:
            return None
        best: tuple[float, float] | None = None
        spot = None
        cell = self.grids.cell
        for number, patch in enumerate(self.grids.patches(shape)):
            room = [far - near for far, near in zip(sheet.far, sheet.corner, strict=True)]
            steps = [
                floor((r - s) / cell + 1e-9) + 1 for r, s in zip(room, patch.size, strict=True)
            ]
            if min(steps) < 1 or not self._may_fit(sheet, shape, number, (steps[1], steps[0])):
                continue
            if sheet.spectrum is None:
                sheet.spectrum = sheet.frame.spectrum(sheet.occupied)
            own = self.grids.spectrum(shape, number, sheet.frame)
            clear = sheet.frame.clear(sheet.spectrum, own, (steps[1], steps[0]))
            key = self._best(clear, patch)
            if key is not None and (best is None or key[0] < best):
                best, (row, column) = key
                x, y = sheet.corner[0] + column * cell, sheet.corner[1] + row * cell
                spot = PlacedItem(shape, sheet.container, sheet.number, patch.orientation, x, y)
        return spot

    def _may_fit(
        self, sheet: _OpenContainer, shape: int, number: int, steps: tuple[int, int]
    ) -> bool:  # fmt: skip
        """Whether a patch may have a place, told by blocks at a small part of the cost: where it
        fills a block that is full, it has none."""
        if len(sheet.placed) < _FEW:
            return True
        rows, columns = sheet.occupied.shape
        frame = PaddedGrid(rows // BLOCK + _BEYOND, columns // BLOCK + _BEYOND)
        if sheet.coarse is None:
            sheet.coarse = frame.spectrum(full_blocks(sheet.occupied))
        own = self.grids.spectrum(shape, number, frame, coarse=True)
        return bool(frame.clear(sheet.coarse, own, block_steps(steps)).any())

    def _best(
        self, clear: Cells, patch: _RasterItem
    ) -> tuple[tuple[float, float], tuple[int, int]] | None:
        """The best clear place's rank and (row, column)."""
        lines = clear if self.manner.across else clear.T
        some = lines.any(axis=1)
        if not some.any():
            return None
        line = int(some.argmax())
        along = int(lines[line].argmax())
        main, other = (1, 0) if self.manner.across else (0, 1)
        start, beside = line * self.grids.cell, along * self.grids.cell
        ends = start + (0.0 if self.manner.by_start else patch.size[main])
        row, column = (line, along) if self.manner.across else (along, line)
        return (ends, beside + patch.size[other]), (row, column)

    def _slid(self, sheet: _OpenContainer, spot: PlacedItem) -> PlacedItem:
        """As far down and to the left as it goes, first along the way the sheet is filled."""
        x, y = spot.x, spot.y
        axes = (1, 0, 1, 0) if self.manner.across else (0, 1, 0, 1)
        for axis in axes:
            here = translated(self.puzzle.items[spot.item].oriented(spot.orientation), x, y)
            most = (x - sheet.corner[0], y - sheet.corner[1])[axis]
            run = sheet.obstacles.free_distance(here, axis, most) if most > 0 else 0.0
            x, y = (x - run, y) if axis == 0 else (x, y - run)
        slid = replace(spot, x=x, y=y)
        here = self.puzzle.polygon(slid)
        inside = sheet.inside is None or sheet.inside.covers(here)
        return slid if inside and not self._is_near(here, sheet.polygons) else spot

    def _is_near(self, polygon: shapely.Polygon, others: list[shapely.Polygon]) -> bool:
        """Whether a polygon is too near to others: a check of the sliding, which rounds."""
        if self.puzzle.spacing > _ROUNDING:
            return bool(shapely.dwithin(polygon, others, self.puzzle.spacing - _ROUNDING).any())
        return any(depth(polygon, other) > _ROUNDING for other in others)

    def _put(self, sheet: _OpenContainer, spot: PlacedItem) -> None:
        polygon = self.puzzle.polygon(spot)
        local = translated(polygon, -sheet.corner[0], -sheet.corner[1])
        sheet.occupied |= self.grids.cells(local, *sheet.occupied.shape)
        sheet.spectrum = sheet.coarse = None
        grown = polygon.buffer(self.puzzle.spacing * _INSCRIBED, quad_segs=_ROUND)
        sheet.obstacles.add(grown if self.puzzle.spacing else polygon)
        sheet.free_area -= self.puzzle.items[spot.item].area
        sheet.placed.append(spot)
        sheet.polygons.append(polygon)
