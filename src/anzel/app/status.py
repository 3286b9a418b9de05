"""The status line: the last thing said to the maker."""

from anzel.app.listeners import Changed, Tell
from anzel.core.findings import MakerError


class Status:
    """The status text."""

    def __init__(self, tell: Tell) -> None:
        self._tell = tell
        self.text = ""

    def show(self, text: str) -> None:
        """Set the status text and tell listeners."""
        self.text = text
        self._tell(Changed.STATUS)

    def warn(self, error: MakerError) -> None:
        """Show an error, marked as one."""
        self.show(f"▲ {error}")
