"""Work that a command needs the result of, done aside while the window stays alive.

It paints and answers the desktop, but takes no input, until the work is done.
"""

from collections.abc import Callable
from typing import TypeVar

from PySide6.QtCore import QEventLoop, QTimer

from anzel.app.background import Background
from anzel.core.findings import MakerError

Result = TypeVar("Result")
_LOOK_MS = 100
"""Between two looks whether a task is over without a result."""


class Alive:
    """Makes calls on another thread and waits for them in an event loop."""

    def __init__(self, background: Background) -> None:
        self._background = background

    def __call__(self, work: Callable[[], Result]) -> Result:
        """Return the result of the work.

        Raises
        ------
        MakerError
            As the work raised it.
        """
        if self._background.is_closed:
            return work()
        loop = QEventLoop()
        results: list[Result] = []
        errors: list[MakerError] = []

        def arrived(result: Result) -> None:
            results.append(result)
            loop.quit()

        def failed(error: MakerError) -> None:
            errors.append(error)
            loop.quit()

        task = self._background.start(lambda _: work(), done=arrived, failed=failed)
        watch = QTimer()  # a task that is cancelled, as closing the window does, never arrives
        watch.timeout.connect(lambda: loop.quit() if task.is_over else None)
        watch.start(_LOOK_MS)
        loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        watch.stop()
        if errors:
            raise errors.pop()  # it knows this frame, and would stay as long as the list
        if not results:
            return work()  # the window was released meanwhile
        return results[0]
