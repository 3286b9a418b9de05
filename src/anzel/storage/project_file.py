"""The project file: a zip holding `project.json` and `assets/` (see docs/project-format.md).

The JSON is `{"anzel": VERSION, "project": {...}}`. Older versions are migrated step by step, a
newer one is refused untouched.
"""

import io
import json
import zipfile
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from anzel.core.findings import MakerError, ParameterError
from anzel.core.immutable import to_parameter_error
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.storage.atomic_file import FileError, read_whole, write_atomically
from anzel.storage.migrations import MIGRATIONS

VERSION = 5
MEMBER = "project.json"
ASSETS = "assets/"
LARGEST = 256 * 1024 * 1024
"""No project is larger than this; a file that claims to be is a bomb or damaged."""
_LARGEST_RECORD = 64 * 1024 * 1024
_MOST_VALUES = 4_000_000
_MOST_RECORDS = 20_000
"""Values, and records within one another, that a project's record holds: far more than any has."""
_MOST_MEMBERS = 10_000
_HIGHEST_VERSION = 10_000


class NewerFileError(FileError):
    """A project saved by a newer Anzel."""


class DamagedFileError(FileError):
    """A file that is not a whole Anzel project."""


class ImpossibleProjectError(DamagedFileError):
    """A project of numbers that no structure can have, such as one that was edited by hand."""


class UnopenableProjectError(FileError):
    """A project that would be refused when it is opened."""


def to_bytes(project: Project) -> bytes:
    """Return the content of a project file; the same project gives the same bytes."""
    record = {"anzel": VERSION, "project": project.model_dump(mode="json")}
    text = json.dumps(record, indent=1, ensure_ascii=False)
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(zipfile.ZipInfo(MEMBER), text.encode(), zipfile.ZIP_DEFLATED)
        for digest, content in sorted(project.assets().items()):
            archive.writestr(zipfile.ZipInfo(ASSETS + digest), content, zipfile.ZIP_DEFLATED)
    return buffer.getvalue()


def from_bytes(content: bytes, name: str = "The file") -> Project:
    """Return the project in a project file's content.

    Raises
    ------
    DamagedFileError
        Or NewerFileError.
    """
    record, beside = _members(content, name)
    version = record.get("anzel")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise _damaged(name, "it does not say which version it is")
    if version > _HIGHEST_VERSION:
        raise _damaged(name, "it does not say which version it is")
    if version > VERSION:
        raise NewerFileError(
            f"{name} was saved by a newer Anzel (format {version}; this one reads {VERSION}).",
            hint="Update Anzel to open it. The file was not touched.",
        )
    try:
        wanted = record["project"]
        for step in range(version, VERSION):
            wanted = MIGRATIONS[step](wanted)
        project = Project.model_validate_json(json.dumps(wanted), context=beside)
    except ValidationError as error:
        raise _damaged(name, to_parameter_error(error).message.rstrip(".")) from error
    except ParameterError as error:
        raise _damaged(name, str(error).rstrip(".")) from error
    except (KeyError, TypeError, ValueError, AttributeError, OverflowError) as error:
        raise _damaged(name, "its project is missing") from error
    _need_buildable(project, name)
    return project


def _need_buildable(project: Project, name: str) -> None:
    try:
        solved_structure_of(project)
    except ParameterError as error:
        raise ImpossibleProjectError(
            f"{name} is whole, but what it asks for cannot be made: {error.message}",
            hint=error.hint or "The previous version may be beside it, ending in .bak.",
        ) from error
    except (KeyError, TypeError, ValueError, AttributeError, OverflowError) as error:
        raise _damaged(name, "its project cannot be worked out") from error


def save(project: Project, path: Path, *, even_read_only: bool = False) -> None:
    """Write a project file atomically, keeping the previous one as backup.

    The content is read back before it is written, so that whatever can be saved can be opened.

    Raises
    ------
    FileError
        With nothing changed.
    """
    content = to_bytes(project)
    try:
        from_bytes(content, path.name)
    except MakerError as error:
        raise UnopenableProjectError(
            f"{path.name} was not saved, for it could not be opened again: {error.message}",
            hint="Take the last change back, and save then.",
        ) from error
    write_atomically(path, content, keep_backup=True, even_read_only=even_read_only)


def load(path: Path) -> Project:
    """Return the project in a file.

    Raises
    ------
    FileError
        Kinds, worded for the maker.
    """
    too_large = _damaged(path.name, "it is far too large")
    return from_bytes(read_whole(path, LARGEST, too_large), path.name)


def _members(content: bytes, name: str) -> tuple[dict[str, Any], dict[str, bytes]]:
    """Return the project's record, and the assets beside it by their digest."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            members = archive.infolist()
            unpacked = sum(member.file_size for member in members)
            if unpacked > LARGEST or len(members) > _MOST_MEMBERS:
                raise _damaged(name, "it is far too large")
            if archive.getinfo(MEMBER).file_size > _LARGEST_RECORD:
                raise _damaged(name, "it is far too large")
            text = archive.read(MEMBER)
            if text.count(b",") > _MOST_VALUES or text.count(b"{") > _MOST_RECORDS:
                raise _damaged(name, "it holds far too much")
            record = json.loads(text)
            beside = {
                member.filename.removeprefix(ASSETS): archive.read(member)
                for member in members
                if member.filename.startswith(ASSETS)
            }
    except (zipfile.BadZipFile, KeyError, ValueError, EOFError, OSError) as error:
        raise _damaged(name, "its content cannot be read") from error
    except (RecursionError, NotImplementedError, RuntimeError) as error:
        raise _damaged(name, "its content is not what Anzel writes") from error
    except Exception as error:  # zlib.error and the like have no common base
        if isinstance(error, FileError):
            raise
        raise _damaged(name, "its content cannot be read") from error
    if not isinstance(record, dict):
        raise _damaged(name, "its content is not a project")
    return record, beside


def _damaged(name: str, why: str) -> DamagedFileError:
    return DamagedFileError(
        f"{name} is not a whole Anzel project: {why}.",
        hint="The previous version may be beside it, ending in .bak.",
    )
