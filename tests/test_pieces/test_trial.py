"""What combs teach, against hands that are known."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.common import assert_close
from tests.told import refused

from anzel.app.edits import project_edits, stock_edits, test_piece_edits
from anzel.core.findings import ParameterError
from anzel.materials.fits import FitName, FitRule, KerfAt
from anzel.project import derive
from anzel.project.derive import todays_slot
from anzel.test_pieces.model import ClearanceScale, TestPieceKind
from anzel.test_pieces.trial import Feel, Trial, contradictions, kerf_from_comb, learn

WORKED = [
    (2.75, Feel.WONT), (2.80, Feel.PRESS), (2.85, Feel.SNUG), (2.90, Feel.SLIDES),
    (2.95, Feel.LOOSE),
]  # fmt: skip


def trial(felt, fit=FitName.SNUG, thickness=2.94, kerf=0.16, kerf_at=KerfAt.DRAWING, **more):
    """A comb of a sheet, tried."""
    drawn_kerf = FitRule(0.0, kerf, kerf_at).drawn_kerf
    return Trial(
        date="2026-01-01", stock_id="ply", felt=tuple(felt), fit=fit,
        base=drawn_kerf - thickness, measured_thickness=thickness, kerf=kerf, kerf_at=kerf_at,
        **more,
    )  # fmt: skip


def test_a_comb_worked_by_hand():
    """2.85 felt snug: offset 2.85 - 2.94 = c - k = -0.09, so c = 0.07 with k = 0.16."""
    lesson = learn(trial(WORKED))
    assert lesson.drawn == pytest.approx(2.85)
    assert lesson.offset == pytest.approx(-0.09)
    assert lesson.clearance == pytest.approx(0.07)
    assert lesson.begins[FitName.SNUG] == (2.80, 2.85)
    assert lesson.begins[FitName.PRESS] == (2.75, 2.80)


def test_several_slots_of_one_feel_give_their_middle():
    felt = [(2.80, Feel.PRESS), (2.84, Feel.SNUG), (2.88, Feel.SNUG), (2.92, Feel.SLIDES)]
    assert learn(trial(felt)).drawn == pytest.approx(2.86)


def test_a_class_between_two_slots_is_taken_between_them():
    felt = [(2.80, Feel.PRESS), (2.90, Feel.SLIDES)]
    assert learn(trial(felt)).drawn == pytest.approx(2.85)


@pytest.mark.parametrize(("feel", "side"), [(Feel.WONT, "more"), (Feel.LOOSE, "less")])
def test_a_comb_that_misses_the_class_asks_for_another(feel, side):
    with pytest.raises(ParameterError, match="No step felt snug") as caught:
        learn(trial([(2.8, feel), (2.9, feel)]))
    assert side in caught.value.hint


def test_a_wider_slot_that_felt_tighter_is_pointed_at():
    felt = [(2.80, Feel.SNUG), (2.85, Feel.PRESS)]
    assert contradictions(felt, ClearanceScale(1.0, -2.78)) == ((felt[0], felt[1]),)
    with refused(ParameterError, match=r"2.85 felt press, but 2.8, which is narrower"):
        learn(trial(felt))


@given(
    thickness=st.floats(0.8, 12), kerf=st.floats(0.05, 0.45), step=st.floats(0.01, 0.05),
    kerf_at=st.sampled_from(KerfAt),
)  # fmt: skip
def test_a_known_hand_is_learnt_within_a_step(thickness, kerf, step, kerf_at):
    """The hand feels snug for produced clearances of 0 to 0.10; so 0.05 is to be learnt."""
    rule = FitRule(0.0, kerf, kerf_at)

    def feel(drawn):
        clearance = drawn + rule.drawn_kerf - thickness
        limits = ((-0.10, Feel.WONT), (0.0, Feel.PRESS), (0.10, Feel.SNUG), (0.2, Feel.SLIDES))
        return next((name for limit, name in limits if clearance < limit), Feel.LOOSE)

    start = thickness - rule.drawn_kerf - 0.2
    felt = [(start + i * step, feel(start + i * step)) for i in range(round(0.5 / step))]
    made = trial(felt, thickness=thickness, kerf=kerf, kerf_at=kerf_at)
    assert learn(made).clearance == pytest.approx(0.05, abs=step)


def test_a_trial_taken_over_is_kept_and_moves_the_slots_of_its_sheet(project):
    made = test_piece_edits.trial_of(project, "birch-3", WORKED)
    taken = project_edits.checked(test_piece_edits.take_trial(project, made))
    assert taken.trials == (*project.trials, made)
    assert taken.clearance_in("birch-3") == pytest.approx(0.07)
    assert taken.clearance_in("birch-6") == 0.05
    assert_close((todays_slot(taken, "birch-3").drawn,), (2.85,))


def test_the_uncertainty_of_a_comb_worked_by_hand():
    """Both ends of snug lie anywhere in 0.05: each 0.05/√12, their middle half of √2 times that;
    with 0.006 for the sheet and 0.012 for the kerf by root-sum-square."""
    lesson = learn(trial(WORKED, thickness_uncertainty=0.006, kerf_uncertainty=0.012))
    assert lesson.drawn_uncertainty == pytest.approx(0.05 / 12**0.5 / 2**0.5)
    expected = (lesson.drawn_uncertainty**2 + 0.006**2 + 0.012**2) ** 0.5
    assert lesson.clearance_uncertainty == pytest.approx(expected)


def test_a_comb_tells_the_kerf_where_the_clearance_is_known():
    """k = t + c - w = 2.94 + 0.05 - 2.85."""
    found = kerf_from_comb(trial(WORKED, thickness_uncertainty=0.006), 0.05, 0.02)
    assert found.kerf == pytest.approx(0.14)
    assert found.uncertainty == pytest.approx((0.006**2 + 0.02**2 + 0.05**2 / 24) ** 0.5)


@pytest.mark.parametrize("more", [{"kerf_at": KerfAt.CUTTER}, {"kind": TestPieceKind.WINDOWS}])
def test_only_a_comb_cut_on_the_line_tells_the_kerf(more):
    with pytest.raises(ParameterError, match="Only a comb cut on the line"):
        kerf_from_comb(trial(WORKED, **more), 0.05, 0.02)


@pytest.mark.parametrize(
    "kind", [TestPieceKind.WINDOWS, TestPieceKind.MORTISE, TestPieceKind.INLAY]
)
def test_what_other_pieces_teach_is_what_is_drawn_afterwards(project, kind):
    """The step that felt snug becomes today's number, whatever number that is."""
    steps = derive.derived_test_piece(project, "birch-3", kind).steps
    looser_last = sorted(steps, key=lambda step: step.clearance)
    feels = (Feel.PRESS, Feel.PRESS, Feel.PRESS, Feel.SNUG, Feel.SLIDES)
    felt = [(step.value, feel) for step, feel in zip(looser_last, feels, strict=True)]
    taken = test_piece_edits.take_trial(
        project, test_piece_edits.trial_of(project, "birch-3", felt, kind=kind)
    )
    today = derive.derived_test_piece(taken, "birch-3", kind).today
    assert today == pytest.approx(looser_last[3].value, abs=1e-4)


def test_what_was_felt_follows_what_is_measured_meanwhile(project):
    """More readings move the clearance a comb implies, not the width that felt right."""
    felt = project
    for drawn, feel in WORKED:
        felt = test_piece_edits.feel_step(felt, "birch-3", TestPieceKind.COMB, drawn, feel)
    felt = stock_edits.add_readings(felt, "birch-3", [3.02, 3.02])
    taken = test_piece_edits.take_trial(
        felt, test_piece_edits.trial_in_hand(felt, "birch-3", TestPieceKind.COMB)
    )
    assert todays_slot(taken, "birch-3").drawn == pytest.approx(2.85, abs=1e-4)
    assert taken.in_hand == ()
