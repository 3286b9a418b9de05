"""The comb test piece."""

from itertools import pairwise

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.common import assert_sound

from anzel.core.findings import ParameterError
from anzel.materials.fits import FitRule, KerfAt
from anzel.structure.model import SheetSpec
from anzel.test_pieces.model import TestPieceKind, TestPieceRequest, TestPieceSettings
from anzel.test_pieces.registry import make_test_piece

SHEET = SheetSpec("ply", 2.94, 0.16)
RULE = FitRule(0.05, 0.16, KerfAt.DRAWING)


def made(**wanted):
    """A comb for the demo's thin sheet."""
    return make_test_piece(request(**wanted))


def request(sheet=SHEET, rule=RULE, *, inches=False, **wanted):
    """What a comb is made from."""
    return TestPieceRequest(
        TestPieceSettings(kind=TestPieceKind.COMB, **wanted), sheet, rule, inches
    )


def widths(**wanted):
    """The drawn widths of a comb."""
    return tuple(step.value for step in made(**wanted).steps)


def test_slots_are_stepped_round_todays_drawn_width():
    assert made().today == pytest.approx(2.83)
    assert widths() == (2.68, 2.73, 2.78, 2.83, 2.88, 2.93, 2.98)


def test_start_step_and_count_are_the_makers():
    assert widths(start=2.7, step=0.125, count=3) == (2.7, 2.825, 2.95)


def test_three_slots_five_thousandths_of_an_inch_apart():
    """Common practice, no source: the least that anyone cuts."""
    assert widths(step=0.127, count=3) == (2.703, 2.83, 2.957)


def test_the_cut_slots_have_the_engraved_widths():
    test_piece = made()
    body = test_piece.pieces[0].region
    spans = body.spans((0.0, 20.0), (1.0, 0.0))  # through all slots, above the floors
    gaps = [b[0] - a[1] for a, b in pairwise(spans)]
    assert gaps == pytest.approx([step.value for step in test_piece.steps])


def test_labels_stay_on_the_kept_part_and_apart_from_each_other():
    test_piece = made(count=12)
    body = test_piece.pieces[0]
    ink = shapely.MultiLineString(list(body.name_strokes))
    assert body.region.shape.buffer(-1.0).contains(ink)
    columns = [f.at[0] for f in body.features]
    near = [
        min(range(len(columns)), key=lambda i, x=stroke[0][0]: abs(columns[i] - x))
        for stroke in body.name_strokes
    ]
    assert near == sorted(near)
    assert set(near) == set(range(12))


@pytest.mark.parametrize(("width", "text"), [(2.7, "2.70"), (2.83, "2.83"), (2.825, "2.825")])
def test_a_label_says_all_of_the_width(width, text):
    assert request().label(width) == text


def test_the_tongue_is_of_the_same_sheet_and_goes_to_the_floor():
    body, tongue = made().pieces
    assert tongue.stock_id == body.stock_id == "ply"
    left, low, right, high = tongue.region.bounds
    assert min(right - left, high - low) > body.features[0].depth.drawn


def test_outline_is_sound_with_rounded_corners():
    for piece in made(count=25).pieces:
        assert_sound(piece.region)


@given(
    measured=st.floats(0.5, 12), kerf=st.floats(0, 0.4), clearance=st.floats(-0.2, 0.4),
    step=st.floats(0.005, 0.3), count=st.integers(3, 25),
)  # fmt: skip
@settings(max_examples=40)
def test_any_comb_is_sound(measured, kerf, clearance, step, count):
    rule = FitRule(clearance, kerf, KerfAt.DRAWING)
    test_piece = make_test_piece(
        request(SheetSpec("ply", measured, kerf), rule, step=step, count=count)
    )
    assert_sound(test_piece.pieces[0].region)
    assert all(each.value == round(each.value, 3) for each in test_piece.steps)
    assert len(test_piece.pieces[0].features) == count


@pytest.mark.parametrize(("wanted", "field"), [({"count": 2}, "count"), ({"start": -1}, "start")])
def test_a_comb_that_cannot_be_names_the_setting(wanted, field):
    with pytest.raises(ParameterError) as caught:
        made(**wanted)
    assert caught.value.field == field


def test_a_comb_wider_than_its_sheet_is_thick_starts_at_a_step():
    assert widths(step=1.5, count=3) == (1.5, 3.0, 4.5)


def test_in_inches_the_engraved_number_is_the_whole_truth():
    """2.83 mm is 0.1114 in; steps of two thousandths round 0.111 in."""
    steps = make_test_piece(request(inches=True, count=3)).steps
    assert [step.label for step in steps] == ["0.109", "0.111", "0.113"]
    assert [step.value / 25.4 for step in steps] == pytest.approx([0.109, 0.111, 0.113])
