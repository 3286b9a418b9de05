"""What changes in a session, and who is told of it."""

from collections.abc import Callable
from enum import StrEnum


class Changed(StrEnum):
    """What listeners are told about."""

    PROJECT = "project"
    SELECTION = "selection"
    STEP = "step"
    FILE = "file"
    SAVED = "saved"
    OPENED = "opened"
    STATUS = "status"
    PENDING = "pending"
    LAYOUT = "layout"
    ASSEMBLY = "assembly"


Listener = Callable[[Changed], None]
Tell = Callable[[Changed], None]


class Listeners:
    """Plain callables that are called with what changed."""

    def __init__(self) -> None:
        self._listeners: list[Listener] = []

    def subscribe(self, listener: Listener) -> None:
        """Call `listener` after every change."""
        self._listeners.append(listener)

    def unsubscribe(self, listener: Listener) -> None:
        """Call `listener` no more."""
        if listener in self._listeners:
            self._listeners.remove(listener)

    def tell(self, changed: Changed) -> None:
        """Call all listeners."""
        for listener in list(self._listeners):
            listener(changed)
