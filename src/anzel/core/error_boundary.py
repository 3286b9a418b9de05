"""Faults that nobody foresaw: the maker reads one sentence, and a report is kept for us.

Everything that a maker's files and commands run through is *guarded*: readers, edits, background
work, painting and the command line. What is raised there and is not worded becomes an
`UnexpectedError`. Tests call `let_through` so that nothing is hidden from them.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from anzel.core.findings import MakerError

Keep = Callable[[BaseException, str], str]
"""Keeps a report of an error and of what was being done. Returns where, or nothing."""

_LONGEST = 160


class UnexpectedError(MakerError):
    """A fault of Anzel itself, not of what it was given."""


class CancelledError(Exception):
    """The maker stopped the work."""


class _Boundary:
    """Where reports go, and whether faults are let through."""

    def __init__(self) -> None:
        self.keep: Keep = lambda error, doing: ""
        self.lets_through = False


_guard = _Boundary()


def set_report_keeper(keep: Keep) -> None:
    """Hand every unexpected error to `keep` from now on."""
    _guard.keep = keep


def reraise_unexpected(faults: bool) -> None:
    """Raise unexpected errors as they are instead of wording them. For tests."""
    _guard.lets_through = faults


def to_maker_error(error: Exception, doing: str) -> MakerError:
    """Returns the error as a maker reads it; a report of one that is not worded yet is kept.

    `doing` completes "Something went wrong in Anzel while …". Raises the error itself for tests.
    """
    if isinstance(error, MakerError):
        return error
    if _guard.lets_through:
        raise error
    kept = _guard.keep(error, doing)
    said = " ".join(str(error).split())[:_LONGEST]
    what = f"{type(error).__name__}: {said}" if said else type(error).__name__
    return UnexpectedError(
        f"Something went wrong in Anzel while {doing} ({what}).",
        hint=f"A report was kept: {kept}" if kept else "",
    )


@contextmanager
def error_boundary(doing: str) -> Iterator[None]:
    """Raise whatever is not worded as an UnexpectedError; see `worded`."""
    try:
        yield
    except (MakerError, CancelledError):
        raise
    except Exception as error:
        raise to_maker_error(error, doing) from error
