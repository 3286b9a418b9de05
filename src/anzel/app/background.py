"""Background work: it runs on another thread, its outcome arrives on the caller's.

- *Background*: a thread that runs tasks one after the other.
- *Task*: one piece of work with its progress and its outcome.
- *Newest*: tasks of one kind, of which only the newest outcome arrives.
"""

from collections.abc import Callable
from concurrent.futures import CancelledError as CancelledFutureError
from concurrent.futures import Future
from math import inf
from threading import Event
from time import monotonic
from typing import Any, Generic, TypeVar
from weakref import WeakSet

from anzel.app.worker import Worker
from anzel.core.error_boundary import CancelledError, to_maker_error, without_frames
from anzel.core.findings import MakerError
from anzel.helpers.serving import called_by

PATIENCE = 0.0
"""Seconds that the interface waits for a task: none, so that it never stands still. Tests wait."""

_LONGEST_WAIT = 120.0
"""Seconds after which nobody waits any longer for work on another thread."""
_READABLE = 0.05
"""Seconds between two reports of a task that are told."""

Result = TypeVar("Result")
Post = Callable[[Callable[[], None]], None]
"""Makes a call later, on the caller's thread."""
Done = Callable[[Result], None]
Failed = Callable[[MakerError], None]
Said = Callable[[str], None]


def _nobody() -> None:
    """Nobody waits for the end."""


def _unheard(_: object) -> None:
    """Nobody listens."""


class StoppedError(MakerError):
    """The maker stopped it."""

    def __init__(self) -> None:
        super().__init__("Stopped, as you wished.")


class StuckError(MakerError):
    """Work that did not end in the longest time that anybody waits for it."""

    def __init__(self, seconds: float) -> None:
        super().__init__(
            f"The last change is still being computed after {seconds / 60:g} minutes.",
            hint="Undo it (Ctrl+Z), then save.",
        )


class Task(Generic[Result]):
    """One piece of work: the work reports its progress, the owner cancels it or takes its result.

    Its outcome arrives once: `done` or `failed` is called, or `take` returns it. A cancelled task
    never arrives.
    """

    def __init__(
        self, post: Post, done: Done[Result], failed: Failed, said: Said,
        ended: Callable[[], None] = _nobody, hand_over: Callable[[], object] = _nobody,
    ) -> None:  # fmt: skip
        self._hand_over = hand_over
        self._post, self._done, self._failed, self._said = post, done, failed, said
        self._ended = ended
        self._cancelled = Event()
        self._outcome: Future[Result] = Future()
        self._told = 0.0
        self.last_sign = inf
        """When the work began or last reported, on the monotonic clock; at its end infinity."""
        self.has_begun = self.is_over = False

    def begin(self) -> None:
        """Hand it over to its thread, unless that was done."""
        hand_over, self._hand_over = self._hand_over, _nobody
        hand_over()

    def _end(self) -> None:
        """Nothing arrives from now on: who listened, and what they hold, is let go."""
        self.is_over = True
        self._done = self._failed = self._said = _unheard
        self._hand_over = _nobody
        ended, self._ended = self._ended, _nobody
        ended()

    def report(self, text: str) -> None:
        """Tell the maker what is being done; what follows too soon to be read is not told.

        Raises CancelledError once the task is cancelled.
        """
        if self.is_cancelled:
            raise CancelledError
        self.last_sign = now = monotonic()
        if now < self._told + _READABLE:
            return
        self._told = now
        self._post(lambda: None if self.is_cancelled else self._said(text))

    def cancel(self) -> None:
        """Ask the work to stop at its next report, or not to begin; nothing arrives."""
        self._cancelled.set()
        self._end()
        self._outcome.cancel()  # if it has not begun, whoever waits for it waits for nothing

    def stop(self) -> None:
        """End it because the maker wants so: it fails with StoppedError."""
        if not self.is_over:
            failed = self._failed
            self.cancel()
            failed(StoppedError())

    @property
    def is_cancelled(self) -> bool:
        """Whether the task was asked to stop."""
        return self._cancelled.is_set()

    def wait(self) -> None:
        """Wait on another thread until the work has ended; its outcome arrives all the same.

        It returns at once for a task that is cancelled before it has begun.

        Raises StuckError where it takes longer than a maker would wait.
        """
        try:
            self._outcome.exception(_LONGEST_WAIT)
        except CancelledFutureError:
            return
        except TimeoutError as error:
            raise StuckError(_LONGEST_WAIT) from error

    def take(self, seconds: float | None = None) -> Result:
        """Wait for the result and return it; then it does not arrive otherwise.

        Raises TimeoutError where it is not there in so many seconds, and MakerError where the work
        failed.
        """
        if seconds != 0:  # who does not wait has no need of it now
            self.begin()
        try:
            result = self._outcome.result(seconds)
        except TimeoutError:
            raise
        except CancelledFutureError as error:
            raise StoppedError from error
        except Exception as error:
            self._end()
            raise to_maker_error(error, "it worked in the background") from error
        self._end()
        return result

    def take_if_there(self) -> Result:
        """Return the result if it is there by now; raises as `take` does."""
        return self.take(PATIENCE)

    def run(self, work: Callable[["Task[Result]"], Result]) -> None:
        """Do the work on this thread, and post its outcome to the owner's.

        What it calls in helpers reports here, and stops with this.
        """
        if not self._outcome.set_running_or_notify_cancel():
            return
        self.has_begun = True
        self.last_sign = monotonic()
        try:
            with called_by(self.report, lambda: self.is_cancelled):
                self._outcome.set_result(work(self))
        except BaseException as error:
            self._outcome.set_exception(without_frames(error))
        self.last_sign = inf
        self._post(self._arrive)

    def _arrive(self) -> None:
        if self.is_over:
            return
        done, failed = self._done, self._failed
        self._end()
        error = self._outcome.exception()
        if error is None:
            done(self._outcome.result())
        elif isinstance(error, Exception) and not isinstance(error, CancelledError):
            failed(to_maker_error(error, "it worked in the background"))


