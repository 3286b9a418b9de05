"""The command that puts lettering, artwork and hinges on plates, changes them, and lists them."""

from math import inf
from pathlib import Path
from typing import Any

import click

from anzel.app.edits import artwork_edits
from anzel.cli.common import PATH, as_json_option, read_project, save_project, say, say_record
from anzel.core.findings import ParameterError
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.structure.artwork.records import (
    AnyOnPlate,
    PlateArtwork,
    PlateHinge,
    PlateLettering,
    Repeated,
)  # fmt: skip
from anzel.structure.line_work import LineOperation, LineWish


@click.command()
@click.argument("file", type=PATH)
@click.argument("plate", required=False)
@click.option("--text", metavar="TEXT", help="Single-stroke letters to put on the plate.")
@click.option("--file", "art", type=PATH, metavar="ART.svg", help="Lines of an SVG or DXF file.")
@click.option("--hinge", is_flag=True, help="A living hinge across the plate.")
@click.option("--item", metavar="L1", help="Change this one instead of adding one.")
@click.option("--set", "numbers", multiple=True, metavar="NUMBER=VALUE", help="Such as x=12.")
@click.option(
    "--operation", type=click.Choice([each.value for each in LineOperation]), help="Of letters."
)
@click.option("--lines", multiple=True, metavar="LABEL=WISH", help="Of artwork's lines.")
@click.option("--repeat", type=click.Choice([each.value for each in Repeated]))
@click.option("--mirrored", is_flag=True, help="Artwork, left to right.")
@click.option("--alike", is_flag=True, help="On all plates alike.")
@click.option("-o", "--output", type=PATH, metavar="OUT.anzel")
@as_json_option
def artwork(
    file: Path, plate: str | None, text: str | None, art: Path | None, item: str | None,
    hinge: bool, output: Path | None, as_json: bool, **wishes: Any,  # noqa: ANN401
) -> None:  # fmt: skip
    """Put lettering, artwork or a living hinge on a plate, change one, or list them."""
    project = read_project(file)
    if text is not None or art is not None or hinge:
        if plate is None:
            raise ParameterError("Say on which plate.", hint="anzel artwork FILE PLATE --text …")
        if text is not None:
            project, item = artwork_edits.add_lettering(project, plate, text)
        elif art is not None:
            project, item = artwork_edits.add_artwork(project, plate, art)
        else:
            project, item = artwork_edits.add_hinge(project, plate)
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
            if isinstance(each, PlateHinge):
                say(f"    {artwork_edits.hinge_words(artwork_edits.hinge_plan(project, each))}")


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
        if not isinstance(artwork_edits.item_of(project, item), PlateLettering):
            raise ParameterError("Only letters take --operation.", hint="Use --lines for artwork.")
        operation = LineOperation(wishes["operation"])
        project = artwork_edits.change_item(project, item, operation=operation)
    if wishes["mirrored"]:
        if not isinstance(artwork_edits.item_of(project, item), PlateArtwork):
            raise ParameterError("Only artwork is mirrored.")
        project = artwork_edits.change_item(project, item, mirrored=True)
    return artwork_edits.change_item(project, item, alike=True) if wishes["alike"] else project


def _record(project: Project, item: AnyOnPlate) -> dict[str, Any]:
    if isinstance(item, PlateArtwork):
        what = item.file.name
        wishes = artwork_edits.wishes_of(item)
        operations = {label: wish.value for label, wish in wishes.items()}
    elif isinstance(item, PlateHinge):
        what = "living hinge"
        operations = {"": LineOperation.CUT.value}
    else:
        what, operations = item.text, {"": item.operation.value}
    record = {
        "id": item.id, "plate": item.plate, "kind": item.kind, "alike": item.alike, "what": what,
        "numbers": {name: getattr(item, name) for name in item.numbers}, "operations": operations,
        "length": _length(project, item.plate, item) - _length(project, item.plate),
    }  # fmt: skip
    return record | _hinge_record(project, item)


def _length(project: Project, plate: str, *items: AnyOnPlate) -> float:
    """Return the length of all lines on a plate if no other items lay there, mm."""
    structure = project.structure.with_changes(own_artwork=items)
    pieces = solved_structure_of(project.with_changes(structure=structure)).pieces
    lines = (line for piece in pieces if piece.name == plate for line in piece.lines)
    return sum(line.path.length for line in lines)


def _hinge_record(project: Project, item: AnyOnPlate) -> dict[str, Any]:
    plan = artwork_edits.hinge_plan(project, item) if isinstance(item, PlateHinge) else None
    if plan is None:
        return {}
    narrowest = plan.narrowest_radius
    hinge = {
        "developed": plan.developed, "links": plan.links, "link_width": plan.link_width,
        "strain": 100 * plan.strain, "holds": plan.holds,
        "narrowest_radius": narrowest if narrowest < inf else None,
    }  # fmt: skip
    return {"hinge": hinge}


COMMANDS = (artwork,)
