"""Files of others are read in a helper: it can be stopped, and may take only so much.

A drawing, a mesh, a picture, a font or a project that somebody else made may ask for far more
memory or time than anybody has, by mistake or on purpose. What is read here was read there before,
so it is known to take little.
"""

from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from anzel.app.edits.overrides import Overrides
from anzel.drawings.reader import LARGEST
from anzel.helpers.process import Helper
from anzel.helpers.serving import said
from anzel.storage import project_file
from anzel.storage.atomic_file import FileError, read_whole
from anzel.structure.forms.imported_drawing import ImportedDrawing, import_drawing

_MOST_MEMORY = 2 * 1024**3
_LONGEST = 300.0
"""Seconds: large drawings take some, and the maker can stop it."""
HELPER = Helper(
    "files of others", "anzel.app.foreign_files", memory=_MOST_MEMORY, seconds=_LONGEST
)  # fmt: skip

_THUMBNAILS = Helper("thumbnails", "anzel.app.still_image", memory=_MOST_MEMORY, seconds=30.0)

Result = TypeVar("Result")


def read_apart(read: Callable[..., Result], *arguments: object) -> Result:
    """Return what a function of a module reads from a file of somebody else.

    Raises what it raises; MakerError where it takes too much, and CancelledError where the task at
    hand is stopped.
    """
    return HELPER.call(read, *arguments)


def found_drawing(path: Path) -> ImportedDrawing:
    """Return a found drawing; this runs in the helper.

    Raises
    ------
    FileError
        Or DrawingError for a file that holds none.
    """
    said(f"Reading {path.name} …")
    too_large = FileError(f"{path.name} is far too large for a drawing.")
    return import_drawing(path.name, read_whole(path, LARGEST, too_large), said)


def thumbnail(path: Path, overrides: Overrides, view: str, apart: float, size: int) -> bytes:
    """Return a small picture of the project in a file, as PNG; see `still_image`.

    Raises MakerError where it cannot be made, or takes more than a thumbnail may.
    """
    return _THUMBNAILS.call(_thumbnail, path, overrides, view, apart, size)


def _thumbnail(path: Path, overrides: Overrides, view: str, apart: float, size: int) -> bytes:
    from anzel.app.still_image import still_image  # draws in three dimensions

    project = overrides.apply(project_file.load(path))
    return still_image(project, view, apart, (size, size))
