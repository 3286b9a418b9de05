"""Cross-laps at any angle, against geometry made without the solver."""

from math import pi, radians, sin, tan

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.common import FLOOR, WALL, assert_close, assert_sound, rectangle, sheets, upright

from anzel.findings import ParameterError
from anzel.geometry.curves import Arc
from anzel.geometry.outlines import Contour, Region
from anzel.geometry.placement import Placement
from anzel.proof.interference import interferences
from anzel.stock.fits import KerfAt
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.meeting import meet
from anzel.structure.plates import FeatureKind, Plate
from anzel.structure.solver import solve


def lapped(angle=90.0, *, split=0.5, relief=0.0, region=None, **facts):
    """Two walls lapped at an angle, and the sheets they are of."""
    of = sheets(**facts)
    plates = [upright("A", 0, region), upright("B", angle, region)]
    return solve(plates, [CrossLap("J1", "A", "B", split, relief)], of), of


def slot(build, name):
    """The one slot on a piece."""
    (feature,) = build.piece(name).features
    return feature


def test_slot_widths_of_the_handbook_example():
    build, _ = lapped(thin=3.0, kerf=0.15)
    assert slot(build, "A").width.drawn == pytest.approx(2.90)


def test_depths_share_the_overlap_and_deepen_by_the_relief():
    build, _ = lapped(split=0.3, relief=0.4)
    assert slot(build, "A").depth.drawn == pytest.approx(0.3 * 60 + 0.4)
    assert slot(build, "B").depth.drawn == pytest.approx(0.7 * 60 + 0.4)


def test_one_slot_opens_upwards_the_other_downwards():
    build, _ = lapped()
    assert slot(build, "A").along == pytest.approx((0, 1))
    assert slot(build, "B").along == pytest.approx((0, -1))


def test_both_features_name_each_other_and_the_joint():
    build, _ = lapped()
    (joint,) = build.joints
    assert [(f.piece, f.mate, f.joint) for f in joint.features] == [
        ("A", "B", "J1"),
        ("B", "A", "J1"),
    ]
    assert joint.angle == pytest.approx(pi / 2)
    assert_close(joint.at, (0, 0, 30))


@pytest.mark.parametrize("kerf_at", KerfAt)
@pytest.mark.parametrize("angle", [20, 37, 45, 60, 75, 90, 120, 160])
def test_crossings_at_any_angle_go_together(angle, kerf_at):
    """Independent of the width formula: produced solids, assembled, must not overlap."""
    build, of = lapped(angle, clearance=0.0, kerf_at=kerf_at)
    (found,) = interferences(build, of)
    assert found.volume < 0.001
    own = mate = 2.94
    bounding = mate / sin(radians(angle)) + own * abs(1 / tan(radians(angle)))
    assert slot(build, "A").width.produced == pytest.approx(bounding)


@pytest.mark.parametrize("angle", [30, 90, 135])
def test_a_hair_less_width_makes_them_collide(angle):
    build, of = lapped(angle, clearance=-0.05)
    (found,) = interferences(build, of)
    assert found.volume > 0.01  # at a slant only the slabs' corners bite


@given(
    angle=st.floats(20, 160), thin=st.floats(0.8, 12), kerf=st.floats(0, 0.5),
    clearance=st.floats(0, 0.4), split=st.floats(0.2, 0.8), relief=st.floats(0, 3),
)  # fmt: skip
def test_any_crossing_is_sound_and_free(angle, thin, kerf, clearance, split, relief):
    build, of = lapped(angle, thin=thin, kerf=kerf, clearance=clearance, split=split, relief=relief)
    for piece in build.pieces:
        assert_sound(piece.region)
    (found,) = interferences(build, of)
    assert found.volume < 0.001


def test_the_slot_takes_the_mates_thickness_and_its_own_sheets_kerf():
    of = sheets(thin=3.0, thick=6.0)
    of = type(of)((of.by_stock[0], type(of.by_stock[1])("thick", 6.0, 0.4)), 0.0, KerfAt.DRAWING)
    thick = upright("B", 90)
    thick = Plate("B", "thick", thick.region, thick.placement)
    build = solve([upright("A", 0), thick], [CrossLap("J1", "A", "B")], of)
    assert slot(build, "A").width.drawn == pytest.approx(6.0 - 0.16)
    assert slot(build, "B").width.drawn == pytest.approx(3.0 - 0.4)


def test_a_slot_in_a_curved_edge_reaches_its_mouth():
    """On a disc of radius 50 the mouth is at the top of the circle on the centre line."""
    disc = Region.of(Contour.circle((0.0, 0.0), 50.0))
    build, _ = lapped(region=disc)
    assert slot(build, "A").depth.drawn == pytest.approx(50)
    outline = build.piece("A").region.outer
    assert [type(s) for s in outline.segments].count(Arc) == 1


def test_islands_on_one_line_each_get_their_slot():
    comb = [(-60, 0), (60, 0), (60, 60), (20, 60), (20, 20), (-20, 20), (-20, 60), (-60, 60)]
    bridge = Region.of(Contour.polygon([(x, y) for x, y in comb]))
    flat = Plate("A", "thin", bridge, Placement((0.0, 0.0, 40.0), (0.0, 1.0, 0.0), (1.0, 0.0, 0.0)))
    wall = Plate("B", "thin", Region.of(rectangle(200, 80, -100, 0)), WALL)
    meeting = meet(flat, wall)
    spans = flat.region.spans(*meeting.in_plate(flat))
    assert len(spans) == 1  # along x at y = 0 the bridge is one island
    build = solve([wall, flat], [CrossLap("J1", "B", "A")], sheets())
    assert len(build.piece("A").features) == 1


def test_parallel_plates_cannot_be_lapped():
    with pytest.raises(ParameterError, match="parallel"):
        solve([upright("A", 0), upright("B", 180)], [CrossLap("J1", "A", "B")], sheets())


def test_plates_that_do_not_reach_each_other_are_named():
    far = upright("B", 90)
    beside = Plate(
        "B", "thin", far.region, Placement((150.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    )
    with pytest.raises(ParameterError, match="A and B do not reach") as caught:
        solve([upright("A", 0), beside], [CrossLap("J1", "A", "B")], sheets())
    assert caught.value.mend


def test_a_kerf_wider_than_the_slot_is_named():
    with pytest.raises(ParameterError, match=r"kerf of 3.5 mm is wider") as caught:
        lapped(kerf=3.5)
    assert caught.value.field == "kerf"


def test_meeting_line_lies_on_both_mid_planes():
    leaning = Placement((5.0, 7.0, 3.0), (0.6, 0.8, 0.0), (0.0, 0.0, 1.0))
    first = Plate("A", "thin", Region.of(rectangle(10, 10)), leaning)
    second = Plate("B", "thin", Region.of(rectangle(10, 10)), FLOOR)
    meeting = meet(first, second)
    for s in (-3.0, 0.0, 11.0):
        point = meeting.at(s)
        assert point[2] == pytest.approx(0)
        back = leaning.to_world(leaning.to_plate(point))
        assert_close(back, point)


def test_features_are_slots():
    build, _ = lapped()
    assert {f.kind for p in build.pieces for f in p.features} == {FeatureKind.SLOT}
