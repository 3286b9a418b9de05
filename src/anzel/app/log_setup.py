"""The log in the XDG state folder: what was opened, written and went wrong.

It holds no project's content.

Two older logs are kept, a quarter of a megabyte each.
"""

import faulthandler
import logging
import platform
import traceback
from contextlib import suppress
from pathlib import Path
from types import TracebackType
from typing import TextIO

from anzel import __version__
from anzel.storage.private_folder import private_folder

_LARGEST, _OLDER = 256 * 1024, 2
_LOGGER = logging.getLogger("anzel")
_crash_traces: list[TextIO] = []
Caught = tuple[type[BaseException], BaseException, TracebackType | None]


def log_path() -> Path:
    """Return the path of the log."""
    from platformdirs import user_log_path  # not while the window starts

    return user_log_path("anzel") / "anzel.log"


def start_logging(path: Path | None = None) -> Path | None:
    """Start logging; where that is impossible, continue without.

    Crashes of libraries are logged too.
    """
    from logging.handlers import RotatingFileHandler

    target = path or log_path()
    try:
        private_folder(target.parent)
        handler = RotatingFileHandler(
            target, maxBytes=_LARGEST, backupCount=_OLDER, encoding="utf-8"
        )
    except OSError:
        return None
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
    _LOGGER.addHandler(handler)
    _LOGGER.setLevel(logging.INFO)
    _LOGGER.propagate = False
    with suppress(OSError):
        target.chmod(0o600)
    if not faulthandler.is_enabled():  # whoever has switched it on before keeps it
        # a handle of its own: the log's own is closed and its number reused when the log rotates
        traces = target.open("a", encoding="utf-8")
        faulthandler.enable(traces)
        _crash_traces.append(traces)
    log_line(f"Anzel {__version__}, Python {platform.python_version()}, {platform.platform()}")
    return target


def quiet_libraries() -> None:
    """Keep the log messages of libraries off the terminal. Our readers word what matters."""
    logging.getLogger("ezdxf").addHandler(logging.NullHandler())


def stop_logging() -> None:
    """Stop logging and close the file."""
    for handler in list(_LOGGER.handlers):
        _LOGGER.removeHandler(handler)
        handler.close()
    while _crash_traces:
        faulthandler.disable()
        _crash_traces.pop().close()


def log_line(text: str) -> None:
    """Write a line to the log."""
    _LOGGER.info("%s", " ".join(text.split()))


def log_failure(caught: Caught) -> str:
    """Log an unexpected failure with its traceback, and return the same as text."""
    text = "".join(traceback.format_exception(*caught))
    _LOGGER.error("%s", text.rstrip())
    return text
