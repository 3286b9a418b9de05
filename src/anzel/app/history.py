"""Undo and redo over immutable snapshots."""

from dataclasses import dataclass

from anzel.project.model import Project

_LONGEST = 500


@dataclass(frozen=True)
class Snapshot:
    """A project and the name of the edit that led to it."""

    project: Project
    edit: str


class History:
    """A line of snapshots with a present one; an edit after an undo replaces what was undone."""

    def __init__(self, project: Project) -> None:
        self._snapshots = [Snapshot(project, "")]
        self._present = 0

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
        """Add a new present project."""
        kept = self._snapshots[: self._present + 1][-_LONGEST:]
        self._snapshots = [*kept, Snapshot(project, edit)]
        self._present = len(self._snapshots) - 1
