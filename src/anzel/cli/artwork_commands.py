"""The command that puts lettering, artwork and hinges on plates, changes them, and lists them."""

from functools import partial
from math import inf
from pathlib import Path
from typing import Any

import click

from anzel.app.edits import artwork_edits
from anzel.app.edits.record_numbers import typed_value
from anzel.cli.common import PATH, as_json_option, read_project, save_project, say, say_record
from anzel.core.findings import ParameterError
from anzel.core.number_format import format_measure
from anzel.drawings.model import label_in_words
from anzel.materials.fits import FitName
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project
from anzel.structure.artwork.motifs import MOTIFS
from anzel.structure.artwork.records import (
    AnyOnPlate,
    Face,
    LetterStyle,
    PlateArtwork,
    PlateHinge,
    PlateImage,
    PlateInlay,
    PlateLettering,
    Repeated,
)  # fmt: skip
from anzel.structure.line_work import LineOperation, LineWish


@click.command()
@click.argument("file", type=PATH)
@click.argument("plate", required=False)
@click.option("--text", metavar="TEXT", help="Letters to put on the plate.")
@click.option("--file", "art", type=PATH, metavar="ART.svg", help="Lines of an SVG or DXF file.")
@click.option("--hinge", is_flag=True, help="A living hinge across the plate.")
@click.option("--item", metavar="L1", help="Change this one instead of adding one.")
@click.option("--set", "numbers", multiple=True, metavar="NUMBER=VALUE", help="Such as x=12.")
@click.option(
    "--operation", type=click.Choice([each.value for each in LineWish][:-1]), help="Of letters."
)
@click.option("--outlines", is_flag=True, help="Letters as outlines; cut ones are a stencil.")
@click.option("--font", type=PATH, metavar="FONT.ttf", help="Letters of a font file.")
@click.option("--picture", type=PATH, metavar="PICTURE.png", help="A picture to engrave.")
@click.option("--face", type=click.Choice([each.value for each in Face]), help="Front or back.")
@click.option("--motif", type=click.Choice(MOTIFS), help="Ours, cut out round the border.")
@click.option("--lines", multiple=True, metavar="LABEL=WISH", help="Of artwork's lines.")
@click.option("--repeat", type=click.Choice([each.value for each in Repeated]))
@click.option("--mirrored", is_flag=True, help="Artwork, left to right.")
@click.option("--alike", is_flag=True, help="On all plates alike.")
@click.option("-o", "--output", type=PATH, metavar="OUT.anzel")
@as_json_option
def artwork(
    file: Path, plate: str | None, text: str | None, art: Path | None, item: str | None,
    hinge: bool, motif: str | None, picture: Path | None, output: Path | None, as_json: bool,
    **wishes: Any,  # noqa: ANN401
) -> None:  # fmt: skip
    """Put lettering, artwork or a living hinge on a plate, change one, or list them."""
    project = read_project(file)
    add = {
        "text": text is not None and partial(artwork_edits.add_lettering, text=text or ""),
        "file": art is not None and partial(artwork_edits.add_artwork, path=art or Path()),
        "picture": picture is not None
        and partial(artwork_edits.add_picture, path=picture or Path()),
        "motif": motif is not None and partial(artwork_edits.add_motif, motif=motif or ""),
        "hinge": hinge and artwork_edits.add_hinge,
    }
    given = [f"--{name}" for name, each in add.items() if each]
    if len(given) > 1:
        raise ParameterError(
            f"{' and '.join(given)} cannot be added in one command.", hint="Give one of them."
        )
    make = next((each for each in add.values() if each), None)
    if make:
        if plate is None:
            raise ParameterError("Say on which plate.", hint="anzel artwork FILE PLATE --text …")
        project, item = make(project, plate)
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
            length = format_measure(record["length"], 0)
            say(f"{each.id}  {each.plate}: {record['what']}, {length} of lines")
            if isinstance(each, PlateHinge):
                say(f"    {artwork_edits.hinge_words(artwork_edits.hinge_plan(project, each))}")


def _changed(project: Project, item: str, wishes: dict[str, Any]) -> Project:
    if wishes["repeat"]:
        repeated = Repeated(wishes["repeat"])
        project = artwork_edits.change_item(project, item, repeated=repeated)
    project = _with_letters(project, item, wishes)  # letters of outlines have more numbers
    project = _with_numbers(project, item, wishes["numbers"])
    for pair in wishes["lines"]:
        label, equals, wish = pair.rpartition("=")
        if not equals or wish not in list(LineWish):
            raise ParameterError(f"“{pair}” is not LABEL=WISH.", hint=f"{', '.join(LineWish)}.")
        project = artwork_edits.decide_label(project, item, label, LineWish(wish))
    if wishes["face"]:
        project = artwork_edits.change_item(project, item, face=Face(wishes["face"]))
    if wishes["mirrored"]:
        if not isinstance(artwork_edits.item_of(project, item), PlateArtwork):
            raise ParameterError("Only artwork is mirrored.")
        project = artwork_edits.change_item(project, item, mirrored=True)
    return artwork_edits.change_item(project, item, alike=True) if wishes["alike"] else project


