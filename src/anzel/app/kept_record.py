"""A JSON file of things remembered, written on a thread of its own: nobody waits for the disk."""

import json
from functools import cache
from pathlib import Path
from threading import Lock
from typing import Any

from anzel.app.worker import start_thread
from anzel.storage.atomic_file import PRIVATE, FileError, read_whole, stamp_of, write_atomically
from anzel.storage.private_folder import private_folder

_LARGEST = 1024 * 1024


@cache  # a process has one, or a few
def kept_record(path: Path) -> "KeptRecord":
    """Return the record of a file; all who ask share it."""
    return KeptRecord(path)


class KeptRecord:
    """Knows at once what was kept, and writes it a moment later.

    What is damaged in the file counts as never said. A folder that cannot be written costs what is
    remembered, nothing else.
    """

    def __init__(self, path: Path) -> None:
        self._path = path
        self._stamp: tuple[int, int] | None = None
        self._stored: dict[str, Any] = {}
        self._unwritten: dict[str, object] = {}
        self._knowing, self._writing = Lock(), Lock()

    def read(self) -> dict[str, Any]:
        """Return all that is kept; the file is read again where another window has written it."""
        with self._knowing:
            stamp = stamp_of(self._path)
            if stamp is None or stamp != self._stamp:
                self._stamp, self._stored = stamp, self._read_file()
            return {**self._stored, **self._unwritten}

    def keep(self, name: str, value: object) -> None:
        """Keep something under a name."""
        with self._knowing:
            self._unwritten[name] = value
        start_thread(self._write, "anzel-remembering")

    def _write(self) -> None:
        with self._writing:
            with self._knowing:
                written = dict(self._unwritten)
            if not written:
                return  # the thread before this one has written it
            try:
                private_folder(self._path.parent)
                text = json.dumps(self.read(), indent=1)
                write_atomically(self._path, text.encode(), mode=PRIVATE)
            except (OSError, FileError):
                return  # it is still known while the window is open, and tried again next time
            with self._knowing:
                for name, value in written.items():
                    if self._unwritten[name] is value:
                        del self._unwritten[name]

    def _read_file(self) -> dict[str, Any]:
        try:
            content = read_whole(self._path, _LARGEST, FileError("The settings are too large."))
            stored = json.loads(content)
        except (FileError, ValueError, RecursionError, OSError):
            return {}
        return stored if isinstance(stored, dict) else {}
