"""Stocks and cutters kept outside a project: a personal library, and files to hand on.

Both are JSON: `{"anzel-stocks": VERSION, "stocks": [...], "cutters": [...]}`, with the records as
in a project file. The personal library is `stocks.json` in the XDG data folder.
"""

import json
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from anzel.core.immutable import to_parameter_error
from anzel.materials.cutter import Cutter
from anzel.materials.stock import Stock
from anzel.storage.atomic_file import PRIVATE, FileError, read_whole, write_atomically
from anzel.storage.migrations import stock_from_4
from anzel.storage.private_folder import private_folder

VERSION = 2
_MARK = "anzel-stocks"
LARGEST = 16 * 1024 * 1024


@dataclass(frozen=True)
class Rack:
    """Stocks and cutters, each id once."""

    stocks: tuple[Stock, ...] = ()
    cutters: tuple[Cutter, ...] = ()

    def with_all(self, other: "Rack") -> "Rack":
        """Return the stocks and cutters of both; where an id is in both, the other's counts."""
        stocks = {each.id: each for each in (*self.stocks, *other.stocks)}
        cutters = {each.id: each for each in (*self.cutters, *other.cutters)}
        return Rack(tuple(stocks.values()), tuple(cutters.values()))


def library_path() -> Path:
    """Return the path of the personal library."""
    from platformdirs import user_data_path  # not while the window starts

    return user_data_path("anzel") / "stocks.json"


def load_library() -> Rack:
    """Return the personal library; empty when there is none yet.

    Raises
    ------
    FileError
        For a damaged one.
    """
    path = library_path()
    return load_rack(path) if path.exists() else Rack()


def add_to_library(rack: Rack) -> None:
    """Add to the personal library, replacing entries with the same id.

    Raises
    ------
    FileError
    """
    path = library_path()
    together = load_library().with_all(rack)
    try:
        private_folder(path.parent)
    except OSError as error:
        raise FileError(f"{path.parent} could not be made: {error.strerror}.") from error
    save_rack(together, path, mode=PRIVATE)


def save_rack(rack: Rack, path: Path, *, mode: int | None = None) -> None:
    """Write stocks and cutters to a file, atomically; `mode` as in `write_atomically`."""
    record = {
        _MARK: VERSION,
        "stocks": [stock.model_dump(mode="json") for stock in rack.stocks],
        "cutters": [cutter.model_dump(mode="json") for cutter in rack.cutters],
    }
    content = json.dumps(record, indent=1, ensure_ascii=False) + "\n"
    write_atomically(path, content.encode(), keep_backup=True, mode=mode)


def load_rack(path: Path) -> Rack:
    """Return the stocks and cutters in a file.

    Raises
    ------
    FileError
        Naming what is wrong.
    """
    too_large = FileError(f"{path.name} is far too large for a list of stocks.")
    content = read_whole(path, LARGEST, too_large)
    try:
        record = json.loads(content.decode("utf-8"))
    except (ValueError, RecursionError) as error:
        raise FileError(f"{path.name} is not a list of stocks.") from error
    return _checked(record, path.name)


def _checked(record: Any, name: str) -> Rack:  # noqa: ANN401
    if not isinstance(record, dict) or not isinstance(record.get(_MARK), int):
        raise FileError(f"{name} is not a list of stocks.", hint="Choose one that Anzel wrote.")
    if record[_MARK] > VERSION:
        raise FileError(f"{name} was written by a newer Anzel.", hint="Update Anzel to read it.")
    try:
        records = record.get("stocks", [])
        if record[_MARK] == 1:
            records = [stock_from_4(dict(each)) for each in records]
        stocks = [Stock.model_validate_json(json.dumps(each)) for each in records]
        cutters = [
            Cutter.model_validate_json(json.dumps(each)) for each in record.get("cutters", [])
        ]
    except ValidationError as error:
        raise FileError(f"{name}: {to_parameter_error(error).message}") from error
    except (TypeError, AttributeError, ValueError) as error:
        raise FileError(f"{name} is not a list of stocks.") from error
    return Rack(tuple(stocks), tuple(cutters))
