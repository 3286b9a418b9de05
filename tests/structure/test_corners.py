"""Finger corners, three plates on one line, plates passing through, seats and keyed tabs."""

from math import cos, pi, radians, sin, sqrt

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.common import FLOOR, WALL, assert_sound, blob, interferences, rectangle, sheets, upright
from tests.told import refused

from anzel.checks.interference import collisions
from anzel.core.findings import GeometryError, ParameterError
from anzel.geometry.offset import offset
from anzel.geometry.placement import Placement
from anzel.geometry.regions import Contour, Region
from anzel.geometry.segments import Arc, Line
from anzel.materials.fits import FitName, KerfAt
from anzel.structure.joints.cutting_shapes import feature_outline
from anzel.structure.joints.finger_corner import FingerCorner
from anzel.structure.joints.pocket import Pocket
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.joints.three_lap import ThreeLap
from anzel.structure.joints.through_mortise import ThroughMortise
from anzel.structure.keyed_tabs import keyed_joints, tabs_fit
from anzel.structure.model import FeatureKind, Plate
from anzel.structure.solver import solve


def corner(angle=90.0, cells=5, *, tall=60.0, **facts):
    """Two walls edge to edge, each reaching to the other's outer face."""
    of = sheets(**facts)
    theta = radians(angle)
    thin = of.of("thin").measured_thickness
    beyond = (thin / sin(theta) + thin * abs(cos(theta) / sin(theta))) / 2
    region = Region.of(rectangle(80 + beyond, tall, -80, 0))
    other = Region.of(rectangle(80 + beyond, tall, -beyond, 0))
    along = (cos(pi - theta), sin(pi - theta), 0.0)
    plates = [
        Plate("A", "thin", region, WALL),
        Plate("B", "thin", other, Placement((0.0, 0.0, 0.0), (-along[0], -along[1], 0.0),
                                            (0.0, 0.0, 1.0))),
    ]  # fmt: skip
    return solve(plates, [FingerCorner("J1", "A", "B", cells)], of), of


def test_fingers_of_the_handbook():
    """Handbook, 3: drawn gap L/n - k + c/2, finger L/n + k - c/2; L 60, n 5, k 0.16, c 0.05."""
    build, _ = corner()
    gaps = build.joints[0].features
    assert [f.kind for f in gaps] == [FeatureKind.FINGER] * 5
    for gap in gaps:
        assert gap.width.drawn == pytest.approx(12 - 0.16 + 0.025)
        assert gap.inserted.drawn == pytest.approx(12 + 0.16 - 0.025)
        assert gap.width.produced - gap.inserted.produced == pytest.approx(0.05)
        assert gap.depth.drawn == pytest.approx(2.94)


@given(
    angle=st.floats(40, 140), cells=st.sampled_from([3, 5, 7]), thin=st.floats(1, 6),
    kerf=st.floats(0, 0.3), clearance=st.floats(0, 0.2), kerf_at=st.sampled_from(KerfAt),
)  # fmt: skip
@settings(max_examples=40)
def test_any_finger_corner_interlocks_without_overlap(angle, cells, thin, kerf, clearance, kerf_at):
    build, of = corner(angle, cells, thin=thin, kerf=kerf, clearance=clearance, kerf_at=kerf_at)
    for piece in build.pieces:
        assert_sound(piece.region)
        assert piece.features
    assert interferences(build, of)[0].volume < 0.01


def test_fingers_that_bite_are_seen_to_overlap():
    build, of = corner(clearance=-0.3)
    assert interferences(build, of)[0].volume > 0.5


def test_fingers_too_fine_to_cut_are_refused():
    with refused(ParameterError, match=r"would be 0\.\d mm wide") as caught:
        corner(cells=101)
    assert caught.value.field == "fingers"


def three(angle=60.0, *, relief=0.2, tall=60.0, **facts):
    """Three walls through one upright line."""
    of = sheets(**facts)
    region = Region.of(rectangle(160, tall, -80, 0))
    plates = [upright(name, turn, region) for name, turn in
              (("A", 0.0), ("B", angle), ("C", 2 * angle))]  # fmt: skip
    return solve(plates, [ThreeLap("J1", "A", "B", "C", relief)], of), of


