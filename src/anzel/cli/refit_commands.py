"""The command that makes a found drawing fit another sheet."""

import json
from collections.abc import Sequence, Set
from pathlib import Path
from typing import TYPE_CHECKING

import click

from anzel.app.edits import project_edits
from anzel.cli.common import PATH, STREAM, rounded, say, write_output
from anzel.core.findings import ParameterError
from anzel.core.number_format import plain_measure
from anzel.materials.fits import FitName, FitRule, Fits, KerfAt
from anzel.refit.features import DrawnFeatureKind, KeptSize
from anzel.storage.atomic_file import FileError, read_whole

if TYPE_CHECKING:
    from anzel.refit.finger_rows import EdgeInterpretation
    from anzel.refit.refit import RefitOptions

_SMALLEST, _LARGEST_SCALE = 0.01, 100.0


@click.command()
@click.argument("drawing", type=PATH)
@click.option("-o", "--output", type=PATH, required=True, help="Of the same format.")
@click.option("--thickness", metavar="MM", required=True, help="Of the sheet at hand.")
@click.option("--drawn", multiple=True, metavar="MM", help="What it was drawn for; else found.")
@click.option("--tolerance", metavar="MM", help="How far sizes may be off the drawn thickness.")
@click.option("--kerf", metavar="MM", required=True, help="Full width of one pass.")
@click.option("--clearance", metavar="MM", help="Produced slot less the sheet.")
@click.option("--fit", metavar="NAME", help="press, snug, slide or loose.")
@click.option("--kerf-at", type=click.Choice([each.value for each in KerfAt]), default="drawing")
@click.option(
    "--keep",
    type=click.Choice([each.value for each in KeptSize]),
    default="outside",
    help="Of fingers.",
)
@click.option("--scale", type=float, default=1.0, metavar="S", help="Larger or smaller first.")
@click.option("--only", metavar="KINDS", help="slot,mortise,tab,finger: only these.")
@click.option("--hold", multiple=True, metavar="ID", help="A feature, row, hole or piece.")
@click.option("--sure", multiple=True, metavar="ID", help="A doubtful feature: change it too.")
@click.option("--edge", multiple=True, metavar="ID=WHAT", help="tabs, fingers or neither.")
@click.option("--units", type=click.Choice(["mm", "in", "px"]), help="One unit of the drawing.")
@click.option("--report", type=PATH, required=True, help="Where to write what was done.")
def refit(
    drawing: Path,
    output: Path,
    units: str | None,
    scale: float,
    drawn: tuple[str, ...],
    report: Path,
    **typed: str | tuple[str, ...] | None,
) -> None:
    """Make someone's SVG or DXF drawing fit this sheet."""
    from anzel.drawings.reader import ENDINGS, LARGEST  # not at every command's start
    from anzel.refit.load import load_drawing
    from anzel.refit.refit import refit_drawing
    from anzel.refit.report import (
        refit_findings,
        report_record,
        require_certainty,
        require_consistency,
    )

    ending = drawing.suffix.lower()
    if ending not in ENDINGS or (str(output) != STREAM and output.suffix.lower() != ending):
        raise ParameterError(
            f"{drawing.name} cannot become {output.name}.",
            hint="Give an SVG for an SVG, a DXF for a DXF.",
        )
    if report.resolve() == output.resolve():
        raise ParameterError(
            f"Drawing and report cannot both be written to {output}.",
            hint="Give the report a name of its own.", field="report",
        )  # fmt: skip
    if not _SMALLEST <= scale <= _LARGEST_SCALE:
        raise ParameterError(f"A scale of {scale:g} is out of reason.", field="scale")
    wish = _wish(typed, drawn, scale)
    too_large = FileError(f"{drawing.name} is far too large for a drawing.")
    analysis = load_drawing(read_whole(drawing, LARGEST, too_large), drawing.name, units, scale)
    if not drawn:
        require_certainty(analysis, wish.thickness * scale)
    done = refit_drawing(analysis, wish)
    _need_known(wish.held, done.names, "hold")
    _need_known(wish.sure, done.names, "sure")
    _need_known(frozenset(wish.edges), {each.id for each in done.features.edges}, "edge")
    require_consistency(done)
    content = done.written()
    record = json.dumps(rounded(report_record(done)), indent=1) + "\n"
    write_output(report, record.encode())
    write_output(output, content)
    for repair in analysis.assembled.repairs:
        say(repair.description, err=True)
    for finding in refit_findings(done):
        say(str(finding), err=True)


