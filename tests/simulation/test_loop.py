"""The whole loop against a hidden truth: kerf recovered, joints in their class."""

import numpy as np
import pytest

from anzel.app import practice_loop
from anzel.app.edits import test_piece_edits
from anzel.app.practice_loop import practice_copy, whole_loop
from anzel.core.findings import ParameterError
from anzel.materials.fits import FitName, FitRule, KerfAt
from anzel.materials.kerf import Caliper, kerf_from_disc, kerf_from_strips
from anzel.output.cut_file_reader import CutFile, CutPiece
from anzel.simulation.instruments import SimulatedCalipers
from anzel.simulation.practice import (
    HiddenTruth,
    assemble_structure,
    cut_structure,
    simulated_workshop,
)
from anzel.simulation.simulated_cutter import SimulatedCutter, cut
from anzel.simulation.simulated_sheet import SimulatedSheet
from anzel.structure.model import SheetSpec
from anzel.test_pieces.model import TestPieceKind, TestPieceRequest, TestPieceSettings
from anzel.test_pieces.registry import make_test_piece
from anzel.test_pieces.trial import FEEL_OF

SEEDS = 200
TRUTHS = 30


def measured(kind, seed):
    """(kerf found, its uncertainty, true kerf): one test piece cut and measured."""
    random = np.random.default_rng(seed)
    kerf, thickness = random.uniform(0.08, 0.45), random.uniform(0.8, 12)
    zero = random.uniform(-0.1, 0.1)
    settings = TestPieceSettings(kind=kind)
    rule = FitRule(0.05, 0.15, KerfAt.DRAWING)
    test_piece = make_test_piece(
        TestPieceRequest(settings, SheetSpec("ply", thickness, 0.15), rule)
    )
    file = CutFile(tuple(CutPiece("", p.name, p.region) for p in test_piece.pieces), {})
    pieces = cut(
        file, SimulatedCutter(kerf=kerf, seed=seed), SimulatedSheet(true_thickness=thickness)
    )
    calipers, known = SimulatedCalipers(0.01, zero), Caliper(resolution=0.01, zero_error=0.1)
    if kind is TestPieceKind.STRIPS:
        total = calipers.read(sum(piece.size[0] for piece in pieces))
        found = kerf_from_strips(test_piece.today, len(pieces), total, known)
    else:
        disc, hole = (piece.shape for piece in pieces)
        inside = hole.interiors[0].bounds
        sizes = (disc.bounds[2] - disc.bounds[0], inside[2] - inside[0])
        found = kerf_from_disc(
            test_piece.today, test_piece.today, *map(calipers.read, sizes), known
        )
    return found.kerf, found.uncertainty, kerf


@pytest.mark.parametrize("kind", [TestPieceKind.STRIPS, TestPieceKind.DISC])
def test_the_true_kerf_is_recovered_within_its_stated_uncertainty(kind):
    """95 % of 200 seeds within two standard uncertainties (k = 2, JCGM 100:2008, 6.2)."""
    runs = [measured(kind, seed) for seed in range(SEEDS)]
    inside = [abs(found - true) <= 2 * doubt for found, doubt, true in runs]
    assert sum(inside) >= 0.95 * SEEDS


def practised(project, seed, fit=FitName.SNUG):
    """The whole loop on a practice copy; (project, outcome)."""
    copy = practice_copy(project, seed)
    copy = copy.with_changes(fits=copy.fits.with_changes(in_use=fit))
    fine = test_piece_edits.change_test_piece(copy, TestPieceKind.COMB, step=0.02, count=15)
    return whole_loop(fine, fine.stocks[0].id)


@pytest.mark.slow
@pytest.mark.parametrize("first", [0, TRUTHS])
def test_the_closed_loop_ends_with_every_joint_in_its_class(project, first):
    """Measure, kerf, comb, take over, cut, assemble: 95 % of the hidden truths, all openings."""
    good = 0
    for seed in range(first, first + TRUTHS):
        _, outcome = practised(project, seed)
        good += all(row.feel is FEEL_OF[FitName.SNUG] for row in outcome.rows)
    assert good >= 0.95 * TRUTHS


def test_without_the_loop_the_label_would_have_ruined_them(project):
    """The same truths, cut by nominal thickness and usual kerf: the check above can fail."""
    good = 0
    for seed in range(40):
        _, outcome = practice_loop.cut_all(practice_copy(project, seed), "birch-3")
        good += all(row.feel is FEEL_OF[FitName.SNUG] for row in outcome.rows)
    assert good < 10


@pytest.mark.slow
@pytest.mark.parametrize("fit", [FitName.PRESS, FitName.SLIDE])
def test_the_loop_finds_other_classes_too(project, fit):
    good = 0
    for seed in range(12):
        _, outcome = practised(project, seed, fit)
        good += all(row.feel is FEEL_OF[fit] for row in outcome.rows)
    assert good >= 10


def test_the_project_learns_what_was_hidden(project):
    learnt, outcome = practised(project, 5)
    shop = simulated_workshop(learnt, HiddenTruth(seed=5))
    for stock in learnt.stocks:
        assert stock.measured_thickness == pytest.approx(
            shop.sheets[stock.id].true_thickness, abs=0.05
        )
        assert learnt.kerf_in(stock.id).kerf == pytest.approx(shop.kerfs[stock.id], abs=0.02)
    assert [trial.stock_id for trial in learnt.trials] == ["birch-3", "birch-6"]
    assert len(outcome.pieces) == 3
    assert "truly" in practice_loop.truth_words(learnt)


def test_every_opening_of_every_joint_is_measured_on_the_produced_pieces(project):
    """With the truth as the project thinks it is, every clearance is the class's, to a micron."""
    copy = project.with_changes(practice_seed=1)
    shop = simulated_workshop(copy, HiddenTruth(seed=1, spread=0, wobble=0, caliper_zero=0))
    for stock in project.stocks:
        exact = SimulatedSheet(true_thickness=stock.measured_thickness)
        shop.sheets[stock.id], shop.kerfs[stock.id] = exact, project.kerf_in(stock.id).kerf
    joints = assemble_structure(shop, project, cut_structure(shop, project))
    assert len(joints) == 2 + 8
    assert [met.clearance for met, _ in joints] == pytest.approx([0.05] * 10, abs=1e-6)


def test_a_project_that_is_not_for_practice_is_left_alone(project):
    with pytest.raises(ParameterError, match="not for practice"):
        practice_loop.measure_sheet(project, "birch-3")
    with pytest.raises(ParameterError, match="No comb"):
        practice_loop.take_comb(practice_copy(project, 1), "birch-3")


def test_a_practice_copy_forgets_all_that_was_learnt(project):
    copy = practice_copy(project, 3)
    assert copy.name == "Practice: Herb-pot stand"
    assert not any(stock.is_measured for stock in copy.stocks)
    assert copy.cutter.kerfs == ()
    assert practice_copy(copy, 4).name == copy.name
