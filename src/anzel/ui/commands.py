"""The callbacks behind the table of commands in `app/actions.py`."""

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QMessageBox, QWidget

from anzel.app.background import Background, StoppedError
from anzel.app.edits import project_edits
from anzel.app.navigation import Step
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.app.settings import Settings
from anzel.core.error_boundary import error_boundary
from anzel.core.findings import MakerError
from anzel.materials.fits import KERF_WORDS, FitName, KerfAt
from anzel.project.new_project import with_form
from anzel.storage.atomic_file import ReadOnlyFileError
from anzel.structure.forms import broken_forms
from anzel.ui.action_keys import keys_in_use
from anzel.ui.alive import Alive
from anzel.ui.confirm import may_write, may_write_read_only
from anzel.ui.file_choice import MESHES, PROJECTS, choose_file, choose_target
from anzel.ui.modal import run
from anzel.ui.preferences import use_preferences
from anzel.ui.theme import text_scale

if TYPE_CHECKING:
    from anzel.app.search import Match
    from anzel.project.model import Project
    from anzel.storage.mesh_reader import ImportedMesh
    from anzel.storage.version_store import SavedVersion
    from anzel.ui.drawing_commands import DrawingCommands
    from anzel.ui.export_commands import ExportCommands
    from anzel.ui.rack_commands import RackCommands
    from anzel.ui.widgets.file_settings import FileSettings


