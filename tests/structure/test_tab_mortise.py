"""Tabs through mortises."""

from math import cos, radians, sin, tan

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.common import WALL, assert_close, assert_sound, interferences, rectangle, sheets

from anzel.core.findings import ParameterError
from anzel.geometry.placement import Placement
from anzel.geometry.regions import Region
from anzel.materials.fits import FitName
from anzel.structure.joints.tab_mortise import TabMortise, shoulder_distance
from anzel.structure.model import FeatureKind, Plate
from anzel.structure.solver import solve


def seat(height, thick, *, above=True, size=80.0):
    """A square plate resting on top of a wall of that height, or hanging under it."""
    z = height + thick / 2 if above else -thick / 2
    middle = Placement((0.0, 0.0, z), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    return Plate("Seat", "thick", Region.of(rectangle(size, size, -size / 2, -size / 2)), middle)


def wall(width=60.0, height=40.0):
    """A wall on the table."""
    return Plate("Wall", "thin", Region.of(rectangle(width, height, -width / 2, 0)), WALL)


def joined(tabs=((-15.0, 10.0), (15.0, 10.0)), *, proud=0.0, above=True, **facts):
    """A seat on a wall, and the sheets."""
    of = sheets(**facts)
    thick = of.of("thick").measured_thickness
    plates = [wall(), seat(40.0, thick, above=above)]
    return solve(plates, [TabMortise("J1", "Wall", "Seat", tabs, proud)], of), of


def features(build, kind):
    """All features of a kind."""
    return [f for piece in build.pieces for f in piece.features if f.kind is kind]


def test_tab_height_is_the_mating_sheet_and_knows_no_kerf():
    build, _ = joined(thick=5.86)
    for tab in features(build, FeatureKind.TAB):
        assert tab.depth.drawn == tab.depth.produced == 5.86
    assert build.piece("Wall").region.bounds == pytest.approx((-30, 0, 30, 45.86))


@pytest.mark.parametrize("proud", [2.0, -1.5])
def test_a_tab_can_stand_proud_or_be_recessed(proud):
    build, _ = joined(proud=proud, thick=6.0)
    assert features(build, FeatureKind.TAB)[0].depth.drawn == pytest.approx(6.0 + proud)


def test_mortise_takes_the_tabbed_sheet_one_way_and_the_tab_the_other():
    build, _ = joined(thin=2.94, kerf=0.16, clearance=0.05)
    mortise = features(build, FeatureKind.MORTISE)[0]
    assert mortise.width.drawn == pytest.approx(2.83)
    assert mortise.depth.drawn == pytest.approx(10 + 0.05 - 0.16)
    assert mortise.depth.produced - 10 == pytest.approx(0.05)


def test_mortises_sit_under_their_tabs():
    build, _ = joined()
    tabs, mortises = (features(build, k) for k in (FeatureKind.TAB, FeatureKind.MORTISE))
    for tab, mortise in zip(tabs, mortises, strict=True):
        assert_close(mortise.at, (tab.at[0], 0.0))
    assert len(build.piece("Seat").region.holes) == 2


def test_tabs_point_at_the_plate_below_as_well():
    build, of = joined(above=False)
    assert build.piece("Wall").region.bounds[1] == pytest.approx(-of.of("thick").measured_thickness)
    assert all(found.volume < 0.001 for found in interferences(build, of))


@given(
    thin=st.floats(0.8, 12), thick=st.floats(0.8, 12), kerf=st.floats(0, 0.5),
    clearance=st.floats(0, 0.4), width=st.floats(3, 18),
)  # fmt: skip
def test_any_seat_goes_on_its_tabs(thin, thick, kerf, clearance, width):
    build, of = joined(
        ((-15.0, width), (15.0, width)), thin=thin, thick=thick, kerf=kerf, clearance=clearance
    )
    for piece in build.pieces:
        assert_sound(piece.region)
    (found,) = interferences(build, of)
    assert found.volume < 0.001


def test_a_press_fit_bites():
    build, of = joined(clearance=-0.1)
    (found,) = interferences(build, of)
    assert found.volume > 1.0


def test_a_tab_past_the_end_of_its_edge_is_named():
    with pytest.raises(ParameterError, match="Wall reaches past the end") as caught:
        joined(((25.0, 20.0),))
    assert caught.value.field == "tab_width"


def test_a_mortise_that_would_break_the_edge_is_named():
    of = sheets()
    plates = [wall(120.0), seat(40.0, 5.86, size=80.0)]
    with pytest.raises(ParameterError, match="break through the edge of Seat"):
        solve(plates, [TabMortise("J1", "Wall", "Seat", ((38.0, 10.0),))], of)


def leaning(degrees, thin=2.94, thick=5.86, **more):
    """A wall on its shoulder under a seat that is tilted about the wall's edge."""
    angle = radians(degrees)
    of = sheets(thin, thick, clearance=more.pop("clearance", 0.0))
    short = 40 - shoulder_distance(angle, thin, thick)
    wall = Plate("Wall", "thin", Region.of(rectangle(80, short, -40, 0)), WALL)
    tilt = Placement((0.0, 0.0, 40.0), (1.0, 0.0, 0.0), (0.0, sin(angle), cos(angle)))
    seat = Plate("Seat", "thick", Region.of(rectangle(120, 80, -60, -40)), tilt)
    joint = TabMortise("J1", "Wall", "Seat", ((-15.0, 12.0), (15.0, 12.0)), **more)
    return solve([wall, seat], [joint], of), of


@given(degrees=st.floats(30, 150), thin=st.floats(1, 8), thick=st.floats(1, 8))
@settings(max_examples=40)
def test_tabs_go_through_a_leaning_seat_without_overlap(degrees, thin, thick):
    build, of = leaning(degrees, thin, thick)
    (found,) = interferences(build, of)
    assert found.volume < 0.01
    mortise = next(f for f in build.joints[0].features if f.kind is FeatureKind.MORTISE)
    expected = thin * sin(radians(degrees)) + thick / abs(tan(radians(degrees)))
    assert mortise.inserted.drawn == pytest.approx(expected)


@pytest.mark.parametrize("lean", [-60, -28, -6, 0, 6, 28, 45, 60])
@pytest.mark.parametrize("proud", [-0.5, 0.0, 0.3, 20.0])
def test_a_leaning_mortise_is_no_wider_than_its_tab(lean, proud):
    """The tab goes in without overlap; a mortise a little narrower would touch it."""
    build, of = leaning(90 + lean, proud=proud)
    assert sum(each.volume for each in interferences(build, of)) < 0.01
    narrower, of = leaning(90 + lean, proud=proud, clearance=-0.2)
    assert sum(each.volume for each in interferences(narrower, of)) > 0.01


def test_a_tab_too_tight_for_a_leaning_seat_is_seen_to_overlap():
    build, of = leaning(60, clearance=-0.3)
    assert interferences(build, of)[0].volume > 1


def test_a_seat_that_lies_along_the_wall_is_refused():
    with pytest.raises(ParameterError, match="lies too flat"):
        leaning(12)


@pytest.mark.parametrize(("proud", "height"), [(1.5, 7.36), (-1.0, 4.86), (0.0, 5.86)])
def test_a_tab_stands_proud_or_is_recessed_by_what_is_asked(proud, height):
    build, _ = leaning(90, proud=proud)
    tab = next(f for f in build.joints[0].features if f.kind is FeatureKind.TAB)
    assert tab.depth.drawn == pytest.approx(height)


def test_a_joint_has_its_own_fit_class():
    """Slide is 0.15 by default, the sheets' own clearance 0: only the joint's counts."""
    build, _ = leaning(90, fit=FitName.SLIDE)
    mortise = next(f for f in build.joints[0].features if f.kind is FeatureKind.MORTISE)
    assert mortise.width.produced - mortise.inserted.produced == pytest.approx(0.15)
    assert build.joints[0].fit is FitName.SLIDE


def test_a_tab_at_an_edge_leaves_an_open_mortise_where_it_may():
    of = sheets()
    wall = Plate("Wall", "thin", Region.of(rectangle(80, 37.07, -40, 0)), WALL)
    on_top = Placement((0.0, 0.0, 40.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    seat = Plate("Seat", "thick", Region.of(rectangle(120, 41, -60, -1)), on_top)
    tabs = ((0.0, 12.0),)
    with pytest.raises(ParameterError, match="break through the edge"):
        solve([wall, seat], [TabMortise("J", "Wall", "Seat", tabs)], of)
    solved = solve([wall, seat], [TabMortise("J", "Wall", "Seat", tabs, may_open=True)], of)
    assert solved.piece("Seat").region.holes == ()
    assert interferences(solved, of)[0].volume < 0.01
