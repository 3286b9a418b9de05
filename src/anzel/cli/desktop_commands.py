"""Anzel on the desktop: menu entry, icon, file type, thumbnailer and manual page, put and taken."""

import os
import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from importlib.resources import files
from pathlib import Path

import click

from anzel.cli.common import as_json_option, say, say_record
from anzel.core.findings import MakerError, ParameterError
from anzel.storage.atomic_file import write_atomically

_PLACES = {
    "anzel.desktop": "applications", "anzel.xml": "mime/packages",
    "anzel.metainfo.xml": "metainfo", "anzel.thumbnailer": "thumbnailers", "anzel.1": "man/man1",
    "anzel.svg": "icons/hicolor/scalable/apps",
}  # fmt: skip
"""Where each file goes under the data folder: XDG Base Directory, Desktop Entry, Shared MIME-info
and Icon Theme specifications of freedesktop.org."""
_DATABASES = (
    ("update-mime-database", "mime"), ("update-desktop-database", "applications"),
    ("gtk-update-icon-cache", "icons/hicolor"),
)  # fmt: skip
_PATIENCE = 60
"""Seconds that renewing one database may take."""


@click.command()
@click.option("--install", is_flag=True, help="Put everything where the desktop looks.")
@click.option("--remove", is_flag=True, help="Take everything away again.")
@click.option("--data", type=click.Path(path_type=Path), help="Instead of the maker's data folder.")
@as_json_option
def desktop(install: bool, remove: bool, data: Path | None, as_json: bool) -> None:
    """Put the menu entry, icon, file type, thumbnailer and manual page in place, or take them away.

    For the maker alone, under ~/.local/share; no rights of an administrator are needed.
    """
    if install == remove:
        raise ParameterError("Say --install or --remove.")
    folder = data or _data_folder()
    touched = list(_install(folder) if install else _remove(folder))
    left = [] if _renew(folder) else ["The desktop may show it only after the next log-in."]
    if as_json:
        say_record({"installed" if install else "removed": [str(path) for path in touched]})
        return
    for path in touched:
        say(f"{'put' if install else 'taken away'}  {path}")
    for words in left or [] if touched else ["There is nothing to take away."]:
        say(words)


def _data_folder() -> Path:
    """Return the maker's data folder (XDG Base Directory Specification)."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def _install(folder: Path) -> Iterator[Path]:
    command = _command()
    for name, place in _PLACES.items():
        target = folder / place / name
        target.parent.mkdir(parents=True, exist_ok=True)
        write_atomically(target, _content(name, command))
        yield target


def _remove(folder: Path) -> Iterator[Path]:
    for name, place in _PLACES.items():
        target = folder / place / name
        if target.is_file():
            target.unlink()
            yield target


def _content(name: str, command: Path) -> bytes:
    """Return a shipped file; entries that start a program name the one that is running."""
    if name.endswith(".svg"):
        content = files("anzel.ui.resources").joinpath("icons", name).read_bytes()
        return content.replace(b'stroke="#000"', b'stroke="#0f6a5b"')
    content = files("anzel.desktop_entry").joinpath(name).read_bytes()
    if name.endswith((".desktop", ".thumbnailer")):
        text = os.fsencode(
            content.decode().replace("TryExec=anzel\n", f"TryExec={_value(command)}\n")
        )
        return text.replace(b"Exec=anzel ", os.fsencode(f"Exec={_argument(command)} "))
    return content


def _value(command: Path) -> str:
    """Return a path as the value of a desktop entry (Desktop Entry Specification, Value types)."""
    signs = {"\\": "\\\\", "\n": "\\n", "\t": "\\t", "\r": "\\r"}
    return "".join(signs.get(sign, sign) for sign in str(command))


def _argument(command: Path) -> str:
    """Return a path as a quoted argument of Exec (Desktop Entry Specification, The Exec key)."""
    inner = re.sub(r'(["`$\\])', r"\\\1", str(command)).replace("%", "%%")
    return f'"{_value(Path(inner))}"'


def _command() -> Path:
    """Return the program that is running, so that the menu starts the same one.

    Raises MakerError where it is no program of its own.
    """
    beside = Path(sys.executable).parent / "anzel"
    found = beside if beside.is_file() else Path(shutil.which("anzel") or "")
    if not found.is_file():
        raise MakerError(
            "There is no program “anzel” that a menu could start.",
            hint="Install it with pipx, or use ./run desktop --install.",
        )
    return found.absolute()


def _renew(folder: Path) -> bool:
    """Have the desktop's own tools look at the files again; return whether its types are known."""
    known = True
    for tool, place in _DATABASES:
        if not (folder / place).is_dir():
            continue
        if shutil.which(tool) is None:
            known = known and tool != "update-mime-database"
            continue
        subprocess.run(
            [tool, str(folder / place)], check=False, capture_output=True, timeout=_PATIENCE
        )
    return known


COMMANDS = (desktop,)
