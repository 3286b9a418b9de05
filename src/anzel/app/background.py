"""Work that takes a while, off the interface thread, with progress and cancel."""

from collections.abc import Callable
from threading import Event
from typing import TypeVar

from anzel.app.worker import Worker
from anzel.core.error_boundary import CancelledError, to_maker_error
from anzel.core.findings import MakerError

Result = TypeVar("Result")
Value = TypeVar("Value")
Deliver = Callable[[Callable[[], None]], None]


class Progress:
    """A job's way to say how far it is and to hear that it should stop."""

    def __init__(self, deliver: Deliver, said: Callable[[str], None]) -> None:
        self._cancelled = Event()
        self._deliver, self._said = deliver, said

    def report(self, text: str) -> None:
        """Tell the maker what is being done.

        Raises CancelledError once cancelled.
        """
        if self._cancelled.is_set():
            raise CancelledError
        self._deliver(lambda: self._said(text))

    def cancel(self) -> None:
        """Ask the job to stop at its next step."""
        self._cancelled.set()

    @property
    def is_cancelled(self) -> bool:
        """Whether the job was asked to stop."""
        return self._cancelled.is_set()


class Jobs:
    """Runs jobs one after the other; results arrive through `deliver` on the caller's thread."""

    def __init__(self, deliver: Deliver) -> None:
        self._deliver = deliver
        self._closed = False
        self._worker = Worker("anzel-job")
        self._last: Progress | None = None

    def start(
        self,
        work: Callable[[Progress], Result],
        *,
        done: Callable[[Result], None],
        failed: Callable[[MakerError], None],
        said: Callable[[str], None] = lambda text: None,
    ) -> Progress:
        """Run `work`; then `done` with its result, or `failed`, or neither once cancelled.

        After `close` nothing is started any more: the job counts as cancelled.
        """
        progress = Progress(self._deliver, said)
        if self._closed:
            progress.cancel()
            return progress

        def run() -> None:
            try:
                result = work(progress)
            except CancelledError:
                return
            except Exception as caught:
                self._deliver(_failure(caught, failed))
            else:
                if not progress.is_cancelled:
                    self._deliver(lambda: done(result))

        self._last = progress
        self._worker.submit(run)
        return progress

    def close(self) -> None:
        """Drop what has not started, and ask what is under way to stop; this does not wait."""
        self._closed = True
        if self._last is not None:
            self._last.cancel()
        self._worker.close()


def _failure(caught: Exception, failed: Callable[[MakerError], None]) -> Callable[[], None]:
    """Return what tells of a failure once it is back on the caller's thread."""
    return lambda: failed(to_maker_error(caught, "it worked in the background"))


class Newest:
    """The newest job of a kind.

    Starting one cancels the one under way, and what an overtaken one comes to, or fails of, never
    arrives.
    """

    def __init__(self, jobs: Jobs) -> None:
        self._jobs = jobs
        self._running: Progress | None = None
        self._number = 0

    @property
    def is_working(self) -> bool:
        """Whether a job is under way."""
        return self._running is not None

    def start(
        self,
        work: Callable[[Progress], Result],
        *,
        done: Callable[[Result], None],
        failed: Callable[[MakerError], None],
        said: Callable[[str], None] = lambda text: None,
    ) -> None:
        """Run `work` instead of what is under way; see `Jobs.start`."""
        self.cancel()
        number = self._number
        self._running = self._jobs.start(
            work,
            done=self._if_newest(done),
            failed=self._if_newest(failed),
            said=lambda text: said(text) if number == self._number else None,
        )

    def cancel(self) -> None:
        """Stop the job under way, if there is one."""
        self._number += 1
        if self._running is not None:
            self._running.cancel()
            self._running = None

    def _if_newest(self, then: Callable[[Value], None]) -> Callable[[Value], None]:
        number = self._number

        def arrived(value: Value) -> None:
            if number == self._number:
                self._running = None
                then(value)

        return arrived
