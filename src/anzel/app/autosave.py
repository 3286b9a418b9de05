"""Autosave.

Unsaved work goes to the recovery store within seconds of a change, and leaves it once it is saved.
"""

from collections.abc import Callable

from anzel.app.background import Background, Post, Task
from anzel.app.listeners import Changed
from anzel.app.session import Session
from anzel.core.findings import MakerError
from anzel.project.model import Project
from anzel.storage.recovery_store import RecoveryStore


class Autosave:
    """Keeps a session's unsaved project, on a thread of its own."""

    def __init__(self, session: Session, store: RecoveryStore, post: Post) -> None:
        self._session, self._store = session, store
        self._jobs = Background(post, "anzel-autosave")
        self._kept: Project | None = None
        self._working = self._told = False
        self._then: list[Callable[[], None]] = []
        session.subscribe(self._changed)

    def tick(self) -> None:
        """Keep what has changed; remove what was saved, or undone back to what was saved."""
        session = self._session
        if not session.is_dirty:
            if self._kept is not None:
                self._forget()
            return
        project, path = session.project_with_pending, session.document.path
        if self._working or project is self._kept:
            return
        request = self._store.request()

        def work(task: Task[Project]) -> Project:
            self._store.keep(project, path, request)
            return project

        self._working = True
        self._jobs.start(work, done=self._arrived, failed=self._failed)

    def then(self, call: Callable[[], None]) -> None:
        """Keep the present project, and call `call` once it is kept."""
        self._then.append(call)
        self.tick()

    def _changed(self, changed: Changed) -> None:
        if changed is Changed.SAVED and not self._session.is_dirty:
            self._forget()
            self._run_then()  # the saved file is the copy that lasts

    def _forget(self) -> None:
        self._kept = None
        self._store.clear()

    def now(self) -> None:
        """Keep the project at once, on this thread, because something went wrong.

        Raises FileError.
        """
        if self._session.is_dirty:
            self._store.keep(self._session.project_with_pending, self._session.document.path)

    def close(self) -> None:
        """Stop when the window closes.

        The maker has saved or discarded the work.
        """
        self._session.unsubscribe(self._changed)
        self._jobs.close()
        self._store.close()

    def _arrived(self, project: Project) -> None:
        self._working, self._told, self._kept = False, False, project
        if project is self._session.project_with_pending:
            self._run_then()
        elif self._then:
            self.tick()

    def _run_then(self) -> None:
        calls, self._then = self._then, []
        for call in calls:
            call()

    def _failed(self, error: MakerError) -> None:
        """Say once that work is not safe, and try again at the next tick."""
        self._working = False
        if not self._told:
            self._told = True
            self._session.status.show(f"▲ Unsaved work is not kept safe: {error}")
