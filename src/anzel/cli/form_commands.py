"""Commands about the structure: forms, proof, size, pictures."""

from collections.abc import Callable
from dataclasses import asdict
from math import ceil, floor
from pathlib import Path
from textwrap import wrap
from typing import Any

import click

from anzel.app.edits import project_edits
from anzel.app.edits.mesh_edits import import_remarks, take_mesh
from anzel.app.edits.overrides import Overrides
from anzel.app.number_display import shown
from anzel.cli.common import (
    PATH,
    SET_HELP,
    STREAM,
    as_json_option,
    load_project,
    need_ending,
    overridable,
    read_project,
    save_project,
    say,
    say_record,
    write_output,
)
from anzel.core.findings import ParameterError
from anzel.core.number_format import UNIT, format_length, format_measure, plain_figure
from anzel.project import rescale as rescaling
from anzel.project.derive import fit_context_of, layout_of, settled_form, solved_structure_of
from anzel.project.model import Project
from anzel.project.new_project import project_of
from anzel.project.preflight import preflight
from anzel.scene.camera import VIEWS
from anzel.storage.mesh_reader import read_mesh
from anzel.structure.forms import FORMS, about_form, broken_forms

_VIEWS = {"iso": "corner", "front": "front", "side": "side", "top": "above"}
_SIZE = (1280, 960)


@click.command()
@as_json_option
def forms(as_json: bool) -> None:
    """List the forms and their parameters, with ranges and defaults."""
    records = [_form_record(name) for name in FORMS]
    for finding in broken_forms():
        say(f"anzel: {finding}", err=True)
    if as_json:
        say_record({"forms": records})
        return
    for record in records:
        say(f"{record['name']}: {record['about']}")
        for line in _parameter_table(record["parameters"]):
            say(f"    {line}")


@click.command()
@click.argument("name")
@click.option("--set", "parameters", multiple=True, metavar="PARAM=VALUE", help=SET_HELP)
@click.option("--mesh", type=PATH, metavar="FILE", help="STL, OBJ, PLY or 3MF, to be sliced.")
@click.option("-o", "--output", type=PATH, required=True, help="FILE.anzel")
def form(name: str, parameters: tuple[str, ...], mesh: Path | None, output: Path) -> None:
    """Start a project from a form."""
    project = project_of(name)
    if mesh is not None:
        imported_mesh = read_mesh(mesh)
        project = take_mesh(project, imported_mesh)
        for line in import_remarks(imported_mesh):
            say(f"{mesh.name}: {line}", err=True)
    project = Overrides(parameters=parameters).apply(project)
    save_project(project, output)


@click.command()
@click.argument("file", type=PATH)
@as_json_option
@overridable
def check(file: Path, as_json: bool, **overrides: Any) -> None:  # noqa: ANN401
    """Prove that every joint goes together and every piece can be cut."""
    found = preflight(load_project(file, overrides))
    if as_json:
        record = {
            "ok": found.ok,
            "problems": [
                {
                    "kind": each.code,
                    "pieces": each.pieces,
                    "joint": each.joint,
                    "message": each.words,
                }
                for each in found.problems
            ],
            "interference": [
                {"pieces": each.pieces, "volume": each.volume} for each in found.interference
            ],
            "left_out": [str(finding) for finding in found.left_out],
            "smallest_web": found.smallest_web,
            "all_fit_bed": found.all_fit_bed,
        }
        say_record(record)
        return
    for problem in found.problems:
        say(f"{problem.code}: {problem.words}")
    for finding in found.left_out:
        say(f"{finding.code}: {finding}")
    web = (
        f", smallest web {format_measure(found.smallest_web)}"
        if found.smallest_web is not None
        else ""
    )
    say("all goes together" + web if found.ok else f"{len(found.problems)} problem(s)" + web)


