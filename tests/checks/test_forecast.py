"""Forecasts, against simulated structures and the normal distribution."""

from math import sqrt

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from anzel.app.edits import (
    cutter_edits,
    free_structure_edits,
    joint_edits,
    project_edits,
    stock_edits,
)
from anzel.app.views.forecast_summary import advice_words, best_advice, summary_of
from anzel.checks.forecast import Contact, contacts_of, forecast
from anzel.materials.fits import FitName
from anzel.materials.uncertainty import Uncertainty, class_limits, uncertainty_of
from anzel.project.derive import forecast_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.structure.model import FeatureKind

RUNS = 100_000


def simulated(project, seed=20):
    """(too tight, right, too loose) by joint, and all right: RUNS whole structures, drawn.

    Each structure has one kerf and one mean a stock; every opening its own place on the sheet.
    Angles are square in the demos, so an opening takes just the mating sheet.
    """
    random = np.random.default_rng(seed)
    doubts = {s.id: uncertainty_of(s, project.kerf_in(s.id)) for s in project.stocks_in_use}
    kerf = {s: d.kerf_uncertainty * random.standard_normal(RUNS) for s, d in doubts.items()}
    mean = {s: d.mean_uncertainty * random.standard_normal(RUNS) for s, d in doubts.items()}
    stock_of = {piece.name: piece.stock_id for piece in solved_structure_of(project).pieces}
    low, high = class_limits(project.fits, project.fits.in_use)
    found, everything = {}, np.ones(RUNS, dtype=bool)
    for joint in solved_structure_of(project).joints:
        tight, right = np.zeros(RUNS, dtype=bool), np.ones(RUNS, dtype=bool)
        for feature in joint.features:
            own, mate = stock_of[feature.piece], stock_of[feature.mate]
            if feature.kind is FeatureKind.TAB:
                continue
            place = doubts[mate].place_to_place * random.standard_normal(RUNS)
            wanted = project.clearance_in(own)
            clearances = [wanted + kerf[own] - mean[mate] - place]
            if feature.kind is FeatureKind.MORTISE:
                clearances.append(wanted + kerf[own] + kerf[mate])
            for clearance in clearances:
                shift = wanted - project.fits.clearance
                tight |= clearance < low + shift
                right &= (clearance >= low + shift) & (clearance < high + shift)
        found[joint.id] = (tight.mean(), right.mean(), (~right & ~tight).mean())
        everything &= right
    return found, everything.mean()


def assert_agrees(chance, frequency):
    """Within three standard errors of a frequency among RUNS."""
    __tracebackhide__ = True
    error = sqrt(max(chance * (1 - chance), 1 / RUNS) / RUNS)
    assert abs(chance - frequency) <= 3 * error, (chance, frequency)


@pytest.mark.parametrize("fit", FitName)
def test_chances_agree_with_100_000_simulated_structures(project, fit):
    chosen = project_edits.choose_fit(project, fit)
    found, (joints, everything) = forecast_of(chosen), simulated(chosen)
    for joint in found.joints:
        chances = (joint.too_tight, joint.right, joint.too_loose)
        for chance, frequency in zip(chances, joints[joint.joint], strict=True):
            assert_agrees(chance, frequency)
    assert_agrees(found.all_go, everything)


def test_a_wider_spread_agrees_as_well(project):
    wide = stock_edits.add_readings(project, "birch-3", [2.90, 2.99, 2.97])
    wide = cutter_edits.change_kerf_uncertainty(wide, "birch-6", 0.03)
    found, (_, everything) = forecast_of(wide), simulated(wide, seed=2)
    assert_agrees(found.all_go, everything)


def doubt(stock="ply", place=0.02, mean=0.01, kerf=0.015):
    """What is not known of a stock."""
    return Uncertainty(stock, place, mean, kerf, 0.0, 3.0, (2.95, 3.05))


@given(
    place=st.floats(0.001, 0.1), mean=st.floats(0, 0.05), kerf=st.floats(0, 0.05),
    clearance=st.floats(-0.1, 0.2), low=st.floats(-0.2, 0.0), wide=st.floats(0.05, 0.4),
)  # fmt: skip
@settings(max_examples=40)
def test_one_opening_is_the_normal_distribution(place, mean, kerf, clearance, low, wide):
    """C = c + Δk - Δt has variance u_k² + s² + s²/n; its chances follow (scipy)."""
    from anzel.checks.forecast import _Chances

    contact = Contact((("ply", 1.0),), (("ply", 1.0),), clearance, (low, low + wide))
    tight, right, loose = _Chances(
        {"J": (contact,)}, {"ply": doubt(place=place, mean=mean, kerf=kerf)}
    ).of("J")
    spread = stats.norm(clearance, sqrt(place**2 + mean**2 + kerf**2))
    assert tight == pytest.approx(spread.cdf(low), abs=2e-3)
    assert right == pytest.approx(spread.cdf(low + wide) - spread.cdf(low), abs=3e-3)
    assert tight + right + loose == pytest.approx(1)


