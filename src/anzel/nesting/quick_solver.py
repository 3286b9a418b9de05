"""The engine that runs at every change: a few manners of filling, the best of them."""

from anzel.nesting.bottom_left_fill import Grids, Manner, fill
from anzel.nesting.problem import Answer, Puzzle, Spot, cost_of
from anzel.nesting.rectangle_packing import by_boxes
from anzel.nesting.validation import clashes

MANNERS = (
    Manner(),
    Manner(across=True),
    Manner("length", by_start=True),
    Manner("box", largest_first=True),
    Manner("reach", across=True, by_start=True),
    Manner("length", largest_first=True, across=True),
)
"""Those that did best, in this order, on the forms at their defaults and at random sizes."""
_WORK = 40
"""Copies that may be laid before the answer is late: each takes some milliseconds."""


def lay_at_once(puzzle: Puzzle) -> Answer:
    """An answer by boxes alone where those do: for a few pieces that are nearly rectangular."""
    boxed = by_boxes(puzzle, turning=True)
    return boxed if boxed is not None else lay_fast(puzzle)


def lay_fast(puzzle: Puzzle) -> Answer:
    """The best answer of as many manners as there is time for; always the same for the same
    puzzle."""
    grids = Grids(puzzle)
    copies = max(len(puzzle.loose), 1)
    most = max(min(_WORK // copies, copies), 1)  # few copies have few orders
    several = MANNERS[:most]
    answers = [fill(puzzle, manner, grids) for manner in several]
    boxed = (by_boxes(puzzle, turning=turning) for turning in (True, False))
    answers += [answer for answer in boxed if answer is not None]
    best = _first_sound(puzzle, answers)
    if best is None:  # sliding went wrong everywhere: without it a place on the grid is free
        best = fill(puzzle, Manner(slides=False), grids)
    smaller = on_smaller_rooms(puzzle, best, grids)
    return smaller if smaller is not best and is_sound(puzzle, smaller) else best


def is_sound(puzzle: Puzzle, answer: Answer) -> bool:
    """Whether nothing clashes, but for what is fixed, which the maker is told of."""
    fixed = set(puzzle.fixed)
    return all(
        clash.spot in fixed and (clash.other is None or clash.other in fixed)
        for clash in clashes(puzzle, answer)
    )


def _first_sound(puzzle: Puzzle, answers: list[Answer]) -> Answer | None:
    """The best answer that shapely has nothing against."""
    ranked = sorted(answers, key=lambda answer: cost_of(puzzle, answer))
    return next((answer for answer in ranked if is_sound(puzzle, answer)), None)


def on_smaller_rooms(puzzle: Puzzle, answer: Answer, grids: Grids) -> Answer:
    """What lies on each sheet laid on a smaller one instead, where one is left that takes it."""
    fixed = {(spot.room, spot.sheet) for spot in puzzle.fixed}
    for room, sheet in reversed(answer.sheets):
        if (room, sheet) in fixed:
            continue
        for other in _smaller(puzzle, answer, room):
            spots = answer.on(room, sheet)
            tried = fill(puzzle.only([s.shape for s in spots], [other]), Manner(), grids)
            if not tried.left_out:
                number = 1 + max((n for r, n in answer.sheets if r == other), default=-1)
                kept = tuple(s for s in answer.spots if s not in spots)
                there = (Spot(s.shape, other, number, s.pose, s.x, s.y) for s in tried.spots)
                better = Answer((*kept, *there), answer.left_out)
                if cost_of(puzzle, better) < cost_of(puzzle, answer):
                    answer = better
                    break
    return answer


def _smaller(puzzle: Puzzle, answer: Answer, room: int) -> list[int]:
    """Rooms smaller than one, of which copies are left, the smallest first."""
    used = [r for r, _ in answer.sheets]
    left = [
        index for index, each in enumerate(puzzle.rooms)
        if each.area < puzzle.rooms[room].area
        and (each.count is None or used.count(index) < each.count)
    ]  # fmt: skip
    return sorted(left, key=lambda index: puzzle.rooms[index].area)
