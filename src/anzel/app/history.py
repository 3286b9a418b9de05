"""Undo and redo over immutable snapshots, as far back as memory allows.

Snapshots share all that an edit did not change, so only what it changed counts.
"""

import io
import pickle
from dataclasses import dataclass

from anzel.core.asset import Asset
from anzel.project.model import Project

MOST = 64_000_000
"""Bytes that all that edits have changed may take."""
_AS_OBJECTS = 8
"""How many times its pickled size a record takes in memory; measured over the demos."""


@dataclass(frozen=True)
class Snapshot:
    """A project, the name of the edit that led to it, and the bytes that it changed."""

    project: Project
    edit: str
    size: int = 0


class History:
    """A line of snapshots with a present one; an edit after an undo replaces what was undone."""

    def __init__(self, project: Project) -> None:
        self._snapshots = [Snapshot(project, "")]
        self._present = 0
        self.forgotten = 0
        """How many of the oldest edits cannot be undone any more."""

    @property
    def project(self) -> Project:
        """The present project."""
        return self._snapshots[self._present].project

    @property
    def undoable(self) -> str | None:
        """The name of the edit that undo would take back."""
        return self._snapshots[self._present].edit if self._present else None

    @property
    def redoable(self) -> str | None:
        """The name of the edit that redo would bring back."""
        later = self._present + 1
        return self._snapshots[later].edit if later < len(self._snapshots) else None

    @property
    def edits(self) -> list[str]:
        """The names of all edits, from the first; "" for the beginning."""
        return [snapshot.edit for snapshot in self._snapshots]

    @property
    def at(self) -> int:
        """The index of the present one among the edits."""
        return self._present

    def project_at(self, at: int) -> Project:
        """Return what the project was after an edit, by its index."""
        return self._snapshots[at].project

    def go_to(self, at: int) -> None:
        """Make the project what it was after an edit, by its index."""
        self._present = min(max(at, 0), len(self._snapshots) - 1)

    def push(self, project: Project, edit: str) -> None:
        """Add a new present project; the oldest go where all together take too much memory."""
        kept = self._snapshots[: self._present + 1]
        kept.append(Snapshot(project, edit, _changed_bytes(kept[-1].project, project)))
        total = sum(snapshot.size for snapshot in kept)
        while total > MOST and len(kept) > 2:
            total -= kept.pop(0).size
            self.forgotten += 1
        self._snapshots = kept
        self._present = len(kept) - 1


class _Weigher(pickle.Pickler):
    """Writes records without the files within them, which all snapshots share."""

    def persistent_id(self, obj: object) -> str | None:
        return obj.digest if isinstance(obj, Asset) else None


def _changed_bytes(before: Project, after: Project) -> int:
    """Return about how much memory the fields take that are not those of before."""
    stream = io.BytesIO()
    changed = [
        value for name in Project.model_fields
        if (value := getattr(after, name)) is not (old := getattr(before, name)) and value != old
    ]  # fmt: skip
    _Weigher(stream, 5).dump(changed)
    return _AS_OBJECTS * len(stream.getvalue())
