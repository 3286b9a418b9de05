"""A pytest plugin under which importing Qt fails: `PYTHONPATH=packaging pytest -p no_qt`.

It proves that the core, the application layer and the command line need no Qt.
"""

import sys
from collections.abc import Sequence
from importlib.abc import MetaPathFinder
from types import ModuleType


class _Refuse(MetaPathFinder):
    """Refuses Qt's packages."""

    def find_spec(
        self, fullname: str, path: Sequence[str] | None, target: ModuleType | None = None
    ) -> None:
        """Raise ImportError for anything of Qt; leave everything else to other finders."""
        if fullname.partition(".")[0] in ("PySide6", "shiboken6"):
            raise ImportError(f"{fullname} is not to be imported here")


sys.meta_path.insert(0, _Refuse())
