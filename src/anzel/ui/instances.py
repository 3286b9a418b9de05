"""Windows and processes: each window is a process of its own, and the first takes what is opened.

So a fault in one window takes no other project with it. Whoever starts Anzel with a file while a
window is there hands the file to it; that one shows the file, or opens a further window for it.
"""

import hashlib
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, QProcess
from PySide6.QtNetwork import QLocalServer, QLocalSocket

from anzel.helpers.interpreter import python_command

_PATIENCE_MS = 400
_LONGEST = 8192


def hand_over(file: Path | None, folder: Path) -> bool:
    """Hand a file to the window that runs with these settings. Return whether one took it."""
    socket = QLocalSocket()
    socket.connectToServer(_name(folder))
    if not socket.waitForConnected(_PATIENCE_MS):
        return False
    socket.write((str(file.resolve()) if file is not None else "").encode() + b"\n")
    taken = socket.waitForBytesWritten(_PATIENCE_MS) and socket.waitForReadyRead(_PATIENCE_MS)
    socket.disconnectFromServer()
    return bool(taken)


def open_window(file: Path | None = None) -> None:
    """Open a further window, in a process of its own."""
    program, *arguments = window_command(file)
    QProcess.startDetached(program, arguments)


def window_command(file: Path | None = None) -> list[str]:
    """Return the command that opens a further window."""
    files = [str(file)] if file is not None else []
    return python_command("-m", "anzel", "open", "--new-window", *files)


class Door(QObject):
    """Takes the files that other starts of Anzel hand over; only one process can have it."""

    def __init__(self, parent: QObject, folder: Path, taken: Callable[[Path | None], None]) -> None:
        super().__init__(parent)
        self._taken = taken
        self._server = QLocalServer(self)
        self._server.setSocketOptions(QLocalServer.SocketOption.UserAccessOption)
        self._server.newConnection.connect(self._answer)
        if not self._server.listen(_name(folder)) and not _is_answered(folder):
            QLocalServer.removeServer(_name(folder))  # left behind by one that was killed
            self._server.listen(_name(folder))

    @property
    def is_open(self) -> bool:
        """Whether this process takes files."""
        return self._server.isListening()

    def close(self) -> None:
        """Take nothing any more."""
        self._server.close()

    def _answer(self) -> None:
        socket = self._server.nextPendingConnection()
        if socket is not None:
            socket.readyRead.connect(lambda: self._read(socket))

    def _read(self, socket: QLocalSocket) -> None:
        if not socket.canReadLine():
            return
        text = bytes(socket.readLine(_LONGEST).data()).decode(errors="replace").strip()
        socket.write(b"taken\n")
        socket.flush()
        self._taken(Path(text) if text else None)


def _is_answered(folder: Path) -> bool:
    """Return whether somebody answers at the door."""
    socket = QLocalSocket()
    socket.connectToServer(_name(folder))
    return socket.waitForConnected(_PATIENCE_MS)


def _name(folder: Path) -> str:
    """Return the name of the door: one for each settings folder, and so for each user."""
    return f"anzel-{hashlib.sha256(str(folder.resolve()).encode()).hexdigest()[:16]}"
