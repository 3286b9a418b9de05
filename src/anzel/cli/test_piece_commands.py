"""Commands about test pieces: write them, learn from them, and forecast what they lead to."""

import re
from dataclasses import asdict
from pathlib import Path
from typing import Any

import click

from anzel.app.edits import project_edits, test_piece_edits
from anzel.app.number_display import as_shown
from anzel.app.views.forecast_summary import advice_words, summary_of
from anzel.checks.forecast import JointForecast
from anzel.cli.common import (
    CUT_FORMATS,
    PATH,
    as_json_option,
    ending_of,
    format_option,
    load_project,
    need_agreement,
    need_one_output,
    overridable,
    read_project,
    say,
    say_record,
    write_output,
)
from anzel.core.findings import ParameterError
from anzel.core.number_format import UNIT, format_length, format_share
from anzel.materials.fits import FitName
from anzel.materials.material import PressBehaviour
from anzel.materials.uncertainty import Uncertainty
from anzel.output import export as exporting
from anzel.project.derive import findings_of_test_piece, layout_of_test_piece
from anzel.storage import project_file
from anzel.test_pieces.model import TestPieceKind
from anzel.test_pieces.registry import FELT
from anzel.test_pieces.trial import Feel, Lesson, Trial

_KINDS = [kind.value for kind in TestPieceKind]


@click.command("test-piece")
@click.argument("file", type=PATH)
@click.option("--stock", "stock_id", metavar="ID", required=True)
@click.option("--kind", type=click.Choice(_KINDS), default="comb")
@click.option("--start", metavar="MM", help="First step; else centred on today's number.")
@click.option("--step", metavar="MM", help="From step to step.")
@click.option("--count", type=int, metavar="N", help="How many steps.")
@click.option("--steps", metavar="MM;MM…", help="Uneven steps, one by one.")
@click.option("--plug", metavar="MM", help="Size of what is tried in windows and mortises.")
@click.option("--inches", is_flag=True, help="Engrave inches; else as --units says.")
@click.option("--anyway", is_flag=True, help="Even if the cutter's own kerf setting disagrees.")
@click.option("-o", "--output", type=PATH, required=True, help="OUT.svg, OUT.dxf or OUT.pdf")
@format_option(*CUT_FORMATS)
@as_json_option
@overridable
def test_piece_command(
    file: Path,
    stock_id: str,
    kind: str,
    start: str | None,
    step: str | None,
    count: int | None,
    steps: str | None,
    plug: str | None,
    inches: bool,
    anyway: bool,
    output: Path,
    form: str | None,
    as_json: bool,
    **overrides: Any,  # noqa: ANN401
) -> None:
    """Write a test piece for one stock."""
    need_one_output(output, as_json)
    ending = ending_of(output, form, *CUT_FORMATS)
    project, wanted = as_shown(load_project(file, overrides)), TestPieceKind(kind)
    typed = {"start": start, "step": step, "plug": plug}
    changes: dict[str, Any] = {
        field: project_edits.typed_length(text, field)
        for field, text in typed.items()
        if text is not None
    }
    if count is not None:
        changes["count"] = count
    project = test_piece_edits.change_test_piece(project, wanted, **changes)
    if steps is not None:
        project = test_piece_edits.type_steps(project, wanted, steps)
    if inches:
        project = test_piece_edits.change_test_pieces(project, inches=True)
    need_agreement(exporting.contradiction(project, wanted), anyway)
    pages = exporting.pages_of_test_piece(project, stock_id, wanted)
    write_output(output, exporting.render(pages, project.pens, ending))
    found = [*layout_of_test_piece(project, stock_id, wanted).findings]
    told = [str(each) for each in (*found, *findings_of_test_piece(project, stock_id, wanted))]
    if step is not None and wanted is TestPieceKind.STRIPS:
        told.insert(0, "strips are all alike, so --step has no part in them")
    if as_json:
        say_record({"files": [str(output)], "findings": told})
        return
    for line in told:
        say(f"anzel: {line}", err=True)


