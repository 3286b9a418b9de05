"""An open project: its history, its file, what is picked, and what the last change moved.

A change that takes a while to work out is *pending*: the maker goes on with the present project,
further changes add to the pending one, and undo drops it. The interface shows this and changes it
only through here. Nothing in it knows of Qt; listeners are plain callables, called with what
changed.
"""

from collections.abc import Callable
from enum import StrEnum
from pathlib import Path

from anzel.app.change_worker import Aside
from anzel.app.edits.project_edits import checked
from anzel.app.history import History
from anzel.core.error_boundary import error_boundary
from anzel.core.findings import MakerError
from anzel.geometry.inscribed_circle import largest_inscribed_circle
from anzel.layout.layout import Layout
from anzel.project.derive import layout_of, solved_structure_of
from anzel.project.model import Project
from anzel.project.ripple import ripple
from anzel.storage import project_file
from anzel.structure.model import Joint


class Changed(StrEnum):
    """What listeners are told about."""

    PROJECT = "project"
    SELECTION = "pick"
    STEP = "step"
    FILE = "file"
    SAVED = "saved"
    OPENED = "opened"
    STATUS = "status"
    LAYOUT = "laid"


class Step(StrEnum):
    """The steps in the order of work."""

    STOCK = "stock"
    CUTTER = "cutter"
    TEST = "test"
    BUILD = "build"
    FORECAST = "forecast"
    SHEETS = "sheets"
    PRACTICE = "practice"


Listener = Callable[[Changed], None]


