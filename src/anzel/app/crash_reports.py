"""Reports of unexpected errors, kept in the XDG state folder.

They hold no project's content.
"""

import platform
import traceback
from contextlib import suppress
from datetime import datetime
from pathlib import Path
from secrets import token_hex

from anzel import __version__
from anzel.storage.private_folder import private_folder, state_folder

_MOST = 20
"""Older reports than the newest so many are removed."""


def reports_folder() -> Path:
    """Return the folder of the reports."""
    return state_folder("reports")


_kept: dict[str, str] = {}
"""The reports of this process by their traceback: a view that fails does so at every repaint."""


def keep_report(error: BaseException, doing: str) -> str:
    """Write a report, one for each kind of failure.

    Returns its path, or nothing where it cannot be written.
    """
    trace = "".join(traceback.format_exception(error))
    if trace not in _kept:
        _kept[trace] = _written(trace, doing)
    return _kept[trace]


def _written(trace: str, doing: str) -> str:
    now = datetime.now()
    lines = (
        f"Anzel {__version__}, Python {platform.python_version()}, {platform.platform()}",
        f"{now:%Y-%m-%d %H:%M:%S}, while {doing}",
        trace,
    )
    path = reports_folder() / f"report-{now:%Y%m%d-%H%M%S}-{token_hex(3)}.txt"
    try:
        private_folder(path.parent)
        path.touch(mode=0o600)
        path.write_text("\n".join(lines), encoding="utf-8")
    except OSError:
        return ""
    for old in sorted(path.parent.glob("report-*.txt"))[:-_MOST]:
        with suppress(OSError):
            old.unlink()
    return str(path)