class Background:
    """Runs tasks one after the other on a thread of its own.

    `watched` is called on the owner's thread when a task is started or is over. `post_begin` makes
    the call that begins a task, where that is to wait for more than `post`.
    """

    def __init__(
        self, post: Post, name: str = "anzel-work", post_begin: Post | None = None
    ) -> None:  # fmt: skip
        self.name = name
        self._post, self._worker = post, Worker(name)
        self._post_begin = post_begin or post
        self._tasks: list[Task[Any]] = []
        self._at_work: Task[Any] | None = None
        ALL.add(self)
        self.watched: Callable[[], None] = _nobody
        self.is_closed = False

    @property
    def is_working(self) -> bool:
        """Whether a task is under way or waits."""
        return any(not task.is_over for task in self._tasks)

    @property
    def silent_since(self) -> float:
        """When the task at work last gave a sign of life; infinity where none is at work.

        One that was cancelled, and has not ended yet, counts too: what follows waits for it.
        """
        task = self._at_work
        return inf if task is None else task.last_sign

    def where(self) -> str:
        """Return where in the program its thread is, for the log."""
        return self._worker.where()

    def stop(self) -> None:
        """Stop all tasks, as the maker wants; see `Task.stop`."""
        for task in list(self._tasks):
            task.stop()

    def start(
        self,
        work: Callable[[Task[Result]], Result],
        *,
        done: Done[Result],
        failed: Failed,
        said: Said = _unheard,
    ) -> Task[Result]:
        """Run `work` after what was started before; then `done` or `failed` is called.

        It begins once the caller's thread has done what it is at, so that it does not compete with
        that for the interpreter. After `close` nothing is started any more: the task counts as
        cancelled.
        """
        task: Task[Result] = Task(
            self._post, done, failed, said, self._ended,
            lambda: self._worker.submit(lambda: self._run(task, work)),
        )  # fmt: skip
        if self.is_closed:
            task.cancel()
            return task
        self._tasks.append(task)
        self._post_begin(task.begin)
        self.watched()
        return task

    def _run(self, task: Task[Result], work: Callable[[Task[Result]], Result]) -> None:
        self._at_work = task
        task.run(work)
        self._at_work = None

    def _ended(self) -> None:
        self._tasks = [task for task in self._tasks if not task.is_over]
        if not self.is_closed:
            self.watched()

    def close(self) -> None:
        """Drop what has not begun, and ask what is under way to stop; this does not wait."""
        self.is_closed = True
        for task in list(self._tasks):
            task.cancel()
        self._worker.close()


ALL: WeakSet[Background] = WeakSet()
"""All of this process; see `watchdog`."""


class Newest:
    """Tasks of one kind: starting one drops those before it.

    With `shows_each`, a task that has begun still arrives, so that a view that is asked for picture
    after picture shows some of them.
    """

    def __init__(self, background: Background, *, shows_each: bool = False) -> None:
        self._background, self._shows_each = background, shows_each
        self._tasks: list[Task[Any]] = []

    @property
    def is_working(self) -> bool:
        """Whether a task is under way."""
        return any(not task.is_over for task in self._tasks)

    def start(
        self,
        work: Callable[[Task[Result]], Result],
        *,
        done: Done[Result],
        failed: Failed,
        said: Said = _unheard,
    ) -> Task[Result]:
        """Run `work` instead of what was started before; see `Background.start`."""
        for task in self._tasks:
            if not (self._shows_each and task.has_begun):
                task.cancel()
        started = self._background.start(work, done=done, failed=failed, said=said)
        self._tasks = [*(task for task in self._tasks if not task.is_over), started]
        return started

    def cancel(self) -> None:
        """Stop the task under way, if there is one."""
        for task in self._tasks:
            task.cancel()
        self._tasks = []
