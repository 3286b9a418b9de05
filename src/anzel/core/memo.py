"""Results that are kept: as many as a number of bytes allows, or the last one."""

from collections import OrderedDict
from collections.abc import Callable
from functools import update_wrapper, wraps
from threading import Lock
from typing import Generic, ParamSpec, TypeVar

Result = TypeVar("Result")
Argument = TypeVar("Argument")
Arguments = ParamSpec("Arguments")


class Memo(Generic[Arguments, Result]):
    """A function whose results are kept by its arguments, up to so many bytes in all.

    `weigh` estimates the bytes of a result; the last `least` results are kept however large they
    are. Threads may share it; two that ask for the same at the same time may both compute it.
    """

    def __init__(
        self, function: Callable[Arguments, Result], weigh: Callable[[Result], int], most: int,
        least: int,
    ) -> None:  # fmt: skip
        self._function, self._weigh, self._most, self._least = function, weigh, most, least
        self._kept: OrderedDict[object, tuple[Result, int]] = OrderedDict()
        self._bytes = 0
        self._lock = Lock()
        update_wrapper(self, function)

    def __call__(self, *args: Arguments.args, **kwargs: Arguments.kwargs) -> Result:
        """Return the function's result, computed or kept."""
        key = (args, tuple(kwargs.items()))
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key][0]
        result = self._function(*args, **kwargs)
        weight = self._weigh(result)
        with self._lock:
            if key not in self._kept:
                self._kept[key] = result, weight
                self._bytes += weight
            while self._bytes > self._most and len(self._kept) > self._least:
                self._bytes -= self._kept.popitem(last=False)[1][1]
            # what another thread has put there meanwhile is the same: one of both stays
            return self._kept[key][0] if key in self._kept else result

    def knows(self, *args: Arguments.args, **kwargs: Arguments.kwargs) -> bool:
        """Return whether the result for these arguments is kept."""
        with self._lock:
            return (args, tuple(kwargs.items())) in self._kept

    def cache_clear(self) -> None:
        """Forget all results, as functools' caches do."""
        with self._lock:
            self._kept.clear()
            self._bytes = 0

    @property
    def kept_bytes(self) -> int:
        """The estimated bytes of all that is kept."""
        return self._bytes


def memo(
    weigh: Callable[[Result], int], most: int, least: int = 2
) -> Callable[[Callable[Arguments, Result]], Memo[Arguments, Result]]:
    """Return a decorator that keeps a function's results, up to `most` bytes in all.

    The last `least` are kept however large they are.
    """
    return lambda function: Memo(function, weigh, most, least)


def latest(function: Callable[[Argument], Result]) -> Callable[[Argument], Result]:
    """Decorate a function that is asked dozens of times about the same object.

    Its last result is kept as long as it is asked about that very object, which is not compared.
    """
    kept: list[tuple[Argument, Result]] = []

    @wraps(function)
    def asked(argument: Argument) -> Result:
        for last, result in kept:
            if last is argument:
                return result
        made = function(argument)
        kept[:] = [(argument, made)]
        return made

    return asked
