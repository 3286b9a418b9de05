"""The one place where the command line reaches for the window."""

import gc
from pathlib import Path

from anzel.app.session import Step


def run_window(file: Path | None, picture: Path | None, step: Step) -> int:
    """Open the window and return its exit code. Qt is loaded only here."""
    gc.disable()  # starting makes many objects that all stay; ui.application resumes collecting
    from anzel.ui.application import run

    return run(file, picture, step)
