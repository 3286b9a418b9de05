"""Folders that only the maker may look into."""

from pathlib import Path

_PRIVATE = 0o700


def private_folder(path: Path) -> Path:
    """Make a folder of Anzel's own, readable by its owner only. Returns it; raises OSError."""
    path.mkdir(parents=True, exist_ok=True)
    if path.stat().st_mode & 0o077:
        path.chmod(_PRIVATE)
    return path
