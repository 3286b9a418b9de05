"""Commands about sheets and kerf: what was measured, and what it says."""

from pathlib import Path
from typing import Any

import click

from anzel.app.edits import project_edits, stock_edits
from anzel.cli.common import as_json_option, read_project, say, say_record
from anzel.core.findings import ParameterError
from anzel.core.number_format import format_length, format_measure, plain_measure
from anzel.materials.kerf import Caliper, LearntKerf, kerf_from_disc, kerf_from_strips
from anzel.materials.stock import Stock
from anzel.project.model import Project
from anzel.storage import project_file


@click.command()
@click.argument("words", nargs=-1, metavar="FILE | add-reading FILE ID LENGTH...")
@as_json_option
def stock(words: tuple[str, ...], as_json: bool) -> None:
    """List the stocks with what their readings say, or add readings to one."""
    if words[:1] == ("add-reading",):
        _add_readings(words[1:], as_json)
        return
    if len(words) != 1:
        raise ParameterError("Say which project.", hint="anzel stock FILE")
    project = read_project(Path(words[0]))
    if as_json:
        records = [_record(project, each) for each in project.stocks]
        say_record({"stocks": records})
        return
    for each in project.stocks:
        say(_line(project, each))


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
@as_json_option
def kerf(kind: str, count: int | None, as_json: bool, **typed: str | None) -> None:
    """Work out the kerf from a test piece."""
    found = _learnt(kind, count, typed)
    if as_json:
        record = {"kerf": found.kerf, "uncertainty": found.uncertainty}
        say_record(record)
        return
    doubt = format_measure(found.uncertainty, 3)
    say(f"kerf {format_measure(found.kerf, 3)}, standard uncertainty {doubt}")


COMMANDS = (stock, kerf)


def _learnt(kind: str, count: int | None, typed: dict[str, str | None]) -> LearntKerf:
    def length(field: str) -> float:
        text = typed[field]
        if text is None:
            option = "--" + field.replace("_", "-")
            raise ParameterError(f"{option} is missing for {kind}.", field=field)
        return project_edits.typed_length(text, field)

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


def _add_readings(words: tuple[str, ...], as_json: bool) -> None:
    if len(words) < 3:
        mend = "anzel stock add-reading FILE ID 2.94mm 0.116in"
        raise ParameterError("Say which project, which stock and the readings.", hint=mend)
    path, stock_id = Path(words[0]), words[1]
    readings = [project_edits.typed_length(text, "readings") for text in words[2:]]
    project = project_edits.checked(
        stock_edits.add_readings(project_file.load(path), stock_id, readings)
    )
    project_file.save(project, path)
    changed = project.stock(stock_id)
    if as_json:
        say_record({"stocks": [_record(project, changed)]})
        return
    say(_line(project, changed))
    for each in changed.suspect_readings:
        shown = format_length(changed.readings[each.index], 3)
        say(f"anzel: the reading {shown} {each.why}", err=True)


def _record(project: Project, each: Stock) -> dict[str, Any]:
    said, taken = each.statistics, project.kerf_in(each.id)
    measured = {
        "count": said.count if said else 0,
        "mean": said.mean if said else None,
        "sample_deviation": said.sample_deviation if said else None,
        "standard_uncertainty": said.standard_uncertainty if said else None,
        "mean_within_95": said.confidence_half_width if said else None,
        "least": said.least if said else None,
        "greatest": said.greatest if said else None,
    }
    return {
        "id": each.id,
        "name": each.name,
        "material": each.material.value,
        "press_behaviour": each.press_behaviour.value,
        "grain": each.grain.value,
        "nominal_thickness": each.nominal_thickness,
        "tolerance_band": each.tolerance_band,
        "readings": each.readings,
        "struck": [struck.model_dump() for struck in each.struck],
        "doubtful": [{"index": each.index, "why": each.why} for each in each.suspect_readings],
        **measured,
        "off_nominal": each.off_nominal,
        "kerf": taken.kerf,
        "kerf_uncertainty": taken.uncertainty,
        "kerf_learnt": taken.learnt.value,
        "fit_shift": each.fit_shift,
        "sheets": [size.model_dump() for size in each.sheets],
    }


def _line(project: Project, each: Stock) -> str:
    said, taken = each.statistics, project.kerf_in(each.id)
    kerf_words = f"kerf {format_length(taken.kerf)} ± {format_length(taken.uncertainty, 3)}"
    start = f"{each.id:12}{each.name}: "
    if said is None:
        return f"{start}not measured, sold as {plain_measure(each.nominal_thickness)}, {kerf_words}"
    words = f"{said.count} reading(s), mean {format_measure(said.mean, 3)}"
    if said.sample_deviation is not None and said.standard_uncertainty is not None:
        words += f", s {format_length(said.sample_deviation, 3)}"
        words += f", mean known to ± {format_length(said.standard_uncertainty, 3)}"
    return f"{start}{words}, {kerf_words}"
