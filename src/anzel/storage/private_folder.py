"""Folders that only the maker may read."""

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
