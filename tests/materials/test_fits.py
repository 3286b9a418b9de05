"""Fit arithmetic, against the trade's handbook and ISO 286-2."""

from math import degrees, pi, radians

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely import affinity

from anzel.materials.fits import (
    FitName,
    FitRule,
    Fits,
    KerfAt,
    Term,
    clearance_limits,
    crossing_terms,
)

on_the_line = st.builds(FitRule, st.floats(-0.3, 0.5), st.floats(0, 0.6), st.just(KerfAt.DRAWING))
any_rule = st.builds(FitRule, st.floats(-0.3, 0.5), st.floats(0, 0.6), st.sampled_from(KerfAt))
thickness = st.floats(0.5, 20)


def width(measured, clearance, kerf, kerf_at=KerfAt.DRAWING):
    """The drawn width of a slot for a sheet."""
    return FitRule(clearance, kerf, kerf_at).opening(Term("sheet", measured)).drawn


def test_drawn_a_tenth_thinner():
    """Handbook: t 3.00, k 0.15, c +0.05 → 2.90; common practice, no source: "draw the
    thickness 0.1 mm thinner than it is and nine times out of ten it fits"."""
    assert width(3.00, 0.05, 0.15) == pytest.approx(2.90)


def test_the_shop_sheet_of_the_demo():
    assert width(2.94, 0.05, 0.16) == pytest.approx(2.83)
    assert width(2.94, 0.05, 0.16, KerfAt.CUTTER) == pytest.approx(2.99)


def test_a_sheet_of_0_117_in_drawn_at_0_116_in():
    """Common practice, no source: snug. So clearance less kerf is a thousandth of an inch."""
    assert width(0.117 * 25.4, 0.1, 0.1254) == pytest.approx(0.116 * 25.4)


def test_iso_286_2_limits_of_25_h7_g6():
    """ISO 286-2 (from memory): hole +0.021/0, shaft -0.007/-0.020 → clearance 0.007 to 0.041."""
    hole, shaft = (25.000, 25.021), (24.980, 24.993)
    assert clearance_limits(hole, shaft) == pytest.approx((0.007, 0.041))


def test_iso_286_2_limits_of_a_press_fit_25_h7_p6():
    """ISO 286-2 (from memory): shaft p6 +0.035/+0.022 → always interference, 0.001 to 0.035."""
    assert clearance_limits((25.0, 25.021), (25.022, 25.035)) == pytest.approx((-0.035, -0.001))


@given(any_rule, thickness)
def test_an_opening_comes_out_as_large_as_the_sheet_plus_the_clearance(rule, measured):
    size = rule.opening(Term("sheet", measured))
    assert size.produced == pytest.approx(measured + rule.clearance)
    assert size.drawn == pytest.approx(sum(term.value for term in size.terms))


@given(any_rule, thickness)
def test_kerf_is_taken_care_of_exactly_once(rule, measured):
    """Handbook, 3: produced minus drawn is +k for openings, -k outside, 0 for steps."""
    kerf = rule.kerf if rule.kerf_at is KerfAt.DRAWING else 0
    opening, tab = rule.opening(Term("sheet", measured)), rule.outside(Term("tab", measured))
    step = rule.step(Term("sheet", measured))
    assert opening.produced - opening.drawn == pytest.approx(kerf)
    assert tab.produced - tab.drawn == pytest.approx(-kerf)
    assert step.produced == step.drawn == measured


@given(any_rule, st.floats(2, 60))
def test_a_tab_in_its_mortise_has_the_clearance(rule, wanted):
    """Handbook, 3: produced clearance = (l_m + k) - (w_t - k) when cut on the line."""
    mortise, tab = rule.opening(Term("tab", wanted)), rule.outside(Term("tab", wanted))
    kerf = rule.drawn_kerf
    assert (mortise.drawn + kerf) - (tab.drawn - kerf) == pytest.approx(rule.clearance)


@given(on_the_line, thickness)
def test_both_ways_of_minding_the_kerf_produce_the_same(rule, measured):
    other = FitRule(rule.clearance, rule.kerf, KerfAt.CUTTER)
    sheet = Term("sheet", measured)
    assert rule.opening(sheet).produced == pytest.approx(other.opening(sheet).produced)


@pytest.mark.parametrize(
    ("angle", "expected"), [(90, 4.000), (75, 4.945), (60, 6.351), (45, 8.657), (30, 13.196)]
)
def test_handbook_table_of_crossing_widths(angle, expected):
    """Handbook, crossing at an angle: own sheet 3, mating sheet 4, clearance and kerf 0."""
    terms = crossing_terms(4.0, 3.0, radians(angle))
    assert sum(term.value for term in terms) == pytest.approx(expected, abs=5e-4)


@given(mate=thickness, own=thickness, angle=st.floats(20, 160))
def test_crossing_width_is_the_strip_that_bounds_one_slab_inside_the_other(mate, own, angle):
    """Seen along the crossing line both sheets are slabs; shapely meets them."""
    theta = radians(angle)
    far = 40 * (mate + own)
    level = shapely.box(-far, -own / 2, far, own / 2)
    leaning = affinity.rotate(shapely.box(-far, -mate / 2, far, mate / 2), degrees(theta), (0, 0))
    left, _, right, _ = level.intersection(leaning).bounds
    terms = crossing_terms(mate, own, theta)
    assert sum(term.value for term in terms) == pytest.approx(right - left, rel=1e-9)


def test_at_a_right_angle_only_the_mating_sheet_counts():
    assert [term.value for term in crossing_terms(2.94, 5.86, pi / 2)] == [2.94]


def test_crossing_is_the_same_from_either_side():
    acute, obtuse = crossing_terms(3, 4, radians(50)), crossing_terms(3, 4, radians(130))
    assert sum(t.value for t in acute) == pytest.approx(sum(t.value for t in obtuse))


def test_fit_classes_run_from_tight_to_loose():
    clearances = [Fits().clearance_of(name) for name in FitName]
    assert clearances == sorted(clearances)
    assert Fits(in_use=FitName.LOOSE).clearance == 0.30
