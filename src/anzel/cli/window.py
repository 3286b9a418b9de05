"""The one place where the command line reaches for the window."""

from pathlib import Path


def run_window(file: Path | None) -> int:
    """Open the window and return its exit code. Qt is loaded only here."""
    from anzel.ui.application import run

    return run(file)
