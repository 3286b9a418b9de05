"""Calls deferred until Qt has finished with the event in hand.

A handler that rebuilds a list while one of its items is still being set leaves Qt with an item that
is gone. So a handler reads what it needs from the item and does its work afterwards.
"""

from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer


def after_event(owner: QObject, call: Callable[[], object]) -> None:
    """Make the call once the event in hand is finished; never if `owner` is gone by then."""
    QTimer.singleShot(0, owner, call)
