"""The one place where the command line reaches for the window."""

import gc
import os
from pathlib import Path

from anzel.app.session import Step
from anzel.findings import MakerError

_SCREENS = ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")


def run_window(file: Path | None, picture: Path | None, step: Step) -> int:
    """Open the window and return its exit code. Qt is loaded only here."""
    if not any(os.environ.get(name) for name in _SCREENS):
        raise MakerError("There is no screen to open a window on.", mend="Use ./run, or a desktop.")
    gc.disable()  # starting makes many objects that all stay; ui.application resumes collecting
    from anzel.ui.application import run

    return run(file, picture, step)
