"""The maker's preferences at work: units, look, text size and keys of one window."""

from PySide6.QtCore import QLocale
from PySide6.QtWidgets import QApplication

from anzel.app.number_display import number_format, show_numbers
from anzel.app.session import Session
from anzel.app.settings import Preferences, Settings
from anzel.ui.theme import use_look
from anzel.ui.widgets.measure_field import MeasureField


def use_preferences(session: Session, settings: Settings) -> Preferences:
    """Show everything as the maker prefers, and return the preferences."""
    application = QApplication.instance()
    assert isinstance(application, QApplication)
    preferences = settings.preferences
    use_look(application, preferences.look, preferences.text_size)
    use_numbers(session, preferences)
    return preferences


def use_numbers(session: Session, preferences: Preferences) -> None:
    """Show numbers as preferred, or as the project wants them; tell all views where that is new."""
    wanted = preferences.number_format(
        session.shown, system_comma=QLocale().decimalPoint() == ","
    )  # fmt: skip
    if wanted != number_format():
        show_numbers(wanted)
        session.show_again()
        for widget in QApplication.allWidgets():
            if isinstance(widget, MeasureField):
                widget.show_own_unit()
            widget.update()
