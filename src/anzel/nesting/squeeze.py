"""The engine that goes on improving: other orders of filling, and sheet after sheet packed anew by
the strip packer, with small copies stowed in the holes of large ones first.

It starts from the fast engine's answer, so it is never worse; every better one is checked before
it counts. It can be stopped at any moment with the best so far.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from time import monotonic

import numpy as np

from anzel.nesting.bottom_left_fill import RasterGrids, fill
from anzel.nesting.hole_filling import FilledHost, contents_at, fill_holes
from anzel.nesting.problem import NestingProblem, PlacedItem, Solution, cost_of
from anzel.nesting.quick_solver import MANNERS, is_valid, solve_quickly
from anzel.nesting.strip_packer import PackedStrip, short_strips
from anzel.nesting.validation import clashes

_REORDERING = 0.12
"""Share of the time for other orders, where the strip packer can be of use as well."""
_SHORTEST = 3.0
"""Seconds that the strip packer needs to be worth its start."""
_FULL = 0.92
"""No strip of odd shapes is fuller than about this; more is not tried. Common practice, no
source."""

Told = Callable[[Solution], None]
Stopped = Callable[[], bool]


def squeeze(
    puzzle: NestingProblem,
    seconds: float,
    *,
    told: Told = lambda answer: None,
    stopped: Stopped = lambda: False,
    seed: int = 1,
    start: Solution | None = None,
) -> Solution:
    """The best answer found in so many seconds, from a `start` if there is one; each better one
    is `told` at once."""
    return _Improver(puzzle, seconds, told, stopped, seed).run(start)


@dataclass(frozen=True)
class _Repacking:
    """Sheets to pack anew: all that is on `keep`, and some copies from elsewhere, onto it."""

    keep: tuple[int, int]
    placed: tuple[PlacedItem, ...]


class _Improver:
    def __init__(
        self, puzzle: NestingProblem, seconds: float, told: Told, stopped: Stopped, seed: int
    ) -> None:
        self.puzzle, self.told, self.asked_to_stop = puzzle, told, stopped
        self.end = monotonic() + seconds
        self.seconds = seconds
        self.random = np.random.default_rng(seed)
        self.best = Solution(())
        self.cost = (np.inf, np.inf, np.inf)

    def run(self, start: Solution | None) -> Solution:
        """Improve until the time is up."""
        if start is not None and set(self.puzzle.fixed) <= set(start.placed):
            self._take(start)
        self._take(solve_quickly(self.puzzle))
        useful = any(self._tasks())
        self._reorder(self.end - self.seconds * (1 - _REORDERING) if useful else self.end)
        while useful and self.left > _SHORTEST / 2:
            tasks = list(self._tasks())
            if not tasks:
                break
            for number, task in enumerate(tasks):
                share = self.left / (len(tasks) - number)
                if self.left > _SHORTEST / 2:
                    self._pack(task, max(share, min(_SHORTEST, self.left)))
        self._reorder(self.end)
        return self.best

    @property
    def left(self) -> float:
        """Seconds left, none once asked to stop."""
        return 0.0 if self.asked_to_stop() else self.end - monotonic()

    def _take(self, answer: Solution) -> None:
        cost = cost_of(self.puzzle, answer)
        if cost < self.cost:
            self.best, self.cost = answer, cost
            self.told(answer)

    def _take_sound(self, answer: Solution) -> None:
        if cost_of(self.puzzle, answer) < self.cost and is_valid(self.puzzle, answer):
            self._take(answer)

    def _reorder(self, until: float) -> None:
        """Fill in other orders: sizes blurred at random, and any manner."""
        grids = RasterGrids(self.puzzle)
        loose = self.puzzle.loose
        areas = np.array([self.puzzle.items[number].area for number in loose])
        while loose and monotonic() < until and self.left > 0:
            blurred = areas * np.exp(self.random.normal(0.0, 0.35, len(areas)))
            order = [loose[index] for index in np.argsort(-blurred)]
            manner = MANNERS[int(self.random.integers(len(MANNERS)))]
            self._take_sound(fill(self.puzzle, manner, grids, order))

    def _tasks(self) -> Iterator[_Repacking]:
        """What is worth packing anew: the emptiest sheet into the others, and what is left."""
        fixed = {(spot.container, spot.copy_number) for spot in self.puzzle.fixed}
        sheets = [
            key for key in self.best.sheets
            if key not in fixed and self.puzzle.containers[key[0]].is_rectangle
        ]  # fmt: skip
        if not sheets:
            return
        sheets.sort(key=lambda key: sum(self._area(s) for s in self.best.on(*key)))
        emptiest, *others = sheets
        for other in others:
            more = self._some_more(other, emptiest)
            if more:
                yield _Repacking(other, (*self.best.on(*other), *more))
        yield _Repacking(emptiest, self.best.on(*emptiest))

    def _some_more(self, onto: tuple[int, int], source: tuple[int, int]) -> list[PlacedItem]:
        """As much of one sheet as another might take besides its own."""
        room = _FULL * self.puzzle.inner[onto[0]].area
        room -= sum(self._area(spot) for spot in self.best.on(*onto))
        chosen = []
        for spot in sorted(self.best.on(*source), key=lambda spot: -self._area(spot)):
            if self._area(spot) < room:
                room -= self._area(spot)
                chosen.append(spot)
        return chosen

    def _area(self, spot: PlacedItem) -> float:
        return self.puzzle.items[spot.item].area

    def _pack(self, task: _Repacking, seconds: float) -> None:
        """Pack a task's copies onto its sheet, as short as they go."""
        puzzle, base = self.puzzle, self.best
        left, low, right, high = puzzle.inner[task.keep[0]].bounds
        poses = {spot.item: spot.orientation for spot in task.placed}
        loads = fill_holes(puzzle, tuple(spot.item for spot in task.placed), poses)
        strips = short_strips(
            puzzle.items, [(load.host, load.orientation.over) for load in loads], high - low,
            puzzle.spacing, seconds, seed=int(self.random.integers(1 << 30)),
            stopped=lambda: self.left <= 0,
        )  # fmt: skip
        for strip in strips:
            if strip.length <= right - left:
                spots = self._spots(task.keep, strip, loads, (left, low))
                if spots is not None:
                    self._replace(base, task, spots)

    def _spots(
        self, sheet: tuple[int, int], strip: PackedStrip, loads: tuple[FilledHost, ...],
        corner: tuple[float, float],
    ) -> list[PlacedItem] | None:  # fmt: skip
        """A strip's copies as spots on a sheet, with what is stowed in them."""
        waiting = list(loads)
        found: list[PlacedItem] = []
        for number, pose, x, y in strip.copies:
            load = next(w for w in waiting if (w.host, w.orientation.over) == (number, pose.over))
            waiting.remove(load)
            host = PlacedItem(number, *sheet, pose, x + corner[0], y + corner[1])
            spots = contents_at(self.puzzle, load, host)
            if spots is None:
                return None
            found += spots
        return found

    def _replace(self, base: Solution, task: _Repacking, spots: list[PlacedItem]) -> None:
        """Take a sheet packed anew, if it makes a better answer and nothing clashes."""
        moved_away = set(task.placed)
        kept = (spot for spot in base.placed if spot not in moved_away)
        answer = Solution((*kept, *spots), base.left_out)
        if cost_of(self.puzzle, answer) >= self.cost:
            return
        if not clashes(self.puzzle, Solution(answer.on(*task.keep))):
            self._take(answer)
