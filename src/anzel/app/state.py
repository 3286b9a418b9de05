"""Where each step of the work stands, in a few words."""

from dataclasses import dataclass

from anzel.app.session import Step
from anzel.findings import Finding, Severity
from anzel.gauges.comb import label
from anzel.project.derive import build_of, comb_widths_of, findings_of, layout_of
from anzel.project.model import Project


@dataclass(frozen=True)
class StepState:
    """A step's state: words, and whether it is settled or troubled."""

    words: str
    settled: bool
    troubled: bool = False


def state_of(project: Project, step: Step) -> StepState:
    """The state of one step."""
    return {
        Step.STOCK: _stock, Step.TEST: _test, Step.BUILD: _build, Step.SHEETS: _sheets,
    }[step](project)  # fmt: skip


def warnings_of(project: Project) -> tuple[Finding, ...]:
    """The findings that matter before cutting."""
    return tuple(f for f in findings_of(project) if f.severity is not Severity.NOTE)


def _stock(project: Project) -> StepState:
    used = project.stocks_in_use
    measured = sum(stock.is_measured for stock in used)
    words = f"{measured} of {len(used)} measured"
    return StepState(words, measured == len(used), measured < len(used))


def _test(project: Project) -> StepState:
    used = {stock.id for stock in project.stocks_in_use}
    tried = [trial for trial in project.trials if trial.stock_id in used]
    if tried:
        return StepState(f"tried {tried[-1].date}", settled=True)
    widths = comb_widths_of(project, project.stocks_in_use[0].id)
    return StepState(f"comb {label(widths[0])} … {label(widths[-1])}", settled=False)


def _build(project: Project) -> StepState:
    build = build_of(project)
    words = f"{len(build.pieces)} pieces, {len(build.joints)} joints"
    return StepState(words, not build.findings, bool(build.findings))


def _sheets(project: Project) -> StepState:
    layouts = [layout_of(project, stock.id) for stock in project.stocks_in_use]
    plans = [plan for layout in layouts for plan in layout.plans]
    left_out = [finding for layout in layouts for finding in layout.findings]
    if left_out:
        words = "1 piece too large" if len(left_out) == 1 else f"{len(left_out)} pieces too large"
        return StepState(words, settled=False, troubled=True)
    plural = "s" if len(plans) != 1 else ""
    used = sum(plan.utilisation for plan in plans) / len(plans)
    return StepState(f"{len(plans)} sheet{plural}, {used:.0%} used", settled=True)
