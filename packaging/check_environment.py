"""Check that the environment holds every locked package whole and that the window's can be loaded.

Called with the names of lock files beside this folder; exit 1 where something is missing.
"""

import importlib
import sys
from importlib.metadata import Distribution, PackageNotFoundError, distribution
from pathlib import Path

ROOT = Path(__file__).parents[1]
LOADED_FIRST = ("PySide6.QtWidgets", "numpy", "shapely", "pydantic")
"""They need system libraries or lie under everything else; the others are loaded when needed."""


def main() -> None:
    """Exit 0 if the environment is whole."""
    locked = [
        line.split()[0].partition("==")
        for name in sys.argv[1:]
        for line in (ROOT / name).read_text(encoding="utf-8").splitlines()
        if "==" in line
    ]
    try:
        whole = all(_is_whole(distribution(name), version) for name, _, version in locked)
        own = distribution("anzel").read_text("direct_url.json") or ""
        for name in LOADED_FIRST:
            importlib.import_module(name)
    except (PackageNotFoundError, ImportError, OSError):
        sys.exit(1)
    sys.exit(not (whole and ROOT.as_uri() in own))


def _is_whole(found: Distribution, version: str) -> bool:
    """Whether every file of a package is there, of the size that was installed."""
    if found.version != version or not found.files:
        return False
    return all(
        file.size is None or Path(str(file.locate())).stat().st_size == file.size
        for file in found.files
        if "__pycache__" not in file.parts
    )


if __name__ == "__main__":
    main()
