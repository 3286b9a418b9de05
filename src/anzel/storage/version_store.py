"""The last ten saved versions of each project, the older the further apart.

They lie in a folder of the maker's own, one for each project's path, named by the time at which
they were saved. A version is a copy of the whole file, so that it survives whatever happens to it.
"""

import hashlib
import time
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from anzel.project.model import Project
from anzel.storage import project_file
from anzel.storage.atomic_file import PRIVATE, FileError, read_whole, write_atomically
from anzel.storage.private_folder import private_folder, state_folder

MOST = 10
_ENDING = ".anzel"


def version_folder() -> Path:
    """Return the folder in the XDG state folder."""
    return state_folder("versions")


@dataclass(frozen=True)
class SavedVersion:
    """A project as it was saved at a time, s since the epoch."""

    file: Path
    saved: float

    @property
    def when(self) -> datetime:
        """When it was saved."""
        return datetime.fromtimestamp(self.saved)

    def project(self) -> Project:
        """Return the project.

        Raises
        ------
        FileError
        """
        return project_file.load(self.file)


class VersionStore:
    """The saved versions of all projects."""

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder

    def keep(self, path: Path) -> None:
        """Keep the present content of a project's file, unless it is the newest version already.

        Raises
        ------
        FileError
            Where it cannot be read, or there is no room.
        """
        too_large = FileError(f"{path.name} is far too large.")
        content, kept = read_whole(path, project_file.LARGEST, too_large), self.of(path)
        if kept and kept[0].file.read_bytes() == content:
            return
        folder = self._folder_of(path)
        try:
            private_folder(folder)
        except OSError as error:
            reason = error.strerror or str(error)
            raise FileError(f"No version is kept in {folder}: {reason}.") from error
        now = time.time()
        write_atomically(folder / f"{now:.6f}{_ENDING}", content, mode=PRIVATE)
        times = [each.saved for each in self.of(path)]
        for saved in set(times) - set(thinned(times, now)):
            with suppress(OSError):
                (folder / f"{saved:.6f}{_ENDING}").unlink()

    def of(self, path: Path) -> tuple[SavedVersion, ...]:
        """Return the versions of a project's file, newest first."""
        found = []
        for file in self._folder_of(path).glob(f"*{_ENDING}"):
            with suppress(ValueError):
                found.append(SavedVersion(file, float(file.stem)))
        return tuple(sorted(found, key=lambda each: each.saved, reverse=True))

    def _folder_of(self, path: Path) -> Path:
        name = hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:24]
        return (self._folder or version_folder()) / name


def thinned(times: Sequence[float], now: float, most: int = MOST) -> list[float]:
    """Return which times stay when only `most` may.

    The newest and the oldest do, and between them those that leave gaps in proportion to their age.

    >>> thinned([0, 50, 90, 98, 99, 100], 100, most=4)
    [0, 90, 98, 100]
    """
    kept = sorted(times)
    while len(kept) > most:
        gaps = [
            (kept[n + 1] - kept[n - 1]) / max(now - kept[n], 1e-6) for n in range(1, len(kept) - 1)
        ]
        del kept[1 + gaps.index(min(gaps))]
    return kept