@click.command()
@click.argument("file", type=PATH)
@click.option("--factor", type=float, metavar="F", help="Times so many.")
@click.option("--width", metavar="LENGTH", help="East to west, of the standing whole.")
@click.option("--depth", metavar="LENGTH", help="North to south, of the standing whole.")
@click.option("--height", metavar="LENGTH", help="Of the standing whole.")
@click.option("--fit", "to_fit", type=click.Choice(["bed", "sheet"]), help="As large as fits.")
@click.option("--stock", "stocks", multiple=True, metavar="OLD=NEW", help="Another sheet.")
@click.option("-o", "--output", type=PATH, required=True, help="FILE.anzel")
@as_json_option
def rescale(
    file: Path,
    factor: float | None,
    to_fit: str | None,
    stocks: tuple[str, ...],
    output: Path,
    as_json: bool,
    **sizes: str | None,
) -> None:
    """Make the whole larger or smaller, or of another sheet; hardware sizes are held."""
    project = read_project(file)
    for text in stocks:
        project = _other_stock(project, text)
    wanted = {axis: text for axis, text in sizes.items() if text is not None}
    ways = (factor is not None) + len(wanted) + (to_fit is not None)
    if ways > 1 or not (ways or stocks):
        hint = "Say one of --factor, --width, --depth, --height and --fit, or --stock."
        raise ParameterError("Nothing to change." if not ways else "That is too much.", hint=hint)
    if factor is not None:
        project = rescaling.by_factor(project, factor)
    for axis, text in wanted.items():
        project = rescaling.to_size(project, axis, project_edits.typed_length(text, axis))
    if to_fit is not None:
        fits = rescaling.fits_bed if to_fit == "bed" else rescaling.fits_sheets
        project = rescaling.largest(project, fits)
    save_project(project, output)
    size = rescaling.overall(solved_structure_of(project), fit_context_of(project))
    findings = [f for s in project.stocks_in_use for f in layout_of(project, s.id).findings]
    if as_json:
        say_record({**asdict(size), "findings": [str(finding) for finding in findings]})
        return
    sides = " × ".join(format_length(side, 1) for side in (size.width, size.depth, size.height))
    say(f"{sides} {UNIT}", err=str(output) == STREAM)
    for finding in findings:
        say(str(finding), err=True)


@click.command()
@click.argument("file", type=PATH)
@click.option("-o", "--output", type=PATH, required=True, help="OUT.png")
@click.option("--view", type=click.Choice(list(_VIEWS)), default="iso")
@click.option("--explode", type=click.FloatRange(0, 1), default=0.0, help="Pulled apart, 0 to 1.")
@click.option("--size", type=click.IntRange(16, 4096), help="Width and height, for a thumbnail.")
@overridable
def picture(
    file: Path,
    output: Path,
    view: str,
    explode: float,
    size: int | None,
    **overrides: Any,  # noqa: ANN401
) -> None:
    """Save a picture of the standing structure."""
    from anzel.app.foreign_files import thumbnail
    from anzel.app.still_image import still_image

    if size is None:  # a desktop names its thumbnails without an ending
        need_ending(output, ".png")
    if size is not None and str(file) != STREAM:  # a desktop asks for any file that it meets
        made = thumbnail(file, Overrides(**overrides), _VIEWS[view], explode, size)
    else:
        pixels = _SIZE if size is None else (size, size)
        made = still_image(load_project(file, overrides), _VIEWS[view], explode, pixels)
    write_output(output, made)


COMMANDS = (forms, form, check, rescale, picture)
assert set(_VIEWS.values()) == set(VIEWS)


_MOST_WIDE = 34
"""Characters of a default or a range in the table; what is longer goes on in the next line."""