@click.command()
@click.argument("file", type=PATH)
@click.option("--stock", "stock_id", metavar="ID", required=True)
@click.option("--kind", type=click.Choice([kind.value for kind in FELT]), default="comb")
@click.option("--result", required=True, metavar="NUMBER=FEEL,...", help="What each step felt.")
@click.option("--fit", metavar="NAME", help="For this class instead of the one in use.")
@click.option("--take", is_flag=True, help="Keep the trial, and take over what it taught.")
@as_json_option
def trial(
    file: Path, stock_id: str, kind: str, result: str, fit: str | None, take: bool, as_json: bool
) -> None:
    """Learn from a comb (or another felt piece): what to draw, and the clearance it implies."""
    project = read_project(file)
    engraved = as_shown(project)
    typed = [
        (test_piece_edits.typed_step(engraved, stock_id, TestPieceKind(kind), number), feel)
        for number, feel in _felt(result)
    ]
    made = test_piece_edits.trial_of(project, stock_id, typed, fit, TestPieceKind(kind))
    lesson = test_piece_edits.lesson_of(made)
    if take:
        project_file.save(project_edits.checked(test_piece_edits.take_trial(project, made)), file)
    if as_json:
        say_record(_lesson_record(lesson))
    else:
        say(_lesson_words(made, lesson))
    brittle = project.stock(stock_id).press_behaviour is PressBehaviour.BRITTLE
    if brittle and made.fit is FitName.PRESS:
        say(f"anzel: {stock_id} is brittle; pressed joints crack it", err=True)


@click.command()
@click.argument("file", type=PATH)
@as_json_option
@overridable
def forecast(file: Path, as_json: bool, **overrides: Any) -> None:  # noqa: ANN401
    """Tell the chance that each joint, and all together, come out right."""
    project = load_project(file, overrides)
    chances = summary_of(project)
    found = chances.now
    if as_json:
        record = {
            "fit": project.fits.in_use.value,
            "joints": [_joint_record(joint, chances.uncertainties) for joint in found.joints],
            "all_go": found.all_go,
            "none_too_tight": found.none_too_tight,
            "by_fit": {
                name.value: {
                    "all_go": each.all_go,
                    "joints": [_chances_record(joint) for joint in each.joints],
                }
                for name, each in chances.by_fit.items()
            },
            "improve": [asdict(advice) for advice in found.advice],
        }
        say_record(record)
        return
    for joint in found.joints:
        tight, right, loose = (
            format_share(share, 1) for share in (joint.too_tight, joint.right, joint.too_loose)
        )
        say(f"{joint.joint:6}too tight {tight}   right {right}   too loose {loose}")
    count, fit = len(found.joints), project.fits.in_use.value
    say(f"all {count} right: {format_share(found.all_go, 1)} ({fit})")
    classes = (
        f"{name.value} {format_share(each.all_go, 1)}" for name, each in chances.by_fit.items()
    )
    say("; ".join(classes))
    say(advice_words(project, found))


COMMANDS = (test_piece_command, trial, forecast)


def _joint_record(joint: JointForecast, doubts: dict[str, Uncertainty]) -> dict[str, Any]:
    spread = joint.contact.uncertainty(doubts)
    expected = joint.contact.expected(doubts)
    low, high = joint.contact.limits
    return _chances_record(joint) | {
        "clearance": expected,
        "uncertainty": spread,
        "class": [low, high if high < 1e9 else None],
        "worst_case": joint.contact.worst_case(doubts),
        "root_sum_square": [expected - 2 * spread, expected + 2 * spread],
    }


def _chances_record(joint: JointForecast) -> dict[str, Any]:
    return {
        "joint": joint.joint,
        "too_tight": joint.too_tight,
        "right": joint.right,
        "too_loose": joint.too_loose,
    }


def _felt(result: str) -> list[tuple[str, Feel]]:
    """Typed `2.80=press, 2.85=snug` as numbers, not read yet, with what they felt."""
    felt = []
    for part in re.split(r"(?<=[^\d\s])\s*,", result):  # a comma inside 2,80 is a decimal one
        number, equals, feel = part.partition("=")
        if not equals or feel.strip() not in list(Feel):
            known = ", ".join(Feel)
            raise ParameterError(
                f"“{part.strip()}” is not NUMBER=FEEL.", hint=f"Feels are {known}.", field="result"
            )
        felt.append((re.sub(r"(?<=\d),(?=\d)", ".", number), Feel(feel.strip())))
    return felt


def _lesson_record(lesson: Lesson) -> dict[str, Any]:
    return {
        "intervals": {name.value: list(begins) for name, begins in lesson.begins.items()},
        "recommended_drawn_width": lesson.drawn,
        "drawn_width_uncertainty": lesson.drawn_uncertainty,
        "implied_clearance": lesson.clearance,
        "clearance_uncertainty": lesson.clearance_uncertainty,
        "offset": lesson.offset,
    }


def _lesson_words(made: Trial, lesson: Lesson) -> str:
    width, doubt, clearance, clearance_doubt = (
        format_length(value, 3)
        for value in (
            lesson.drawn, lesson.drawn_uncertainty, lesson.clearance, lesson.clearance_uncertainty
        )
    )  # fmt: skip
    return (
        f"draw {width} ± {doubt} {UNIT} for {made.fit.value}: "
        f"clearance {clearance} ± {clearance_doubt} {UNIT}"
    )
