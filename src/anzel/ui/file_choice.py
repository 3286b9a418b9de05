"""Choosing files: each kind of file is looked for where the last of its kind was."""

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from anzel.app.settings import Settings, TargetFolder

PROJECTS = "Anzel projects (*.anzel)"
DRAWINGS = "Drawings (*.svg *.dxf)"
MESHES = "Meshes (*.stl *.obj *.ply *.3mf)"
PICTURES = "Pictures (*.png *.jpg *.jpeg)"
FONTS = "Fonts (*.ttf *.otf)"
STOCKS = "Sheets and cutters (*.json)"


def choose_file(parent: QWidget, title: str, kinds: str) -> Path | None:
    """Return a file to read, or None."""
    text, _ = QFileDialog.getOpenFileName(parent, title, _start(kinds), kinds)
    return _kept(kinds, text)


def choose_files(parent: QWidget, title: str, kinds: str) -> list[Path]:
    """Return files to read."""
    texts, _ = QFileDialog.getOpenFileNames(parent, title, _start(kinds), kinds)
    return [path for text in texts if (path := _kept(kinds, text)) is not None]


def choose_target(
    parent: QWidget, title: str, name: str, kinds: str, chosen: str = ""
) -> Path | None:  # fmt: skip
    """Return where to write a file that is called `name` unless the maker says otherwise."""
    beside = Settings().preferences.target_folder is TargetFolder.PROJECT
    folder = beside_of(parent) if beside else None
    start = name if Path(name).is_absolute() else str((folder or Path(_start(kinds))) / name)
    text, _ = QFileDialog.getSaveFileName(parent, title, start, kinds, chosen or kinds)
    return _kept(kinds, text)


def beside_of(widget: QWidget) -> Path | None:
    """Return the folder of the project of a widget's window, once it has a file."""
    path = widget.window().windowFilePath()
    return Path(path).parent if path else None


def _start(kinds: str) -> str:
    folder = Settings().folder_of(kinds)
    return str(folder) if folder is not None else ""


def _kept(kinds: str, text: str) -> Path | None:
    if not text:
        return None
    path = Path(text)
    Settings().remember_folder(kinds, path)
    return path
