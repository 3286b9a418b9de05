"""A thread for work that takes a while.

It never keeps a closed window's process alive.

The threads are daemons: a job that does not stop when it is asked to ends with the process.
"""

import sys
import traceback
from collections.abc import Callable
from concurrent.futures import Future
from contextlib import suppress
from queue import Empty, SimpleQueue
from threading import Lock, Thread
from time import monotonic
from typing import TypeVar
from weakref import WeakSet

Result = TypeVar("Result")
_TURN = 0.00002
"""Seconds that a thread may go on while another waits; Python's own are 0.005, and the interface
asks for its turn hundreds of times for one picture."""
_IDLE = 10.0
"""Seconds without work after which a worker's thread ends; the next call starts another."""
_threads: WeakSet[Thread] = WeakSet()


def start_thread(run: Callable[[], None], name: str) -> Thread:
    """Start a thread that `wait_for_threads` knows of.

    Returns it.
    """
    thread = Thread(target=run, name=name, daemon=True)
    _threads.add(thread)
    thread.start()
    return thread


def wait_for_threads(seconds: float) -> bool:
    """Wait for threads that were asked to end.

    Returns whether all have ended in time.
    """
    end = monotonic() + seconds
    for thread in list(_threads):
        thread.join(max(end - monotonic(), 0.0))
    return not any(thread.is_alive() for thread in _threads)


def take_short_turns() -> None:
    """Have threads take short turns, so that the interface never waits long for its own."""
    sys.setswitchinterval(_TURN)


class Worker:
    """Runs calls one after the other on a thread of its own, which is there while it is needed."""

    def __init__(self, name: str) -> None:
        self._name = name
        self._calls: SimpleQueue[Callable[[], None] | None] = SimpleQueue()
        self._thread: Thread | None = None
        self._lock = Lock()
        self._closed = False

    def submit(self, work: Callable[[], Result]) -> "Future[Result]":
        """Run `work` after what was submitted before; the result comes with the future."""
        future: Future[Result] = Future()

        def call() -> None:
            if self._closed or not future.set_running_or_notify_cancel():
                future.cancel()
                return
            try:
                result = work()
            except BaseException as error:
                future.set_exception(error)
            else:
                future.set_result(result)

        with self._lock:
            self._calls.put(call)
            if self._thread is None and not self._closed:
                self._thread = start_thread(self._run, self._name)
        return future

    def where(self) -> str:
        """Return the lines that its thread is at, innermost last; "" where it has none."""
        thread = self._thread
        frame = sys._current_frames().get(thread.ident or 0) if thread is not None else None
        return "" if frame is None else "".join(traceback.format_stack(frame))

    def close(self) -> None:
        """Drop what has not started, and end after the work under way; this does not wait."""
        self._closed = True
        self._calls.put(None)

    def _run(self) -> None:
        while (call := self._next()) is not None:
            call()

    def _next(self) -> Callable[[], None] | None:
        """Wait for the next call; None ends the thread."""
        with suppress(Empty):
            return self._calls.get(timeout=_IDLE)
        with self._lock:
            if self._calls.empty():
                self._thread = None
                return None
        return self._calls.get()
