"""Takes, their numbers, and how much of a bulb is seen."""

from math import atan, pi, sqrt

import pytest
from tests.common import FLOOR, rectangle, sheets

from anzel.app.edits import project_edits
from anzel.checks.bulb_visibility import share_seen
from anzel.core.findings import MakerError
from anzel.geometry.placement import Placement
from anzel.geometry.regions import Region
from anzel.project.demos import DEMOS, seedpod_lamp
from anzel.project.derive import solved_structure_of
from anzel.project.takes import (
    MOST_TAKES,
    consequence_of_keeping,
    figures_of,
    keep_take,
    project_of_take,
    take_up,
)
from anzel.structure.model import Plate
from anzel.structure.solver import solve


def plates(*heights):
    """Squares of 100 mm lying at some heights, solved; and their sheets."""
    of, square = sheets(kerf=0.0), Region.of(rectangle(100, 100, -50, -50))
    lying = [
        Plate(f"P{z}", "thin", square, Placement((0.0, 0.0, z), FLOOR.x_axis, FLOOR.y_axis))
        for z in heights
    ]
    return solve(lying, [], of), of


@pytest.mark.parametrize("height", [20.0, 50.0, 120.0])
def test_a_square_hides_its_solid_angle(height):
    """A square of side a at distance d fills 4 atan(a² / (2d √(4d² + 2a²))) of 4π (any optics
    text); the plate's near face is half its thickness nearer."""
    build, of = plates(height)
    d, a = height - 2.94 / 2, 100.0
    hidden = 4 * atan(a * a / (2 * d * sqrt(4 * d * d + 2 * a * a))) / (4 * pi)
    assert share_seen(build, of, (0.0, 0.0, 0.0)) == pytest.approx(1 - hidden, abs=0.012)


def test_between_two_wide_plates_little_is_seen():
    build, of = plates(-4.0, 4.0)
    assert share_seen(build, of, (0.0, 0.0, 0.0)) < 0.12


@pytest.mark.slow
def test_more_ribs_hide_more_of_the_bulb():
    lamp = seedpod_lamp()
    seen = [
        figures_of(project_edits.change_structure(lamp, ribs=ribs)).seen for ribs in (8, 16, 32)
    ]
    assert seen == sorted(seen, reverse=True)


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.name)
def test_figures_are_those_of_the_build(demo):
    project = demo.make()
    found = figures_of(project)
    assert found.pieces == len(solved_structure_of(project).pieces)
    assert found.sheets >= len(project.stocks_in_use)
    assert found.left_out == 0
    assert found.area > 0
    assert found.cut_length > 500
    lamps = ("lantern", "rib-lamp", "spine-lamp")
    assert (found.seen is not None) is (project.structure.form in lamps)


def test_pieces_that_fit_no_sheet_are_counted(project):
    wide = project_edits.change_structure(project, top_diameter=800, foot_span=780)
    found = figures_of(wide)
    assert (found.pieces, found.left_out) == (3, 3)
    assert found.sheets == 0


def test_takes_are_kept_four_at_most_and_taken_up_again(project):
    for height in range(100, 160, 10):
        told = consequence_of_keeping(project)
        project = keep_take(project_edits.change_structure(project, height=height))
    assert len(project.takes) == MOST_TAKES
    assert [take.structure.height for take in project.takes] == [120, 130, 140, 150]
    assert [take.name for take in project.takes] == ["Take 3", "Take 4", "Take 5", "Take 6"]
    assert told == "Take kept; Take 2 gave way to it"
    again = take_up(project, 1)
    assert again.structure.height == 130
    assert again.takes == project.takes


def test_a_take_whose_sheet_is_gone_says_so(project):
    kept = keep_take(project)
    thin = project_edits.change_structure(kept, top_stock="birch-3")
    without = thin.with_changes(stocks=thin.stocks[:1])
    with pytest.raises(MakerError, match="Take 1"):
        project_of_take(without, 0)
