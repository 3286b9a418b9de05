"""The status of each step of the work, in a few words."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum, auto

from anzel.app.navigation import Step
from anzel.core.findings import Finding, Severity
from anzel.core.number_format import format_length, format_share
from anzel.layout.layout import CLASH, TOO_LARGE, Layout
from anzel.materials.cutter import KerfSource
from anzel.project.assembly import known_assembly, summary
from anzel.project.derive import comb_widths_of, solved_structure_of
from anzel.project.inspection import findings_of
from anzel.project.model import Project

_FEW_READINGS = 3
Layouts = Sequence[Layout] | None


class StepState(Enum):
    """How a step stands."""

    OPEN = auto()
    SETTLED = auto()
    PROBLEM = auto()


@dataclass(frozen=True)
class StepStatus:
    """A step's state, and the words for it."""

    words: str
    state: StepState = StepState.OPEN


def status_of(project: Project, step: Step, layouts: Layouts) -> StepStatus:
    """Return the status of one step; `layouts` is None while they are computed."""
    if step is Step.SHEETS:
        return _sheets(layouts)
    return {
        Step.STOCK: _stock, Step.CUTTER: _cutter, Step.TEST: _test, Step.BUILD: _build,
        Step.FORECAST: _forecast, Step.ASSEMBLE: _assemble, Step.PRACTICE: _practice,
    }[step](project)  # fmt: skip


def findings_before_cutting(project: Project, layouts: Layouts) -> tuple[Finding, ...]:
    """Return the findings that matter before cutting."""
    assembly = known_assembly(project)
    locked = assembly.findings if assembly is not None else ()
    found = (*findings_of(project, layouts or ()), *locked)
    return tuple(f for f in found if f.severity is not Severity.NOTE)


def _stock(project: Project) -> StepStatus:
    used = project.stocks_in_use
    measured = sum(stock.is_measured for stock in used)
    words = f"{measured} of {len(used)} measured"
    return StepStatus(words, _settled(measured == len(used)))


def _cutter(project: Project) -> StepStatus:
    if project.contradicts_cutter:
        words = "kerf counted twice" if project.cutter.offsets_path else "kerf minded by nobody"
        return StepStatus(words, StepState.PROBLEM)
    used = project.stocks_in_use
    known = [project.kerf_in(s.id).learnt is not KerfSource.ASSUMED for s in used]
    words = f"kerf known in {sum(known)} of {len(used)}"
    return StepStatus(words, _settled(all(known)))


def _test(project: Project) -> StepStatus:
    used = {stock.id for stock in project.stocks_in_use}
    tried = [trial for trial in project.trials if trial.stock_id in used]
    if tried:
        return StepStatus(f"tried {tried[-1].date}", StepState.SETTLED)
    widths = comb_widths_of(project, project.stocks_in_use[0].id)
    return StepStatus(f"comb {format_length(widths[0])} … {format_length(widths[-1])}")


def _forecast(project: Project) -> StepStatus:
    """Return what the forecast will rest on; chances are only computed when they are looked at."""
    few = [stock for stock in project.stocks_in_use if len(stock.readings) < _FEW_READINGS]
    if few:
        return StepStatus("rests on few readings", StepState.PROBLEM)
    return StepStatus(f"for {project.fits.in_use.value}", StepState.SETTLED)


def _assemble(project: Project) -> StepStatus:
    """Return what the proof came to; it is found aside, not when it is asked for."""
    found = known_assembly(project)
    if found is None:
        return StepStatus("not proved yet")
    return StepStatus(summary(found.proof), _settled(found.proof.ok and found.keeps_wishes))


def _practice(project: Project) -> StepStatus:
    return StepStatus("no machine needed")


def _build(project: Project) -> StepStatus:
    solved = solved_structure_of(project)
    words = f"{_count(solved.pieces, 'piece')}, {_count(solved.joints, 'joint')}"
    troubled = any(f.severity is not Severity.NOTE for f in solved.findings)
    return StepStatus(words, _settled(not troubled))


def _settled(is_settled: bool) -> StepState:
    return StepState.SETTLED if is_settled else StepState.PROBLEM


def _count(things: Sequence[object], name: str) -> str:
    return f"{len(things)} {name}{'s' * (len(things) != 1)}"


def _sheets(layouts: Layouts) -> StepStatus:
    if layouts is None:
        return StepStatus("laying …")
    plans = [plan for layout in layouts for plan in layout.plans]
    left_out = [f for layout in layouts for f in layout.findings if f.code == TOO_LARGE]
    if left_out:
        words = "1 piece too large" if len(left_out) == 1 else f"{len(left_out)} pieces too large"
        return StepStatus(words, StepState.PROBLEM)
    if any(f.code == CLASH for layout in layouts for f in layout.findings):
        return StepStatus("pieces clash", StepState.PROBLEM)
    if not plans:
        return StepStatus("nothing in this job")
    plural = "s" if len(plans) != 1 else ""
    used = sum(plan.utilisation for plan in plans) / len(plans)
    return StepStatus(f"{len(plans)} sheet{plural}, {format_share(used)} used", StepState.SETTLED)
