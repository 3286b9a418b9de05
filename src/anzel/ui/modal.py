"""Dialogs and menus that are released once they are closed: a parent would keep each of them."""

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QDialog, QMenu


def run(dialog: QDialog) -> int:
    """Show a dialog until it is closed, and return how.

    What it chose can be read until the event loop goes on; then it is gone with all its widgets.
    """
    try:
        return dialog.exec()
    finally:
        dialog.deleteLater()


def run_menu(menu: QMenu, at: QPoint) -> None:
    """Show a menu at a place of the screen until something is chosen, and release it."""
    try:
        menu.exec(at)
    finally:
        menu.deleteLater()