class Commands:
    """Runs commands on the session, and asks before anything unsaved would be lost."""

    def __init__(
        self, window: QWidget, session: Session, settings: Settings, jobs: Background,
        files: Background,
    ) -> None:  # fmt: skip
        self._window, self._session = window, session
        self._settings, self._jobs = settings, jobs
        self._cutting: ExportCommands | None = None
        self._alive = Alive(files, window)

    def new(self) -> None:
        """Start from one of the workshop's projects."""
        from anzel.ui.dialogs import StartChooser, demo_starts

        about = "Each becomes your own: change its sheets, sizes and fits."
        if self.may_leave():
            start = StartChooser.ask(
                self._window, "From the Mossgate Workshop", about, demo_starts()
            )
            if start is not None:
                self.begin(start.make)

    def begin(self, make: "Callable[[], Project]") -> None:
        """Begin with a project that is made and worked out while the window stays alive."""

        def work() -> "Project":
            project = project_edits.checked(make())
            self._session.prepare(project)
            return project

        self._session.begin(self._alive(work))

    def new_form(self) -> None:
        """Start from a form, on sheets yet to be measured."""
        from anzel.ui.dialogs import StartChooser, form_starts

        about = "On sheets yet to be measured; every size can be changed."
        for finding in broken_forms():
            about += f"\n▲ {finding}"
        if self.may_leave():
            start = StartChooser.ask(self._window, "Which form?", about, form_starts())
            if start is not None:
                self.begin(start.make)

    def other_form(self) -> None:
        """Choose another form for the sheets of this project."""
        from anzel.ui.dialogs import StartChooser, form_starts

        about = "Sheets, cutter, fits and trials stay. It can be undone."
        start = StartChooser.ask(self._window, "Another form", about, form_starts())
        if start is not None:
            form = start.make().structure
            self._session.attempt(start.name, lambda project: with_form(project, form))

    def bring_mesh(self) -> None:
        """Choose a mesh and slice it."""
        path = choose_file(self._window, "Slice a mesh", MESHES)
        if path is not None:
            self.slice(path)

    def slice(self, path: Path) -> None:
        """Read a mesh in the background, and slice it."""
        from anzel.app.edits.mesh_edits import import_remarks, slice_mesh
        from anzel.app.foreign_files import read_apart
        from anzel.storage.mesh_reader import read_mesh

        self._session.status.show(f"Reading {path.name} …")

        def arrived(imported_mesh: "ImportedMesh") -> None:
            if self._session.attempt(path.name, lambda project: slice_mesh(project, imported_mesh)):
                self._session.status.show("; ".join((path.name, *import_remarks(imported_mesh))))

        self._jobs.start(
            lambda _: read_apart(read_mesh, path),
            done=arrived,
            failed=lambda error: self.tell("This mesh cannot be sliced", error),
        )

    def make_free(self) -> None:
        """Turn the structure into a free one, to continue by hand."""
        from anzel.app.edits.free_structure_edits import make_free

        self._session.attempt("Without the form", make_free)
        self._session.navigation.go_to(Step.BUILD)

    def open(self) -> None:
        """Choose a project and open it."""
        if self.may_leave():
            path = choose_file(self._window, "Open a project", PROJECTS)
            if path is not None:
                self.open_path(path, ask=False)

    def open_path(self, path: Path, *, ask: bool = True) -> None:
        """Open a project; say why if it cannot be opened."""
        if ask and not self.may_leave():
            return
        try:
            self._session.open(path, aside=self._alive.stoppable(f"Opening {path.name} …"))
            self._settings.remember(path)
        except MakerError as error:
            self.cannot_open(path, error)

    def cannot_open(self, path: Path, error: MakerError) -> None:
        """Offer the versions that were kept of a project, or say why it cannot be opened."""
        if not self._offer_versions(path, error):
            self.tell("This project cannot be opened", error)

    def versions(self) -> None:
        """Show the versions of this project that were saved."""
        path = self._session.document.path
        kept = self._session.versions.of(path) if path is not None else ()
        if not kept:
            words = "No earlier version is kept yet: each time you save, one is."
            self._session.status.show(words)
            return
        self._choose_version(kept, "")

    def _offer_versions(self, path: Path, error: MakerError) -> bool:
        """Offer what was kept of a file that cannot be read. Return whether something was."""
        kept = self._session.versions.of(path)
        if kept:
            self._choose_version(kept, shown(str(error)), path)
        return bool(kept)

    def _choose_version(
        self, kept: "tuple[SavedVersion, ...]", why: str, path: Path | None = None
    ) -> None:
        from anzel.ui.versions_dialog import VersionsDialog

        dialog = VersionsDialog(self._window, self._session, self._jobs, kept, why)
        if run(dialog) != VersionsDialog.DialogCode.Accepted or dialog.project is None:
            return
        if path is None:
            project, when = dialog.project, f"{dialog.version.when:%d %B, %H:%M}"
            self._session.attempt(f"As saved on {when}", lambda _: project)
        else:
            self._session.recover(dialog.project, path)

    def save(self) -> bool:
        """Save.

        Return True if nothing is left unsaved.
        """
        if self._session.document.path is None:
            return self.save_as()
        return self._save(self._session.document.path)

    def save_as(self) -> bool:
        """Save under a name to choose.

        Return True if it was saved.
        """
        start = str(self._session.document.path or f"{self._session.project.name}.anzel")
        path = choose_target(self._window, "Save the project", start, PROJECTS)
        if path is None:
            return False
        return self._save(path if path.suffix else path.with_suffix(".anzel"))

    def may_leave(self) -> bool:
        """Return whether the present project may be left: it is saved, or the maker said so."""
        if not self._session.is_dirty:
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self._window,
            "Save first?",
            f"“{self._session.project.name}” has changes that are not saved.",
            buttons.Save | buttons.Discard | buttons.Cancel,
            buttons.Save,
        )
        if answer == buttons.Save:
            return self.save()
        return answer == buttons.Discard

    def shift_fit(self, by: int) -> None:
        """Choose the next tighter or looser fit class."""
        names = list(FitName)
        at = names.index(self._session.project.fits.in_use) + by
        if 0 <= at < len(names):
            name = names[at]
            self._session.attempt(f"Fit {name.value}", lambda p: project_edits.choose_fit(p, name))

    def switch_kerf_place(self) -> None:
        """Take care of the kerf at the next place."""
        now = self._session.project.kerf_at
        places = list(KerfAt)
        other = places[(places.index(now) + 1) % len(places)]
        self._session.attempt(
            f"Kerf {KERF_WORDS[other]}", lambda p: project_edits.take_kerf_at(p, other)
        )

    def scale(self, *, into_bounds: bool = False) -> None:
        """Open the dialog that scales the whole, perhaps trying the design's bounds at once."""
        from anzel.ui.scale_dialog import ScaleDialog

        dialog = ScaleDialog(self._window, self._session, self._jobs)
        if into_bounds:
            dialog.bounds.click()
        run(dialog)

    def keep_take(self) -> None:
        """Keep the present structure as a take."""
        from anzel.project.takes import consequence_of_keeping, keep_take

        self._session.attempt(consequence_of_keeping(self._session.project), keep_take)

    def takes(self) -> None:
        """Open the comparison of the present structure with the takes."""
        from anzel.ui.takes_dialog import TakesDialog

        run(TakesDialog(self._window, self._session, self._jobs))

    @property
    def rack(self) -> "RackCommands":
        """The commands of the rack, loaded on first use."""
        from anzel.ui.rack_commands import RackCommands

        return RackCommands(self._window, self._session, self._jobs, self.tell)

    @property
    def found(self) -> "DrawingCommands":
        """The commands of found drawings, loaded on first use."""
        from anzel.ui.drawing_commands import DrawingCommands

        return DrawingCommands(self._window, self._session, self._jobs, self.tell)

    @property
    def cutting(self) -> "ExportCommands":
        """The commands that write files, loaded on first use."""
        if self._cutting is None:
            from anzel.ui.export_commands import ExportCommands

            self._cutting = ExportCommands(self._window, self._session, self._jobs, self.tell)
        return self._cutting

    def print(self, chosen: "FileSettings") -> None:
        """Print on a real printer what the sheets step has chosen."""
        from anzel.ui.print_commands import PrintCommands

        printing = PrintCommands(self._window, self._session, self._jobs, self.tell)
        printing.ask(chosen.cut_file(Path()))

    def scale_text(self, factor: float) -> None:
        """Make all text larger or smaller, within reason."""
        wanted = min(max(round(text_scale() * factor, 2), 0.8), 1.8)
        self._settings.prefer(text_size=wanted)
        use_preferences(self._session, self._settings)

    def history(self) -> None:
        """Show the edits so far."""
        from anzel.ui.history_dialog import HistoryDialog

        run(HistoryDialog(self._window, self._session))

    def find(self, go: Callable[["Match"], None]) -> None:
        """Find something by its name, and go there."""
        from anzel.ui.find_dialog import FindDialog

        run(FindDialog(self._window, self._session, go))

    def settings(self, used: Callable[[], None]) -> None:
        """Open the settings; `used` is called after each change."""
        from anzel.ui.settings_dialog import SettingsDialog

        run(SettingsDialog(self._window, self._session, self._settings, used))

    def help(self) -> None:
        """Show the help page."""
        from anzel.ui.help_dialog import HelpPage

        run(HelpPage(self._window, keys_in_use(self._settings.preferences.keys)))

    def about(self) -> None:
        """Show what Anzel is and whose work it ships."""
        from anzel.ui.dialogs import About

        run(About(self._window))

    def _save(self, path: Path, even_read_only: bool = False) -> bool:
        if path == self._session.document.path and not self._may_overwrite(path):
            return False
        try:
            with error_boundary(f"it saved {path.name}"):
                self._session.save(path, even_read_only=even_read_only, aside=self._alive)
                self._settings.remember(path)
        except ReadOnlyFileError:
            return may_write_read_only(self._window, path) and self._save(path, True)
        except MakerError as error:
            self.tell("The project was not saved", error)
            return False
        return True

    def _may_overwrite(self, path: Path) -> bool:
        """Return whether to write over a file that another program has changed or removed."""
        if not self._session.document.changed_outside:
            return True
        what = "was changed by another program" if path.exists() else "is not there any more"
        return may_write(
            self._window,
            "Changed by another program",
            f"{path.name} {what} since you opened or saved it.\n\nSave yours over it (the other "
            "is kept beside it, ending in .bak), or cancel and save under another name.",
        )

    def tell(self, what: str, error: MakerError) -> None:
        """Tell what went wrong; what the maker has stopped is told in the status line."""
        if isinstance(error, StoppedError):
            self._session.status.show(f"{what}: stopped")
            return
        QMessageBox.warning(self._window, what, shown(f"{error.message}\n\n{error.hint}").strip())


