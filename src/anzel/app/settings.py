"""What is remembered between runs, in a JSON file in the XDG config folder.

Preferences are what the maker chooses; the rest is what Anzel remembers by itself: recent files,
the folder of each kind of file, and where the window was.
"""

from enum import StrEnum
from pathlib import Path
from typing import Any, TypeVar

from pydantic import Field, ValidationError

from anzel.app.kept_record import KeptRecord, kept_record
from anzel.core.immutable import Immutable
from anzel.core.number_format import NumberFormat, Unit
from anzel.project.model import Project

_KEPT = 8

_Record = TypeVar("_Record", bound=Immutable)


class Look(StrEnum):
    """Light or dark."""

    SYSTEM = "as the system"
    LIGHT = "light"
    DARK = "dark"


class DecimalMark(StrEnum):
    """What stands before decimals."""

    SYSTEM = "as the system"
    POINT = "point"
    COMMA = "comma"


class TargetFolder(StrEnum):
    """Where files are written unless the maker says otherwise."""

    LAST = "where the last of their kind went"
    PROJECT = "beside the project"


class Preferences(Immutable):
    """What the maker chooses for all projects.

    `keys` are those that differ from the usual ones, by action id; "" takes a key away.
    """

    unit: Unit = Unit.MILLIMETRES
    inch_places: int = Field(default=4, ge=2, le=5)
    decimal_mark: DecimalMark = DecimalMark.SYSTEM
    look: Look = Look.SYSTEM
    text_size: float = Field(default=1.0, ge=0.8, le=1.8)
    keys: dict[str, str] = Field(default_factory=dict)
    autosave_seconds: int = Field(default=5, ge=5, le=600)
    target_folder: TargetFolder = TargetFolder.LAST

    def number_format(self, project: Project, *, system_comma: bool) -> NumberFormat:
        """Return how numbers are shown; a project may have a unit of its own."""
        comma = {DecimalMark.SYSTEM: system_comma, DecimalMark.COMMA: True}
        unit = project.shown_unit or self.unit
        return NumberFormat(unit, self.inch_places, comma.get(self.decimal_mark, False))


class WindowState(Immutable):
    """Where the window was: Qt's own records as base64, the step, the project, the view, the grid.

    The view is the camera's azimuth and elevation in degrees, and whether it is parallel.
    """

    geometry: str = ""
    splitters: dict[str, list[int]] = Field(default_factory=dict)
    step: str = ""
    project: str = ""
    view: tuple[float, float, bool] | None = None
    grid_step: float = Field(default=1.0, gt=0, le=1000)


class Settings:
    """The settings file."""

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder

    @property
    def folder(self) -> Path:
        """The folder of the settings file."""
        from platformdirs import user_config_path  # not while the window starts

        return self._folder or user_config_path("anzel")

    @property
    def _record(self) -> KeptRecord:
        return kept_record(self.folder / "settings.json")

    @property
    def is_new(self) -> bool:
        """Whether nothing was ever kept: this is the first start."""
        return not self._record.read()

    @property
    def preferences(self) -> Preferences:
        """What the maker has chosen."""
        return _valid(Preferences, self._record.read().get("preferences"))

    def prefer(self, **changes: Any) -> Preferences:  # noqa: ANN401
        """Keep other preferences, and return all of them.

        Raises ParameterError for what cannot be.
        """
        preferences = self.preferences.with_changes(**changes)
        self._record.keep("preferences", preferences.model_dump(mode="json", exclude_defaults=True))
        return preferences

    @property
    def window(self) -> WindowState:
        """Where the last window was."""
        return _valid(WindowState, self._record.read().get("window"))

    def remember_window(self, window: WindowState) -> None:
        """Keep where the window was."""
        self._record.keep("window", window.model_dump(mode="json"))

    def folder_of(self, kind: str) -> Path | None:
        """Return the folder that a kind of file was last read from or written to."""
        folders = self._record.read().get("folders")
        held = folders.get(kind) if isinstance(folders, dict) else None
        return Path(held) if isinstance(held, str) and Path(held).is_dir() else None

    def remember_folder(self, kind: str, path: Path) -> None:
        """Keep the folder of a file of a kind."""
        folders = self._record.read().get("folders")
        held = folders if isinstance(folders, dict) else {}
        self._record.keep("folders", {**held, kind: str(path.resolve().parent)})

    def recent_files(self) -> list[Path]:
        """Return recently opened or saved projects that still exist, newest first."""
        stored = self._record.read().get("recent")
        texts = stored[:_KEPT] if isinstance(stored, list) else []
        paths = [Path(text) for text in texts if isinstance(text, str)]
        return [path for path in paths if path.is_file()]

    def remember(self, path: Path) -> None:
        """Put a project at the head of the recent files."""
        path = path.resolve()
        paths = [path, *(other for other in self.recent_files() if other != path)][:_KEPT]
        self._record.keep("recent", [str(each) for each in paths])


def _valid(kind: type[_Record], stored: object) -> _Record:
    """Return a record of what was stored, without what is not valid in it."""
    if not isinstance(stored, dict):
        return kind()
    try:
        return kind.model_validate(stored)
    except ValidationError as error:
        wrong = {str(each["loc"][0]) for each in error.errors() if each["loc"]}
        return (
            _valid(kind, {k: v for k, v in stored.items() if k not in wrong}) if wrong else kind()
        )
