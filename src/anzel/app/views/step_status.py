"""Where each step of the work stands, in a few words."""

from collections.abc import Sequence
from dataclasses import dataclass

from anzel.app.session import Step
from anzel.core.findings import Finding, Severity
from anzel.layout.layout import CLASH, TOO_LARGE, Layout
from anzel.materials.cutter import KerfSource
from anzel.project.derive import build_of, comb_widths_of
from anzel.project.inspection import findings_of
from anzel.project.model import Project

_FEW_READINGS = 3
Layouts = Sequence[Layout] | None


@dataclass(frozen=True)
class StepState:
    """A step's state: words, and whether it is settled or troubled."""

    words: str
    settled: bool
    troubled: bool = False


def state_of(project: Project, step: Step, layouts: Layouts) -> StepState:
    """The state of one step; `layouts` None while they are worked out."""
    if step is Step.SHEETS:
        return _sheets(layouts)
    return {
        Step.STOCK: _stock, Step.CUTTER: _cutter, Step.TEST: _test, Step.BUILD: _build,
        Step.FORECAST: _forecast, Step.PRACTICE: _practice,
    }[step](project)  # fmt: skip


def warnings_of(project: Project, layouts: Layouts) -> tuple[Finding, ...]:
    """The findings that matter before cutting."""
    found = findings_of(project, layouts or ())
    return tuple(f for f in found if f.severity is not Severity.NOTE)


def _stock(project: Project) -> StepState:
    used = project.stocks_in_use
    measured = sum(stock.is_measured for stock in used)
    words = f"{measured} of {len(used)} measured"
    return StepState(words, measured == len(used), measured < len(used))


def _cutter(project: Project) -> StepState:
    if project.contradicts_cutter:
        words = "kerf counted twice" if project.cutter.offsets_path else "kerf minded by nobody"
        return StepState(words, settled=False, troubled=True)
    used = project.stocks_in_use
    known = [project.kerf_in(s.id).learnt is not KerfSource.ASSUMED for s in used]
    words = f"kerf known in {sum(known)} of {len(used)}"
    return StepState(words, all(known), not all(known))


def _test(project: Project) -> StepState:
    used = {stock.id for stock in project.stocks_in_use}
    tried = [trial for trial in project.trials if trial.stock_id in used]
    if tried:
        return StepState(f"tried {tried[-1].date}", settled=True)
    widths = comb_widths_of(project, project.stocks_in_use[0].id)
    return StepState(f"comb {widths[0]:.2f} … {widths[-1]:.2f}", settled=False)


def _forecast(project: Project) -> StepState:
    """Worked out only when looked at; here just what it will rest on."""
    few = [stock for stock in project.stocks_in_use if len(stock.readings) < _FEW_READINGS]
    if few:
        return StepState("rests on few readings", settled=False, troubled=True)
    return StepState(f"for {project.fits.in_use.value}", settled=True)


def _practice(project: Project) -> StepState:
    return StepState("no machine needed", settled=False)


def _build(project: Project) -> StepState:
    build = build_of(project)
    words = f"{_count(build.pieces, 'piece')}, {_count(build.joints, 'joint')}"
    troubled = any(f.severity is not Severity.NOTE for f in build.findings)
    return StepState(words, not troubled, troubled)


def _count(things: Sequence[object], name: str) -> str:
    return f"{len(things)} {name}{'s' * (len(things) != 1)}"


def _sheets(layouts: Layouts) -> StepState:
    if layouts is None:
        return StepState("laying …", settled=False)
    plans = [plan for layout in layouts for plan in layout.plans]
    left_out = [f for layout in layouts for f in layout.findings if f.code == TOO_LARGE]
    if left_out:
        words = "1 piece too large" if len(left_out) == 1 else f"{len(left_out)} pieces too large"
        return StepState(words, settled=False, troubled=True)
    if any(f.code == CLASH for layout in layouts for f in layout.findings):
        return StepState("pieces clash", settled=False, troubled=True)
    if not plans:
        return StepState("nothing in this job", settled=False)
    plural = "s" if len(plans) != 1 else ""
    used = sum(plan.utilisation for plan in plans) / len(plans)
    return StepState(f"{len(plans)} sheet{plural}, {used:.0%} used", settled=True)
