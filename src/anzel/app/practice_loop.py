"""The practice bench: each stage of the loop as work on a practice project.

A practice project is a copy whose sheets are unmeasured and whose kerfs are unlearnt; the truth is
hidden in its seed. Every stage returns the next project and an outcome to look at. The project
changes through the same edits as by hand.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date

import shapely

from anzel.app.edits import cutter_edits, project_edits, stock_edits, test_piece_edits
from anzel.core.findings import ParameterError
from anzel.core.number_format import format_length
from anzel.materials.cutter import KerfSource
from anzel.materials.kerf import Caliper, kerf_from_disc
from anzel.project.derive import derived_test_piece, pieces_of
from anzel.project.model import Project
from anzel.simulation.practice import (
    HiddenTruth,
    SimulatedWorkshop,
    as_believed,
    assemble_structure,
    cut_structure,
    cut_test_piece,
    feel_comb,
    measure,
    measure_disc,
    simulated_workshop,
)
from anzel.simulation.simulated_cutter import ProducedPiece
from anzel.simulation.trial_assembly import LocatedPiece, MeasuredFit
from anzel.test_pieces.model import TestPieceKind
from anzel.test_pieces.trial import FEEL_OF, Feel

READINGS = 5
_LABEL = "Practice: "


@dataclass(frozen=True)
class OpeningOutcome:
    """One produced opening: its label, its clearance in mm, and how it felt."""

    label: str
    clearance: float
    feel: Feel


@dataclass(frozen=True)
class StageOutcome:
    """The outcome of a stage: words, produced pieces with their stock, and what was felt."""

    words: str
    pieces: tuple[tuple[str, shapely.Polygon], ...] = ()
    rows: tuple[OpeningOutcome, ...] = ()


Stage = Callable[[Project, str], tuple[Project, StageOutcome]]


def practice_copy(project: Project, seed: int) -> Project:
    """Return a copy to practise on: nothing measured or learnt, the truth hidden by a seed."""
    stocks = tuple(
        stock.with_changes(readings=(), struck=(), fit_shift=0.0) for stock in project.stocks
    )
    cutters = tuple(cutter.with_changes(kerfs=()) for cutter in project.cutters)
    name = f"{_LABEL}{project.name.removeprefix(_LABEL)}"[:80]
    return project.with_changes(
        name=name, stocks=stocks, cutters=cutters, trials=(), in_hand=(), practice_seed=seed
    )


def measure_sheet(project: Project, stock_id: str) -> tuple[Project, StageOutcome]:
    """Return the project with a few readings of the simulated sheet, by the simulated calipers."""
    shop, stock = _shop(project), project.stock(stock_id)
    readings = measure(shop, stock, READINGS, job=len(stock.readings))
    shown = ", ".join(format_length(reading) for reading in readings)
    changed = stock_edits.add_readings(project, stock_id, readings)
    return changed, StageOutcome(f"{stock.name} measures {shown}.")


def learn_kerf(project: Project, stock_id: str) -> tuple[Project, StageOutcome]:
    """Return the project with the kerf learnt from a disc and its hole, cut and measured."""
    shop = _shop(project)
    pieces = cut_test_piece(shop, project, stock_id, TestPieceKind.DISC, _jobs(project))
    outside, inside = measure_disc(shop, pieces)
    drawn = derived_test_piece(project, stock_id, TestPieceKind.DISC).today
    found = kerf_from_disc(drawn, drawn, outside, inside, Caliper())
    changed = cutter_edits.take_kerf(project, stock_id, found, KerfSource.DISC)
    words = (
        f"Disc {format_length(outside)}, hole {format_length(inside)}: kerf "
        f"{format_length(found.kerf, 3)} ± {format_length(found.uncertainty, 3)}."
    )
    return changed, StageOutcome(words, _shapes(stock_id, pieces))


def try_comb(project: Project, stock_id: str) -> tuple[Project, StageOutcome]:
    """Return the project with a comb cut and felt, not yet taken over."""
    shop = _shop(project)
    pieces = cut_test_piece(shop, project, stock_id, TestPieceKind.COMB, _jobs(project))
    felt = feel_comb(shop, project, stock_id, pieces)
    changed = test_piece_edits.restart_trial(project, stock_id, TestPieceKind.COMB)
    for slot in felt:
        changed = test_piece_edits.feel_step(
            changed, stock_id, TestPieceKind.COMB, slot.drawn, slot.feel
        )
    rows = tuple(
        OpeningOutcome(f"{format_length(slot.drawn)}", slot.clearance, slot.feel) for slot in felt
    )
    words = "The comb is cut and felt. Take over what it teaches, here or in its own step."
    return changed, StageOutcome(words, _shapes(stock_id, pieces), rows)


def take_comb(project: Project, stock_id: str) -> tuple[Project, StageOutcome]:
    """Return the project with the lesson of the comb in hand taken over.

    Raises ParameterError where there is none.
    """
    hand = test_piece_edits.trial_in_hand(project, stock_id, TestPieceKind.COMB)
    if hand is None:
        raise ParameterError("No comb has been felt yet.", hint="Cut and feel one first.")
    taken = test_piece_edits.take_trial(project, hand.with_changes(date=date.today().isoformat()))
    lesson = test_piece_edits.lesson_of(hand)
    words = f"{hand.fit.value} is drawn {format_length(lesson.drawn)} from now on."
    return project_edits.checked(taken), StageOutcome(words)


def cut_all(project: Project, stock_id: str) -> tuple[Project, StageOutcome]:
    """Return the unchanged project with the outcome of cutting and assembling the structure."""
    shop = _shop(project)
    pieces = cut_structure(shop, project, _jobs(project) + 1)
    return project, outcome_of(project, pieces, assemble_structure(shop, project, pieces))


def job_handed_over(project: Project, stock_id: str) -> tuple[Project, StageOutcome]:
    """Return the project with the job as the simulated cutter leaves it, every joint assembled.

    A practice project has its hidden truth; otherwise everything is as measured and learnt, without
    noise.
    """
    shop = as_believed(project) if project.practice_seed is None else _shop(project)
    pieces = cut_structure(shop, project)
    return project, outcome_of(project, pieces, assemble_structure(shop, project, pieces))


def outcome_of(
    project: Project, pieces: dict[str, LocatedPiece], joints: Sequence[tuple[MeasuredFit, Feel]]
) -> StageOutcome:
    """Return produced pieces with the measured fits of every joint, in words and as rows."""
    rows = tuple(
        OpeningOutcome(f"{m.joint} {m.piece}, {m.what}", m.clearance, f) for m, f in joints
    )
    wanted = FEEL_OF[project.fits.in_use]
    right = sum(row.feel is wanted for row in rows)
    words = f"{right} of {len(rows)} openings came out {project.fits.in_use.value}."
    stock_of = {piece.name: piece.stock_id for piece in pieces_of(project)}
    shapes = tuple((stock_of[name], each.produced.shape) for name, each in pieces.items())
    return StageOutcome(words, shapes, rows)


def whole_loop(project: Project, stock_id: str) -> tuple[Project, StageOutcome]:
    """Return the project after all stages.

    Measure, learn the kerf, try a comb in every sheet, cut all.
    """
    for stock in project.stocks_in_use:
        for stage in (measure_sheet, learn_kerf, try_comb, take_comb):
            project, _ = stage(project, stock.id)
    return cut_all(project, stock_id)


def truth_words(project: Project) -> str:
    """Return what was hidden, beside what was found out."""
    shop = _shop(project)
    lines = []
    for stock in project.stocks_in_use:
        sheet, kerf = shop.sheets[stock.id], project.kerf_in(stock.id)
        lines.append(
            f"{stock.name}: truly {format_length(sheet.true_thickness, 3)} thick, you have "
            f"{format_length(stock.measured_thickness, 3)}; the beam truly takes "
            f"{format_length(shop.kerfs[stock.id], 3)}, you have {format_length(kerf.kerf, 3)}."
        )
    return "\n".join(lines)


def _shop(project: Project) -> SimulatedWorkshop:
    if project.practice_seed is None:
        raise ParameterError(
            "This project is not for practice.", hint="Set up a practice copy of it first."
        )
    return simulated_workshop(project, HiddenTruth(seed=project.practice_seed))


def _jobs(project: Project) -> int:
    """Return a number that differs from job to job, so that the beam wobbles anew."""
    readings = sum(len(stock.readings) for stock in project.stocks)
    return readings + 100 * len(project.trials)


def _shapes(
    stock_id: str, pieces: dict[str, ProducedPiece]
) -> tuple[tuple[str, shapely.Polygon], ...]:
    return tuple((stock_id, piece.shape) for piece in pieces.values())
