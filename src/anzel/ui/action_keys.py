"""Which keys each command has: the desktop's own where the desktop agrees on some."""

from collections.abc import Mapping

from PySide6.QtGui import QKeySequence

from anzel.app.actions import ACTIONS

_PORTABLE = QKeySequence.SequenceFormat.PortableText


def sequence_of(keys: str) -> QKeySequence:
    """Return a key sequence from its stored text."""
    return QKeySequence(keys, _PORTABLE)


def usual_keys(standard: str, keys: str) -> str:
    """Return the first key sequence that the desktop has for a standard command, else `keys`."""
    if standard:
        bound = QKeySequence.keyBindings(getattr(QKeySequence.StandardKey, standard))
        if bound:
            return bound[0].toString(_PORTABLE)
    return keys


def keys_in_use(changed: Mapping[str, str]) -> dict[str, str]:
    """Return the keys of every action, with those that the maker has changed."""
    return {
        action.id: changed.get(action.id, usual_keys(action.standard, action.keys))
        for action in ACTIONS
    }
