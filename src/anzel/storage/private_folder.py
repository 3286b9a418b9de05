"""Folders that only the maker may read."""

import os
import stat
from pathlib import Path

_PRIVATE = 0o700


def state_folder(name: str) -> Path:
    """Return the folder of that name among what Anzel keeps for itself (XDG state)."""
    from platformdirs import user_state_path  # not while the window starts

    return user_state_path("anzel") / name


def private_folder(path: Path) -> Path:
    """Make a folder readable by its owner only, and return it.

    Raises
    ------
    OSError
    """
    path.mkdir(parents=True, exist_ok=True)
    if path.stat().st_mode & 0o077:
        path.chmod(_PRIVATE)
    return path


def runtime_folder() -> Path:
    """Return a folder that belongs to the user, for as long as something runs.

    It is the session's runtime folder (XDG base directories) if nobody else may enter that, or else
    one among what Anzel keeps for itself.

    Raises
    ------
    OSError
        Where there is none that is private.
    """
    session = os.environ.get("XDG_RUNTIME_DIR", "")
    if os.path.isabs(session) and _is_private(Path(session)):
        return private_folder(Path(session) / "anzel")
    folder = private_folder(state_folder("window"))
    if not _is_private(folder):
        raise PermissionError(f"{folder} is not private")
    return folder


def _is_private(folder: Path) -> bool:
    try:
        status = folder.lstat()
    except OSError:
        return False
    is_closed = stat.S_ISDIR(status.st_mode) and not status.st_mode & 0o077
    return is_closed and status.st_uid == os.getuid()
