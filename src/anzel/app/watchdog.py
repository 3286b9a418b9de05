"""A watchdog: it names background work that shows no sign of life, so that nobody wonders.

Work is a sign of life when it begins and whenever it reports its progress.
"""

from collections.abc import Callable
from time import monotonic
from weakref import WeakKeyDictionary

from anzel.app import background, log_setup
from anzel.app.background import Background

_ABOUT = {
    "anzel-work": "a file or a command", "anzel-squeeze": "the tighter layout",
    "anzel-proof": "the proof of assembly", "anzel-changes": "the last change",
    "anzel-layouts": "the sheets", "anzel-files": "opening or saving",
    "anzel-recovery": "the search for unsaved work", "anzel-drawing": "the picture",
    "anzel-thumbnails": "small pictures", "anzel-sketch": "the drawing's dimensions",
    "anzel-autosave": "keeping unsaved work",
}  # fmt: skip
"""What the threads do, in the maker's words."""


class Watchdog:
    """Looks now and then; `tell` hears of work that was silent for too many seconds, once."""

    def __init__(self, tell: Callable[[str], None], seconds: float = 60.0) -> None:
        self._tell, self._seconds = tell, seconds
        self._told: WeakKeyDictionary[Background, float] = WeakKeyDictionary()

    def look(self) -> None:
        """Tell of what has become silent since the last look."""
        now = monotonic()
        for each in list(background.ALL):
            since = each.silent_since
            if now - since < self._seconds or self._told.get(each) == since:
                continue
            self._told[each] = since
            about = _ABOUT.get(each.name, each.name)
            minutes = (now - since) / 60
            log_setup.log_line(f"Silent for {minutes:.1f} min: {each.name}\n{each.where()}")
            self._tell(
                f"▲ Still at work on {about} after {minutes:.0f} min. "
                "Stop ends it; nothing of yours is lost."
            )
