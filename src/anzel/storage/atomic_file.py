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
from collections.abc import Callable, Iterator, Mapping
from contextlib import ExitStack, contextmanager, suppress
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
        target = _target_of(path, even_read_only=even_read_only)
        with _temporary(target) as (temporary, handle):
            is_present = _fill(target, temporary, handle, content, mode)
            if is_present and keep_backup:
                _back_up(target)
            os.replace(temporary, target)
    except (OSError, ValueError) as error:
        raise _not_written(path, error) from error
    # the file is in place: what fails from here on changes nothing about that
    with suppress(OSError):
        _flush_folder(target.parent)
    with suppress(OSError):
        remove_stray_temporaries(target.parent)


def write_all_atomically(contents: Mapping[Path, bytes], *, even_read_only: bool = False) -> None:
    """Write several files, or none of them.

    All are written beside their targets first. Where one cannot be put in place, those that were
    get their previous content back, or are removed.

    Raises
    ------
    FileError
        And ReadOnlyFileError unless `even_read_only`; then all files are as before.
    """
    with ExitStack() as stack:
        staged: list[tuple[Path, Path]] = []
        for path, content in contents.items():
            try:
                target = _target_of(path, even_read_only=even_read_only)
                temporary, handle = stack.enter_context(_temporary(target))
                _fill(target, temporary, handle, content, None)
            except (OSError, ValueError) as error:
                raise _not_written(path, error) from error
            staged.append((temporary, target))
        undo = stack.enter_context(ExitStack())
        for temporary, target in staged:
            try:
                undo.callback(_restoring(target, stack))
                os.replace(temporary, target)
            except OSError as error:
                undo.close()
                raise _not_written(target, error) from error
        undo.pop_all()


def _restoring(target: Path, stack: ExitStack) -> Callable[[], None]:
    """Return a call that puts the present state of a file back."""
    if not target.exists():
        return lambda: _restore(target, None)
    beside, _ = stack.enter_context(_temporary(target))
    _copy_to(target, beside)
    return lambda: _restore(target, beside)


def _restore(target: Path, previous: Path | None) -> None:
    with suppress(OSError):
        if previous is None:
            target.unlink()
        else:
            os.replace(previous, target)


def _target_of(path: Path, *, even_read_only: bool) -> Path:
    """Return the file that a path names in the end.

    Raises ReadOnlyFileError for a read-only one unless `even_read_only`.
    """
    target = Path(os.path.realpath(path, strict=False))
    if is_read_only(target) and not even_read_only:
        raise ReadOnlyFileError(
            f"{path} is read-only.", hint="Write under another name, or make it writable."
        )
    return target


def _fill(target: Path, temporary: Path, handle: int, content: bytes, mode: int | None) -> bool:
    """Write the content to a temporary file on disk, with the permissions of its target.

    Return whether there is a target. Raises OSError, and ValueError for a target that is no file.
    """
    present = _present(target)
    with os.fdopen(handle, "wb", closefd=False) as stream:
        stream.write(content)
    if present is not None:
        _take_over(target, temporary, present)
    elif mode is not None:
        os.fchmod(handle, mode)
    else:
        os.fchmod(handle, _usual_mode(temporary))
    os.fsync(handle)
    return present is not None


def _not_written(path: Path, error: OSError | ValueError) -> FileError:
    return FileError(
        f"{path} could not be written: {_reason(error)}.",
        hint="Nothing was changed; choose another place or free some space.",
    )


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
        _copy_to(target, beside)
        os.replace(beside, backup_path(target))


def _copy_to(target: Path, beside: Path) -> None:
    """Put a second name for a file in place of a temporary one, or a copy without hard links."""
    os.unlink(beside)
    try:
        os.link(target, beside)
    except OSError:
        shutil.copy2(target, beside)


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


def _usual_mode(temporary: Path) -> int:
    """Return the permissions that the system gives a new file.

    Asking for the umask would set it for a moment, and for all threads; a file is made instead.
    """
    token = token_hex(8)
    probe = temporary.with_name(_TEMPORARY.format(token=token, proof=_proof(token)))
    handle = os.open(probe, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o666)
    try:
        return stat.S_IMODE(os.fstat(handle).st_mode)
    finally:
        os.close(handle)
        os.unlink(probe)