def callbacks(
    commands: Commands, session: Session, view: dict[str, Callable[[], object]]
) -> dict[str, Callable[[], object]]:
    """Return a callback for every action id; `view` holds those that only the window knows."""
    return {
        "new": commands.new,
        "new-form": commands.new_form,
        "other-form": commands.other_form,
        "bring-mesh": commands.bring_mesh,
        "bring-found": lambda: commands.found.choose(),
        "write-back": lambda: commands.found.write_back(),
        "make-free": commands.make_free,
        "open": commands.open,
        "save": commands.save,
        "save-as": commands.save_as,
        "history": commands.history,
        "versions": commands.versions,
        "undo": session.undo,
        "redo": session.redo,
        "tighter": lambda: commands.shift_fit(-1),
        "looser": lambda: commands.shift_fit(1),
        "kerf-place": commands.switch_kerf_place,
        **{f"step-{step.value}": partial(session.navigation.go_to, step) for step in Step},
        "next-joint": session.selection.pick_next_joint,
        "previous-joint": lambda: session.selection.pick_next_joint(-1),
        "text-larger": lambda: commands.scale_text(1.1),
        "text-smaller": lambda: commands.scale_text(1 / 1.1),
        "scale": commands.scale,
        "keep-take": commands.keep_take,
        "takes": commands.takes,
        "keep-stock": lambda: commands.rack.keep(),
        "bring-stock": lambda: commands.rack.choose(),
        "import-stocks": lambda: commands.rack.import_file(),
        "export-stocks": lambda: commands.rack.export_file(),
        "help": commands.help,
        "about": commands.about,
        **view,
    }
