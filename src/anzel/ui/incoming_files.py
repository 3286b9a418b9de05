"""Files that come to the window: dropped on it, or handed to it as it starts."""

from pathlib import Path

from PySide6.QtCore import QMimeData

from anzel.app.edits.profile_curve_edits import add_traced_picture
from anzel.app.navigation import Step
from anzel.app.session import Session
from anzel.core.findings import ParameterError
from anzel.drawings.reader import ENDINGS as DRAWINGS
from anzel.ui.commands import Commands

PROJECTS = (".anzel",)
MESHES = (".stl", ".obj", ".ply", ".3mf")
PICTURES = (".png", ".jpg", ".jpeg")
STOCKS = (".json",)
KNOWN = (*PROJECTS, *DRAWINGS, *MESHES, *PICTURES, *STOCKS)


def dropped_files(data: QMimeData) -> list[Path]:
    """Return the files of what is dragged onto a window."""
    return [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]


def take_files(commands: Commands, session: Session, paths: list[Path]) -> None:
    """Take files in by their kind: the first project or mesh, all drawings, a picture to trace."""
    kinds = {path: path.suffix.lower() for path in paths}
    projects = [path for path, ending in kinds.items() if ending in PROJECTS]
    meshes = [path for path, ending in kinds.items() if ending in MESHES]
    drawings = [path for path, ending in kinds.items() if ending in DRAWINGS]
    unknown = [path.name for path, ending in kinds.items() if ending not in KNOWN]
    if projects:
        commands.open_path(projects[0])
    if meshes:
        commands.slice(meshes[0])
    if drawings:
        commands.found.read_files(drawings)
    for path, ending in kinds.items():
        if ending in PICTURES:
            _trace(commands, session, path)
        elif ending in STOCKS:
            commands.rack.bring_file(path)
    left = unknown + [path.name for path in (*projects[1:], *meshes[1:])]
    if left:
        session.status.show(f"▲ Not taken in: {', '.join(left)}")


def _trace(commands: Commands, session: Session, path: Path) -> None:
    """Lay a picture under the profile of a lamp, which alone can be drawn over one."""
    if not session.project.structure.has_profile_curves:
        words = f"{path.name} is a picture, and this structure has no profile to draw over it."
        hint = "Start a rib lamp."
        commands.tell("Nothing to trace here", ParameterError(words, hint=hint))
        return
    session.attempt("A picture to trace", lambda project: add_traced_picture(project, path))
    session.navigation.go_to(Step.BUILD)
