"""The crossed stand as a whole."""

from math import pi

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.common import assert_sound, interferences, sheets
from tests.told import refused

from anzel.core.findings import ParameterError
from anzel.geometry.segments import Arc
from anzel.materials.fits import KerfAt
from anzel.structure.forms.crossed_stand import CrossedStand
from anzel.structure.forms.field_ranges import out_of_range
from anzel.structure.forms.solved_form import solve_form
from anzel.structure.model import FeatureKind

STAND = CrossedStand(upright_stock="thin", top_stock="thick")


def test_the_herb_stand_has_its_three_pieces_and_joints():
    made = solve_form(STAND, sheets())
    assert [piece.name for piece in made.pieces] == ["Upright A", "Upright B", "Top"]
    assert [joint.id for joint in made.joints] == ["J1", "J2", "J3"]
    counts = [[f.kind.value for f in piece.features] for piece in made.pieces]
    assert counts == [["slot", "tab", "tab"], ["slot", "tab", "tab"], ["mortise"] * 4]
    assert made.findings == ()


def test_every_joint_leaves_its_features_on_both_pieces():
    for joint in solve_form(STAND, sheets()).joints:
        first, second = (joint.features_on(name) for name in joint.pieces)
        assert first
        assert len(first) == len(second)


def test_overall_sizes_are_the_makers():
    made = solve_form(STAND, sheets())
    left, low, right, high = made.piece("Upright A").region.bounds
    assert (right - left, high - low) == pytest.approx((150, 110))
    assert made.piece("Top").region.outer.is_circle
    assert made.piece("Top").region.area == pytest.approx(
        pi * 60**2 - sum(f.width.drawn * f.depth.drawn for f in made.piece("Top").features)
    )


def test_feet_are_curved_and_stay_arcs():
    outline = solve_form(STAND, sheets()).piece("Upright A").region.outer
    arcs = [s for s in outline.segments if isinstance(s, Arc)]
    assert len(arcs) == 5  # two toes, two flanks, one arch
    assert outline.bounds[1] == 0


def test_an_upright_slotted_from_above_still_stands_on_an_arch():
    """The other is slotted from below, so its arch is in two arcs of one circle."""
    outline = solve_form(STAND, sheets()).piece("Upright B").region.outer
    arcs = [s for s in outline.segments if isinstance(s, Arc)]
    assert len(arcs) == 6
    centres = [arc.centre for arc in arcs]
    assert len(set(centres)) == 5


def test_crossing_depths_add_up_to_the_overlap():
    made = solve_form(STAND.with_changes(relief=0), sheets())
    depths = [f.depth.drawn for p in made.pieces for f in p.features if f.kind is FeatureKind.SLOT]
    assert sum(depths) == pytest.approx(110 - 5.86 - 34)


@pytest.mark.parametrize("kerf_at", KerfAt)
@pytest.mark.parametrize(("clearance", "goes"), [(0.05, True), (0.0, True), (-0.05, False)])
def test_produced_solids_overlap_only_when_clearance_is_negative(clearance, goes, kerf_at):
    of = sheets(clearance=clearance, kerf_at=kerf_at)
    for found in interferences(solve_form(STAND, of), of):
        assert (found.volume < 0.001) is goes


@given(
    height=st.floats(60, 300), span=st.floats(60, 400), top=st.floats(60, 300),
    arch=st.floats(0, 60), width=st.floats(4, 30), pairs=st.integers(1, 3),
    split=st.floats(0.2, 0.8), thin=st.floats(0.8, 6), thick=st.floats(0.8, 9),
    kerf=st.floats(0, 0.4), clearance=st.floats(0, 0.3),
)  # fmt: skip
def test_any_stand_is_refused_in_words_or_goes_together(
    height, span, top, arch, width, pairs, split, thin, thick, kerf, clearance
):
    of = sheets(thin, thick, kerf=kerf, clearance=clearance)
    stand = STAND.with_changes(
        height=height, foot_span=span, top_diameter=top, arch=arch, tab_width=width,
        tab_count=2 * pairs, split=split,
    )  # fmt: skip
    try:
        made = solve_form(stand, of)
    except ParameterError as error:
        assert error.field
        assert error.hint or "nothing is possible" in error.message
        return
    for piece in made.pieces:
        assert_sound(piece.region)
    assert all(found.volume < 0.001 for found in interferences(made, of))


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"foot_span": 900}, "foot_span"),
        ({"foot_span": 10}, "foot_span"),
        ({"height": 20}, "height"),
        ({"top_diameter": 10}, "top_diameter"),
        ({"tab_width": 40}, "tab_width"),
        ({"tab_count": 8}, "tab_width"),
        ({"arch": 100}, "arch"),
    ],
)
def test_what_the_other_sizes_do_not_allow_is_named_with_its_range(change, field):
    wrong = out_of_range(STAND.with_changes(**change), sheets())
    assert field == next(iter(wrong)) == wrong[field].field


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"tab_count": 3}, "must be a multiple of 2"),
        ({"split": 0.95}, "must be at most 0.8"),
        ({"relief": -1}, "must be at least 0"),
        ({"height": "tall"}, "must be a number"),
    ],
)
def test_values_that_can_never_be_are_refused_when_set(change, words):
    with refused(ParameterError, match=words):
        STAND.with_changes(**change)


@pytest.mark.parametrize("field", ["foot_span", "arch", "tab_width", "height", "top_diameter"])
def test_both_ends_of_every_offered_range_can_be_made(field):
    low, high = STAND.ranges(sheets())[field]
    for value in (low, min(high, 400)):
        stand = STAND.with_changes(**{field: value})
        try:
            solve_form(stand, sheets())
        except ParameterError as error:
            assert error.field != field, error


def test_dimension_lines_measure_what_they_name():
    for dimension in STAND.dimensions(sheets()):
        (x0, y0), (x1, y1) = dimension.start, dimension.end
        size = ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5
        assert size == pytest.approx(getattr(STAND, dimension.field))


def test_uprights_and_top_may_be_of_one_stock():
    one = STAND.with_changes(top_stock="thin")
    assert {piece.stock_id for piece in solve_form(one, sheets()).pieces} == {"thin"}
