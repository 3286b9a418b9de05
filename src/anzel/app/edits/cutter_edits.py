"""Edits of the cutters and their kerfs."""

from datetime import date
from typing import Any

from anzel.core.findings import ParameterError
from anzel.materials.cutter import Cutter, Kerf, KerfSource
from anzel.materials.kerf import LearntKerf
from anzel.project.model import Project


def change_cutter(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with some fields of the cutter in use changed."""
    return _with_cutter(project, project.cutter.with_changes(**changes))


def change_kerf(project: Project, stock_id: str, kerf: float) -> Project:
    """Return the project with a typed kerf of the cutter in use in one stock, mm."""
    known = project.kerf_in(project.stock(stock_id).id)
    if known.learnt is KerfSource.ASSUMED:
        known = Kerf(stock_id=stock_id, kerf=known.kerf)
    typed = {"kerf": kerf, "learnt": KerfSource.TYPED, "date": ""}
    if known.learnt is not KerfSource.TYPED:
        typed["uncertainty"] = Kerf.model_fields["uncertainty"].default
    return _with_cutter(project, project.cutter.with_kerf(known.with_changes(**typed)))


def change_kerf_uncertainty(project: Project, stock_id: str, uncertainty: float) -> Project:
    """Return the project with another uncertainty of the kerf in one stock, mm."""
    known = project.kerf_in(stock_id)
    learnt = KerfSource.TYPED if known.learnt is KerfSource.ASSUMED else known.learnt
    changed = known.with_changes(uncertainty=uncertainty, learnt=learnt)
    return _with_cutter(project, project.cutter.with_kerf(changed))


def take_kerf(project: Project, stock_id: str, learnt: LearntKerf, source: KerfSource) -> Project:
    """Return the project with a kerf learnt today from a test piece, with its uncertainty.

    Raises ParameterError for a kerf too large to be one.
    """
    kerf = Kerf.validated(
        stock_id=project.stock(stock_id).id, kerf=round(max(learnt.kerf, 0.0), 4),
        uncertainty=round(learnt.uncertainty, 5), learnt=source, date=date.today().isoformat(),
    )  # fmt: skip
    return _with_cutter(project, project.cutter.with_kerf(kerf))


def forget_kerf(project: Project, stock_id: str) -> Project:
    """Return the project with the assumed kerf in one stock, as if nothing had been learnt."""
    kerfs = tuple(each for each in project.cutter.kerfs if each.stock_id != stock_id)
    return change_cutter(project, kerfs=kerfs)


def choose_cutter(project: Project, cutter_id: str) -> Project:
    """Return the project with another cutter in use.

    Raises ParameterError listing the known cutters.
    """
    if cutter_id not in [cutter.id for cutter in project.cutters]:
        known = ", ".join(cutter.id for cutter in project.cutters)
        raise ParameterError(f"There is no cutter “{cutter_id}”.", hint=f"There are: {known}.")
    return project.with_changes(cutter_in_use=cutter_id)


def add_cutter(project: Project) -> Project:
    """Return the project with another cutter in use that has learnt nothing yet."""
    taken = {cutter.id for cutter in project.cutters}
    number = next(n for n in range(1, len(taken) + 2) if f"cutter-{n}" not in taken)
    fresh = Cutter(id=f"cutter-{number}", name=f"Cutter {number}")
    return project.with_changes(cutters=(*project.cutters, fresh), cutter_in_use=fresh.id)


def remove_cutter(project: Project) -> Project:
    """Return the project without the cutter in use.

    Raises ParameterError for the last one.
    """
    left = tuple(c for c in project.cutters if c.id != project.cutter_in_use)
    if not left:
        raise ParameterError("This is the only cutter.", hint="Change it, or add another first.")
    return project.with_changes(cutters=left, cutter_in_use=left[0].id)


def _with_cutter(project: Project, changed: Cutter) -> Project:
    cutters = tuple(changed if c.id == changed.id else c for c in project.cutters)
    return project.with_changes(cutters=cutters)
