"""A session: one maker at work on one document.

The session ties five parts together: the document with its history, the selection, the navigation,
the status line, and background work. Nothing in it knows of Qt; listeners are plain callables,
called with what changed.

A change that takes a while to compute is *pending*: the maker goes on with the present project,
further changes add to the pending one, and undo drops it. The interface shows this and changes it
only through here.
"""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TypeVar

from anzel.app.background import Background, Failed, Newest, Task
from anzel.app.document import Aside, Document, directly
from anzel.app.foreign_files import read_apart
from anzel.app.layouting import Layouting, Layouts
from anzel.app.listeners import Changed, Listener, Listeners
from anzel.app.navigation import Navigation
from anzel.app.placing import Placing
from anzel.app.selection import Selection, Thing, ThingKind
from anzel.app.status import Status
from anzel.app.visibility import Visibility
from anzel.core.error_boundary import error_boundary
from anzel.core.findings import MakerError
from anzel.project.derive import is_solved, solved_structure_of
from anzel.project.model import Project
from anzel.project.possible import need_possible
from anzel.project.ripple import ripple
from anzel.storage import project_file
from anzel.storage.version_store import VersionStore

Made = TypeVar("Made")


@dataclass(frozen=True)
class _Change:
    """A change to a project: an edit after the edit number `at` of the history.

    Without an edit it goes to that place in the history.
    """

    edit: str
    project: Project
    at: int


