"""Commands about plates that are drawn: listed, their sizes retyped, added from a record."""

import json
from pathlib import Path
from typing import Any

import click

from anzel.app.edits import free_structure_edits, opening_edits, record_numbers, sketch_edits
from anzel.cli.common import PATH, as_json_option, read_project, save_project, say, say_record
from anzel.core.findings import ParameterError
from anzel.core.number_format import format_length, plain_figure
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.shape.sketch import HeldSize
from anzel.storage.atomic_file import FileError, read_whole
from anzel.structure.model import Piece
from anzel.structure.openings.plate_opening import PlateOpening

_LARGEST_RECORD = 16 * 1024 * 1024


@click.command()
@click.argument("file", type=PATH)
@click.argument("name", required=False)
@click.option(
    "--set", "sizes", multiple=True, metavar="SIZE=VALUE", help="Another value of a size."
)
@click.option("--add", "added", type=PATH, metavar="PLATE.json", help="See docs/plate-format.md.")
@click.option("-o", "--output", type=PATH, help="OUT.anzel")
@as_json_option
def plate(
    file: Path, name: str | None, sizes: tuple[str, ...], added: Path | None, output: Path | None,
    as_json: bool,
) -> None:  # fmt: skip
    """List plates with their sizes and openings, retype sizes of one, or add one from JSON."""
    project = read_project(file)
    if (sizes or added) and output is None:
        raise ParameterError("Say where to write it.", hint="-o OUT.anzel")
    if added is not None:
        project, name = sketch_edits.add_plate_record(project, _record_in(added))
    for text in sizes:
        project = _retyped(project, name, text)
    if output is not None:
        save_project(project, output)
    records = [_record(project, piece) for piece in _pieces(project, name)]
    if as_json:
        say_record({"plates": records})
    elif output is None:
        for record in records:
            _tell(record)


def _record_in(path: Path) -> dict[str, Any]:
    """Return the record of a plate in a file.

    Raises FileError.
    """
    content = read_whole(path, _LARGEST_RECORD, FileError(f"{path.name} is far too large."))
    try:
        record = json.loads(content)
    except (ValueError, RecursionError) as error:
        raise FileError(f"{path.name} holds no JSON: {error}.") from error
    if not isinstance(record, dict):
        raise FileError(f"{path.name} holds no plate.", hint="See docs/plate-format.md.")
    return record


def _retyped(project: Project, name: str | None, text: str) -> Project:
    size, equals, value = text.partition("=")
    if not equals:
        raise ParameterError(f"“{text}” is not SIZE=VALUE.")
    if name is None:
        raise ParameterError("Say which plate has that size.", hint="anzel plate FILE NAME --set …")
    opening, _, number = size.strip().partition(" ")
    if opening_edits.opening_of_joint(project, opening) is not None:
        return opening_edits.type_opening(project, opening, number, value.strip())
    return sketch_edits.type_size(project, name, size.strip(), value.strip())


def _pieces(project: Project, name: str | None) -> list[Piece]:
    """Return all pieces, or the one of that name.

    Raises ParameterError.
    """
    pieces = solved_structure_of(project).pieces
    found = [piece for piece in pieces if name in (None, piece.name)]
    if not found:
        known = ", ".join(piece.name for piece in pieces)
        raise ParameterError(f"There is no plate “{name}”.", hint=f"There are: {known}.")
    return found


def _record(project: Project, piece: Piece) -> dict[str, Any]:
    width, height = piece.region.size
    sketch = None
    if project.structure.has_free_plates:
        name = free_structure_edits.plate_behind(project, piece.name)
        sketch = sketch_edits.sketch_of(project, name)
    openings = [path.id for path in sketch.paths[1:]] if sketch is not None else []
    openings += [disc.id for disc in sketch.discs] if sketch is not None else []
    placed = opening_edits.openings_of(project, opening_edits.plate_behind(project, piece.name))
    sizes = [_size_record(size) for size in sketch.sizes] if sketch is not None else []
    return {
        "name": piece.name, "stock": piece.stock_id, "width": width, "height": height,
        "area": piece.region.area, "is_drawn": sketch is not None,
        "openings": [*openings, *(each.id for each in placed)],
        "sizes": [*sizes, *(record for each in placed for record in _placed_records(each))],
        "placed": [each.model_dump(mode="json") for each in placed],
    }  # fmt: skip


def _placed_records(opening: PlateOpening) -> list[dict[str, Any]]:
    """Return the numbers of an opening that is placed from edges, as sizes of its plate."""
    return [
        {"name": f"{opening.id} {number}", "kind": opening.kind.value, "of": [opening.edge],
         "value": getattr(opening, number), "unit": record_numbers.unit_of(number)}
        for number in opening.numbers
    ]  # fmt: skip


def _size_record(size: HeldSize) -> dict[str, Any]:
    return {
        "name": size.name, "kind": size.kind.value, "of": list(size.of), "value": size.value,
        "unit": size.kind.unit,
    }  # fmt: skip


def _tell(record: dict[str, Any]) -> None:
    outside = f"{format_length(record['width'])} × {format_length(record['height'])}"
    openings = f", openings: {', '.join(record['openings'])}" if record["openings"] else ""
    say(f"{record['name']} ({record['stock']}) {outside}{openings}")
    for size in record["sizes"]:
        figure = plain_figure(size["value"], size["unit"])
        say(f"    {size['name']:20}{figure}")


COMMANDS = (plate,)
