"""Commands that make what is cut, printed and read at the cutter."""

from dataclasses import asdict
from pathlib import Path
from typing import Any

import click

from anzel.app.edits import layout_edits, project_edits
from anzel.app.number_display import number_format
from anzel.cli.common import (
    CUT_FORMATS,
    PATH,
    STREAM,
    as_json_option,
    ending_of,
    format_option,
    load_project,
    need_agreement,
    need_ending,
    need_one_output,
    overridable,
    say,
    say_record,
    tell_left_out,
    write_output,
)
from anzel.core.findings import ParameterError
from anzel.core.number_format import format_number, format_quantity
from anzel.cutjob.job_settings import LabelStyle
from anzel.cutjob.operations import DxfRelease
from anzel.materials.fits import KerfAt
from anzel.output import export as exporting
from anzel.project.estimate import estimate_of, format_duration
from anzel.project.inspection import left_out_of
from anzel.project.model import Project


@click.command()
@click.argument("file", type=PATH)
@click.option("-o", "--output", type=PATH, required=True, help="OUT.svg, OUT.dxf or OUT.pdf")
@format_option(*CUT_FORMATS)
@click.option("--stock", "stock_id", metavar="ID", help="Only this stock.")
@click.option("--sheet", type=int, metavar="N", help="Only the N-th sheet of each stock.")
@click.option("--sheets/--pieces", "on_sheets", default=True, help="As laid, or side by side.")
@click.option("--each", is_flag=True, help="A file for every sheet, or for every piece.")
@click.option("--hashes", is_flag=True, help="With --each: OUT.sha256, to check the files by.")
@click.option("--only", metavar="NAME,...", help="Only these pieces.")
@click.option("--kerf-at", type=click.Choice([each.value for each in KerfAt]))
@click.option("--labels", type=click.Choice(["on", "off"]), help="Names and joint numbers.")
@click.option("--pens", metavar="NAME", help="Colours, widths and layers of this name.")
@click.option(
    "--dxf",
    type=click.Choice([each.value for each in DxfRelease]),
    help="Free curves as chords (R12), splines (R2010), or arcs in closed outlines.",
)
@click.option("--anyway", is_flag=True, help="Even if the cutter's own kerf setting disagrees.")
@as_json_option
@overridable
def export(
    file: Path,
    output: Path,
    form: str | None,
    stock_id: str | None,
    sheet: int | None,
    on_sheets: bool,
    each: bool,
    hashes: bool,
    anyway: bool,
    as_json: bool,
    only: str | None,
    kerf_at: str | None,
    labels: str | None,
    pens: str | None,
    dxf: str | None,
    **overrides: Any,  # noqa: ANN401
) -> None:
    """Write a cut file."""
    need_one_output(output, as_json)
    ending = ending_of(output, form, *CUT_FORMATS)
    if each and str(output) == STREAM:
        raise ParameterError("A file for each needs a name to begin with.", field="output")
    project = _wanted(load_project(file, overrides), only, kerf_at, labels, pens)
    if dxf is not None:
        project = project_edits.use_release(project, DxfRelease(dxf))
    need_agreement(exporting.contradiction(project), anyway)
    pages = exporting.structure_pages(
        project, stock_id=stock_id, sheet=sheet, loose=not on_sheets, apart=each and not on_sheets
    )
    lost = exporting.cannot_hold(pages, ending)
    need_agreement(lost, anyway, "Write SVG or PDF, or say --anyway.")
    if on_sheets and (larger := exporting.over_bed(project, pages)):
        say(f"anzel: {larger}", err=True)
    if each:
        written = exporting.write_each(pages, project.pens, output, hashes=hashes)
        if earlier := exporting.earlier_files(written, output):
            names = ", ".join(path.name for path in earlier)
            say(f"Not written this time, and perhaps out of date: {names}.", err=True)
    else:
        write_output(output, exporting.render(pages, project.pens, ending))
        written = [output]
    if as_json:
        left_out = [str(finding) for finding in left_out_of(project)]
        say_record({"files": [str(path) for path in written], "left_out": left_out})
        return
    for path in written if each else ():
        say(str(path))
    tell_left_out(project)


