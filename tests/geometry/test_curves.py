"""Lines, arcs and cubics: lengths, areas, bounds, crossings, parts."""

from math import cos, hypot, pi, sin, sqrt

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from tests.common import SEGMENTS, assert_close

from anzel.core.tolerances import FLATTEN
from anzel.geometry.rigid_transform import RigidTransform
from anzel.geometry.segments import Arc, Cubic, Line, circle, reverse, subsegment

every_segment = pytest.mark.parametrize("segment", SEGMENTS.values(), ids=SEGMENTS.keys())


def sampled(segment, count=20001):
    """Many points along a segment, (n, 2)."""
    return np.array([segment.point_at(t) for t in np.linspace(0, 1, count)])


@every_segment
def test_a_segment_starts_and_ends_exactly_at_its_ends(segment):
    assert segment.point_at(0.0) == segment.start
    assert segment.point_at(1.0) == segment.end


@every_segment
def test_length_is_that_of_a_fine_chain(segment):
    steps = np.diff(sampled(segment), axis=0)
    assert segment.length == pytest.approx(np.hypot(*steps.T).sum(), rel=1e-6)


@every_segment
def test_bounds_hold_the_segment_and_no_more(segment):
    points = sampled(segment)
    found = (*points.min(axis=0), *points.max(axis=0))
    assert segment.bounds == pytest.approx(found, abs=1e-5)


@every_segment
def test_bulge_area_is_what_a_fine_chain_encloses(segment):
    x, y = sampled(segment).T
    shoelace = (np.roll(y, -1) * x - np.roll(x, -1) * y).sum() / 2
    assert segment.area_over_chord == pytest.approx(shoelace, rel=1e-5, abs=1e-6)


@every_segment
def test_chords_stay_within_the_flatten_tolerance(segment):
    count = segment.chord_count()
    for step in range(count):
        a, b = (np.array(segment.point_at(t / count)) for t in (step, step + 1))
        inner = np.array([segment.point_at((step + f) / count) for f in np.linspace(0, 1, 9)])
        along = (b - a) / np.linalg.norm(b - a)
        off = (inner - a) @ np.array([-along[1], along[0]])
        assert np.abs(off).max() <= FLATTEN * 1.0001


@every_segment
def test_reversing_twice_gives_the_segment_back(segment):
    back = reverse(segment)
    assert (back.start, back.end) == (segment.end, segment.start)
    assert reverse(back) == segment
    assert_close(back.point_at(0.3), segment.point_at(0.7))


@every_segment
def test_a_rigid_motion_keeps_length_and_area(segment):
    moved = segment.moved(RigidTransform.rotation(37).translated(11, -5))
    assert moved.length == pytest.approx(segment.length)
    assert moved.area_over_chord == pytest.approx(segment.area_over_chord, abs=1e-9)


@every_segment
@pytest.mark.parametrize("direction", [(0.0, 1.0), (1.0, 0.0), (3.0, 2.0)])
def test_crossings_are_where_the_side_changes(segment, direction):
    origin = segment.point_at(0.4)
    found = segment.crossings(origin, direction)
    for t in found:
        x, y = segment.point_at(t)
        off = direction[0] * (y - origin[1]) - direction[1] * (x - origin[0])
        assert abs(off) < 1e-6
    points = sampled(segment, 4001) - origin
    side = np.sign(points[:, 1] * direction[0] - points[:, 0] * direction[1])
    changes = np.count_nonzero(side[:-1] * side[1:] < 0)
    assert len(found) >= changes


@every_segment
@given(a=st.floats(0.01, 0.99), b=st.floats(0.01, 0.99))
def test_a_part_lies_on_its_segment(segment, a, b):
    assume(abs(a - b) >= 1e-3)
    start, end = segment.point_at(a), segment.point_at(b)
    stretch = subsegment(segment, a, b, start, end)
    assert (stretch.start, stretch.end) == (start, end)
    assert_close(stretch.point_at(0.25), segment.point_at(a + (b - a) / 4), 1e-6)


def test_a_quarter_circle_has_its_closed_form():
    quarter = SEGMENTS["quarter arc"]
    assert quarter.sweep == pytest.approx(pi / 2)
    assert quarter.length == pytest.approx(5 * pi)
    assert quarter.bulge == pytest.approx(sqrt(2) - 1)  # tan(90°/4), DXF reference


def test_a_circle_is_known_by_its_equal_ends():
    whole = circle((1.0, 2.0), 3.0)
    assert whole.is_circle
    assert whole.length == pytest.approx(6 * pi)
    assert whole.bounds == pytest.approx((-2, -1, 4, 5))


@given(
    angle=st.floats(-3.1, 3.1), sweep=st.floats(0.05, 6.2), clockwise=st.booleans(),
    radius=st.floats(0.1, 500),
)  # fmt: skip
def test_an_arc_made_from_angles_gives_them_back(angle, sweep, clockwise, radius):
    turn = -sweep if clockwise else sweep
    start = (radius * cos(angle), radius * sin(angle))
    end = (radius * cos(angle + turn), radius * sin(angle + turn))
    arc = Arc(start, end, (0.0, 0.0), clockwise)
    assert arc.sweep == pytest.approx(turn, abs=1e-9)
    assert hypot(*arc.point_at(0.37)) == pytest.approx(radius)


def test_a_line_through_the_centre_crosses_a_circle_twice():
    found = circle((0.0, 0.0), 5.0).crossings((0.0, 0.0), (0.0, 1.0))
    assert sorted(found) == pytest.approx([0.25, 0.75])


def test_a_line_that_misses_crosses_nothing():
    assert circle((0.0, 0.0), 5.0).crossings((6.0, 0.0), (0.0, 1.0)) == []
    assert Line((0.0, 0.0), (1.0, 0.0)).crossings((0.0, 1.0), (1.0, 0.0)) == []


def test_a_cubic_cut_by_hand():
    """x = 3t(1-t)² + ... of a symmetrical arch: halves by de Casteljau's construction."""
    arch = Cubic((0.0, 0.0), (0.0, 4.0), (8.0, 4.0), (8.0, 0.0))
    half = arch.subsegment(0.0, 0.5)
    assert half == Cubic((0.0, 0.0), (0.0, 2.0), (2.0, 3.0), (4.0, 3.0))
