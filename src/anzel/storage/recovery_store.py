"""The recovery store: a folder with the unsaved work of each window.

The window that owns a file holds a lock on it. The system releases the lock when the process ends,
however it ends. So a file without a lock was left behind and can be recovered. The comment of the
zip says which project it is, where it would be saved, and when. Work that was saved later is not
offered again.
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
from anzel.storage.private_folder import private_folder, state_folder

ENDING = ".anzel"
_LOCK = ".lock"
_LONGEST_PATH = 4000
_FORGOTTEN = 30 * 86_400.0
"""What is older than its project's file is kept, unoffered, for so long, s."""


def recovery_folder() -> Path:
    """Return the folder in the XDG state folder."""
    return state_folder("unsaved")


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
        """Return the work itself.

        Raises
        ------
        FileError
        """
        return project_file.load(self.file)

    def discard(self) -> None:
        """Remove it for good."""
        for path in (self.file, self.file.with_suffix(_LOCK)):
            with suppress(OSError):
                path.unlink()


class RecoveryStore:
    """One window's file in the recovery folder."""

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder or recovery_folder()
        self._file = self._folder / f"{os.getpid()}-{token_hex(4)}{ENDING}"
        self._lock: int | None = None
        self._turn = Lock()
        self._saved = 0.0

    @property
    def file(self) -> Path:
        """The path of the window's file."""
        return self._file

    def keep(self, project: Project, saved_as: Path | None, as_of: "Moment | None" = None) -> None:
        """Keep a project as of a moment, or as of now.

        It is not kept if a later state has been saved meanwhile.

        Raises
        ------
        FileError
        """
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
        """Remove the file, because nothing is unsaved any more.

        Requests made before this are not kept.
        """
        with self._turn:
            self._saved = time.time()
            with suppress(OSError):
                self._file.unlink()

    def close(self) -> None:
        """Remove the file and the lock when the window closes with nothing unsaved."""
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
    """Return the unsaved work of windows that are gone, newest first.

    Work that was saved later and unreadable files are left out.
    """
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
    """Remove stray locks and half-written files of killed windows.

    It is called at the start.
    """
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
    """Return the present moment of a project with a file, or with none yet."""
    return (time.time(), _written(saved_as))


def _written(path: Path | None) -> int | None:
    try:
        return path.stat().st_mtime_ns if path is not None else None
    except OSError:
        return None


def _was_saved_later(found: RecoverableProject) -> bool:
    """Return whether the project's file was written after the unsaved work was kept."""
    now = _written(found.saved_as)
    return now is not None and now != found.written


def _is_held(file: Path) -> bool:
    """Return whether a living window owns a file."""
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
