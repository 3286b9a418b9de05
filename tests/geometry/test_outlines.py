"""Contours and regions."""

from math import pi

import pytest
import shapely
from tests.common import CONTOURS, assert_close, blob, rectangle

from anzel.core.findings import GeometryError
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import RigidTransform
from anzel.geometry.segments import Cubic, Line

every_contour = pytest.mark.parametrize("contour", CONTOURS.values(), ids=CONTOURS.keys())


def test_an_open_contour_is_refused():
    with pytest.raises(GeometryError, match="open"):
        Contour((Line((0.0, 0.0), (1.0, 0.0)), Line((1.0, 0.0), (1.0, 1.0))))


@every_contour
def test_exact_area_agrees_with_the_chords(contour):
    tolerance = 0.02 * contour.length  # chords lie up to FLATTEN inside or outside
    assert contour.signed_area == pytest.approx(contour.polygon_shape.area, abs=tolerance)


@every_contour
def test_reversing_turns_the_area_round_and_keeps_the_length(contour):
    assert contour.reversed().signed_area == pytest.approx(-contour.signed_area)
    assert contour.reversed().length == pytest.approx(contour.length)


@every_contour
def test_a_quarter_turn_keeps_every_digit_of_the_size(contour):
    left, low, right, high = contour.bounds
    turned = contour.moved(RigidTransform.rotation(90)).bounds
    assert turned == pytest.approx((-high, left, -low, right), abs=1e-12)


def test_a_circle_has_its_closed_form_area():
    assert Contour.circle((3.0, 3.0), 10.0).signed_area == pytest.approx(100 * pi)


def test_an_outline_of_two_edges_is_a_ring_however_small():
    upper = Cubic((0.0, 0.0), (0.0, 0.01), (0.02, 0.01), (0.02, 0.0))
    lower = Cubic((0.02, 0.0), (0.02, -0.01), (0.0, -0.01), (0.0, 0.0))
    there, back = Line((0.0, 0.0), (1.0, 0.0)), Line((1.0, 0.0), (0.0, 0.0))
    board = Contour.circle((0.0, 0.0), 5.0)
    assert Region.of(board, [Contour((upper, lower))]).shape.is_valid
    assert not Region.of(board, [Contour((there, back))]).shape.is_valid  # told in words later


def test_a_region_turns_its_contours_the_right_way():
    region = Region.of(rectangle(40, 30).reversed(), [Contour.circle((20.0, 15.0), 5.0)])
    assert region.outer.signed_area > 0 > region.holes[0].signed_area
    assert region.area == pytest.approx(1200 - 25 * pi)
    assert region.shape.area == pytest.approx(region.area, abs=0.5)


def test_a_line_is_inside_a_ring_twice():
    ring = Region.of(Contour.circle((0.0, 0.0), 10.0), [Contour.circle((0.0, 0.0), 4.0)])
    assert ring.spans((0.0, 0.0), (1.0, 0.0)) == [
        pytest.approx((-10, -4)),
        pytest.approx((4, 10)),
    ]


def test_spans_are_measured_in_the_directions_own_length():
    square = Region.of(rectangle(10, 10))
    assert square.spans((0.0, 5.0), (2.0, 0.0)) == [pytest.approx((0, 5))]


def test_a_line_beside_or_along_an_outline_has_no_span_outside():
    square = Region.of(rectangle(10, 10))
    assert square.spans((0.0, 20.0), (1.0, 0.0)) == []
    assert square.spans((0.0, 10.0), (1.0, 0.0)) in ([], [pytest.approx((0, 10))])


def test_spans_agree_with_shapely_on_every_kind_of_segment():
    region = Region.of(blob())
    for y in (1.0, 7.0, 12.5, 18.0):
        ours = sum(high - low for low, high in region.spans((0.0, y), (1.0, 0.0)))
        ray = shapely.LineString([(-100, y), (100, y)])
        assert ours == pytest.approx(region.shape.intersection(ray).length, abs=0.03)


def test_contours_with_equal_segments_are_equal_and_hash_alike():
    assert blob() == blob()
    assert len({blob(), blob(), rectangle(1, 2)}) == 2


def test_motion_composes_turn_then_shift():
    motion = RigidTransform.rotation(90).translated(10, 0)
    assert motion((1.0, 2.0)) == (8.0, 1.0)
    assert_close(RigidTransform.rotation(45)((1.0, 0.0)), (2**-0.5, 2**-0.5))
