"""Commands that read found drawings from files and write them back."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QProgressDialog, QWidget

from anzel.app.background import Background, Task
from anzel.app.edits import drawing_edits
from anzel.app.foreign_files import found_drawing, read_apart
from anzel.app.navigation import Step
from anzel.app.session import Session
from anzel.core.findings import MakerError
from anzel.output.drawing_file import drawing_with_halves
from anzel.project.model import Project
from anzel.storage.atomic_file import write_atomically
from anzel.structure.forms.imported_drawing import ImportedDrawing
from anzel.ui.file_choice import DRAWINGS, choose_files, choose_target

_SOON_MS = 500


class DrawingCommands:
    """Runs the commands on the session; `tell` shows what went wrong."""

    def __init__(
        self,
        window: QWidget,
        session: Session,
        jobs: Background,
        tell: Callable[[str, MakerError], None],
    ) -> None:
        self._window, self._session, self._jobs, self._tell = window, session, jobs, tell

    def choose(self) -> None:
        """Choose drawings, one or several of one assembly, and fit them."""
        paths = choose_files(self._window, "Fit found drawings", DRAWINGS)
        if paths:
            self.read_files(paths)

    def read_files(self, paths: list[Path]) -> Task:
        """Read drawings in the background, with a way to stop, and fit them."""
        waiting = QProgressDialog("Reading …", "Stop", 0, 0, self._window)
        waiting.setWindowModality(Qt.WindowModality.WindowModal)
        waiting.setMinimumDuration(_SOON_MS)
        waiting.setWindowTitle("Fit a found drawing")

        def work(_: Task) -> list[ImportedDrawing]:
            return [read_apart(found_drawing, path) for path in paths]

        def close() -> None:
            waiting.reset()
            waiting.deleteLater()

        def arrived(read: list[ImportedDrawing]) -> None:
            close()
            if progress.is_cancelled:
                return  # stopped when it was just done
            for drawing in read:
                self._session.attempt(f"Fit {drawing.file.name}", partial(_taken_in, drawing))
            self._session.navigation.go_to(Step.BUILD)

        def failed(error: MakerError) -> None:
            close()
            self._tell("This drawing cannot be fitted", error)

        progress = self._jobs.start(work, done=arrived, failed=failed, said=waiting.setLabelText)
        waiting.canceled.connect(progress.cancel)
        waiting.canceled.connect(close)
        return progress

    def write_back(self, name: str = "") -> None:
        """Choose a file, and write a drawing as the file it came in, with its new sizes."""
        if not self._session.project.structure.has_drawings:
            return  # it was left meanwhile
        drawings = drawing_edits.drawing_views(self._session.project)
        each = next((d for d in drawings if d.name == name), drawings[0])
        came = Path(each.name)
        start = f"{came.stem} for {each.refit.options.thickness:g}{came.suffix}"
        kind = f"{came.suffix[1:].upper()} (*{came.suffix})"
        path = choose_target(self._window, "Write it back", start, kind)
        if path is not None:
            self.write_to(each, path if path.suffix else path.with_suffix(came.suffix))

    def write_to(self, each: drawing_edits.DrawingView, path: Path) -> Task:
        """Write a drawing in the background, and say when it is done.

        One with split pieces is written anew, as it will be cut, with its halves.
        """
        project = self._session.project

        def work(progress: Task) -> Path:
            progress.report(f"Writing {path.name} …")
            has_halves = bool(each.drawing.seams)
            content = (
                drawing_with_halves(project, each.name, path.suffix) if has_halves
                else each.refit.written()
            )  # fmt: skip
            write_atomically(path, content)
            return path

        return self._jobs.start(
            work,
            done=lambda written: self._session.status.show(f"Written: {written}"),
            failed=lambda error: self._tell("The drawing was not written", error),
            said=self._session.status.show,
        )


def _taken_in(drawing: ImportedDrawing, project: Project) -> Project:
    return drawing_edits.add_drawing_file(project, drawing)
