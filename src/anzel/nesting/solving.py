"""Where solutions are found: in this process, or beside the window by helpers."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from anzel.core.error_boundary import CancelledError
from anzel.helpers import serving
from anzel.helpers.process import Helper
from anzel.nesting.problem import NestingProblem, Solution

HELPER = Helper("layouts", "anzel.nesting.quick_solver")
SQUEEZING = Helper("squeezing", "anzel.nesting.squeeze")
_WORTH_IT = 1
"""Copies from which on a solution is worth handing over."""
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
    from anzel.nesting.quick_solver import solve_quickly  # loads SciPy, so only when needed

    is_stopped = _aside.get()
    if is_stopped is None or len(problem.loose) < _WORTH_IT:
        return solve_quickly(problem)
    return HELPER.call(solve_quickly, problem, is_stopped=is_stopped)


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
