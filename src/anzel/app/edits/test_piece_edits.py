"""Edits of test pieces: how they are made, what was felt, what is taken over.

Each is a function from one Project to the next and raises ParameterError naming the field at fault.
"""

from collections.abc import Sequence
from datetime import date
from typing import Any

from anzel.app.edits import stock_edits
from anzel.app.edits.project_edits import choose_fit, typed_length
from anzel.core.findings import ParameterError
from anzel.core.number_format import format_measure
from anzel.core.units import MILLIMETRES_PER_INCH
from anzel.project.derive import derived_test_piece
from anzel.project.model import Project
from anzel.test_pieces.model import TestPieceKind
from anzel.test_pieces.trial import Feel, Felt, Lesson, Trial, learn


def change_test_piece(project: Project, kind: TestPieceKind, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with another start, step or count of one kind of test piece.

    Raises ParameterError if none could be made.
    """
    plans = project.test_pieces
    changed = plans.settings(kind).with_changes(**changes)
    others = tuple(each for each in plans.kinds if each.kind is not kind)
    made = project.with_changes(test_pieces=plans.with_changes(kinds=(*others, changed)))
    derived_test_piece(made, project.stocks_in_use[0].id, kind)
    return made


def type_steps(project: Project, kind: TestPieceKind, text: str) -> Project:
    """Return the project with the steps of a test piece typed one by one; nothing evens them again.

    Raises ParameterError for what is no list of numbers.
    """
    parts = text.split(";") if ";" in text else text.split()
    steps = tuple(typed_length(part, "steps") for part in parts if part.strip())
    return change_test_piece(project, kind, steps=steps)


def change_test_pieces(project: Project, **changes: Any) -> Project:  # noqa: ANN401
    """Return the project with another scrap or unit of all test pieces."""
    return project.with_changes(test_pieces=project.test_pieces.with_changes(**changes))


def trial_of(
    project: Project,
    stock_id: str,
    felt: Sequence[Felt],
    fit: str | None = None,
    kind: TestPieceKind = TestPieceKind.COMB,
) -> Trial:
    """Return a trial made today with a stock as it is now, for a fit class (the one in use)."""
    name = choose_fit(project, fit).fits.in_use if fit is not None else project.fits.in_use
    stock, kerf = project.stock(stock_id), project.kerf_in(stock_id)
    scale, said = derived_test_piece(project, stock_id, kind).scale, stock.statistics
    assert scale is not None  # only what is felt is tried
    return Trial(
        date=date.today().isoformat(), stock_id=stock.id, cutter=project.cutter.name, kind=kind,
        felt=tuple(felt), fit=name, slope=scale.slope, base=scale.base,
        measured_thickness=stock.measured_thickness,
        thickness_uncertainty=(said.standard_uncertainty if said else None) or 0.0,
        kerf=kerf.kerf, kerf_uncertainty=kerf.uncertainty, kerf_at=project.kerf_at,
    )  # fmt: skip


_FURTHEST_CLEARANCE = 2.0
"""No step of a test piece is further from its mate than this, mm."""


def typed_step(project: Project, stock_id: str, kind: TestPieceKind, text: str) -> float:
    """Return a step's typed number in mm.

    A bare number is in inches if the test piece is engraved so, or if it can only be meant so.
    Raises ParameterError for a number that no step of such a test piece could have.
    """
    value = typed_length(text, "result")
    scale = derived_test_piece(project, stock_id, kind).scale
    if scale is None:
        return value
    readings = [value]
    if not any(sign.isalpha() or sign in '"″' for sign in text):
        inches = value * MILLIMETRES_PER_INCH
        readings = [inches] if project.engraves_inches else [value, inches]
    for reading in readings:
        if abs(scale.clearance(reading)) <= _FURTHEST_CLEARANCE:
            return reading
    raise ParameterError(
        f"“{text.strip()}” is the number of no step of this test piece: it would leave "
        f"{format_measure(scale.clearance(readings[0]))}.",
        hint="Type the number that is engraved beside the step, with its unit.", field="result",
    )  # fmt: skip


def feel_step(
    project: Project, stock_id: str, kind: TestPieceKind, drawn: float, feel: Feel
) -> Project:
    """Return the project with how one step of the test piece in hand felt."""
    hand = trial_in_hand(project, stock_id, kind)
    before = hand.felt if hand is not None else ()
    felt = sorted([(d, f) for d, f in before if d != drawn] + [(drawn, feel)])
    trial = trial_of(project, stock_id, felt, None, kind)
    return project.with_changes(in_hand=(*_others_in_hand(project, stock_id, kind), trial))


def trial_in_hand(project: Project, stock_id: str, kind: TestPieceKind) -> Trial | None:
    """Return the trial under way, with the stock, kerf and fit class as they are now.

    None if there is none.
    """
    for trial in project.in_hand:
        if (trial.stock_id, trial.kind) == (stock_id, kind):
            now = trial_of(project, stock_id, trial.felt, None, kind)
            return now.with_changes(date=trial.date)
    return None


def restart_trial(project: Project, stock_id: str, kind: TestPieceKind) -> Project:
    """Return the project without what was felt so far, because a new piece is tried."""
    return project.with_changes(in_hand=_others_in_hand(project, stock_id, kind))


def lesson_of(trial: Trial) -> Lesson:
    """Return what a trial taught.

    Raises ParameterError for one that contradicts itself.
    """
    return learn(trial)


def take_trial(project: Project, trial: Trial) -> Project:
    """Return the project with the trial kept and the fits of its stock shifted.

    Its class then has the learnt clearance.
    """
    house = project.fits.clearance_of(trial.fit)
    shift = round(lesson_of(trial).clearance - house, 4)
    kept = project.with_changes(
        trials=(*project.trials, trial),
        in_hand=_others_in_hand(project, trial.stock_id, trial.kind),
    )
    return stock_edits.change_stock(kept, trial.stock_id, fit_shift=shift)


def _others_in_hand(project: Project, stock_id: str, kind: TestPieceKind) -> tuple[Trial, ...]:
    return tuple(t for t in project.in_hand if (t.stock_id, t.kind) != (stock_id, kind))
