"""Error boundaries: an unforeseen error becomes one sentence for the maker and a report for us.

Everything that a maker's files and commands run through is enclosed in an `error_boundary`:
readers, edits, background work, painting and the command line. An exception without wording for the
maker becomes an `UnexpectedError`. Tests call `reraise_unexpected` so that nothing is hidden from
them.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from anzel.core.findings import MakerError

Keep = Callable[[BaseException, str], str]
"""Keeps a report of an error and of what was being done. Returns where, or nothing."""

_LONGEST = 160


class UnexpectedError(MakerError):
    """A fault of Anzel itself, not of its input."""


class CancelledError(Exception):
    """The maker cancelled the work."""


class _Boundary:
    """The place that reports go to, and whether unforeseen errors are raised again."""

    def __init__(self) -> None:
        self.keep: Keep = lambda error, doing: ""
        self.lets_through = False


_guard = _Boundary()


def set_report_keeper(keep: Keep) -> None:
    """Pass every unexpected error to `keep` from now on."""
    _guard.keep = keep


def reraise_unexpected(faults: bool) -> None:
    """Raise unexpected errors as they are instead of wording them.

    Tests use this.
    """
    _guard.lets_through = faults


def to_maker_error(error: Exception, doing: str) -> MakerError:
    """Return the error in words for the maker, and keep a report of an unexpected one.

    `doing` completes the sentence "Something went wrong in Anzel while …". In tests the error
    itself is raised.
    """
    if isinstance(error, MakerError):
        return error
    if isinstance(error, MemoryError):
        return MakerError("This takes more memory than there is.", hint="Make it simpler.")
    if _guard.lets_through:
        raise error
    kept = _guard.keep(error, doing)
    said = " ".join(str(error).split())[:_LONGEST]
    what = f"{type(error).__name__}: {said}" if said else type(error).__name__
    return UnexpectedError(
        f"Something went wrong in Anzel while {doing} ({what}).",
        hint=f"A report was kept: {kept}" if kept else "",
    )


def without_frames(error: BaseException) -> BaseException:
    """Return an error that is kept; a foreseen one without the frames that it came through.

    What was being worked out there would stay as long as the error, or until garbage is collected
    where one of the frames knows of the error. A fault keeps them for its report.
    """
    if isinstance(error, (MakerError, CancelledError)):
        error.__cause__ = error.__context__ = None
        error.__traceback__ = None
    return error


@contextmanager
def error_boundary(doing: str) -> Iterator[None]:
    """Turn every exception without wording for the maker into an UnexpectedError.

    See `to_maker_error`.
    """
    try:
        yield
    except (MakerError, CancelledError):
        raise
    except Exception as error:
        raise to_maker_error(error, doing) from error
