"""Cross-laps at any angle, against geometry made without the solver."""

from dataclasses import replace
from math import pi, radians, sin, tan

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.common import (
    FLOOR,
    WALL,
    assert_close,
    assert_sound,
    interferences,
    rectangle,
    sheets,
    upright,
)
from tests.told import refused

from anzel.checks.interference import collisions
from anzel.core.findings import ParameterError
from anzel.geometry.placement import Placement
from anzel.geometry.regions import Contour, Region
from anzel.geometry.segments import Arc
from anzel.materials.fits import KerfAt
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.model import FeatureKind, Plate
from anzel.structure.plane_intersection import intersect_planes
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
    solved = solve([upright("A", 0), thick], [CrossLap("J1", "A", "B")], of)
    assert slot(solved, "A").width.drawn == pytest.approx(6.0 - 0.16)
    assert slot(solved, "B").width.drawn == pytest.approx(3.0 - 0.4)


def test_a_slot_in_a_curved_edge_reaches_its_mouth():
    """On a disc of radius 50 the mouth is at the top of the circle on the centre line."""
    disc = Region.of(Contour.circle((0.0, 0.0), 50.0))
    build, _ = lapped(region=disc)
    assert slot(build, "A").depth.drawn == pytest.approx(50)
    outline = build.piece("A").region.outer
    assert [type(s) for s in outline.segments].count(Arc) == 1


def test_of_two_islands_on_one_line_one_is_split_and_the_other_opened():
    """Two rings could never pass through one another."""
    bow = Region.of(rectangle(80, 100, -40, 0), (rectangle(40, 50, -20, 30),))
    a = Plate("A", "thin", bow, WALL)
    b = Plate("B", "thin", bow, Placement((0.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)))
    solved = solve([a, b], [CrossLap("J1", "A", "B")], sheets())
    assert [round(f.depth.drawn, 6) for f in solved.piece("A").features] == [15, 20]
    assert [round(f.depth.drawn, 6) for f in solved.piece("B").features] == [15]
    intersection = intersect_planes(a, b)
    low = {p.name: p.region.spans(*intersection.in_plate(p)) for p in solved.pieces}
    assert low["A"] == [(pytest.approx(0), pytest.approx(15))]  # nothing in the way from above
    assert low["B"] == [(pytest.approx(15), pytest.approx(30)), (80, 100)]


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
    assert caught.value.hint


def test_a_kerf_wider_than_the_slot_is_named():
    with refused(ParameterError, match=r"kerf of 3.5 mm is wider") as caught:
        lapped(kerf=3.5)
    assert caught.value.field == "kerf"


def test_meeting_line_lies_on_both_mid_planes():
    leaning = Placement((5.0, 7.0, 3.0), (0.6, 0.8, 0.0), (0.0, 0.0, 1.0))
    first = Plate("A", "thin", Region.of(rectangle(10, 10)), leaning)
    second = Plate("B", "thin", Region.of(rectangle(10, 10)), FLOOR)
    intersection = intersect_planes(first, second)
    for s in (-3.0, 0.0, 11.0):
        point = intersection.at(s)
        assert point[2] == pytest.approx(0)
        back = leaning.to_world(leaning.to_plate(point))
        assert_close(back, point)


def test_features_are_slots():
    build, _ = lapped()
    assert {f.kind for p in build.pieces for f in p.features} == {FeatureKind.SLOT}


def test_what_slots_leave_in_parts_becomes_pieces_if_it_may():
    """A hook whose tip the lap cuts off: the tip is a piece if it holds on to something."""
    outline = [(-40, 0), (40, 0), (40, 100), (-40, 100), (-40, 80), (20, 80), (20, 30), (-40, 30)]
    hook = Region.of(Contour.polygon([(float(x), float(y)) for x, y in outline]))
    turned = Placement((0.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    aside = Placement((-30.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    short = Region.of(rectangle(40, 30, -20, 75))
    plates = [
        Plate("A", "thin", hook, WALL, may_part=True),
        Plate("B", "thin", Region.of(rectangle(60, 100, -30, 0)), turned),
    ]
    laps = [CrossLap("J1", "A", "B")]
    with pytest.raises(ParameterError, match="leave A in 2 parts"):
        solve([replace(plates[0], may_part=False), plates[1]], laps, sheets())
    alone = solve(plates, laps, sheets())
    assert [piece.name for piece in alone.pieces] == ["Aa", "B"]
    assert [(f.code, f.where) for f in alone.findings] == [("loose-part", "A")]
    held = solve([*plates, Plate("C", "thin", short, aside)], [*laps, CrossLap("J2", "A", "C")],
                 sheets())  # fmt: skip
    assert [piece.name for piece in held.pieces] == ["Aa", "Ab", "B", "C"]
    assert {j.id: j.pieces for j in held.joints} == {"J1": ("Aa", "B"), "J2": ("Ab", "C")}
    assert collisions(held, sheets(), 0.01) == ()
    assert all(joint.features_on(name) for joint in held.joints for name in joint.pieces)