@click.command()
@click.argument("file", type=PATH)
@click.option("-o", "--output", type=PATH, required=True, help="OUT.pdf")
@click.option("--page", "paper", default="A4", help="A4, Letter, ... or WIDTHxHEIGHT.")
@click.option("--stock", "stock_id", metavar="ID", help="Only this stock.")
@click.option("--pieces", "loose", is_flag=True, help="Side by side, not on sheets.")
@click.option("--with-kerf", is_flag=True, help="Lines as for the cutter; else for a knife.")
@overridable
def paper(
    file: Path, output: Path, paper: str, stock_id: str | None, loose: bool, with_kerf: bool,
    **overrides: Any,  # noqa: ANN401
) -> None:  # fmt: skip
    """Write templates at 1:1, tiled onto paper, to print and stick on card.

    They have the true sizes for a knife along the line; every page says so.
    """
    from anzel.output.for_knife import for_knife
    from anzel.output.tiled_pdf import paper_bytes, paper_size

    need_ending(output, ".pdf")
    project = load_project(file, overrides)
    project = project if with_kerf else for_knife(project)
    pages = exporting.structure_pages(project, stock_id=stock_id, loose=loose)
    write_output(
        output,
        paper_bytes(pages, project.pens, paper_size(paper), metric=number_format().is_metric),
    )


@click.command()
@click.argument("file", type=PATH)
@click.option("-o", "--output", type=PATH, required=True, help="OUT.csv, or OUT.pdf: a job sheet.")
@format_option("csv", "pdf")
@overridable
def cutlist(
    file: Path, output: Path, form: str | None, **overrides: Any  # noqa: ANN401
) -> None:  # fmt: skip
    """Write the cut list (CSV), or the one-page job sheet (PDF)."""
    ending = ending_of(output, form, "csv", "pdf")
    project = load_project(file, overrides)
    if ending == ".pdf":
        from anzel.output.job_sheet import job_sheet_bytes

        write_output(output, job_sheet_bytes(project, numbers=number_format()))
        return
    from anzel.output.cut_list import cut_list_bytes

    write_output(output, cut_list_bytes(project, number_format()))


@click.command()
@click.argument("file", type=PATH)
@as_json_option
@overridable
def estimate(file: Path, as_json: bool, **overrides: Any) -> None:  # noqa: ANN401
    """Say how long the job takes and what it costs."""
    found = estimate_of(load_project(file, overrides))
    if as_json:
        stocks = [{**asdict(each), "seconds": each.times.whole} for each in found.stocks]
        record = {"seconds": found.times.whole, "cost": found.cost, "stocks": stocks}
        say_record(record)
        return
    for each in found.stocks:
        cut = format_quantity(each.lengths.cut / 1000, "m", 2)
        duration = format_duration(each.times.whole)
        say(f"{each.stock_id}: {duration}, {cut} cut, {each.lengths.pierces} entries")
    say(
        f"{format_duration(found.times.whole)} in all"
        + f", {format_number(found.cost, 2)}" * bool(found.cost)
    )


COMMANDS = (export, paper, cutlist, estimate)


def _wanted(
    project: Project, only: str | None, kerf_at: str | None, labels: str | None, pens: str | None
) -> Project:
    """Return the project with what was asked for this file."""
    if only is not None:
        names = [name.strip() for name in only.split(",") if name.strip()]
        project = layout_edits.only_pieces(project, names)
    if kerf_at is not None:
        project = project_edits.take_kerf_at(project, KerfAt(kerf_at))
    if labels is not None:
        choice = LabelStyle.ENGRAVE if labels == "on" else LabelStyle.OFF
        if (project.job.labels is not LabelStyle.OFF) != (labels == "on"):
            project = project_edits.change_job(project, labels=choice)
    return project_edits.use_pens(project, pens) if pens else project
