"""Writing a file so that it is either the old one or the new one, never half of either; and reading
one whole, if it is not too large."""

import os
import shutil
import tempfile
from contextlib import suppress
from pathlib import Path

from anzel.findings import MakerError


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
                shutil.copy2(path, path.with_name(path.name + ".bak"))
        else:
            os.chmod(temporary, 0o666 & ~_umask())
        os.replace(temporary, path)
    except OSError as error:
        if temporary:
            with suppress(OSError):
                os.unlink(temporary)
        reason = error.strerror or str(error)
        mend = "Nothing was changed; choose another place or free some space."
        raise FileError(f"{path} could not be written: {reason}.", mend=mend) from error


def _umask() -> int:
    current = os.umask(0)
    os.umask(current)
    return current
