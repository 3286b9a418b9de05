"""The engine that goes on improving: other orders of filling, and sheet after sheet packed anew by
the strip packer, with small copies stowed in the holes of large ones first.

It starts from the fast engine's answer, so it is never worse; every better one is checked before
it counts. It can be stopped at any moment with the best so far.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from time import monotonic

import numpy as np

from anzel.nesting.bottom_left_fill import Grids, fill
from anzel.nesting.hole_filling import Load, stow, unloaded
from anzel.nesting.problem import Answer, Puzzle, Spot, cost_of
from anzel.nesting.quick_solver import MANNERS, is_sound, lay_fast
from anzel.nesting.strip_packer import Stripped, short_strips
from anzel.nesting.validation import clashes

_REORDERING = 0.12
"""Share of the time for other orders, where the strip packer can be of use as well."""
_SHORTEST = 3.0
"""Seconds that the strip packer needs to be worth its start."""
_FULL = 0.92
"""No strip of odd shapes is fuller than about this; more is not tried. Common practice, no
source."""

Told = Callable[[Answer], None]
Stopped = Callable[[], bool]


def squeeze(
    puzzle: Puzzle,
    seconds: float,
    *,
    told: Told = lambda answer: None,
    stopped: Stopped = lambda: False,
    seed: int = 1,
    start: Answer | None = None,
) -> Answer:
    """The best answer found in so many seconds, from a `start` if there is one; each better one
    is `told` at once."""
    return _Squeeze(puzzle, seconds, told, stopped, seed).run(start)


@dataclass(frozen=True)
class _Task:
    """Sheets to pack anew: all that is on `keep`, and some copies from elsewhere, onto it."""

    keep: tuple[int, int]
    spots: tuple[Spot, ...]


class _Squeeze:
    def __init__(
        self, puzzle: Puzzle, seconds: float, told: Told, stopped: Stopped, seed: int
    ) -> None:
        self.puzzle, self.told, self.asked_to_stop = puzzle, told, stopped
        self.end = monotonic() + seconds
        self.seconds = seconds
        self.random = np.random.default_rng(seed)
        self.best = Answer(())
        self.cost = (np.inf, np.inf, np.inf)

    def run(self, start: Answer | None) -> Answer:
        """Improve until the time is up."""
        if start is not None and set(self.puzzle.fixed) <= set(start.spots):
            self._take(start)
        self._take(lay_fast(self.puzzle))
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

    def _take(self, answer: Answer) -> None:
        cost = cost_of(self.puzzle, answer)
        if cost < self.cost:
            self.best, self.cost = answer, cost
            self.told(answer)

    def _take_sound(self, answer: Answer) -> None:
        if cost_of(self.puzzle, answer) < self.cost and is_sound(self.puzzle, answer):
            self._take(answer)

    def _reorder(self, until: float) -> None:
        """Fill in other orders: sizes blurred at random, and any manner."""
        grids = Grids(self.puzzle)
        loose = self.puzzle.loose
        areas = np.array([self.puzzle.shapes[number].area for number in loose])
        while loose and monotonic() < until and self.left > 0:
            blurred = areas * np.exp(self.random.normal(0.0, 0.35, len(areas)))
            order = [loose[index] for index in np.argsort(-blurred)]
            manner = MANNERS[int(self.random.integers(len(MANNERS)))]
            self._take_sound(fill(self.puzzle, manner, grids, order))

    def _tasks(self) -> Iterator[_Task]:
        """What is worth packing anew: the emptiest sheet into the others, and what is left."""
        fixed = {(spot.room, spot.sheet) for spot in self.puzzle.fixed}
        sheets = [
            key for key in self.best.sheets
            if key not in fixed and self.puzzle.rooms[key[0]].is_rectangle
        ]  # fmt: skip
        if not sheets:
            return
        sheets.sort(key=lambda key: sum(self._area(s) for s in self.best.on(*key)))
        emptiest, *others = sheets
        for other in others:
            more = self._some_more(other, emptiest)
            if more:
                yield _Task(other, (*self.best.on(*other), *more))
        yield _Task(emptiest, self.best.on(*emptiest))

    def _some_more(self, onto: tuple[int, int], source: tuple[int, int]) -> list[Spot]:
        """As much of one sheet as another might take besides its own."""
        room = _FULL * self.puzzle.inner[onto[0]].area
        room -= sum(self._area(spot) for spot in self.best.on(*onto))
        chosen = []
        for spot in sorted(self.best.on(*source), key=lambda spot: -self._area(spot)):
            if self._area(spot) < room:
                room -= self._area(spot)
                chosen.append(spot)
        return chosen

    def _area(self, spot: Spot) -> float:
        return self.puzzle.shapes[spot.shape].area

    def _pack(self, task: _Task, seconds: float) -> None:
        """Pack a task's copies onto its sheet, as short as they go."""
        puzzle, base = self.puzzle, self.best
        left, low, right, high = puzzle.inner[task.keep[0]].bounds
        poses = {spot.shape: spot.pose for spot in task.spots}
        loads = stow(puzzle, tuple(spot.shape for spot in task.spots), poses)
        strips = short_strips(
            puzzle.shapes, [(load.host, load.pose.over) for load in loads], high - low,
            puzzle.spacing, seconds, seed=int(self.random.integers(1 << 30)),
            stopped=lambda: self.left <= 0,
        )  # fmt: skip
        for strip in strips:
            if strip.length <= right - left:
                spots = self._spots(task.keep, strip, loads, (left, low))
                if spots is not None:
                    self._replace(base, task, spots)

    def _spots(
        self, sheet: tuple[int, int], strip: Stripped, loads: tuple[Load, ...],
        corner: tuple[float, float],
    ) -> list[Spot] | None:  # fmt: skip
        """A strip's copies as spots on a sheet, with what is stowed in them."""
        waiting = list(loads)
        found: list[Spot] = []
        for number, pose, x, y in strip.copies:
            load = next(w for w in waiting if (w.host, w.pose.over) == (number, pose.over))
            waiting.remove(load)
            host = Spot(number, *sheet, pose, x + corner[0], y + corner[1])
            spots = unloaded(self.puzzle, load, host)
            if spots is None:
                return None
            found += spots
        return found

    def _replace(self, base: Answer, task: _Task, spots: list[Spot]) -> None:
        """Take a sheet packed anew, if it makes a better answer and nothing clashes."""
        moved_away = set(task.spots)
        kept = (spot for spot in base.spots if spot not in moved_away)
        answer = Answer((*kept, *spots), base.left_out)
        if cost_of(self.puzzle, answer) >= self.cost:
            return
        if not clashes(self.puzzle, Answer(answer.on(*task.keep))):
            self._take(answer)
