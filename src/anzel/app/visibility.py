"""Visibility: the pieces that are left out of the standing view."""

from collections.abc import Callable, Iterable

from anzel.app.listeners import Changed, Tell
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project


class Visibility:
    """Which pieces are hidden; it is no decision about the structure, so undo leaves it alone."""

    def __init__(self, project: Callable[[], Project], tell: Tell) -> None:
        self._project, self._tell = project, tell
        self.hidden: frozenset[str] = frozenset()

    def hide(self, names: Iterable[str]) -> None:
        """Leave pieces out, too."""
        self._show(self.hidden | set(names))

    def show_only(self, names: Iterable[str]) -> None:
        """Leave all other pieces out."""
        pieces = solved_structure_of(self._project()).pieces
        self._show(frozenset(piece.name for piece in pieces) - set(names))

    def show_all(self) -> None:
        """Show every piece."""
        self._show(frozenset())

    def _show(self, hidden: frozenset[str]) -> None:
        if hidden != self.hidden:
            self.hidden = hidden
            self._tell(Changed.SELECTION)
