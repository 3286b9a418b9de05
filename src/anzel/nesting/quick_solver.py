"""The quick solver, which runs at every change.

A few fill strategies, and the best of their solutions.
"""

from collections.abc import Sequence

from anzel.nesting.bottom_left_fill import FillStrategy, fill
from anzel.nesting.problem import NestingProblem, PlacedItem, Solution, cost_of
from anzel.nesting.raster_grids import RasterGrids
from anzel.nesting.rectangle_packing import pack_rectangles
from anzel.nesting.validation import clashes

MANNERS = (
    FillStrategy(),
    FillStrategy(across=True),
    FillStrategy("length", by_start=True),
    FillStrategy("box", largest_first=True),
    FillStrategy("reach", across=True, by_start=True),
    FillStrategy("length", largest_first=True, across=True),
)
"""Those that did best, in this order, on the forms at their defaults and at random sizes."""
_WORK = 40
"""Copies that may be laid before the solution is late: each takes some milliseconds."""


def solve_quickly(problem: NestingProblem) -> Solution:
    """Return the best solution of as many strategies as there is time for.

    The same problem always has the same solution.
    """
    grids = RasterGrids(problem)
    return best_of(problem, filled(problem, strategies_for(problem), grids), grids)


def strategies_for(problem: NestingProblem) -> tuple[FillStrategy, ...]:
    """Return as many strategies as there is time for."""
    copies = max(len(problem.loose), 1)
    most = max(min(_WORK // copies, copies), 1)  # few copies have few orders
    return MANNERS[:most]


def filled(
    problem: NestingProblem, strategies: Sequence[FillStrategy], grids: RasterGrids | None = None
) -> list[Solution]:
    """Return the solution of each strategy."""
    grids = grids or RasterGrids(problem)
    return [fill(problem, strategy, grids) for strategy in strategies]


def best_of(
    problem: NestingProblem, solutions: Sequence[Solution], grids: RasterGrids | None = None
) -> Solution:
    """Return the best of some solutions, or of those by boxes, that shapely confirms."""
    grids = grids or RasterGrids(problem)
    boxed = (pack_rectangles(problem, turning=turning) for turning in (True, False))
    best = _first_sound(problem, [*solutions, *(each for each in boxed if each is not None)])
    if best is None:  # sliding went wrong everywhere: without it a place on the grid is free
        best = fill(problem, FillStrategy(slides=False), grids)
    smaller = in_smaller_containers(problem, best, grids)
    return smaller if smaller is not best and is_valid(problem, smaller) else best


def is_valid(problem: NestingProblem, solution: Solution) -> bool:
    """Return whether nothing clashes, apart from fixed items, which the maker is told of."""
    fixed = set(problem.fixed)
    return all(
        clash.placed in fixed and (clash.other is None or clash.other in fixed)
        for clash in clashes(problem, solution)
    )


def _first_sound(problem: NestingProblem, solutions: list[Solution]) -> Solution | None:
    """Return the best solution that shapely confirms."""
    ranked = sorted(solutions, key=lambda solution: cost_of(problem, solution))
    return next((solution for solution in ranked if is_valid(problem, solution)), None)


def in_smaller_containers(
    problem: NestingProblem, solution: Solution, grids: RasterGrids
) -> Solution:
    """Return the solution with items moved to smaller containers where one takes them."""
    fixed = {(placed_item.container, placed_item.copy_number) for placed_item in problem.fixed}
    for container, sheet in reversed(solution.sheets):
        if (container, sheet) in fixed:
            continue
        for other in _smaller(problem, solution, container):
            placed_items = solution.on(container, sheet)
            tried = fill(
                problem.only([s.item for s in placed_items], [other]), FillStrategy(), grids
            )
            if not tried.left_out:
                number = 1 + max((n for r, n in solution.sheets if r == other), default=-1)
                kept = tuple(s for s in solution.placed if s not in placed_items)
                there = (
                    PlacedItem(s.item, other, number, s.orientation, s.x, s.y) for s in tried.placed
                )
                better = Solution((*kept, *there), solution.left_out)
                if cost_of(problem, better) < cost_of(problem, solution):
                    solution = better
                    break
    return solution


def _smaller(problem: NestingProblem, solution: Solution, container: int) -> list[int]:
    """Return the containers smaller than one, with copies left, smallest first."""
    used = [r for r, _ in solution.sheets]
    left = [
        index for index, each in enumerate(problem.containers)
        if each.area < problem.containers[container].area
        and (each.count is None or used.count(index) < each.count)
    ]  # fmt: skip
    return sorted(left, key=lambda index: problem.containers[index].area)
