"""The quick solver, which runs at every change.

A few fill strategies, and the best of their solutions. What ends in the emptiest container is laid
first once more.
"""

from collections import Counter
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
_MOST_AGAIN = 2
"""Times that what ended badly is laid first, for few copies; for more it is once or never. On 120
random problems of 3 to 22 copies this saved 3 of 120 sheets, for a fifth more time."""


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


def laid_again(
    problem: NestingProblem, solutions: Sequence[Solution], grids: RasterGrids | None = None
) -> list[Solution]:
    """Return what the best of the strategies makes when what ended badly is laid first.

    That is what was left out, or else what lies in the emptiest container: it often finds room
    in the others when it does not come last.
    """
    ranked = zip(solutions, strategies_for(problem), strict=True)
    solution, strategy = min(ranked, key=lambda each: cost_of(problem, each[0]))
    order, made = strategy.ordered(problem), []
    for _ in range(min(_MOST_AGAIN, _WORK // 2 // max(len(order), 1))):
        first = solution.left_out or _in_the_emptiest(problem, solution)
        if not first:
            break
        moved, later = Counter(first), []
        for item in order:
            if moved[item]:
                moved[item] -= 1
            else:
                later.append(item)
        order = [*first, *later]
        solution = fill(problem, strategy, grids, order)
        made.append(solution)
    return made


def _in_the_emptiest(problem: NestingProblem, solution: Solution) -> tuple[int, ...]:
    """Return the items that lie loosely in the emptiest of several containers."""
    fixed = set(problem.fixed)

    def fullness(sheet: tuple[int, int]) -> float:
        laid = sum(problem.items[placed.item].area for placed in solution.on(*sheet))
        return laid / problem.containers[sheet[0]].area

    for sheet in sorted(solution.sheets, key=fullness) if len(solution.sheets) > 1 else ():
        if loose := tuple(placed.item for placed in solution.on(*sheet) if placed not in fixed):
            return loose
    return ()


def best_of(
    problem: NestingProblem, solutions: Sequence[Solution], grids: RasterGrids | None = None
) -> Solution:
    """Return the best of some solutions, or of those by boxes, that shapely confirms."""
    grids = grids or RasterGrids(problem)
    boxed = (pack_rectangles(problem, turning=turning) for turning in (True, False))
    again = laid_again(problem, solutions, grids)
    tried = [*solutions, *again, *(each for each in boxed if each is not None)]
    best = _first_sound(problem, tried)
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
