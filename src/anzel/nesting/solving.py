"""Where quick solutions are found: in this process, or beside the window by a helper."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from anzel.helpers.process import Helper
from anzel.nesting.problem import NestingProblem, Solution

HELPER = Helper("layouts", "anzel.nesting.quick_solver")
_WORTH_IT = 1
"""Copies from which on a solution is worth handing over."""
_aside: ContextVar[Callable[[], bool] | None] = ContextVar("aside", default=None)


@contextmanager
def solving_aside(is_stopped: Callable[[], bool]) -> Iterator[None]:
    """Have this thread's problems solved by the helper, until `is_stopped`."""
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
