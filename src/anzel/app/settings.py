"""What is remembered between runs: recent files, in a JSON file in the XDG config folder."""

import json
from pathlib import Path

from anzel.storage.atomic_file import PRIVATE, FileError, read_whole, write_atomically
from anzel.storage.private_folder import private_folder

_KEPT = 8
_LARGEST = 1024 * 1024


class Settings:
    """Recent files, newest first.

    A damaged settings file counts as none.
    """

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder

    @property
    def _path(self) -> Path:
        from platformdirs import user_config_path  # not while the window starts

        return (self._folder or user_config_path("anzel")) / "settings.json"

    def recent_files(self) -> list[Path]:
        """Recently opened or saved projects that still exist."""
        try:
            content = read_whole(self._path, _LARGEST, FileError("The settings are too large."))
            stored = json.loads(content).get("recent", [])
            paths = [Path(text) for text in stored[:_KEPT] if isinstance(text, str)]
            return [path for path in paths if path.is_file()]
        except (FileError, ValueError, AttributeError, TypeError, RecursionError, OSError):
            return []

    def remember(self, path: Path) -> None:
        """Put a project at the head of the recent files."""
        path = path.resolve()
        paths = [path, *(other for other in self.recent_files() if other != path)][:_KEPT]
        content, target = (
            json.dumps({"recent": [str(each) for each in paths]}, indent=1),
            self._path,
        )
        try:
            private_folder(target.parent)
            write_atomically(target, content.encode(), mode=PRIVATE)
        except (OSError, FileError):
            return  # a read-only home costs the list of recent files, nothing else
