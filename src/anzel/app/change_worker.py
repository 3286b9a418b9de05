"""A project worked out on another thread, while the maker goes on; quick ones are waited for."""

from collections.abc import Callable
from concurrent.futures import Future

from anzel.app.background import Deliver
from anzel.app.worker import Worker
from anzel.core.error_boundary import to_maker_error
from anzel.core.findings import MakerError

PATIENCE = 0.06
"""Seconds that nobody minds waiting for; what takes longer arrives later."""

Arrived = Callable[[str], None]
Failed = Callable[[MakerError], None]


class Aside:
    """Runs one piece of work at a time; only the newest one's outcome arrives."""

    def __init__(self, deliver: Deliver) -> None:
        self._deliver = deliver
        self._closed = False
        self._worker = Worker("anzel-aside")
        self._newest: Future[str] | None = None

    def run(self, work: Callable[[], str], *, done: Arrived, failed: Failed) -> str | None:
        """Return what `work` comes to, if that is soon.

        Raises MakerError where it fails soon.

        Otherwise None, and `done` or `failed` is called through `deliver` in the end, unless it is
        overtaken or dropped.
        """
        self.drop()
        if self._closed:
            return work()
        future = self._worker.submit(work)
        try:
            return future.result(PATIENCE)
        except TimeoutError:
            self._newest = future
        future.add_done_callback(
            lambda ended: self._deliver(lambda: self._arrive(ended, done, failed))
        )
        return None

    def finish(self) -> str | None:
        """Wait for the work under way; what it comes to, or None.

        Raises MakerError.
        """
        future, self._newest = self._newest, None
        return None if future is None else future.result()

    def drop(self) -> None:
        """Forget the work under way."""
        if self._newest is not None:
            self._newest.cancel()
            self._newest = None

    def close(self) -> None:
        """Drop the work under way and end the thread after it.

        What comes later is worked out at once. This does not wait.
        """
        self._closed = True
        self.drop()
        self._worker.close()

    def _arrive(self, ended: Future[str], done: Arrived, failed: Failed) -> None:
        if ended is not self._newest:
            return
        self._newest = None
        try:
            done(ended.result())
        except Exception as error:
            failed(to_maker_error(error, "it worked out a change"))
