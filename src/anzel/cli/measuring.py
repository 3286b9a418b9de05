"""Commands about sheets and kerf: what was measured, and what it says."""

import json
from pathlib import Path
from typing import Any

import click

from anzel.app import edits
from anzel.files import project_file
from anzel.findings import ParameterError
from anzel.geometry.units import format_length
from anzel.stock.kerf import Caliper, LearntKerf, kerf_from_disc, kerf_from_strips
from anzel.stock.stock import Stock
from anzel.stock.trial import Feel, Felt

DIGITS = 6
"""Decimals of a millimetre in records for scripts: enough for any check, without float dust."""


@click.command()
@click.argument("words", nargs=-1, metavar="FILE | add-reading FILE ID LENGTH...")
@click.option("--json", "as_json", is_flag=True, help="For scripts.")
def stock(words: tuple[str, ...], as_json: bool) -> None:
    """List the stocks with what their readings say, or add readings to one."""
    if words[:1] == ("add-reading",):
        _add_readings(words[1:])
        return
    if len(words) != 1:
        raise ParameterError("Say which project.", mend="anzel stock FILE")
    stocks = project_file.load(Path(words[0])).stocks
    if as_json:
        click.echo(json.dumps({"stocks": [_record(each) for each in stocks]}, indent=1))
        return
    for each in stocks:
        click.echo(_line(each))


@click.command()
@click.option("--kind", type=click.Choice(["strips", "disc"]), required=True)
@click.option("--drawn", metavar="MM", help="Width of each strip as drawn.")
@click.option("--count", type=int, metavar="N", help="How many strips.")
@click.option("--total", metavar="MM", help="All strips together as measured.")
@click.option("--drawn-outside", metavar="MM", help="The disc as drawn.")
@click.option("--drawn-inside", metavar="MM", help="The hole as drawn.")
@click.option("--measured-outside", metavar="MM", help="The disc as measured.")
@click.option("--measured-inside", metavar="MM", help="The hole as measured.")
@click.option("--resolution", default="0.01", metavar="MM", help="Of the calipers.")
@click.option("--zero-error", default="0.03", metavar="MM", help="At most, either way.")
@click.option("--json", "as_json", is_flag=True, help="For scripts.")
def kerf(kind: str, count: int | None, as_json: bool, **typed: str | None) -> None:
    """Work out the kerf from a test piece."""
    found = _learnt(kind, count, typed)
    if as_json:
        record = {"kerf": found.kerf, "uncertainty": found.uncertainty}
        click.echo(json.dumps({name: round(value, DIGITS) for name, value in record.items()}))
        return
    doubt = format_length(found.uncertainty, 3)
    click.echo(f"kerf {format_length(found.kerf, 3)} mm, standard uncertainty {doubt} mm")


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--stock", "stock_id", metavar="ID", required=True)
@click.option("--kind", type=click.Choice(["comb"]), default="comb")
@click.option("--result", required=True, metavar="WIDTH=FEEL,...", help="What each slot felt.")
@click.option("--fit", metavar="NAME", help="For this class instead of the one in use.")
@click.option("--take", is_flag=True, help="Keep the trial, and take over what it taught.")
@click.option("--json", "as_json", is_flag=True, help="For scripts.")
def trial(
    file: Path, stock_id: str, kind: str, result: str, fit: str | None, take: bool, as_json: bool
) -> None:
    """Learn from a comb: which width to draw, and the clearance it implies."""
    project = project_file.load(file)
    made = edits.trial_of(project, stock_id, _felt(result), fit)
    lesson = edits.lesson_of(made)
    if take:
        project_file.save(edits.checked(edits.take_trial(project, made)), file)
    record = {
        "intervals": {name.value: list(begins) for name, begins in lesson.begins.items()},
        "recommended_drawn_width": round(lesson.drawn_width, DIGITS),
        "implied_clearance": round(lesson.clearance, DIGITS),
        "offset": round(lesson.offset, DIGITS),
    }
    if as_json:
        click.echo(json.dumps(record, indent=1))
        return
    width, clearance = (format_length(v, 3) for v in (lesson.drawn_width, lesson.clearance))
    click.echo(f"draw {width} mm for {made.fit.value}: clearance {clearance} mm")


def _felt(result: str) -> list[Felt]:
    """Typed `2.80=press, 2.85=snug` as widths with what they felt."""
    felt = []
    for part in result.split(","):
        width, equals, feel = part.partition("=")
        if not equals or feel.strip() not in list(Feel):
            known = ", ".join(Feel)
            raise ParameterError(
                f"“{part.strip()}” is not WIDTH=FEEL.", mend=f"Feels are {known}.", field="result"
            )
        felt.append((edits.typed_length(width, "result"), Feel(feel.strip())))
    return felt


def _learnt(kind: str, count: int | None, typed: dict[str, str | None]) -> LearntKerf:
    def length(field: str) -> float:
        text = typed[field]
        if text is None:
            option = "--" + field.replace("_", "-")
            raise ParameterError(f"{option} is missing for {kind}.", field=field)
        return edits.typed_length(text, field)

    caliper = Caliper(length("resolution"), length("zero_error"))
    if kind == "strips":
        if count is None:
            raise ParameterError("--count is missing for strips.", field="count")
        return kerf_from_strips(length("drawn"), count, length("total"), caliper)
    return kerf_from_disc(
        length("drawn_outside"),
        length("drawn_inside"),
        length("measured_outside"),
        length("measured_inside"),
        caliper,
    )


def _add_readings(words: tuple[str, ...]) -> None:
    if len(words) < 3:
        mend = "anzel stock add-reading FILE ID 2.94mm 0.116in"
        raise ParameterError("Say which project, which stock and the readings.", mend=mend)
    path, stock_id = Path(words[0]), words[1]
    readings = [edits.typed_length(text, "readings") for text in words[2:]]
    project = edits.add_readings(project_file.load(path), stock_id, readings)
    project_file.save(edits.checked(project), path)
    click.echo(_line(project.stock(stock_id)))


def _record(each: Stock) -> dict[str, Any]:
    said = each.statistics
    measured = {
        "count": said.count if said else 0,
        "mean": said.mean if said else None,
        "sample_deviation": said.sample_deviation if said else None,
        "standard_uncertainty": said.standard_uncertainty if said else None,
        "least": said.least if said else None,
        "greatest": said.greatest if said else None,
    }
    return {
        "id": each.id,
        "name": each.name,
        "nominal_thickness": each.nominal_thickness,
        "readings": list(each.readings),
        **{k: round(v, DIGITS) if isinstance(v, float) else v for k, v in measured.items()},
        "off_nominal": round(each.off_nominal, DIGITS),
        "kerf": each.kerf,
        "sheet_width": each.sheet_width,
        "sheet_height": each.sheet_height,
    }


def _line(each: Stock) -> str:
    said = each.statistics
    if said is None:
        return f"{each.id:12}{each.name}: not measured, sold as {each.nominal_thickness:g} mm"
    words = f"{said.count} reading(s), mean {format_length(said.mean, 3)} mm"
    if said.sample_deviation is not None and said.standard_uncertainty is not None:
        words += f", s {format_length(said.sample_deviation, 3)}"
        words += f", mean known to ± {format_length(said.standard_uncertainty, 3)}"
    return f"{each.id:12}{each.name}: {words}, kerf {format_length(each.kerf)}"