def _with_numbers(project: Project, item: str, pairs: tuple[str, ...]) -> Project:
    """Return the project with NUMBER=VALUE pairs of an item typed."""
    for pair in pairs:
        number, equals, value = pair.partition("=")
        if not equals:
            raise ParameterError(f"“{pair}” is not NUMBER=VALUE.")
        project = artwork_edits.type_item(project, item, number.strip(), value.strip())
    return project


def _with_letters(project: Project, item: str, wishes: dict[str, Any]) -> Project:
    """Return the project with what is wished of letters."""
    if not (wishes["operation"] or wishes["outlines"] or wishes["font"]):
        return project
    if not isinstance(artwork_edits.item_of(project, item), PlateLettering):
        raise ParameterError(
            "Only letters take --operation, --outlines and --font.",
            hint="Use --lines for artwork.",
        )
    if wishes["outlines"]:
        project = artwork_edits.change_item(project, item, style=LetterStyle.OUTLINES)
    if wishes["font"]:
        project = artwork_edits.use_font(project, item, wishes["font"])
    if wishes["operation"]:
        operation = LineWish(wishes["operation"])
        project = artwork_edits.change_item(project, item, operation=operation)
    return project


@click.command()
@click.argument("file", type=PATH)
@click.argument("plate")
@click.argument("art", type=PATH)
@click.option("--stock", "stocks", multiple=True, metavar="LABEL=STOCK", help="Sheet of a label.")
@click.option("--gap", metavar="MM", help="Left on every side; less than 0 presses.")
@click.option("--fit", type=click.Choice([each.value for each in FitName]), help="Gap of a class.")
@click.option("--shared", is_flag=True, help="Insert and pocket make up for the kerf.")
@click.option("--set", "numbers", multiple=True, metavar="NUMBER=VALUE", help="Such as width=40.")
@click.option("-o", "--output", type=PATH, metavar="OUT.anzel", required=True)
@as_json_option
def inlay(
    file: Path, plate: str, art: Path, stocks: tuple[str, ...], gap: str | None, fit: str | None,
    shared: bool, numbers: tuple[str, ...], output: Path, as_json: bool,
) -> None:  # fmt: skip
    """Inlay the closed lines of an SVG or DXF file in a plate."""
    project, item = artwork_edits.add_inlay(read_project(file), plate, art)
    for pair in stocks:
        label, equals, stock = pair.rpartition("=")
        if not equals:
            raise ParameterError(f"“{pair}” is not LABEL=STOCK.")
        project = artwork_edits.choose_stock(project, item, label, stock)
    if fit is not None:
        project = artwork_edits.change_item(project, item, fit=FitName(fit))
    if gap is not None:
        project = artwork_edits.change_item(project, item, gap=typed_value(gap, "gap"))
    if shared:
        project = artwork_edits.change_item(project, item, shared=True)
    project = _with_numbers(project, item, numbers)
    save_project(project, output)
    solved = solved_structure_of(project)
    inserts = [piece for piece in solved.pieces if f" {item}." in piece.name]
    findings = [f for f in solved.findings if f.code.startswith("inlay") and item in f.message]
    if as_json:
        say_record({
            "id": item,
            "inserts": [
                {"name": piece.name, "stock": piece.stock_id, "area": piece.region.area}
                for piece in inserts
            ],
            "findings": [f"{f.where}: {f.message}" for f in findings],
        })  # fmt: skip
        return
    say(f"{item}: {len(inserts)} insert{'s' * (len(inserts) != 1)} in {plate}")
    for finding in findings:
        say(f"    {finding.where}: {finding.message}")


def _record(project: Project, item: AnyOnPlate) -> dict[str, Any]:
    if isinstance(item, PlateArtwork):
        what = item.file.name
        wishes = artwork_edits.wishes_of(item)
        operations = {label_in_words(label): wish.value for label, wish in wishes.items()}
    elif isinstance(item, PlateHinge):
        what = "living hinge"
        operations = {"": LineOperation.CUT.value}
    elif isinstance(item, PlateInlay):
        what, operations = item.file.name, {"": LineOperation.CUT.value}
    elif isinstance(item, PlateImage):
        what, operations = item.file.name, {"": LineOperation.ENGRAVE.value}
    else:
        what, operations = item.text, {"": item.operation.value}
    record = {
        "id": item.id, "plate": item.plate, "kind": item.kind, "alike": item.alike, "what": what,
        "face": item.face.value,
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


COMMANDS = (artwork, inlay)
