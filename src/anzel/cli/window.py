"""The one place where the command line reaches for the window."""

import gc
import os
import sys
from pathlib import Path

from anzel.app.navigation import Step
from anzel.app.worker import wait_for_threads
from anzel.cli.display_check import no_screen
from anzel.core.findings import MakerError
from anzel.core.memory import hold_little
from anzel.helpers.process import FORK_SERVER

_PATIENCE = 1.0
"""Background work that was asked to stop may take so long, s; then the process ends anyway."""
_NEEDED_BY_HELPERS = (
    "anzel.scene.renderer_process", "anzel.app.proving", "anzel.nesting.quick_solver",
    "anzel.app.foreign_files",
)  # fmt: skip
"""What helpers import while the window is made, so that the first picture does not wait for it."""


def run_window(file: Path | None, picture: Path | None, step: Step | None, new_window: bool) -> int:
    """Open the window and return its exit code.

    Qt is loaded only here.
    """
    if missing := no_screen(os.environ):
        raise MakerError(missing, hint="Use ./run, or start it on a desktop.")
    gc.disable()  # ui.housekeeping collects garbage when nobody waits
    hold_little()
    FORK_SERVER.start(*_NEEDED_BY_HELPERS)
    from anzel.ui.application import run

    status = run(file, picture, step, new_window=new_window)
    if not wait_for_threads(_PATIENCE):
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(status)
    return status