def _parameter_table(parameters: list[dict[str, Any]]) -> list[str]:
    """Return the parameters as lines: name, default, range or choices, description."""
    rows = []
    for each in parameters:
        limits = each.get("range")
        unit = each["unit"]
        words = _range_words(limits, _figure(unit)) if limits else ", ".join(each["choices"])
        default = _default_words(each["default"], _figure(unit))
        default = " ".join(filter(None, (default, shown(UNIT) if unit == "mm" else unit)))
        rows.append((each["name"], default, words, each["description"]))
    cells = [[wrap(text, _MOST_WIDE) or [""] for text in row[:3]] for row in rows]
    widths = [max((len(line) for row in cells for line in row[at]), default=0) for at in range(3)]
    lines = []
    for row, (*_, description) in zip(cells, rows, strict=True):
        for number in range(max(map(len, row))):
            texts = [cell[number] if number < len(cell) else "" for cell in row]
            padded = [text.ljust(width) for text, width in zip(texts, widths, strict=True)]
            lines.append("  ".join([*padded, description * (number == 0)]).rstrip())
    return lines


def _range_words(limits: list[float | None], figure: Callable[[float], str]) -> str:
    least, most = limits
    if most is None:
        return f"{figure(least or 0.0)} or more"
    return f"{figure(least or 0.0)} to {figure(most)}"


def _figure(unit: str) -> Callable[[float], str]:
    """Return how numbers of a unit are told."""
    return lambda value: shown(plain_figure(value, unit))


def _default_words(default: object, figure: Callable[[float], str]) -> str:
    """Return a default as it is typed after --set; a profile as its points."""
    if isinstance(default, bool):
        return "yes" if default else "no"
    if isinstance(default, tuple):
        return " ".join(_point_words(point, figure) for point in default)
    return figure(default) if isinstance(default, float) else str(default)


def _point_words(point: object, figure: Callable[[float], str]) -> str:
    if not isinstance(point, tuple):
        return _default_words(point, figure)
    *shares, smooth = point
    return ":".join([*(f"{share:g}" for share in shares), *([] if smooth else ["corner"])])


def _form_record(name: str) -> dict[str, Any]:
    kind = FORMS[name]
    project = project_of(name)
    limits = settled_form(project).ranges(fit_context_of(project))
    schema = kind.model_json_schema()["properties"]
    parameters = []
    for field in kind.typed():
        about = kind.model_fields[field]
        record = {
            "name": field,
            "default": about.default,
            "unit": kind.unit(field) if field in kind.numbers() else "",
            "description": about.description or "",
        }
        if field in kind.numbers():
            own = schema[field]
            low = limits.get(field, (own.get("minimum", own.get("exclusiveMinimum", 0)), None))
            high = low[1] if low[1] is not None else own.get("maximum")
            is_whole = about.annotation is int
            least, most = (ceil(low[0]), high and floor(high)) if is_whole else (low[0], high)
            record["range"] = [least, most]
        else:
            choices = _choices(about.default, field in kind.places)
            record["choices"] = schema[field].get("enum", choices)
        parameters.append(record)
    return {"name": name, "about": about_form(name), "parameters": parameters}


def _choices(default: object, places: bool) -> list[str]:
    if places:
        return ["lengths with spaces between"]
    if isinstance(default, bool):
        return ["yes", "no"]
    return (
        ["the id of a sheet"]
        if isinstance(default, str)
        else ["HEIGHT:RADIUS or HEIGHT:RADIUS:corner, 0 to 1"]
    )


def _other_stock(project: Project, text: str) -> Project:
    """Return OLD=NEW: every role of one sheet given to another."""
    old, equals, new = text.partition("=")
    if not equals:
        raise ParameterError(f"“{text}” is not OLD=NEW.", field="stock")
    old_id, new_id = project.stock(old.strip()).id, project.stock(new.strip()).id
    roles = project.structure.stock_roles()
    changed = {role: new_id for role, stock_id in roles.items() if stock_id == old_id}
    if not changed:
        raise ParameterError(f"Nothing is cut from {old_id}.", field="stock")
    return project.with_changes(structure=project.structure.with_stocks(changed))
