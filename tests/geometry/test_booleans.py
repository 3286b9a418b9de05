"""Cuts and additions keep exact curves."""

from math import asin, hypot, pi, sin

import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st
from tests.common import assert_sound, blob, kinds, rectangle

from anzel.geometry.booleans import combine
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import RigidTransform
from anzel.geometry.segments import Arc, Cubic, Line

DISC = Region.of(Contour.circle((0.0, 0.0), 50.0))


def only(parts):
    """The one part there is."""
    (part,) = parts
    assert_sound(part)
    return part


def test_nothing_to_do_gives_the_region_itself():
    assert combine(DISC) == (DISC,)


def test_a_slot_leaves_one_arc_with_its_centre():
    cut = only(combine(DISC, cut=[rectangle(4, 62, -2, -2)]))
    assert sorted(kinds(cut.outer.segments)) == ["Arc", "Line", "Line", "Line"]
    (arc,) = (s for s in cut.outer.segments if isinstance(s, Arc))
    assert arc.centre == (0.0, 0.0)
    for x, y in (arc.start, arc.end):
        assert abs(x) == 2.0
        assert y == pytest.approx((50**2 - 2**2) ** 0.5, abs=1e-12)


def test_a_window_becomes_a_hole_with_the_same_digits():
    window = rectangle(10, 6, -5.123456789, 7.987654321)
    cut = only(combine(DISC, cut=[window]))
    assert cut.outer is DISC.outer
    assert cut.holes == (window.reversed(),)


def test_touching_windows_become_one_hole():
    cut = only(combine(DISC, cut=[rectangle(10, 6), rectangle(10, 6, 5, 0)]))
    assert len(cut.holes) == 1
    assert cut.area == pytest.approx(DISC.area - 15 * 6)


def test_a_circle_cut_as_a_hole_stays_a_circle():
    plate = Region.of(rectangle(100, 100, -50, -50))
    cut = only(combine(plate, cut=[Contour.circle((0.0, 0.0), 20.0)]))
    assert cut.holes[0].is_circle


def test_overlapping_circles_keep_both_centres():
    plate = Region.of(rectangle(100, 100, -50, -50))
    pair = [Contour.circle((-10.0, 0.0), 20.0), Contour.circle((10.0, 0.0), 20.0)]
    hole = only(combine(plate, cut=pair)).holes[0]
    assert kinds(hole.segments) == ["Arc", "Arc"]
    assert {s.centre for s in hole.segments} == {(-10.0, 0.0), (10.0, 0.0)}
    for segment in hole.segments:
        assert segment.start[0] == pytest.approx(0.0, abs=1e-9)
        assert abs(segment.start[1]) == pytest.approx(300**0.5, abs=1e-9)


def test_untouched_cubics_keep_their_control_points_to_the_last_digit():
    before = blob()
    cut = only(combine(Region.of(before), cut=[rectangle(4, 8, 18, -2)]))
    (curve,) = (s for s in cut.outer.segments if isinstance(s, Cubic))
    (original,) = (s for s in before.segments if isinstance(s, Cubic))
    assert curve == original


def test_a_cut_cubic_is_the_same_curve_in_parts():
    region = Region.of(blob())
    cut = only(combine(region, cut=[rectangle(4, 30, 18, 10)]))
    curves = [s for s in cut.outer.segments if isinstance(s, Cubic)]
    assert len(curves) == 2
    assert {round(p[0], 9) for c in curves for p in (c.start, c.end)} == {40.0, 22.0, 18.0, 0.0}


def test_a_tab_joins_without_leaving_its_foot():
    plate = Region.of(rectangle(60, 40))
    joined = only(combine(plate, add=[rectangle(14, 9, 20, 37)]))
    assert len(joined.outer.segments) == 8
    assert joined.area == pytest.approx(60 * 40 + 14 * 6)


def test_a_plate_cut_in_two_comes_back_as_two_largest_first():
    left, right = combine(Region.of(rectangle(100, 10)), cut=[rectangle(5, 20, 30, -5)])
    assert left.area == pytest.approx(650)
    assert right.area == pytest.approx(300)


def test_a_plate_cut_away_leaves_nothing():
    assert combine(DISC, cut=[rectangle(200, 200, -100, -100)]) == ()


def test_a_slot_ending_exactly_on_a_corner_is_clean():
    plate = Region.of(rectangle(60, 40))
    cut = only(combine(plate, cut=[rectangle(10, 10, 0, 30)]))
    assert len(cut.outer.segments) == 6
    assert cut.area == pytest.approx(2300)


@given(
    angle=st.floats(0, 360), width=st.floats(0.5, 20), depth=st.floats(1, 45),
    count=st.integers(1, 5),
)  # fmt: skip
def test_radial_slots_in_a_disc_at_any_angle(angle, width, depth, count):
    """Area of each cut by integrating the disc over the slot's width."""
    tools = [
        rectangle(width, 80, -width / 2, 50 - depth).moved(
            RigidTransform.rotation(angle + i * 360 / count)
        )
        for i in range(count)
    ]
    assume(count == 1 or (50 - depth) * sin(pi / count) >= width)  # neighbours stay apart
    assume(hypot(width / 2, 50 - depth) < 50)  # the floor lies in the disc from end to end
    cut = only(combine(DISC, cut=tools))
    assert kinds(cut.outer.segments).count("Arc") == count
    assert all(s.centre == (0.0, 0.0) for s in cut.outer.segments if isinstance(s, Arc))
    half = width / 2
    cap = half * (2500 - half**2) ** 0.5 + 2500 * asin(half / 50)
    assert DISC.area - cut.area == pytest.approx(count * (cap - width * (50 - depth)), rel=1e-9)


@given(
    st.lists(
        st.tuples(st.floats(-40, 40), st.floats(-40, 40), st.floats(1, 30), st.floats(1, 30)),
        min_size=1, max_size=5,
    ),
    st.floats(0, 90),
)  # fmt: skip
def test_any_cuts_agree_with_shapely_and_stay_on_the_circle(boxes, turn):
    tools = [rectangle(w, h, x, y).moved(RigidTransform.rotation(turn)) for x, y, w, h in boxes]
    expected = DISC.shape.difference(shapely.union_all([t.polygon_shape for t in tools]))
    parts = combine(DISC, cut=tools)
    taken = DISC.area - sum(part.area for part in parts)
    assert taken == pytest.approx(DISC.shape.area - expected.area, abs=1.1)
    for part in parts:
        for segment in part.outer.segments:
            if isinstance(segment, Arc):
                assert segment.radius == pytest.approx(50, abs=1e-9)
            else:
                assert isinstance(segment, Line)


def test_cutting_twice_is_cutting_once_with_both():
    first, second = rectangle(4, 62, -2, -2), rectangle(62, 4, -2, -30)
    (once,) = combine(DISC, cut=[first])
    (twice,) = combine(once, cut=[second])
    (both,) = combine(DISC, cut=[first, second])
    assert twice.area == pytest.approx(both.area, abs=1e-9)
    assert sorted(kinds(twice.outer.segments)) == sorted(kinds(both.outer.segments))
