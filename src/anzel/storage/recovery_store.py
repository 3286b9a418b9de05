"""Where unsaved work is kept until it is saved: a folder of project files, one to a window.

The window that owns a file holds a lock on it; the system lets go of the lock when the process
ends, however it ends. So a file that nobody holds was left behind and can be recovered. What
project it is, where it would be saved, and when it was so, is the zip's comment: one file, written
atomically. What was saved later than that is not offered again.
"""

import fcntl
import io
import json
import os
import time
import zipfile
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from secrets import token_hex
from threading import Lock

from anzel.project.model import Project
from anzel.storage import project_file
from anzel.storage.atomic_file import PRIVATE, FileError, remove_stray_temporaries, write_atomically
from anzel.storage.private_folder import private_folder

ENDING = ".anzel"
_LOCK = ".lock"
_LONGEST_PATH = 4000
_FORGOTTEN = 30 * 86_400.0
"""What is older than its project's file is kept, unoffered, for so long, s."""


def recovery_folder() -> Path:
    """The folder in the XDG state folder."""
    from platformdirs import user_state_path  # not while the window starts

    return user_state_path("anzel") / "unsaved"


@dataclass(frozen=True)
class RecoverableProject:
    """Unsaved work of a window that ended without saving or asking."""

    file: Path
    name: str
    saved_as: Path | None
    when: datetime
    written: int | None
    """When the project's file had been written last, ns since the epoch; None if it was not."""

    def project(self) -> Project:
        """The work itself. Raises FileError."""
        return project_file.load(self.file)

    def discard(self) -> None:
        """Forget it for good."""
        for path in (self.file, self.file.with_suffix(_LOCK)):
            with suppress(OSError):
                path.unlink()


class RecoveryStore:
    """One window's file in the refuge."""

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder or recovery_folder()
        self._file = self._folder / f"{os.getpid()}-{token_hex(4)}{ENDING}"
        self._lock: int | None = None
        self._turn = Lock()
        self._saved = 0.0

    @property
    def file(self) -> Path:
        """Where the work is kept."""
        return self._file

    def keep(self, project: Project, saved_as: Path | None, as_of: "Moment | None" = None) -> None:
        """Keep a project as it was at a moment, or is now; not if a later state has been saved
        meanwhile. Raises FileError."""
        moment, written = as_of or save_moment(saved_as)
        about = {
            "name": project.name, "saved_as": str(saved_as or "")[:_LONGEST_PATH],
            "as_of": moment, "written": written,
        }  # fmt: skip
        content = io.BytesIO(project_file.to_bytes(project))
        with zipfile.ZipFile(content, "a") as archive:
            archive.comment = json.dumps(about).encode()
        with self._turn:
            if moment <= self._saved:
                return
            self._hold()
            write_atomically(self._file, content.getvalue(), mode=PRIVATE)

    def clear(self) -> None:
        """Nothing is unsaved any more; what was asked to be kept before this is not kept."""
        with self._turn:
            self._saved = time.time()
            with suppress(OSError):
                self._file.unlink()

    def close(self) -> None:
        """The window closes with nothing unsaved that the maker wanted."""
        self.clear()
        if self._lock is not None:
            with suppress(OSError):
                self._file.with_suffix(_LOCK).unlink()
            os.close(self._lock)
            self._lock = None

    def _hold(self) -> None:
        if self._lock is not None:
            return
        try:
            private_folder(self._folder)
            handle = os.open(
                self._file.with_suffix(_LOCK), os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, PRIVATE
            )
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            reason = error.strerror or str(error)
            raise FileError(f"Unsaved work cannot be kept in {self._folder}: {reason}.") from error
        self._lock = handle


def recoverable_projects(folder: Path | None = None) -> tuple[RecoverableProject, ...]:
    """What windows that are gone left behind and was not saved later, newest first; unreadable
    files are not named."""
    found = []
    for file in sorted((folder or recovery_folder()).glob(f"*{ENDING}")):
        if _is_held(file) or (each := _about(file)) is None:
            continue
        if not _was_saved_later(each):
            found.append(each)
        elif time.time() - each.when.timestamp() > _FORGOTTEN:
            each.discard()
    return tuple(sorted(found, key=lambda each: each.when, reverse=True))


def remove_stray_files(folder: Path | None = None) -> None:
    """Take away what windows that were killed left beside their work: locks of nothing, and files
    half written. Called at the start."""
    where = folder or recovery_folder()
    with suppress(OSError):
        remove_stray_temporaries(where)
    for lock in where.glob(f"*{_LOCK}"):
        file = lock.with_suffix(ENDING)
        if not file.exists() and not _is_held(file):
            with suppress(OSError):
                lock.unlink()


Moment = tuple[float, int | None]
"""Now, s since the epoch, and when the project's file was written last, ns, if it was."""


def save_moment(saved_as: Path | None) -> Moment:
    """Returns the present moment of a project with a file, or with none yet."""
    return (time.time(), _written(saved_as))


def _written(path: Path | None) -> int | None:
    try:
        return path.stat().st_mtime_ns if path is not None else None
    except OSError:
        return None


def _was_saved_later(found: RecoverableProject) -> bool:
    """Whether the project's file was written after the unsaved work was kept."""
    now = _written(found.saved_as)
    return now is not None and now != found.written


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


def _about(file: Path) -> RecoverableProject | None:
    try:
        with zipfile.ZipFile(file) as archive:
            about = json.loads(archive.comment)
        when = datetime.fromtimestamp(float(about.get("as_of", file.stat().st_mtime)))
        saved_as = Path(about["saved_as"]) if about["saved_as"] else None
        written = about.get("written")
        return RecoverableProject(file, str(about["name"]), saved_as, when, written)
    except (OSError, ValueError, KeyError, TypeError, OverflowError, AttributeError):
        return None
    except (zipfile.BadZipFile, NotImplementedError):
        return None
