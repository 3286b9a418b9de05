"""What to know of a found drawing before its pieces are cut: repairs, and what is left out."""

from collections.abc import Iterator, Mapping
from dataclasses import replace

from anzel.core.findings import Finding, Severity
from anzel.core.wording import counted
from anzel.drawings.text_strokes import TEXT
from anzel.refit.analysis import DrawingAnalysis
from anzel.refit.refit import Refit
from anzel.refit.refitted_regions import drawn_regions
from anzel.refit.report import refit_findings
from anzel.structure.forms.drawn_lines import drawn_on, line_groups
from anzel.structure.line_work import LineWish
from anzel.structure.model import LEFT_OUT

_WRITE_BACK = "The drawing written back as a file keeps them."


def drawing_findings(
    name: str, wishes: Mapping[str, LineWish], refit: Refit
) -> Iterator[Finding]:  # fmt: skip
    """Yield findings on a drawing by its name, with what its lines become by label."""
    analysis = refit.analysis
    for repair in analysis.assembled.repairs:
        yield Finding("found-drawing", Severity.NOTE, name, repair.description)
    for each in refit_findings(refit):
        if each.severity is Severity.PROBLEM:
            hint = "Hold it as drawn, or draw it anew."
            yield replace(each, where=f"{name}: {each.where}", hint=hint)
    yield from _undecided(name, wishes, analysis)
    _, beside = drawn_on(analysis, dict(wishes), (0.0, 0.0), drawn_regions(analysis))
    if beside:
        message = f"{counted(beside, 'line')} on no piece: on no sheet and in no cut file."
        yield Finding(LEFT_OUT, Severity.WARNING, name, message, _WRITE_BACK)
    if left_out := _left_out(analysis):
        message = f"on no sheet and in no cut file: {left_out}."
        yield Finding(LEFT_OUT, Severity.WARNING, name, message, _WRITE_BACK)


def _undecided(
    name: str, wishes: Mapping[str, LineWish], analysis: DrawingAnalysis
) -> Iterator[Finding]:  # fmt: skip
    """Yield a finding for the lines of each label of which it has to be asked what they are."""
    for group in line_groups(analysis, dict(wishes)):
        if group.wish is None:
            message = (
                f"{counted(group.count, 'line')} like “{group.label.strip('/')}”: on no sheet and "
                "in no cut file until you say what they are."
            )
            hint = "Cut, score, engrave, or leave them out."
            yield Finding(LEFT_OUT, Severity.WARNING, name, message, hint)


def _left_out(analysis: DrawingAnalysis) -> str:
    """Return what a drawing holds beside lines and texts, which are lines here, in words."""
    is_read = any(path.label.endswith(f"/{TEXT}") for path in analysis.drawing.asides)
    taken = ("hidden", TEXT) if is_read else ("hidden",)
    return ", ".join(
        f"{each.count} × {each.what}" for each in analysis.drawing.ignored if each.what not in taken
    )
