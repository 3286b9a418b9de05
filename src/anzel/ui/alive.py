"""Work that a command needs the result of, done aside while the window stays alive.

It paints and answers the desktop, but takes no input, until the work is done. What may take long
can be stopped.
"""

from collections.abc import Callable
from typing import Generic, TypeVar

from PySide6.QtCore import QEventLoop, Qt, QTimer
from PySide6.QtWidgets import QProgressDialog, QWidget

from anzel.app.background import Background, Task
from anzel.core.findings import MakerError

Result = TypeVar("Result")
_LOOK_MS = 100
"""Between two looks whether a task is over without a result."""
_SOON_MS = 500
"""After which a maker who waits is told for what."""


class Alive:
    """Makes calls on another thread and waits for them in an event loop."""

    def __init__(self, background: Background, window: QWidget, words: str = "") -> None:
        self._background, self._window, self._words = background, window, words

    def stoppable(self, words: str) -> "Alive":
        """Return one that offers to stop work that takes a while; `words` say what it is."""
        return Alive(self._background, self._window, words)

    def __call__(self, work: Callable[[], Result]) -> Result:
        """Return the result of the work.

        Raises
        ------
        MakerError
            As the work raised it, and StoppedError where the maker stopped it.
        """
        if self._background.is_closed:
            return work()
        outcome: _Outcome[Result] = _Outcome()
        task = self._background.start(
            lambda _: work(), done=outcome.done, failed=outcome.failed
        )  # fmt: skip
        watch = QTimer()  # a task that is cancelled, as closing the window does, never arrives
        watch.timeout.connect(lambda: outcome.loop.quit() if task.is_over else None)
        watch.start(_LOOK_MS)
        soon = QTimer(singleShot=True)
        soon.timeout.connect(outcome.loop.quit)
        if self._words:
            soon.start(_SOON_MS)
        outcome.loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        soon.stop()
        if self._words and not task.is_over:
            self._offer_to_stop(task, outcome.loop)
        watch.stop()
        if outcome.errors:
            raise outcome.errors.pop()  # it knows this frame, and would stay as long as the list
        if not outcome.results:
            return work()  # the window was released meanwhile
        return outcome.results[0]

    def _offer_to_stop(self, task: Task[Result], loop: QEventLoop) -> None:
        """Wait on, with a way to stop the task."""
        waiting = QProgressDialog(self._words, "Stop", 0, 0, self._window)
        waiting.setWindowModality(Qt.WindowModality.WindowModal)
        waiting.setWindowTitle("Anzel")
        waiting.setMinimumDuration(0)
        waiting.canceled.connect(task.stop)
        waiting.show()
        loop.exec()
        waiting.canceled.disconnect()  # closing it is no wish to stop
        waiting.close()
        waiting.deleteLater()


class _Outcome(Generic[Result]):
    """What arrives of a task; it ends the loop that waits for it."""

    def __init__(self) -> None:
        self.loop = QEventLoop()
        self.results: list[Result] = []
        self.errors: list[MakerError] = []

    def done(self, result: Result) -> None:
        self.results.append(result)
        self.loop.quit()

    def failed(self, error: MakerError) -> None:
        self.errors.append(error)
        self.loop.quit()
