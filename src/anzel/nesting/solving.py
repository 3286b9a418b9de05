"""Where solutions are found: in this process, or beside the window by helpers."""

from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from contextvars import ContextVar
from threading import Lock
from typing import TYPE_CHECKING

from anzel.core.error_boundary import CancelledError
from anzel.helpers import serving
from anzel.helpers.process import Helper
from anzel.nesting.problem import NestingProblem, Solution

if TYPE_CHECKING:
    from anzel.nesting.bottom_left_fill import FillStrategy

HELPER = Helper("layouts", "anzel.nesting.quick_solver")
SQUEEZING = Helper("squeezing", "anzel.nesting.squeeze")
_SQUEEZING_IS_FREE = Lock()
"""Held by who uses the helper that squeezes: without a squeeze it shares the quick solutions."""
_TOO_FEW = 2
"""Pieces that one helper has laid before two have shared them."""
_aside: ContextVar[Callable[[], bool] | None] = ContextVar("aside", default=None)


@contextmanager
def solving_aside(is_stopped: Callable[[], bool]) -> Iterator[None]:
    """Have this thread's problems solved by helpers, until `is_stopped`."""
    before = _aside.set(is_stopped)
    try:
        yield
    finally:
        _aside.reset(before)


def solution_of(problem: NestingProblem) -> Solution:
    """Return a quick solution; see `quick_solver.solve_quickly`.

    Raises
    ------
    CancelledError
        Where it is solved aside, and was stopped.
    """
    # loads SciPy, so only when needed
    from anzel.nesting.quick_solver import solve_quickly, strategies_for

    is_stopped = _aside.get()
    if is_stopped is None or not problem.loose:
        return solve_quickly(problem)
    strategies = strategies_for(problem)
    is_worth_it = len(strategies) > 1 and len(problem.loose) > _TOO_FEW
    may_share = is_worth_it and SQUEEZING.process_id is not None
    if not may_share or not _SQUEEZING_IS_FREE.acquire(blocking=False):
        return HELPER.call(solve_quickly, problem, is_stopped=is_stopped)
    try:
        return _solution_by_two(problem, strategies, is_stopped)
    finally:
        _SQUEEZING_IS_FREE.release()


def solution_by_boxes(problem: NestingProblem) -> Solution:
    """Return a solution by boxes alone where those suffice: for a few nearly rectangular items.

    Raises as `solution_of` does.
    """
    from anzel.nesting.rectangle_packing import pack_rectangles

    boxed = pack_rectangles(problem, turning=True)
    return boxed if boxed is not None else solution_of(problem)


def _solution_by_two(
    problem: NestingProblem, strategies: "Sequence[FillStrategy]", is_stopped: Callable[[], bool]
) -> Solution:
    """Return the quick solution; each of two helpers fills by every other strategy."""
    from anzel.nesting.quick_solver import best_of, filled

    solutions = [Solution(())] * len(strategies)
    with ThreadPoolExecutor(1, "anzel-layouts-beside") as beside:
        others = beside.submit(
            SQUEEZING.call, filled, problem, strategies[1::2], is_stopped=is_stopped
        )
        solutions[::2] = HELPER.call(filled, problem, strategies[::2], is_stopped=is_stopped)
        solutions[1::2] = others.result()
    return HELPER.call(best_of, problem, solutions, is_stopped=is_stopped)


def squeezed_solution(
    problem: NestingProblem, seconds: float, start: Solution, *,
    told: Callable[[Solution], None], stopped: Callable[[], bool],
) -> Solution:  # fmt: skip
    """Return a better solution than `start`, or the same; see `squeeze.squeeze`."""
    if _aside.get() is None:
        return _squeeze(problem, seconds, start, told, stopped)
    best = start

    def hear(solution: Solution) -> None:
        nonlocal best
        best = solution
        told(solution)

    try:
        with _SQUEEZING_IS_FREE:
            return SQUEEZING.call(_squeeze, problem, seconds, start, said=hear, is_stopped=stopped)
    except CancelledError:
        return best


def _squeeze(
    problem: NestingProblem, seconds: float, start: Solution,
    told: Callable[[Solution], None] = serving.said,
    stopped: Callable[[], bool] = serving.is_stopped,
) -> Solution:  # fmt: skip
    """Squeeze in this process; in the helper the other side hears of it, and stops it."""
    from anzel.nesting.squeeze import squeeze  # loads SciPy, so only when needed

    return squeeze(problem, seconds, told=told, stopped=stopped, start=start)