COMMANDS = (refit,)


def _wish(
    typed: dict[str, str | tuple[str, ...] | None], drawn: Sequence[str], scale: float
) -> "RefitOptions":
    from anzel.refit.refit import RefitOptions

    def length(field: str) -> float:
        return project_edits.typed_length(str(typed[field]), field)

    thickness, kerf = length("thickness"), length("kerf")
    if not 0.05 <= thickness <= 100:
        raise ParameterError(
            f"A sheet of {plain_measure(thickness)} is out of reason.", field="thickness"
        )
    if not 0 <= kerf <= 10:
        raise ParameterError(f"A kerf of {plain_measure(kerf)} is out of reason.", field="kerf")
    known = [project_edits.typed_length(text, "drawn") for text in drawn]
    if any(each <= 0 for each in known):
        raise ParameterError("A drawn thickness is more than nothing.", field="drawn")
    tolerance = None if typed["tolerance"] is None else length("tolerance")
    if tolerance is not None and not 0 <= tolerance <= 5:
        raise ParameterError(f"A tolerance of {plain_measure(tolerance)} is out of reason.")
    rule = FitRule(_clearance(typed), kerf, KerfAt(str(typed["kerf_at"])))
    if rule.clearance + thickness - rule.drawn_kerf <= 0:
        raise ParameterError("Slots would be drawn no width at all.", hint="Check the kerf.")
    return RefitOptions(
        thickness, rule, tuple(known), tolerance, KeptSize(str(typed["keep"])),
        only=_kinds(typed["only"]), held=frozenset(typed["hold"] or ()),
        sure=frozenset(typed["sure"] or ()), edges=_edges(typed["edge"] or ()), scale=scale,
    )  # fmt: skip


def _clearance(typed: dict[str, str | tuple[str, ...] | None]) -> float:
    clearance, fit = typed["clearance"], typed["fit"]
    if (clearance is None) == (fit is None):
        raise ParameterError("Say either --clearance or --fit.", field="clearance")
    if fit is None:
        return project_edits.typed_length(str(clearance), "clearance")
    if fit not in list(FitName):
        raise ParameterError(f"There is no fit “{fit}”.", hint=f"There are: {', '.join(FitName)}.")
    return Fits().clearance_of(FitName(fit))


def _edges(said: str | tuple[str, ...]) -> "dict[str, EdgeInterpretation]":
    from anzel.refit.finger_rows import CHOICES, EdgeInterpretation

    found = {}
    for each in said:
        name, _, what = each.partition("=")
        if what not in CHOICES:
            raise ParameterError(
                f"“{each}” does not say what an edge is.",
                hint=f"Type, for example, edge-1={CHOICES[0]}; there are: {', '.join(CHOICES)}.",
                field="edge",
            )
        found[name] = EdgeInterpretation(what)
    return found


def _kinds(text: str | tuple[str, ...] | None) -> frozenset[DrawnFeatureKind]:
    if text is None:
        return frozenset(DrawnFeatureKind)
    words = [word.strip().removesuffix("s") for word in str(text).split(",") if word.strip()]
    unknown = [word for word in words if word not in list(DrawnFeatureKind)]
    if unknown or not words:
        raise ParameterError(
            f"“{', '.join(unknown) or text}” is no kind of feature.",
            hint=f"There are: {', '.join(DrawnFeatureKind)}.",
            field="only",
        )
    return frozenset(map(DrawnFeatureKind, words))


def _need_known(said: frozenset[str], names: Set[str], field: str) -> None:
    unknown = sorted(said - names)
    if unknown:
        raise ParameterError(
            f"There is no “{unknown[0]}” in the drawing.",
            hint=f"The report names what there is; run it once without --{field}.",
            field=field,
        )
