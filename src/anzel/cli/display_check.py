"""Check whether there is a screen for a window, before Qt ends the process for want of one."""

import ctypes
import os
import socket
from collections.abc import Mapping
from pathlib import Path

_WAIT_SECONDS = 2.0


def no_screen(environment: Mapping[str, str]) -> str:
    """Return in one sentence why no window can be opened; "" where one can."""
    platform = environment.get("QT_QPA_PLATFORM", "")
    if platform and not platform.startswith(("xcb", "wayland")):
        return ""  # a platform that needs no screen
    display, wayland = environment.get("DISPLAY", ""), environment.get("WAYLAND_DISPLAY", "")
    if not display and not wayland:
        return "There is no screen to open a window on."
    if (wayland and _wayland_answers(wayland, environment)) or (display and _x_answers(display)):
        return ""
    names = [f"DISPLAY={display}"] * bool(display) + [f"WAYLAND_DISPLAY={wayland}"] * bool(wayland)
    return f"No screen answers at {' or '.join(names)}."


def _wayland_answers(name: str, environment: Mapping[str, str]) -> bool:
    path = Path(environment.get("XDG_RUNTIME_DIR", "/")) / name
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as connection:
        connection.settimeout(_WAIT_SECONDS)
        try:
            connection.connect(os.fspath(path))
        except OSError:
            return False
    return True


def _x_answers(name: str) -> bool:
    """Return whether an X server lets us in, by the library that Qt asks too.

    A connection that is made stays until the process ends: a virtual server starts anew when its
    last client leaves it, and would not let Qt in meanwhile.
    """
    try:
        xcb = ctypes.CDLL("libxcb.so.1")
    except OSError:
        return True  # Qt says better what is missing
    xcb.xcb_connect.restype = ctypes.c_void_p
    xcb.xcb_connection_has_error.argtypes = [ctypes.c_void_p]
    return not xcb.xcb_connection_has_error(xcb.xcb_connect(name.encode(), None))
