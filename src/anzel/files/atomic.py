"""Writing a file so that it is either the old one or the new one, never half of either; and reading
one whole, if it is not too large."""

import glob
import os
import shutil
import tempfile
import time
from contextlib import suppress
from pathlib import Path

from anzel.findings import MakerError

_LONG = 3600.0
"""Nobody takes so long to write a file, s."""


class FileError(MakerError):
    """A file that cannot be read or written."""


def read_whole(
    path: Path, most: int, too_large: FileError, unreadable: type[FileError] = FileError
) -> bytes:
    """A file's content. Raises `too_large` for more than `most` bytes, `unreadable` with the
    reason where it cannot be had."""
    try:
        if path.stat().st_size > most:
            raise too_large
        return path.read_bytes()
    except OSError as error:
        reason = error.strerror or str(error)
        raise unreadable(f"{path} could not be read: {reason}.") from error


def write_atomically(path: Path, content: bytes, *, keep_backup: bool = False) -> None:
    """Write to a temporary file beside `path`, flush it to disk, then put it in place.

    With `keep_backup` the previous version stays as `NAME.bak`. Raises FileError; then `path`
    is what it was and no stray file is left.
    """
    temporary = ""
    try:
        handle, temporary = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
        with os.fdopen(handle, "wb") as stream:
            stream.write(content)
            stream.flush()
            os.fsync(stream.fileno())
        if path.exists():
            shutil.copymode(path, temporary)
            if keep_backup:
                _back_up(path, Path(temporary + ".bak"))
        else:
            os.chmod(temporary, 0o666 & ~_umask())
        os.replace(temporary, path)
        _flush_folder(path.parent)
        _sweep(path)
    except OSError as error:
        for left in (temporary, temporary + ".bak") if temporary else ():
            with suppress(OSError):
                os.unlink(left)
        reason = error.strerror or str(error)
        mend = "Nothing was changed; choose another place or free some space."
        raise FileError(f"{path} could not be written: {reason}.", mend=mend) from error


def _back_up(path: Path, beside: Path) -> None:
    """Keep the present version as `NAME.bak`: a second name for it, or a copy where the file
    system has no such; put in place whole."""
    try:
        os.link(path, beside)
    except OSError:
        shutil.copy2(path, beside)
    os.replace(beside, path.with_name(path.name + ".bak"))


def _flush_folder(folder: Path) -> None:
    """The new name outlives a power cut too, where the system can promise that."""
    with suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _sweep(path: Path) -> None:
    """Take away what a killed process left half written beside a file, long ago."""
    long_ago = time.time() - _LONG
    for left in path.parent.glob(f".{glob.escape(path.name)}.*"):
        with suppress(OSError):
            if left.stat().st_mtime < long_ago:
                left.unlink()


def _umask() -> int:
    current = os.umask(0)
    os.umask(current)
    return current