def test_worst_case_and_root_sum_square_worked_by_hand():
    """ISO 286-1: kerf ± 2 u on the opening, thinnest and thickest reading on what goes in."""
    contact = Contact((("ply", 1.0),), (("ply", 1.0),), 0.05, (0.0, 0.1))
    doubts = {"ply": doubt()}
    assert contact.worst_case(doubts) == pytest.approx((0.05 - 0.03 - 0.05, 0.05 + 0.03 + 0.05))
    assert contact.uncertainty(doubts) == pytest.approx(sqrt(0.015**2 + 0.02**2 + 0.01**2))


def test_contacts_of_the_demo(project):
    """A crossing has an opening on each piece; a mortise takes the sheet, and along it the tab."""
    solved = solved_structure_of(project)
    stock_of = {piece.name: piece.stock_id for piece in solved.pieces}
    wanted = {(stock, None): (0.05, (0.0, 0.1)) for stock in ("birch-3", "birch-6")}
    crossing, seat = (contacts_of(joint, stock_of, wanted) for joint in solved.joints[:2])
    assert [c.kerfs for c in crossing] == [(("birch-3", 1.0),)] * 2
    assert [c.sheets for c in crossing] == [(("birch-3", 1.0),)] * 2
    assert {c.kerfs for c in seat if not c.sheets} == {(("birch-3", 1.0), ("birch-6", 1.0))}
    assert {c.sheets for c in seat if c.sheets} == {(("birch-3", 1.0),)}


def test_nothing_unknown_goes_for_certain(project):
    sure = [doubt(s.id, 0.0, 0.0, 0.0) for s in project.stocks]
    wanted = {(s.id, None): (0.05, (0.0, 0.1)) for s in project.stocks}
    found = forecast(solved_structure_of(project), sure, {s.id: 3 for s in project.stocks}, wanted)
    assert found.all_go == found.none_too_tight == 1.0
    assert best_advice(found) is None


def test_a_joint_with_a_fit_of_its_own_is_judged_by_that(project):
    """Drawn looser on purpose: wider by the difference, and as likely right for its own class."""
    own = project_edits.choose_joint_fit(project, "J1", FitName.LOOSE)
    before, after = (solved_structure_of(p).joints for p in (project, own))
    difference = project.fits.loose - project.fits.snug
    for one, other in zip(before[0].features, after[0].features, strict=True):
        assert other.width.drawn - one.width.drawn == pytest.approx(difference)
    assert [j.features for j in before[1:]] == [j.features for j in after[1:]]
    assert after[0].fit is FitName.LOOSE
    chance = {joint.joint: joint for joint in forecast_of(own).joints}["J1"]
    assert chance.contact.clearance == pytest.approx(project.fits.loose)
    assert chance.right > 0.99
    assert project_edits.choose_joint_fit(own, "J1", None) == project
    freed = free_structure_edits.make_free(own)
    assert joint_edits.joint_spec_of(freed, "J1").fit is FitName.LOOSE


def test_of_a_stack_every_layer_counts():
    project = project_of("spine-lamp", layers=3)
    solved = solved_structure_of(project)
    stock_of = {piece.name: piece.stock_id for piece in solved.pieces}
    wanted = {(stock, None): (0.05, (0.0, 0.1)) for stock in set(stock_of.values())}
    shares = {c.sheets for c in contacts_of(solved.joints[0], stock_of, wanted)}
    assert shares == {(("ply-3", 1.0),), (("ply-6", 3.0),)}


def test_the_advice_is_to_measure_what_is_known_least(project):
    """The kerf of the thick sheet was only typed; learning it helps, and then no more."""
    found = summary_of(project).now
    advice = best_advice(found)
    assert (advice.stock_id, advice.what) == ("birch-6", "kerf")
    assert "Kerf strips from Birch ply 6" in advice_words(project, found)
    better = cutter_edits.change_kerf_uncertainty(project, "birch-6", 0.0018)
    assert forecast_of(better).all_go == pytest.approx(advice.all_go, abs=0.01)


def test_an_unmeasured_sheet_wants_readings(project):
    bare = stock_edits.change_stock(project, "birch-3", readings=())
    advice = best_advice(forecast_of(bare))
    assert (advice.stock_id, advice.what) == ("birch-3", "readings")
    assert forecast_of(bare).all_go < 0.3


def test_looser_classes_forgive_more(project):
    chances = summary_of(project).by_fit
    all_go = [chances[name].all_go for name in (FitName.LOOSE, FitName.SLIDE, FitName.SNUG)]
    assert all_go == sorted(all_go, reverse=True)


def test_gum_example_of_combining_uncertainties():
    """JCGM 100:2008, H.1 (from memory): 25, 9.7, 2.9 and 16.6 nm combine to 32 nm."""
    parts = {"a": 25.0, "b": 9.7, "c": 2.9, "d": 16.6}
    contact = Contact(tuple((name, 1.0) for name in parts), (), 0.0, (-1.0, 1.0))
    doubts = {name: doubt(name, 0.0, 0.0, part) for name, part in parts.items()}
    assert contact.uncertainty(doubts) == pytest.approx(31.7, abs=0.05)
