"""The recovery store: a folder with the unsaved work of each window.

The window that owns a file holds a lock on it. The system releases the lock when the process ends,
however it ends. So a file without a lock was left behind and can be recovered. The comment of the
zip says which project it is, where it would be saved, and when. Whether it was saved is decided by
comparing what is in both files: clocks go wrong, and other programs write times.
"""

import errno
import fcntl
import io
import json
import os
import time
import zipfile
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from itertools import count
from pathlib import Path
from secrets import token_hex
from threading import Lock

from anzel.core.findings import MakerError
from anzel.project.model import Project
from anzel.storage import project_file
from anzel.storage.atomic_file import PRIVATE, FileError, remove_stray_temporaries, write_atomically
from anzel.storage.private_folder import private_folder, state_folder

ENDING = ".anzel"
_LOCK = ".lock"
_NO_LOCKS = (errno.ENOLCK, errno.EOPNOTSUPP, errno.ENOSYS, errno.EINVAL)
"""How a file system says that it knows no locks (flock(2))."""


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
    """For the maker to read; nothing is decided by it."""

    def project(self) -> Project:
        """Return the work itself.

        Raises
        ------
        FileError
        """
        return project_file.load(self.file)

    def saved_project(self) -> Project | None:
        """Return what the project's file holds now; None where it cannot be read."""
        try:
            return project_file.load(self.saved_as) if self.saved_as is not None else None
        except MakerError:
            return None

    @property
    def is_saved(self) -> bool:
        """Whether the project's file holds the very same."""
        saved = self.saved_project()
        try:
            return saved is not None and saved == self.project()
        except MakerError:
            return False

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
        self._requests = count(1)
        self._cleared = 0

    @property
    def file(self) -> Path:
        """The path of the window's file."""
        return self._file

    def request(self) -> int:
        """Return the number of a request to keep something; later requests have larger ones."""
        return next(self._requests)

    def keep(self, project: Project, saved_as: Path | None, request: int | None = None) -> None:
        """Keep a project, unless the store was cleared after the request to keep it.

        Without a request, it is made now.

        Raises
        ------
        FileError
        """
        number = self.request() if request is None else request
        path = os.fsencode(saved_as.absolute()) if saved_as is not None else b""
        about = {"name": project.name, "saved_as": os.fsdecode(path), "as_of": time.time()}
        content = io.BytesIO(project_file.to_bytes(project))
        with zipfile.ZipFile(content, "a") as archive:
            archive.comment = json.dumps(about).encode()
        with self._turn:
            if number <= self._cleared:
                return
            self._hold()
            write_atomically(self._file, content.getvalue(), mode=PRIVATE)

    def clear(self) -> None:
        """Remove the file, because nothing is unsaved any more.

        Requests made before this are not kept.
        """
        with self._turn:
            self._cleared = self.request()
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
            _lock(handle)
        except OSError as error:
            reason = error.strerror or str(error)
            raise FileError(f"Unsaved work cannot be kept in {self._folder}: {reason}.") from error
        self._lock = handle


def recoverable_projects(folder: Path | None = None) -> tuple[RecoverableProject, ...]:
    """Return the unsaved work of windows that are gone, newest first.

    Files that are no recovered work are left out. Work that its project's file holds as it is gets
    removed.
    """
    found = []
    for file in sorted((folder or recovery_folder()).glob(f"*{ENDING}")):
        if _is_held(file) or (each := _about(file)) is None:
            continue
        if each.is_saved:
            each.discard()
        else:
            found.append(each)
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


def _is_held(file: Path) -> bool:
    """Return whether a living window owns a file."""
    try:
        handle = os.open(file.with_suffix(_LOCK), os.O_RDWR)
    except OSError:
        return False
    try:
        return not _lock(handle) and _is_running(file)
    except OSError:
        return True
    finally:
        os.close(handle)


def _lock(handle: int) -> bool:
    """Lock an open file. Return False where its file system has no locks.

    Raises OSError where another process holds it.
    """
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        if error.errno in _NO_LOCKS:
            return False
        raise
    return True


def _is_running(file: Path) -> bool:
    """Return whether the process that a file is named after runs, for want of a lock."""
    number = file.name.partition("-")[0]
    return number.isdecimal() and Path("/proc", number).exists()


def _about(file: Path) -> RecoverableProject | None:
    try:
        with zipfile.ZipFile(file) as archive:
            about = json.loads(archive.comment)
        when = datetime.fromtimestamp(float(about.get("as_of", file.stat().st_mtime)))
        saved_as = Path(about["saved_as"]) if about["saved_as"] else None
        return RecoverableProject(file, str(about["name"]), saved_as, when)
    except (OSError, ValueError, KeyError, TypeError, OverflowError, AttributeError):
        return None
    except (zipfile.BadZipFile, NotImplementedError):
        return None
