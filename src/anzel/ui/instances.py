"""Windows and processes: each window is a process of its own, and the first takes what is opened.

So a fault in one window takes no other project with it. Whoever starts Anzel with a file while a
window is there hands the file to it; that one shows the file, or opens a further window for it.

They meet at a socket in a folder that only its owner may enter: the session's runtime folder, or
else Anzel's own. Each side asks the system who the other one is. A message is a length of four
bytes, big endian, and the bytes of one path; the answer is one byte. Whatever is not in order makes
the second start open a window of its own.
"""

import hashlib
import os
import socket
import struct
import subprocess
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from threading import Thread

from PySide6.QtCore import QObject
from PySide6.QtNetwork import QLocalServer, QLocalSocket

from anzel.helpers.interpreter import python_command
from anzel.storage.private_folder import runtime_folder

_PATIENCE = 0.4
"""Seconds that the other side has to answer."""
_LENGTH = struct.Struct("!I")
_LONGEST_PATH = 4096
"""Bytes of a path (PATH_MAX)."""
_LONGEST_ADDRESS = 100
"""Bytes of a socket's path that fit everywhere (108 on Linux, see unix(7))."""
_TAKEN = b"\x06"  # ACK in ASCII
_CREDENTIALS = struct.Struct("3i")
"""Process, user and group, as SO_PEERCRED returns them (unix(7))."""


def hand_over(file: Path | None, folder: Path) -> bool:
    """Hand a file to the window that runs with these settings. Return whether one took it."""
    content = os.fsencode(file.resolve()) if file is not None else b""
    try:
        with socket.socket(socket.AF_UNIX) as connection:
            connection.settimeout(_PATIENCE)
            connection.connect(os.fspath(_address(folder)))
            if _user_of(connection) != os.getuid():
                return False
            connection.sendall(_LENGTH.pack(len(content)) + content)
            return connection.recv(1) == _TAKEN
    except (OSError, ValueError):
        return False


def open_window(file: Path | None = None) -> None:
    """Open a further window, in a process of its own."""
    process = subprocess.Popen(
        window_command(file), start_new_session=True, stdin=subprocess.DEVNULL
    )
    Thread(target=process.wait, daemon=True).start()  # an ended process is not left behind


def window_command(file: Path | None = None) -> list[str]:
    """Return the command that opens a further window."""
    files = [str(file)] if file is not None else []
    return python_command("-m", "anzel", "open", *files, "--new-window")


class SingleInstanceServer(QObject):
    """Takes the files that other starts of Anzel hand over; only one process can have it."""

    def __init__(
        self, parent: QObject, folder: Path, on_file: Callable[[Path | None], None]
    ) -> None:
        super().__init__(parent)
        self._on_file = on_file
        self._server = QLocalServer(self)
        self._server.setSocketOptions(QLocalServer.SocketOption.UserAccessOption)
        self._server.newConnection.connect(self._accept)
        with suppress(OSError, ValueError):  # without it every start opens a window of its own
            self._listen(os.fspath(_address(folder)))

    @property
    def is_open(self) -> bool:
        """Whether this process takes files."""
        return self._server.isListening()

    def close(self) -> None:
        """Take nothing any more."""
        self._server.close()

    def _listen(self, address: str) -> None:
        if not self._server.listen(address) and not _is_answered(address):
            QLocalServer.removeServer(address)  # left behind by one that was killed
            self._server.listen(address)

    def _accept(self) -> None:
        connection = self._server.nextPendingConnection()
        if connection is None:
            return
        if _is_ours(connection):
            connection.readyRead.connect(lambda: self._read(connection))
            self._read(connection)
        else:
            connection.abort()

    def _read(self, connection: QLocalSocket) -> None:
        """Take one message of a connection, once it is whole."""
        head = bytes(connection.peek(_LENGTH.size).data())
        if len(head) < _LENGTH.size:
            return
        (length,) = _LENGTH.unpack(head)
        if length > _LONGEST_PATH:
            connection.abort()
        elif connection.bytesAvailable() >= _LENGTH.size + length:
            content = bytes(connection.read(_LENGTH.size + length).data())[_LENGTH.size :]
            connection.readyRead.disconnect()
            connection.write(_TAKEN)
            connection.flush()
            connection.disconnectFromServer()
            if b"\0" not in content:
                self._on_file(Path(os.fsdecode(content)) if content else None)


def _is_answered(address: str) -> bool:
    """Return whether a process accepts connections at an address."""
    with socket.socket(socket.AF_UNIX) as connection:
        connection.settimeout(_PATIENCE)
        with suppress(OSError):
            connection.connect(address)
            return True
    return False


def _is_ours(connection: QLocalSocket) -> bool:
    """Return whether the process at the other end belongs to the same user."""
    with suppress(OSError), socket.socket(fileno=os.dup(connection.socketDescriptor())) as peer:
        return _user_of(peer) == os.getuid()
    return False


def _user_of(connection: socket.socket) -> int:
    """Return the user of the process at the other end.

    Raises OSError.
    """
    content = connection.getsockopt(socket.SOL_SOCKET, socket.SO_PEERCRED, _CREDENTIALS.size)
    _, user, _ = _CREDENTIALS.unpack(content)
    return int(user)


def _address(folder: Path) -> Path:
    """Return where the socket for a settings folder stands.

    Raises OSError where there is no private folder, and ValueError where its path is too long.
    """
    name = hashlib.sha256(os.fsencode(folder.resolve())).hexdigest()[:16]
    address = runtime_folder() / f"{name}.socket"
    if len(os.fsencode(address)) > _LONGEST_ADDRESS:
        raise ValueError(f"{address} is too long for a socket")
    return address
