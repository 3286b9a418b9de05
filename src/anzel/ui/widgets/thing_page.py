"""The base class of the pages of the build step: one for each kind of thing that can be picked."""

from PySide6.QtWidgets import QWidget


class ThingPage(QWidget):
    """What is known and can be changed of the thing that is picked."""

    def refresh(self) -> None:
        """Show what is picked now."""
        raise NotImplementedError
