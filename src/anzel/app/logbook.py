"""The log, in the XDG state folder: what was opened, written and went wrong; no project's content.

Two older logs are kept, of a quarter megabyte each.
"""

import faulthandler
import logging
import platform
import traceback
from contextlib import suppress
from pathlib import Path
from types import TracebackType

from anzel import __version__

_LARGEST, _OLDER = 256 * 1024, 2
_LOGGER = logging.getLogger("anzel")
Caught = tuple[type[BaseException], BaseException, TracebackType | None]


def log_path() -> Path:
    """Where the log is."""
    from platformdirs import user_log_path  # not while the window starts

    return user_log_path("anzel") / "anzel.log"


def begin(path: Path | None = None) -> Path | None:
    """Start logging; where that cannot be, go on without. Crashes of libraries are logged too."""
    from logging.handlers import RotatingFileHandler

    target = path or log_path()
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        handler = RotatingFileHandler(
            target, maxBytes=_LARGEST, backupCount=_OLDER, encoding="utf-8"
        )
    except OSError:
        return None
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
    _LOGGER.addHandler(handler)
    _LOGGER.setLevel(logging.INFO)
    _LOGGER.propagate = False
    if handler.stream is not None:
        with suppress(OSError, ValueError):
            faulthandler.enable(handler.stream)
    note(f"Anzel {__version__}, Python {platform.python_version()}, {platform.platform()}")
    return target


def end() -> None:
    """Stop logging and let go of the file."""
    faulthandler.disable()
    for handler in list(_LOGGER.handlers):
        _LOGGER.removeHandler(handler)
        handler.close()


def note(text: str) -> None:
    """A line in the log."""
    _LOGGER.info("%s", " ".join(text.split()))


def note_failure(caught: Caught) -> str:
    """A failure that nobody expected, in the log with where it happened; the same as text."""
    text = "".join(traceback.format_exception(*caught))
    _LOGGER.error("%s", text.rstrip())
    return text
