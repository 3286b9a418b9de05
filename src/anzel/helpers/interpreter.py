"""How a further Python process of Anzel is started."""

import sys


def python_command(*arguments: str) -> list[str]:
    """Return the command that starts this Python with some arguments.

    Python puts the current folder first among the places where it looks for modules when it is
    started with `-c` or `-m`. Beside a project that came from somebody else there may be any file,
    so `-P` keeps that folder out.
    """
    return [sys.executable, "-P", *arguments]
