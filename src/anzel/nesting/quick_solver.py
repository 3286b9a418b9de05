"""The engine that runs at every change: a few manners of filling, the best of them."""

from anzel.nesting.bottom_left_fill import FillStrategy, RasterGrids, fill
from anzel.nesting.problem import NestingProblem, PlacedItem, Solution, cost_of
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
"""Copies that may be laid before the answer is late: each takes some milliseconds."""


def solve_by_boxes(puzzle: NestingProblem) -> Solution:
    """An answer by boxes alone where those do: for a few pieces that are nearly rectangular."""
    boxed = pack_rectangles(puzzle, turning=True)
    return boxed if boxed is not None else solve_quickly(puzzle)


def solve_quickly(puzzle: NestingProblem) -> Solution:
    """The best answer of as many manners as there is time for; always the same for the same
    puzzle."""
    grids = RasterGrids(puzzle)
    copies = max(len(puzzle.loose), 1)
    most = max(min(_WORK // copies, copies), 1)  # few copies have few orders
    several = MANNERS[:most]
    answers = [fill(puzzle, manner, grids) for manner in several]
    boxed = (pack_rectangles(puzzle, turning=turning) for turning in (True, False))
    answers += [answer for answer in boxed if answer is not None]
    best = _first_sound(puzzle, answers)
    if best is None:  # sliding went wrong everywhere: without it a place on the grid is free
        best = fill(puzzle, FillStrategy(slides=False), grids)
    smaller = in_smaller_containers(puzzle, best, grids)
    return smaller if smaller is not best and is_valid(puzzle, smaller) else best


def is_valid(puzzle: NestingProblem, answer: Solution) -> bool:
    """Whether nothing clashes, but for what is fixed, which the maker is told of."""
    fixed = set(puzzle.fixed)
    return all(
        clash.placed in fixed and (clash.other is None or clash.other in fixed)
        for clash in clashes(puzzle, answer)
    )


def _first_sound(puzzle: NestingProblem, answers: list[Solution]) -> Solution | None:
    """The best answer that shapely has nothing against."""
    ranked = sorted(answers, key=lambda answer: cost_of(puzzle, answer))
    return next((answer for answer in ranked if is_valid(puzzle, answer)), None)


def in_smaller_containers(puzzle: NestingProblem, answer: Solution, grids: RasterGrids) -> Solution:
    """What lies on each sheet laid on a smaller one instead, where one is left that takes it."""
    fixed = {(spot.container, spot.copy_number) for spot in puzzle.fixed}
    for room, sheet in reversed(answer.sheets):
        if (room, sheet) in fixed:
            continue
        for other in _smaller(puzzle, answer, room):
            spots = answer.on(room, sheet)
            tried = fill(puzzle.only([s.item for s in spots], [other]), FillStrategy(), grids)
            if not tried.left_out:
                number = 1 + max((n for r, n in answer.sheets if r == other), default=-1)
                kept = tuple(s for s in answer.placed if s not in spots)
                there = (
                    PlacedItem(s.item, other, number, s.orientation, s.x, s.y) for s in tried.placed
                )
                better = Solution((*kept, *there), answer.left_out)
                if cost_of(puzzle, better) < cost_of(puzzle, answer):
                    answer = better
                    break
    return answer


def _smaller(puzzle: NestingProblem, answer: Solution, room: int) -> list[int]:
    """Rooms smaller than one, of which copies are left, the smallest first."""
    used = [r for r, _ in answer.sheets]
    left = [
        index for index, each in enumerate(puzzle.containers)
        if each.area < puzzle.containers[room].area
        and (each.count is None or used.count(index) < each.count)
    ]  # fmt: skip
    return sorted(left, key=lambda index: puzzle.containers[index].area)
