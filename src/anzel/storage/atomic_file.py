"""Atomic writing: a file is either the old version or the new one, never half of either.

Also reading a file whole, up to a size.

A symbolic link is followed: the file it names is written, the link stays. A file keeps its
permissions, its owner and its extended attributes.
"""

import fcntl
import hashlib
import os
import re
import shutil
import stat
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from secrets import token_hex

from anzel.core.findings import MakerError

_LONGEST_NAME = 255
"""Bytes of a file's name: the limit of common file systems (NAME_MAX)."""
_TEMPORARY = ".anzel-{token}-{proof}.part"
_IS_TEMPORARY = re.compile(r"\.anzel-([0-9a-f]{16})-([0-9a-f]{16})\.part")
PRIVATE = 0o600


class FileError(MakerError):
    """A file that cannot be read or written."""


class ReadOnlyFileError(FileError):
    """A file that its owner has marked as read-only."""


def read_whole(
    path: Path, most: int, too_large: FileError, unreadable: type[FileError] = FileError
) -> bytes:
    """Return a file's content.

    Raises `too_large` for more than `most` bytes, and `unreadable` with the reason where it cannot
    be read, or where it is a pipe or a device, which may never end.
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        with os.fdopen(handle, "rb") as stream:
            if not stat.S_ISREG(os.fstat(stream.fileno()).st_mode):
                raise unreadable(f"{path} is no file.", hint="Choose a file.")
            content = stream.read(most + 1)
    except (OSError, ValueError) as error:
        raise unreadable(f"{path} could not be read: {_reason(error)}.") from error
    if len(content) > most:
        raise too_large
    return content


def stamp_of(path: Path | None) -> tuple[int, int] | None:
    """Return when a file was written and its size; None where there is none.

    Together they tell whether another program has written it.
    """
    if path is None:
        return None
    try:
        found = path.stat()
    except OSError:
        return None
    return (found.st_mtime_ns, found.st_size)


def is_read_only(path: Path) -> bool:
    """Return whether there is a file that is marked as read-only."""
    try:
        return not path.stat().st_mode & stat.S_IWUSR
    except OSError:
        return False


def write_atomically(
    path: Path, content: bytes, *, keep_backup: bool = False, even_read_only: bool = False,
    mode: int | None = None,
) -> None:  # fmt: skip
    """Write to a temporary file beside `path`, flush it to disk, then put it in place.

    With `keep_backup` the previous version stays as `NAME.bak`. A new file gets `mode`, or the
    usual one.

    Raises
    ------
    FileError
        And ReadOnlyFileError unless `even_read_only`; then `path` is unchanged and no stray file is
        left.
    """
    try:
        target = Path(os.path.realpath(path, strict=False))
        present = _present(target)
        if is_read_only(target) and not even_read_only:
            raise ReadOnlyFileError(
                f"{path} is read-only.", hint="Write under another name, or make it writable."
            )
        with _temporary(target) as (temporary, handle):
            with os.fdopen(handle, "wb", closefd=False) as stream:
                stream.write(content)
            if present is None:
                os.fchmod(handle, 0o666 & ~_umask() if mode is None else mode)
            else:
                _take_over(target, temporary, present)
            os.fsync(handle)
            if present is not None and keep_backup:
                _back_up(target)
            os.replace(temporary, target)
    except (OSError, ValueError) as error:
        mend = "Nothing was changed; choose another place or free some space."
        raise FileError(f"{path} could not be written: {_reason(error)}.", hint=mend) from error
    # the file is in place: what fails from here on changes nothing about that
    with suppress(OSError):
        _flush_folder(target.parent)
    with suppress(OSError):
        remove_stray_temporaries(target.parent)


def remove_stray_temporaries(folder: Path) -> None:
    """Remove temporary files that killed processes of ours left in a folder.

    Only files whose name proves that they were made here, and that no living process holds, are
    removed.
    """
    with os.scandir(folder) as entries:
        names = [entry.name for entry in entries if _is_ours(entry.name)]
    for name in names:
        with suppress(OSError):
            handle = os.open(folder / name, os.O_RDWR | os.O_NOFOLLOW | os.O_CLOEXEC)
            try:
                fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
                os.unlink(folder / name)
            finally:
                os.close(handle)


def backup_path(path: Path) -> Path:
    """Return where the previous version of a file is kept.

    `NAME.bak`, shortened where it would exceed the limit for names.
    """
    name = path.name + ".bak"
    if len(os.fsencode(name)) <= _LONGEST_NAME:
        return path.with_name(name)
    ending = f"-{hashlib.sha256(os.fsencode(path.name)).hexdigest()[:8]}.bak"
    kept = os.fsencode(path.name)[: _LONGEST_NAME - len(ending)].decode("utf-8", "ignore")
    return path.with_name(kept + ending)


@contextmanager
def _temporary(target: Path) -> Iterator[tuple[Path, int]]:
    """Yield a locked, empty file beside the target, readable by its owner only.

    It is removed in the end unless it was put in place.
    """
    token = token_hex(8)
    path = target.with_name(_TEMPORARY.format(token=token, proof=_proof(token)))
    flags = os.O_RDWR | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC
    handle = os.open(path, flags, PRIVATE)
    try:
        with suppress(OSError):  # some network file systems know no locks
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        yield path, handle
    finally:
        with suppress(OSError):
            os.unlink(path)
        os.close(handle)


def _proof(token: str) -> str:
    """Return the mark that only this program puts beside a token."""
    return hashlib.sha256(f"anzel temporary file {token}".encode()).hexdigest()[:16]


def _is_ours(name: str) -> bool:
    found = _IS_TEMPORARY.fullmatch(name)
    return found is not None and _proof(found[1]) == found[2]


def _present(target: Path) -> os.stat_result | None:
    """Return the status of the present file, None where there is none.

    Raises ValueError for what is no file.
    """
    try:
        found = target.stat()
    except FileNotFoundError:
        return None
    if not stat.S_ISREG(found.st_mode):
        raise ValueError("it is no file")
    return found


def _take_over(target: Path, temporary: Path, present: os.stat_result) -> None:
    """Give the new version the permissions, attributes and owner of the present one."""
    shutil.copystat(target, temporary)
    os.utime(temporary)
    with suppress(OSError):  # only the owner or root may; the permissions count all the same
        os.chown(temporary, present.st_uid, present.st_gid)
        os.chmod(temporary, stat.S_IMODE(present.st_mode))


def _back_up(target: Path) -> None:
    """Keep the present version as the backup.

    A second name for it, or a copy where the file system has no hard links.
    """
    with _temporary(target) as (beside, _):
        os.unlink(beside)
        try:
            os.link(target, beside)
        except OSError:
            shutil.copy2(target, beside)
        os.replace(beside, backup_path(target))


def _flush_folder(folder: Path) -> None:
    """Flush the folder.

    The new name then survives a power cut, where the system can promise that.
    """
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _reason(error: OSError | ValueError) -> str:
    return (error.strerror if isinstance(error, OSError) else None) or str(error)


def _umask() -> int:
    current = os.umask(0)
    os.umask(current)
    return current
