"""The typeface that ships with Anzel: of the window, and of letters drawn as outlines."""

from importlib import resources
from importlib.resources.abc import Traversable


def font_files() -> tuple[Traversable, ...]:
    """Return the font files, the lightest first."""
    entries = resources.files("anzel.core.typeface").iterdir()
    return tuple(
        sorted((each for each in entries if each.name.endswith(".ttf")), key=lambda each: each.name)
    )


def lettering_font() -> bytes:
    """Return the font file that letters on plates are drawn with."""
    return font_files()[-1].read_bytes()