def test_thirds_worked_by_hand():
    """60 tall: the lowest is slotted 40 from above, the middle 20 from both ends, the highest 40
    from below. At 60° a square slot takes t/sin 60° + t cot 60° = √3 t."""
    build, of = three(relief=0.0, thin=3.0, clearance=0.0, kerf=0.0)
    depths = {p.name: sorted(f.depth.drawn for f in p.features) for p in build.pieces}
    assert depths == {
        "A": [pytest.approx(40)], "B": [pytest.approx(20)] * 2, "C": [pytest.approx(40)],
    }  # fmt: skip
    widths = {f.width.drawn for p in build.pieces for f in p.features}
    assert all(width == pytest.approx(3 * sqrt(3)) for width in widths)
    assert collisions(build, of, 0.01) == ()


@given(angle=st.floats(35, 70), thin=st.floats(1, 6), kerf=st.floats(0, 0.3),
       relief=st.floats(0, 2))  # fmt: skip
@settings(max_examples=25)
def test_any_three_plates_on_a_line_go_together(angle, thin, kerf, relief):
    build, of = three(angle, relief=relief, thin=thin, kerf=kerf, clearance=0.0)
    assert len(build.joints[0].pieces) == 3
    assert collisions(build, of, 0.01) == ()
    for piece in build.pieces:
        assert_sound(piece.region)


def test_three_plates_that_share_no_line_are_refused():
    of = sheets()
    aside = Plate("C", "thin", Region.of(rectangle(160, 60, -80, 0)),
                  Placement((0.0, 9.0, 0.0), (0.6, 0.8, 0.0), (0.0, 0.0, 1.0)))  # fmt: skip
    plates = [upright("A", 0), upright("B", 90), aside]
    with pytest.raises(ParameterError, match="do not cross on one line"):
        solve(plates, [ThreeLap("J", "A", "B", "C")], of)


@given(lean=st.floats(-40, 40), wide=st.floats(5, 30), clearance=st.floats(0, 0.3))
@settings(max_examples=25)
def test_a_plate_passes_through_another(lean, wide, clearance):
    of = sheets(clearance=clearance)
    theta = radians(lean)
    peg = Plate("Peg", "thin", Region.of(rectangle(wide, 60, -wide / 2, -30)),
                Placement((0.0, 0.0, 0.0), (1.0, 0.0, 0.0),
                          (0.0, sin(theta), cos(theta))))  # fmt: skip
    layer = Plate("Layer", "thick", Region.of(rectangle(80, 80, -40, -40)), FLOOR)
    solved = solve([peg, layer], [ThroughMortise("J", "Peg", "Layer")], of)
    (hole,) = solved.piece("Layer").features
    assert hole.depth.drawn == pytest.approx(wide + clearance - 0.16)
    assert interferences(solved, of)[0].volume < 0.01


def test_a_plate_that_passes_beside_is_refused():
    of = sheets()
    peg = Plate("Peg", "thin", Region.of(rectangle(10, 60, 60, -30)), WALL)
    layer = Plate("Layer", "thick", Region.of(rectangle(80, 80, -40, -40)), FLOOR)
    with pytest.raises(ParameterError, match="does not go through"):
        solve([peg, layer], [ThroughMortise("J", "Peg", "Layer")], of)


@pytest.mark.parametrize("gap", [0.05, 0.0, 0.2])
def test_an_insert_lies_in_its_pocket_with_the_gap_on_every_side(gap):
    """Produced pocket less produced insert is the gap all round, by shapely's distance."""
    of = sheets(kerf=0.16)
    insert = Plate("Insert", "thin", Region.of(Contour.circle((0.0, 0.0), 12.0)),
                   Placement((5.0, 3.0, 0.0), (0.0, 1.0, 0.0), (-1.0, 0.0, 0.0)))  # fmt: skip
    plate = Plate("Plate", "thin", Region.of(rectangle(60, 50, -30, -25)), FLOOR)
    solved = solve([insert, plate], [Pocket("J", "Insert", "Plate", gap)], of)
    pocket = solved.piece("Plate").region.holes[0]
    assert pocket.is_circle
    assert pocket.segments[0].radius + 0.08 - (12 - 0.08) == pytest.approx(gap)
    assert pocket.bounds[0] + pocket.segments[0].radius == pytest.approx(5.0)


