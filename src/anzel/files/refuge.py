"""Where unsaved work is kept until it is saved: a folder of project files, one to a window.

The window that owns a file holds a lock on it; the system lets go of the lock when the process
ends, however it ends. So a file that nobody holds was left behind and can be recovered. What
project it is, and where it would be saved, is the zip's comment: one file, written atomically.
"""

import fcntl
import io
import json
import os
import zipfile
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from secrets import token_hex

from anzel.files import project_file
from anzel.files.atomic import FileError, write_atomically
from anzel.project.model import Project

ENDING = ".anzel"
_LOCK = ".lock"
_LONGEST_PATH = 4000


def refuge_folder() -> Path:
    """The folder in the XDG state folder."""
    from platformdirs import user_state_path  # not while the window starts

    return user_state_path("anzel") / "unsaved"


@dataclass(frozen=True)
class LeftBehind:
    """Unsaved work of a window that ended without saving or asking."""

    file: Path
    name: str
    saved_as: Path | None
    when: datetime

    def project(self) -> Project:
        """The work itself. Raises FileError."""
        return project_file.load(self.file)

    def discard(self) -> None:
        """Forget it for good."""
        for path in (self.file, self.file.with_suffix(_LOCK)):
            with suppress(OSError):
                path.unlink()


class Refuge:
    """One window's file in the refuge."""

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder or refuge_folder()
        self._file = self._folder / f"{os.getpid()}-{token_hex(4)}{ENDING}"
        self._lock: int | None = None

    @property
    def file(self) -> Path:
        """Where the work is kept."""
        return self._file

    def keep(self, project: Project, saved_as: Path | None) -> None:
        """Keep a project as it is now. Raises FileError."""
        self._hold()
        about = {"name": project.name, "saved_as": str(saved_as or "")[:_LONGEST_PATH]}
        content = io.BytesIO(project_file.to_bytes(project))
        with zipfile.ZipFile(content, "a") as archive:
            archive.comment = json.dumps(about).encode()
        write_atomically(self._file, content.getvalue())

    def clear(self) -> None:
        """Nothing is unsaved any more."""
        with suppress(OSError):
            self._file.unlink()

    def close(self) -> None:
        """The window closes with nothing unsaved that the maker wanted."""
        self.clear()
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None
            with suppress(OSError):
                self._file.with_suffix(_LOCK).unlink()

    def _hold(self) -> None:
        if self._lock is not None:
            return
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            handle = os.open(self._file.with_suffix(_LOCK), os.O_RDWR | os.O_CREAT, 0o600)
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            reason = error.strerror or str(error)
            raise FileError(f"Unsaved work cannot be kept in {self._folder}: {reason}.") from error
        self._lock = handle


def left_behind(folder: Path | None = None) -> tuple[LeftBehind, ...]:
    """What windows that are gone left behind, newest first; unreadable files are not named."""
    found = []
    for file in sorted((folder or refuge_folder()).glob(f"*{ENDING}")):
        if not _is_held(file) and (each := _about(file)) is not None:
            found.append(each)
    return tuple(sorted(found, key=lambda each: each.when, reverse=True))


def _is_held(file: Path) -> bool:
    """Whether a window that lives owns a file."""
    try:
        handle = os.open(file.with_suffix(_LOCK), os.O_RDWR)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(handle)
    return False


def _about(file: Path) -> LeftBehind | None:
    try:
        with zipfile.ZipFile(file) as archive:
            about = json.loads(archive.comment)
        when = datetime.fromtimestamp(file.stat().st_mtime)
        saved_as = Path(about["saved_as"]) if about["saved_as"] else None
        return LeftBehind(file, str(about["name"]), saved_as, when)
    except (OSError, ValueError, KeyError, TypeError, zipfile.BadZipFile):
        return None