class Session:
    """One maker at work on one document."""

    def __init__(self, project: Project, path: Path | None = None) -> None:
        self._listeners = Listeners()
        self._changes: Newest | None = None
        self._pending: _Change | None = None
        self._task: Task[str] | None = None
        self.prepare: Callable[[Project], None] = _nothing_more
        """Called on another thread with a project that is about to arrive."""
        self.document = Document(project, path)
        self.versions = VersionStore()
        self.selection = Selection(lambda: self.project, self._tell)
        self.visibility = Visibility(lambda: self.project, self._tell)
        self.navigation = Navigation(self._tell)
        self.placing = Placing(self._tell)
        self.status = Status(self._tell)
        self.layouting = Layouting(lambda: self.project, self._tell, self.status)

    def subscribe(self, listener: Listener) -> None:
        """Call `listener` after every change."""
        self._listeners.subscribe(listener)

    def unsubscribe(self, listener: Listener) -> None:
        """Call `listener` no more."""
        self._listeners.unsubscribe(listener)

    def work_in(self, changes: Background, layouts: Background) -> None:
        """Compute changes and layouts in the background, instead of making everybody wait."""
        self._changes = Newest(changes)
        self.layouting.work_in(layouts)
        self._changes_in = changes

    @property
    def project(self) -> Project:
        """The present decisions."""
        return self.document.project

    @property
    def is_working(self) -> bool:
        """Whether a change is pending."""
        return self._pending is not None

    @property
    def project_with_pending(self) -> Project:
        """What the maker has asked for so far, with what is pending."""
        return self.project if self._pending is None else self._pending.project

    @property
    def shown(self) -> Project:
        """What fields show: everything asked for so far.

        If that is of another form than the fields are for, it is the present project until the
        other arrives.
        """
        wanted, present = self.project_with_pending, self.project
        return wanted if type(wanted.structure) is type(present.structure) else present

    @property
    def is_dirty(self) -> bool:
        """Whether something would be lost by closing."""
        return self.document.differs_from_saved(self.project_with_pending)

    @property
    def is_untouched(self) -> bool:
        """Whether nothing was done or saved since the start, so that nobody misses the project."""
        history = self.document.history
        return self.document.path is None and len(history.edits) == 1 and not self.is_dirty

    @property
    def layouts(self) -> Layouts | None:
        """The layouts of the present project, stock by stock; None while they are computed."""
        return self.layouting.present

    def assembly_arrived(self) -> None:
        """Tell everybody that the proof of assembly of the present project is there."""
        self._tell(Changed.ASSEMBLY)

    def show_again(self) -> None:
        """Have everything shown again, because it is shown in another way."""
        self._tell(Changed.PROJECT)

    def start_layout(self) -> None:
        """Compute the layouts; `Changed.LAYOUT` is told once they are there."""
        if self.layouting.start():
            self._tell(Changed.LAYOUT)

    def change(self, edit: str, project: Project) -> None:
        """Take a new project over, under the edit's name.

        Raises MakerError, and keeps everything as it was, if the structure cannot be made.
        """
        if project == self.project_with_pending:
            return
        before, pending = self.project, self._pending
        at = self._at
        if pending is None and self._is_known(project):
            self._take_over(_Change(edit, project, at), _ripple_of(edit, before, project))
            return
        if pending is not None and pending.edit not in ("", edit):
            edit = f"{pending.edit}, {edit}"
        self._work_out(_Change(edit, project, at), lambda: self._prepared(edit, before, project))

    def _prepared(self, edit: str, before: Project, project: Project) -> str:
        """Work out what will be shown of a project; this runs aside. Return the ripple."""
        said = _ripple_of(edit, before, project)
        self.prepare(project)
        return said

    def _work_out(self, change: _Change, work: Callable[[], str]) -> None:
        """Have a change worked out, and take it over then.

        Raises MakerError where it is known at once to be impossible.
        """
        assert self._changes is not None
        self._pending = None
        task = self._changes.start(
            lambda _: work(), done=lambda said: self._take_over(change, said), failed=self._give_up
        )
        try:
            said = task.take_if_there()
        except TimeoutError:
            self._pending, self._task = change, task
            self._tell(Changed.PENDING)
        else:
            self._take_over(change, said)

    @property
    def _at(self) -> int:
        """The number of the edit in the history that the maker is at, with what is pending."""
        return self.document.history.at if self._pending is None else self._pending.at

    @property
    def pending_edit(self) -> str:
        """What is being worked out, in words; "" where nothing is."""
        return "" if self._pending is None else self._pending.edit or "Going back"

    def _is_known(self, project: Project) -> bool:
        """Whether a project can be taken over at once: it takes no time, or nobody works aside."""
        return self._changes is None or self._changes_in.is_closed or is_solved(project)

    def attempt(self, edit: str, make: Callable[[Project], Project]) -> bool:
        """Change to what `make` returns; if that is impossible, say why and return False."""
        try:
            with error_boundary(f"it tried “{edit}”"):
                self.change(edit, make(self.project_with_pending))
        except MakerError as error:
            self.status.warn(error)
            return False
        return True

    def attempt_aside(
        self,
        edit: str,
        make: Callable[[Project], tuple[Project, Made]],
        made: Callable[[Made], object],
        failed: Failed | None = None,
    ) -> None:
        """Change to the project that `make` returns, which is computed in the background.

        It returns what it made too, which is handed to `made` after the change. If the project has
        changed meanwhile, it is made again. `failed` hears why it is impossible, instead of the
        status line.
        """
        tell_why = failed or self.status.warn
        document, project = self.document, self.project_with_pending

        def arrived(result: tuple[Project, Made]) -> None:
            if self.document is not document:
                return  # it was meant for a project that is no longer open
            if self.project_with_pending is not project:
                self.attempt_aside(edit, make, made, failed)
            elif self.attempt(edit, lambda _: result[0]):
                made(result[1])

        try:
            with error_boundary(f"it tried “{edit}”"):
                if self._changes is None or self._changes_in.is_closed:
                    arrived(make(project))
                    return
                task = self._changes_in.start(
                    lambda _: make(project),
                    done=arrived, failed=tell_why, said=self.status.show,
                )  # fmt: skip
                try:
                    there = task.take_if_there()
                except TimeoutError:
                    self.status.show(f"{edit} … working it out")
                else:
                    arrived(there)
        except MakerError as error:
            tell_why(error)

    def undo(self) -> None:
        """Undo the last edit, or drop the pending one."""
        history = self.document.history
        if self._pending is not None and self._pending.edit:
            edit = self._pending.edit
            self._drop_pending()
            self._arrived(f"Undone: {edit}")
        elif self._at:
            self._go_to(self._at - 1, f"Undone: {history.edits[self._at]}")

    def redo(self) -> None:
        """Redo what was undone."""
        edits = self.document.history.edits
        if self._at + 1 < len(edits):
            self._go_to(self._at + 1, f"Redone: {edits[self._at + 1]}")

    def go_back_to(self, at: int) -> None:
        """Make the project what it was after an edit, by its place in the history."""
        edit = self.document.history.edits[at]
        self._go_to(at, f"As after: {edit}" if edit else "As it was opened")

    def _go_to(self, at: int, said: str) -> None:
        """Go to a place in the history, once what is shown of it is worked out again."""
        self._drop_pending()
        before, project = self.project, self.document.history.project_at(at)
        change = _Change("", project, at)
        if self._is_known(project):
            self._take_over(change, said)
            return

        def work() -> str:
            self._prepared("", before, project)
            return said

        self._work_out(change, work)

    def pick_plate(self, name: str) -> None:
        """Pick a plate as `pick_made` does; without a name the whole."""
        self.pick_made(*([Thing(ThingKind.PLATE, name)] if name else ()))

    def pick_made(self, *things: Thing) -> None:
        """Pick things everywhere, as soon as a pending change that makes them has arrived."""
        self.selection.pick_made(*things, is_pending=self.is_working)

    def save(
        self, path: Path | None = None, *, even_read_only: bool = False, aside: Aside = directly
    ) -> None:  # fmt: skip
        """Finish what is pending, save, and keep the version; see `Document.save`."""
        self._finish_pending(aside)
        target = self.document.save(path, even_read_only=even_read_only, aside=aside)
        self.status.text = f"Saved {target.name}"
        try:
            aside(lambda: self.versions.keep(target))
        except MakerError as error:
            self.status.text += f". ▲ {error}"
        self._tell(Changed.SAVED)

    def open(self, path: Path, *, aside: Aside = directly) -> None:
        """Open another project.

        Raises FileError and keeps this one if it cannot be read.
        """

        def load() -> Project:
            project = read_apart(project_file.load, path)
            self.prepare(project)
            return project

        with error_boundary(f"it opened {path.name}"):
            self._restart(Document(aside(load), path), f"Opened {path.name}")

    def recover(self, project: Project, path: Path | None) -> None:
        """Go on with unsaved work that was left behind: nothing of it counts as saved."""
        self._restart(Document(project, path), f"Recovered: {project.name}, not saved yet")
        self.document.mark_unsaved()
        self._tell(Changed.FILE)

    def begin(self, project: Project) -> None:
        """Start from a project that has no file yet."""
        self._restart(Document(project), f"New from {project.name}")

    def _tell(self, changed: Changed) -> None:
        self._listeners.tell(changed)

    def _take_over(self, change: _Change, said: str) -> None:
        self._pending = None
        history = self.document.history
        history.go_to(change.at)
        if change.edit:
            history.push(change.project, change.edit)
            self.selection.take_awaited()
        self._arrived(said)

    def _give_up(self, error: MakerError) -> None:
        """Show the present project again, because the pending change is impossible."""
        self._pending = None
        self.selection.await_nothing()
        self._arrived(f"▲ {error}")

    def _finish_pending(self, aside: Aside) -> None:
        """Wait for the pending change.

        Raises MakerError where it is impossible.
        """
        if self._pending is None or self._task is None:
            return
        change, task = self._pending, self._task
        aside(task.wait)
        if self._pending is not change:
            return  # it has arrived meanwhile
        try:
            said = task.take()
        except MakerError as error:
            self._give_up(error)
            raise
        self._take_over(change, said)

    def _drop_pending(self) -> None:
        self._pending = None
        self.selection.await_nothing()
        if self._changes is not None:
            self._changes.cancel()

    def _restart(self, document: Document, said: str) -> None:
        self._drop_pending()
        self.document = document
        self.selection.restart()
        self.visibility.hidden = frozenset()
        self.navigation.restart()
        self.placing.stop()
        self._tell(Changed.OPENED)
        self._arrived(said)
        self._tell(Changed.STEP)

    def _arrived(self, said: str) -> None:
        """Keep the selection valid in a new present project, and tell everybody."""
        self.selection.keep_valid()
        self.status.text = said
        self.layouting.start()
        self._tell(Changed.PROJECT)


def _nothing_more(project: Project) -> None:
    """Without views there is nothing more to work out."""


def _ripple_of(edit: str, before: Project, project: Project) -> str:
    """Compute all that will be shown of a project, and return in words what the edit moved.

    Raises MakerError.
    """
    if edit:  # going back, what gave way then gives way again
        need_possible(before, project)
    solved = solved_structure_of(project)
    moved = ripple(solved_structure_of(before), solved)
    for piece in solved.pieces:
        piece.region.largest_inscribed_circle  # noqa: B018  (a cached property)
    return f"{edit}: {moved}"