class Session:
    """One maker at work on one project."""

    def __init__(self, project: Project, path: Path | None = None) -> None:
        self._listeners: list[Listener] = []
        self._aside: Aside | None = None
        self._layer: Aside | None = None
        self._laid: Project | None = None
        self._start(project, path)

    def _start(self, project: Project, path: Path | None) -> None:
        self._history = History(checked(project))
        self._clean: Project | None = project
        self._stamp = _stamp(path)
        self._pending: tuple[str, Project] | None = None
        self.path = path
        self.step = Step.BUILD
        self.stock_id = project.stocks_in_use[0].id
        joints = solved_structure_of(project).joints
        self.joint_id = joints[0].id if joints else ""
        self.plate_name = self._awaited_plate = ""
        self.status = ""

    def subscribe(self, listener: Listener) -> None:
        """Call `listener` after every change."""
        self._listeners.append(listener)

    def unsubscribe(self, listener: Listener) -> None:
        """Call it no more."""
        self._listeners.remove(listener)

    def work_aside(self, aside: Aside, layer: Aside) -> None:
        """Work out changes there, and layouts on the other, instead of making everybody wait."""
        self._aside, self._layer = aside, layer

    @property
    def layouts(self) -> tuple[Layout, ...] | None:
        """How the present project is laid, stock by stock; None while that is worked out."""
        if self._layer is not None and self._laid is not self.project:
            return None
        return _layouts(self.project)

    def start_layout(self) -> None:
        """Work the layouts out; `Changed.LAID` is told once they are there."""
        if self._lay():
            self._tell(Changed.LAYOUT)

    def _lay(self) -> bool:
        """Begin to work the layouts out; whether they are there at once.

        Else it is told.
        """
        project = self.project
        if self._layer is None or self._laid is project:
            return True

        def arrived(said: str) -> None:
            self._laid = project
            self._tell(Changed.LAYOUT)

        def work() -> str:
            _layouts(project)
            return "laid"

        if self._layer.run(work, done=arrived, failed=lambda error: self.set_status(f"▲ {error}")):
            self._laid = project
        return self._laid is project

    @property
    def is_working(self) -> bool:
        """Whether a change is pending."""
        return self._pending is not None

    @property
    def project(self) -> Project:
        """The present decisions."""
        return self._history.project

    @property
    def project_with_pending(self) -> Project:
        """What the maker has asked for so far, with what is pending."""
        return self.project if self._pending is None else self._pending[1]

    @property
    def shown(self) -> Project:
        """What fields show.

        All that was asked for so far, unless that is of another form than the fields are for; then
        the present project until the other arrives.
        """
        wanted, present = self.project_with_pending, self.project
        return wanted if type(wanted.structure) is type(present.structure) else present

    @property
    def is_dirty(self) -> bool:
        """Whether something would be lost by closing."""
        return self.project_with_pending != self._clean

    @property
    def undoable(self) -> str | None:
        """The name of the edit undo would take back."""
        return self._history.undoable

    @property
    def redoable(self) -> str | None:
        """The name of the edit redo would bring back."""
        return self._history.redoable

    @property
    def joint(self) -> Joint | None:
        """The picked joint."""
        joints = solved_structure_of(self.project).joints
        return next((joint for joint in joints if joint.id == self.joint_id), None)

    def change(self, edit: str, project: Project) -> None:
        """Take a new project over, under the edit's name.

        Raises MakerError, and keeps everything as it was, if the structure cannot be made.
        """
        if project == self.project_with_pending:
            return
        before = self.project
        if self._aside is None:
            self._take_over(edit, project, _worked_out(edit, before, project))
            return
        if self._pending is not None and self._pending[0] != edit:
            edit = f"{self._pending[0]}, {edit}"
        self._pending = None
        said = self._aside.run(
            lambda: _worked_out(edit, before, project),
            done=lambda said: self._take_over(edit, project, said),
            failed=self._could_not,
        )
        if said is not None:
            self._take_over(edit, project, said)
        else:
            self._pending = (edit, project)
            self.set_status(f"{edit} … working it out")

    def attempt(self, edit: str, make: Callable[[Project], Project]) -> bool:
        """Change to what `make` gives; if that cannot be, say why and return False."""
        try:
            with error_boundary(f"it tried “{edit}”"):
                self.change(edit, make(self.project_with_pending))
        except MakerError as error:
            self.set_status(f"▲ {error}")
            return False
        return True

    def undo(self) -> None:
        """Take the last edit back."""
        if self._pending is not None:
            edit = self._pending[0]
            self._drop_pending()
            self._arrived(f"Taken back: {edit}")
        elif edit := self.undoable or "":
            self._history.undo()
            self._arrived(f"Taken back: {edit}")

    def redo(self) -> None:
        """Bring back what was undone."""
        edit = self.redoable
        if edit:
            self._history.redo()
            self._arrived(f"Done again: {edit}")

    def pick_joint(self, joint_id: str) -> None:
        """Pick a joint everywhere."""
        if joint_id != self.joint_id or self.plate_name:
            self.joint_id, self.plate_name = joint_id, ""
            self._tell(Changed.SELECTION)

    def pick_plate(self, name: str) -> None:
        """Pick a plate of a free structure everywhere.

        One that only the pending change makes is picked when that arrives.
        """
        self._awaited_plate = ""
        if self._pending is not None and name and not self._has_plate(name):
            self._awaited_plate = name
        elif name != self.plate_name:
            self.plate_name = name
            self._tell(Changed.SELECTION)

    def _has_plate(self, name: str) -> bool:
        return any(piece.name == name for piece in solved_structure_of(self.project).pieces)

    def pick_next_joint(self, step: int = 1) -> None:
        """Pick the next joint, or the previous with step -1; round and round."""
        ids = [joint.id for joint in solved_structure_of(self.project).joints]
        if ids:
            at = ids.index(self.joint_id) + step if self.joint_id in ids else 0
            self.pick_joint(ids[at % len(ids)])

    def pick_stock(self, stock_id: str) -> None:
        """Make a stock the one that stock, test and sheet steps show."""
        if stock_id != self.stock_id:
            self.stock_id = stock_id
            self._tell(Changed.SELECTION)

    def go_to(self, step: Step) -> None:
        """Show another step."""
        if step != self.step:
            self.step = step
            self._tell(Changed.STEP)

    def save(self, path: Path | None = None, *, even_read_only: bool = False) -> None:
        """Save, here or under a new path.

        Raises FileError with nothing changed, ReadOnlyFileError for a file that is not to be
        written unless `even_read_only`.
        """
        target = path or self.path
        if target is None:
            raise ValueError("the project has no file yet")
        self._finish_pending()
        project_file.save(self.project, target, even_read_only=even_read_only)
        self.path, self._clean, self._stamp = target, self.project, _stamp(target)
        self.status = f"Saved {target.name}"
        self._tell(Changed.SAVED)

    def open(self, path: Path) -> None:
        """Open another project.

        Raises FileError and keeps this one if it cannot be read.
        """
        with error_boundary(f"it opened {path.name}"):
            project = project_file.load(path)
            self._restart(project, path, f"Opened {path.name}")

    def recover(self, project: Project, path: Path | None) -> None:
        """Go on with unsaved work that was left behind: nothing of it counts as saved."""
        self._restart(project, path, f"Recovered: {project.name}, not saved yet")
        self._clean = None
        self._tell(Changed.FILE)

    @property
    def changed_outside(self) -> bool:
        """Whether another program has written the project's file since it was opened or saved."""
        return (
            self.path is not None and self._stamp is not None and (_stamp(self.path) != self._stamp)
        )

    def begin(self, project: Project) -> None:
        """Start from a project that has no file yet."""
        self._restart(project, None, f"New from {project.name}")

    def set_status(self, text: str) -> None:
        """Put a line where ripples are shown."""
        self.status = text
        self._tell(Changed.STATUS)

    def _take_over(self, edit: str, project: Project, said: str) -> None:
        self._pending = None
        self._history.push(project, edit)
        if self._awaited_plate:
            self.plate_name, self._awaited_plate = self._awaited_plate, ""
        self._arrived(said)

    def _could_not(self, error: MakerError) -> None:
        """What was pending cannot be: everything shows the present project again."""
        self._pending, self._awaited_plate = None, ""
        self._arrived(f"▲ {error}")

    def _finish_pending(self) -> None:
        """Wait for the pending change.

        Raises MakerError where it cannot be.
        """
        if self._aside is not None and self._pending is not None:
            edit, project = self._pending
            try:
                self._take_over(edit, project, self._aside.finish() or "")
            except MakerError as error:
                self._could_not(error)
                raise

    def _drop_pending(self) -> None:
        self._pending, self._awaited_plate = None, ""
        if self._aside is not None:
            self._aside.drop()

    def _restart(self, project: Project, path: Path | None, said: str) -> None:
        self._drop_pending()
        self._start(project, path)
        self._tell(Changed.OPENED)
        self._arrived(said)
        self._tell(Changed.STEP)

    def _arrived(self, said: str) -> None:
        """A new present project: keep the picks meaningful, tell everybody."""
        if self.stock_id not in [stock.id for stock in self.project.stocks]:
            self.stock_id = self.project.stocks_in_use[0].id
        solved = solved_structure_of(self.project)
        if not self._has_plate(self.plate_name):
            self.plate_name = ""
        ids = [joint.id for joint in solved.joints]
        if self.joint_id not in {*ids, *self.project.structure.declared()}:
            self.joint_id = ids[0] if ids else ""
        self.status = said
        self._lay()
        self._tell(Changed.PROJECT)

    def _tell(self, changed: Changed) -> None:
        for listener in list(self._listeners):
            listener(changed)


def _worked_out(edit: str, before: Project, project: Project) -> str:
    """Work out all that will be shown of a project, and say what the edit moved.

    Raises MakerError.
    """
    solved = solved_structure_of(project)
    moved = ripple(solved_structure_of(before), solved)
    for piece in solved.pieces:
        largest_inscribed_circle(piece.region)
    return f"{edit}: {moved}"


def _stamp(path: Path | None) -> tuple[int, int] | None:
    """Return what tells whether a file has been written: when, and how large.

    None where it is not there.
    """
    if path is None:
        return None
    try:
        found = path.stat()
    except OSError:
        return None
    return (found.st_mtime_ns, found.st_size)


def _layouts(project: Project) -> tuple[Layout, ...]:
    return tuple(layout_of(project, stock.id) for stock in project.stocks_in_use)
