"""The document: a project with its history and its file."""

from collections.abc import Callable
from pathlib import Path
from typing import Protocol, TypeVar

from anzel.app.edits.project_edits import checked
from anzel.app.history import History
from anzel.project.model import Project
from anzel.storage import project_file
from anzel.storage.atomic_file import stamp_of

Result = TypeVar("Result")


class Aside(Protocol):
    """Makes a call where it does not stop the interface, and returns its result."""

    def __call__(self, work: Callable[[], Result]) -> Result:
        """Return the result of the work."""


def directly(work: Callable[[], Result]) -> Result:
    """Return the result of the work, done here and now."""
    return work()


class Document:
    """An open project: what it was, what it is, where it is saved."""

    def __init__(self, project: Project, path: Path | None = None) -> None:
        self.history = History(checked(project))
        self.path = path
        self._saved: Project | None = project
        self._stamp = stamp_of(path)

    @property
    def project(self) -> Project:
        """The present decisions."""
        return self.history.project

    def differs_from_saved(self, project: Project) -> bool:
        """Return whether something of a project would be lost by closing."""
        return project != self._saved

    def mark_unsaved(self) -> None:
        """Count nothing of the project as saved."""
        self._saved = None

    def save(
        self, path: Path | None = None, *, even_read_only: bool = False, aside: Aside = directly
    ) -> Path:  # fmt: skip
        """Save, here or under a new path, and return the path; the file is written `aside`.

        Raises FileError with nothing changed, and ReadOnlyFileError for a read-only file unless
        `even_read_only`.
        """
        target = path or self.path
        if target is None:
            raise ValueError("the project has no file yet")
        project = self.project
        aside(lambda: project_file.save(project, target, even_read_only=even_read_only))
        self.path, self._saved, self._stamp = target, project, stamp_of(target)
        return target

    @property
    def changed_outside(self) -> bool:
        """Whether another program has written the project's file since it was opened or saved."""
        return (
            self.path is not None and self._stamp is not None and stamp_of(self.path) != self._stamp
        )