@given(turn=st.floats(0, 360))
@settings(max_examples=20)
def test_a_pocket_is_listed_as_large_as_it_is_however_it_is_turned(turn):
    of = sheets(kerf=0.16)
    c, s = cos(radians(turn)), sin(radians(turn))
    insert = Plate("Insert", "thin", Region.of(rectangle(24, 12, -12, -6)),
                   Placement((2.0, 1.0, 0.0), (c, s, 0.0), (-s, c, 0.0)))  # fmt: skip
    plate = Plate("Plate", "thin", Region.of(rectangle(80, 70, -40, -35)), FLOOR)
    piece = solve([insert, plate], [Pocket("J", "Insert", "Plate", 0.1)], of).piece("Plate")
    (feature,) = piece.features
    assert (feature.width.drawn, feature.depth.drawn) == pytest.approx((23.88, 11.88))
    hole = piece.region.holes[0].polygon_shape
    assert feature_outline(feature).symmetric_difference(hole).area < 1e-6


def test_a_lip_holds_the_plate_up():
    of = sheets()
    top = Plate("Top", "thick", Region.of(rectangle(40, 30, -20, -15)), FLOOR)
    upper = Plate("Upper", "thick", Region.of(rectangle(60, 50, -30, -25)), FLOOR)
    below = Placement((0.0, 0.0, -5.86), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    lower = Plate("Lower", "thick", Region.of(rectangle(60, 50, -30, -25)), below)
    solved = solve([top, upper, lower], [Pocket("J", "Top", "Upper", None, "Lower", 4.0)], of)
    assert solved.piece("Lower").region.holes[0].bounds == pytest.approx((-16, -11, 16, 11))
    assert collisions(solved, of, 0.01) == ()
    with pytest.raises(ParameterError, match="does not lie inside"):
        solve([upper, top], [Pocket("J", "Upper", "Top")], of)


@given(distance=st.floats(-3, 6))
def test_offsets_are_shapelys_and_stay_exact(distance):
    rounded = Contour((
        Line((0.0, 0.0), (30.0, 0.0)), Arc((30.0, 0.0), (34.0, 4.0), (30.0, 4.0)),
        Line((34.0, 4.0), (34.0, 20.0)), Line((34.0, 20.0), (0.0, 20.0)),
        Line((0.0, 20.0), (0.0, 0.0)),
    ))  # fmt: skip
    ours = offset(rounded, distance)
    theirs = rounded.polygon_shape.buffer(distance, join_style="mitre", quad_segs=64)
    assert ours.polygon_shape.symmetric_difference(theirs).area < 0.5
    arcs = [segment for segment in ours.segments if isinstance(segment, Arc)]
    assert arcs[0].centre == (30.0, 4.0)
    assert arcs[0].radius == pytest.approx(4 + distance)


@pytest.mark.parametrize("contour", [blob(), Contour.circle((0.0, 0.0), 1.0), rectangle(2, 2)])
def test_what_cannot_be_offset_is_refused(contour):
    with pytest.raises(GeometryError):
        offset(contour, -1.5)


def seats(count, widths=(12.0, 12.0)):
    """As many seats on as many walls."""
    tabs = tuple(zip((-15.0, 15.0), widths, strict=True))
    return [TabMortise(f"J{i}", f"Wall {i}", f"Seat {i}", tabs) for i in range(count)]


@given(count=st.integers(2, 5), step=st.floats(0.7, 1.5), clearance=st.floats(0, 0.3))
def test_keyed_tabs_fit_only_their_own_mortises(count, step, clearance):
    made = keyed_joints(seats(count), step, clearance)
    for one in made:
        for other in made:
            assert tabs_fit(one.tabs, other.tabs, clearance) is (one is other)


def test_keys_too_alike_or_impossible_are_refused():
    with pytest.raises(ParameterError, match="would also fit"):
        keyed_joints(seats(3), 0.1, 0.3)
    with pytest.raises(ParameterError, match="one tab only"):
        keyed_joints([TabMortise("J", "Wall", "Seat", ((0.0, 10.0),))], 1.0, 0.05)
    with pytest.raises(ParameterError, match="would vanish"):
        keyed_joints(seats(4), 3.0, 0.05)


def test_a_joint_of_its_own_class_is_forecast_and_assembled_in_it():
    """Its features carry the class's clearance, whatever the project's is."""
    build, of = corner()
    assert all(feature.inserted is not None for feature in build.joints[0].features)
    own = of.rule("thin", FitName.LOOSE)
    assert own.clearance == pytest.approx(0.30)
    assert shapely.is_valid(build.piece("A").region.shape)
