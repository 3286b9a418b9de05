"""What combs teach, against hands that are known."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.common import assert_close

from anzel.app import edits
from anzel.findings import ParameterError
from anzel.stock.fits import FitName, FitRule, KerfAt
from anzel.stock.trial import Feel, contradictions, learn

RULE = FitRule(0.0, 0.16, KerfAt.DRAWING)
WORKED = [
    (2.75, Feel.WONT), (2.80, Feel.PRESS), (2.85, Feel.SNUG), (2.90, Feel.SLIDES),
    (2.95, Feel.LOOSE),
]  # fmt: skip


def test_a_comb_worked_by_hand():
    """2.85 felt snug: offset 2.85 - 2.94 = c - k = -0.09, so c = 0.07 with k = 0.16."""
    lesson = learn(WORKED, FitName.SNUG, 2.94, RULE)
    assert lesson.drawn_width == pytest.approx(2.85)
    assert lesson.offset == pytest.approx(-0.09)
    assert lesson.clearance == pytest.approx(0.07)
    assert lesson.begins[FitName.SNUG] == (2.80, 2.85)
    assert lesson.begins[FitName.PRESS] == (2.75, 2.80)


def test_several_slots_of_one_feel_give_their_middle():
    felt = [(2.80, Feel.PRESS), (2.84, Feel.SNUG), (2.88, Feel.SNUG), (2.92, Feel.SLIDES)]
    assert learn(felt, FitName.SNUG, 2.94, RULE).drawn_width == pytest.approx(2.86)


def test_a_class_between_two_slots_is_taken_between_them():
    felt = [(2.80, Feel.PRESS), (2.90, Feel.SLIDES)]
    assert learn(felt, FitName.SNUG, 2.94, RULE).drawn_width == pytest.approx(2.85)


@pytest.mark.parametrize(("feel", "side"), [(Feel.WONT, "wider"), (Feel.LOOSE, "narrower")])
def test_a_comb_that_misses_the_class_asks_for_another(feel, side):
    with pytest.raises(ParameterError, match="No slot felt snug") as caught:
        learn([(2.8, feel), (2.9, feel)], FitName.SNUG, 2.94, RULE)
    assert side in caught.value.mend


def test_a_wider_slot_that_felt_tighter_is_pointed_at():
    felt = [(2.80, Feel.SNUG), (2.85, Feel.PRESS)]
    assert contradictions(felt) == ((felt[0], felt[1]),)
    with pytest.raises(ParameterError, match=r"2.85 felt press, but the narrower 2.8 felt snug"):
        learn(felt, FitName.SNUG, 2.94, RULE)


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
    assert learn(felt, FitName.SNUG, thickness, rule).clearance == pytest.approx(0.05, abs=step)


def test_a_trial_taken_over_is_kept_and_moves_the_slots(project):
    trial = edits.trial_of(project, "birch-3", WORKED, None)
    taken = edits.take_trial(project, trial)
    assert taken.trials == (trial,)
    assert taken.fits.snug == pytest.approx(0.07)
    slot = edits.checked(taken)
    from anzel.project.derive import today_of

    assert_close((today_of(slot, "birch-3").drawn,), (2.85,))
