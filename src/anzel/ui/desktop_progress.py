"""Long work, told to the desktop: docks and task bars show it beside the program's icon.

The signal is that of the launcher interface that docks of several desktops listen to
(com.canonical.Unity.LauncherEntry); where nobody listens, nothing happens.
"""

from PySide6.QtDBus import QDBusConnection, QDBusMessage

_PATH, _INTERFACE = "/org/anzel/Anzel", "com.canonical.Unity.LauncherEntry"
_PROGRAM = "application://anzel.desktop"


def progress_message(busy: bool) -> QDBusMessage:
    """Return the signal that says whether long work is under way."""
    message = QDBusMessage.createSignal(_PATH, _INTERFACE, "Update")
    message.setArguments([_PROGRAM, {"progress": 0.0, "progress-visible": busy}])
    return message


def tell_desktop(busy: bool) -> None:
    """Tell the desktop whether long work is under way."""
    bus = QDBusConnection.sessionBus()
    if bus.isConnected():
        bus.send(progress_message(busy))
