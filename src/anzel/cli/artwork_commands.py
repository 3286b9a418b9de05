"""The command that puts lettering and artwork on plates, changes them, and lists them."""

from pathlib import Path
from typing import Any

import click

from anzel.app.edits import artwork_edits
from anzel.cli.common import PATH, as_json_option, read_project, save_project, say, say_record
from anzel.core.findings import ParameterError
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.structure.artwork.records import AnyOnPlate, PlateArtwork, Repeated
from anzel.structure.line_work import LineOperation, LineWish


@click.command()
@click.argument("file", type=PATH)
@click.argument("plate", required=False)
@click.option("--text", metavar="TEXT", help="Single-stroke letters to put on the plate.")
@click.option("--file", "art", type=PATH, metavar="ART.svg", help="Lines of an SVG or DXF file.")
@click.option("--item", metavar="L1", help="Change this one instead of adding one.")
@click.option("--set", "numbers", multiple=True, metavar="NUMBER=VALUE", help="Such as x=12.")
@click.option(
    "--operation", type=click.Choice([each.value for each in LineOperation]), help="Of letters."
)
@click.option("--lines", multiple=True, metavar="LABEL=WISH", help="Of artwork's lines.")
@click.option("--repeat", type=click.Choice([each.value for each in Repeated]))
@click.option("--alike", is_flag=True, help="On all plates alike.")
@click.option("-o", "--output", type=PATH, metavar="OUT.anzel")
@as_json_option
def artwork(
    file: Path, plate: str | None, text: str | None, art: Path | None, item: str | None,
    output: Path | None, as_json: bool, **wishes: Any,  # noqa: ANN401
) -> None:  # fmt: skip
    """Put lettering or artwork on a plate, change it, or list what lies on plates."""
    project = read_project(file)
    if text is not None or art is not None:
        if plate is None:
            raise ParameterError("Say on which plate.", hint="anzel artwork FILE PLATE --text …")
        if text is not None:
            project, item = artwork_edits.add_lettering(project, plate, text)
        elif art is not None:
            project, item = artwork_edits.add_artwork(project, plate, art)
    if item is not None:
        project = _changed(project, item, wishes)
    if output is not None:
        save_project(project, output)
    elif item is not None:
        raise ParameterError("Say where to write it.", hint="-o OUT.anzel")
    items = [each for each in project.structure.own_artwork if plate in (None, each.plate)]
    if as_json:
        say_record({"items": [_record(project, each) for each in items]})
    elif output is None:
        for each in items:
            record = _record(project, each)
            say(f"{each.id}  {each.plate}: {record['what']}, {record['length']:.0f} mm of lines")


def _changed(project: Project, item: str, wishes: dict[str, Any]) -> Project:
    if wishes["repeat"]:
        repeated = Repeated(wishes["repeat"])
        project = artwork_edits.change_item(project, item, repeated=repeated)
    for pair in wishes["numbers"]:
        number, equals, value = pair.partition("=")
        if not equals:
            raise ParameterError(f"“{pair}” is not NUMBER=VALUE.")
        project = artwork_edits.type_item(project, item, number.strip(), value.strip())
    for pair in wishes["lines"]:
        label, equals, wish = pair.rpartition("=")
        if not equals or wish not in list(LineWish):
            raise ParameterError(f"“{pair}” is not LABEL=WISH.", hint=f"{', '.join(LineWish)}.")
        project = artwork_edits.decide_label(project, item, label, LineWish(wish))
    if wishes["operation"]:
        if isinstance(artwork_edits.item_of(project, item), PlateArtwork):
            raise ParameterError("Artwork has an operation for each label.", hint="Use --lines.")
        operation = LineOperation(wishes["operation"])
        project = artwork_edits.change_item(project, item, operation=operation)
    return artwork_edits.change_item(project, item, alike=True) if wishes["alike"] else project


def _record(project: Project, item: AnyOnPlate) -> dict[str, Any]:
    lines = next(
        (piece.lines for piece in solved_structure_of(project).pieces if piece.name == item.plate),
        (),
    )
    if isinstance(item, PlateArtwork):
        what = item.file.name
        wishes = artwork_edits.wishes_of(item)
        operations = {label: wish.value for label, wish in wishes.items()}
    else:
        what, operations = item.text, {"": item.operation.value}
    return {
        "id": item.id, "plate": item.plate, "kind": item.kind, "alike": item.alike, "what": what,
        "numbers": {name: getattr(item, name) for name in item.numbers}, "operations": operations,
        "length": sum(line.path.length for line in lines),
    }  # fmt: skip


COMMANDS = (artwork,)
