"""Squeeze: the solver that keeps improving a solution.

It tries other orders of filling, and packs container after container anew with the strip packer,
after small items have filled the holes of large ones. It starts from the quick solver's solution,
so it is never worse. Every better solution is checked before it counts, and the search can be
stopped at any moment with the best so far.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from time import monotonic

import numpy as np

from anzel.nesting.bottom_left_fill import fill
from anzel.nesting.hole_filling import FilledHost, contents_at, fill_holes
from anzel.nesting.problem import NestingProblem, PlacedItem, Solution, cost_of
from anzel.nesting.quick_solver import MANNERS, is_valid, solve_quickly
from anzel.nesting.raster_grids import RasterGrids
from anzel.nesting.sliding import slid_together
from anzel.nesting.strip_packer import PackedStrip, short_strips
from anzel.nesting.validation import clashes

_REORDERING = 0.02
"""Share of the time for other orders, where the strip packer can be of use as well."""
_SLIDING = 0.025
"""Share of the time for sliding together what the strip packer has left apart."""
_SHORTEST = 3.0
"""Seconds that the strip packer needs to be worth its start."""
_FULL = 0.92
"""No strip of odd items is fuller than about this; more is not tried. Common practice, no
source."""

Told = Callable[[Solution], None]
Stopped = Callable[[], bool]


def squeeze(
    problem: NestingProblem,
    seconds: float,
    *,
    told: Told = lambda solution: None,
    stopped: Stopped = lambda: False,
    seed: int = 1,
    start: Solution | None = None,
) -> Solution:
    """Return the best solution found in so many seconds, from a `start` if there is one.

    Each better one is passed to `told` at once.
    """
    return _Improver(problem, seconds, told, stopped, seed).run(start)


@dataclass(frozen=True)
class _Repacking:
    """A container to pack anew: all that is in `keep`, and some items from elsewhere."""

    keep: tuple[int, int]
    placed: tuple[PlacedItem, ...]


class _Improver:
    def __init__(
        self, problem: NestingProblem, seconds: float, told: Told, stopped: Stopped, seed: int
    ) -> None:
        self.problem, self.told, self.asked_to_stop = problem, told, stopped
        self.end = monotonic() + seconds
        self.seconds = seconds
        self.random = np.random.default_rng(seed)
        self.best = Solution(())
        self.cost = (np.inf, np.inf, np.inf)

    def run(self, start: Solution | None) -> Solution:
        """Improve until the time is up."""
        if start is not None and set(self.problem.fixed) <= set(start.placed):
            self._take(start)
        self._take(solve_quickly(self.problem))
        useful = any(self._tasks())
        self._reorder(self.end - self.seconds * (1 - _REORDERING) if useful else self.end)
        self.end -= _SLIDING * self.seconds * useful
        while useful and self.left > _SHORTEST / 2:
            tasks = list(self._tasks())
            if not tasks:
                break
            for number, task in enumerate(tasks):
                share = self.left / (len(tasks) - number)
                if self.left > _SHORTEST / 2:
                    self._pack(task, max(share, min(_SHORTEST, self.left)))
        self.end += _SLIDING * self.seconds * useful
        if useful:
            self._slide()
        self._reorder(self.end)
        return self.best

    @property
    def left(self) -> float:
        """The seconds left, zero once stopped."""
        return 0.0 if self.asked_to_stop() else self.end - monotonic()

    def _take(self, solution: Solution) -> None:
        cost = cost_of(self.problem, solution)
        if cost < self.cost:
            self.best, self.cost = solution, cost
            self.told(solution)

    def _take_sound(self, solution: Solution) -> None:
        if cost_of(self.problem, solution) < self.cost and is_valid(self.problem, solution):
            self._take(solution)

    def _reorder(self, until: float) -> None:
        """Fill in other orders: sizes blurred at random, and any strategy."""
        grids = RasterGrids(self.problem)
        loose = self.problem.loose
        areas = np.array([self.problem.items[number].area for number in loose])
        while loose and monotonic() < until and self.left > 0:
            blurred = areas * np.exp(self.random.normal(0.0, 0.35, len(areas)))
            order = [loose[index] for index in np.argsort(-blurred)]
            strategy = MANNERS[int(self.random.integers(len(MANNERS)))]
            self._take_sound(fill(self.problem, strategy, grids, order))

    def _slide(self) -> None:
        """Slide together what the strip packer has left apart, on sheets with nothing fixed."""
        for key in self._loose_sheets():
            placed = self.best.on(*key)
            here = set(placed)
            kept = tuple(each for each in self.best.placed if each not in here)
            for axis in (0, 1):
                slid = slid_together(self.problem, placed, axis, lambda: self.left <= 0)
                self._take_sound(Solution((*kept, *slid), self.best.left_out))

    def _loose_sheets(self) -> list[tuple[int, int]]:
        """Return the containers in use on which nothing is fixed."""
        fixed = {(each.container, each.copy_number) for each in self.problem.fixed}
        return [key for key in self.best.sheets if key not in fixed]

    def _tasks(self) -> Iterator[_Repacking]:
        """Yield what is worth packing anew.

        The emptiest container into the others, and what is left.
        """
        sheets = [
            key for key in self._loose_sheets() if self.problem.containers[key[0]].is_rectangle
        ]
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
        """Return as much of one container as another might take besides its own."""
        container = _FULL * self.problem.inner[onto[0]].area
        container -= sum(self._area(placed_item) for placed_item in self.best.on(*onto))
        chosen = []
        for placed_item in sorted(
            self.best.on(*source), key=lambda placed_item: -self._area(placed_item)
        ):
            if self._area(placed_item) < container:
                container -= self._area(placed_item)
                chosen.append(placed_item)
        return chosen

    def _area(self, placed_item: PlacedItem) -> float:
        return self.problem.items[placed_item.item].area

    def _pack(self, task: _Repacking, seconds: float) -> None:
        """Pack the items of a repacking into its container, as short as they go."""
        problem, base = self.problem, self.best
        left, low, right, high = problem.inner[task.keep[0]].bounds
        orientations = {placed_item.item: placed_item.orientation for placed_item in task.placed}
        filled_hosts = fill_holes(
            problem, tuple(placed_item.item for placed_item in task.placed), orientations
        )
        strips = short_strips(
            problem.items,
            [(each.host, each.orientation.over) for each in filled_hosts], high - low,
            problem.spacing, seconds, seed=int(self.random.integers(1 << 30)),
            stopped=lambda: self.left <= 0,
        )  # fmt: skip
        for strip in strips:
            if strip.length <= right - left:
                placed_items = self._spots(task.keep, strip, filled_hosts, (left, low))
                if placed_items is not None:
                    self._replace(base, task, placed_items)

    def _spots(
        self, sheet: tuple[int, int], strip: PackedStrip, filled_hosts: tuple[FilledHost, ...],
        corner: tuple[float, float],
    ) -> list[PlacedItem] | None:  # fmt: skip
        """Return the items of a strip as placed items, with the contents of their holes."""
        waiting = list(filled_hosts)
        found: list[PlacedItem] = []
        for number, orientation, x, y in strip.copies:
            filled_host = next(
                w for w in waiting if (w.host, w.orientation.over) == (number, orientation.over)
            )
            waiting.remove(filled_host)
            host = PlacedItem(number, *sheet, orientation, x + corner[0], y + corner[1])
            placed_items = contents_at(self.problem, filled_host, host)
            if placed_items is None:
                return None
            found += placed_items
        return found

    def _replace(self, base: Solution, task: _Repacking, placed_items: list[PlacedItem]) -> None:
        """Take a repacked container, if it makes a better solution and nothing clashes."""
        moved_away = set(task.placed)
        kept = (placed_item for placed_item in base.placed if placed_item not in moved_away)
        solution = Solution((*kept, *placed_items), base.left_out)
        if cost_of(self.problem, solution) >= self.cost:
            return
        if not clashes(self.problem, Solution(solution.on(*task.keep))):
            self._take(solution)
