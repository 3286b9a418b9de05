"""Templates for a knife: true sizes, because a blade along the line takes nothing away."""

from anzel.core.number_format import MILLIMETRES, NumberFormat, Unit, plain_measure
from anzel.materials.cutter import Kerf
from anzel.output.pages import Page
from anzel.project.model import Project


def for_knife(project: Project) -> Project:
    """Return a project as it is cut by hand along its lines: nothing has a kerf."""
    kerfs = tuple(Kerf(stock_id=stock.id, kerf=0.0) for stock in project.stocks)
    cutters = tuple(
        each.with_changes(kerfs=kerfs, offsets_path=False) if each.id == project.cutter.id else each
        for each in project.cutters
    )
    return project.with_changes(cutters=cutters)


def meant_for(page: Page, *, metric: bool = True) -> str:
    """Return in words what a page's lines are for: a knife, or a cutter with its kerf."""
    facts = dict(page.metadata)
    kerf = float(facts.get("kerf", 0.0))
    if kerf == 0 or facts.get("kerf-at") in ("cutter", "nowhere"):
        return "true sizes: cut along the lines with a knife"
    numbers = MILLIMETRES if metric else NumberFormat(Unit.INCHES)
    return numbers.write(f"lines for a kerf of {plain_measure(kerf)}: not for a knife")
