"""Free structures: placing, proposing, fitting edges, freeing any form, keeping what cannot be."""

import json
from math import cos, pi, radians
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from anzel.app.edits import free_structure_edits, joint_edits
from anzel.core.findings import ParameterError
from anzel.geometry.placement import dot
from anzel.geometry.regions import Contour, Region
from anzel.geometry.segments import Arc, Line
from anzel.project import rescale
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.project.preflight import preflight
from anzel.storage import project_file
from anzel.structure.forms import FORMS, new_form
from anzel.structure.forms.free_structure import FreeStructure, placed_plates, to_free_structure
from anzel.structure.free.edge_adjustment import with_edge_at
from anzel.structure.free.joint_suggestions import suggest_joints
from anzel.structure.free.outline_serialization import region_of, region_record
from anzel.structure.free.outline_shapes import Circle, Profile, Rectangle
from anzel.structure.free.plate import FreePlate, angles_of
from anzel.structure.joints.registry import (
    KINDS,
    joint_of,
    joint_record,
    joint_with_renamed_plates,
    kind_of,
    plates_of,
)
from anzel.structure.joints.stack_lap import StackLap

DATA = Path(__file__).parents[1] / "data"
ANGLES = st.floats(-180, 180, allow_nan=False)
FORM_NAMES = [name for name in FORMS if name not in ("free", "found")]


def board(name, *, width=100.0, height=60.0, **place):
    return FreePlate(
        name=name, stock="ply-3", outline=Rectangle(width=width, height=height), **place
    )


def proposed(*plates):
    project = project_of("free", plates=plates, joints=())
    return joint_edits.suggestions_of(project), project


def joined(*plates):
    _, project = proposed(*plates)
    return joint_edits.join_all(project)


@given(turn=ANGLES, tilt=ANGLES, spin=ANGLES)
def test_angles_tell_a_placement_and_back(turn, tilt, spin):
    plate = board("A", x=1, y=2, z=3, turn=turn, tilt=tilt, spin=spin)
    at = plate.placement
    assert [dot(a, a) for a in (at.x_axis, at.y_axis, at.normal)] == pytest.approx([1, 1, 1])
    again = plate.placed(at).placement
    for one, other in zip((at.x_axis, at.y_axis), (again.x_axis, again.y_axis), strict=True):
        assert one == pytest.approx(other, abs=1e-10)


def test_lying_and_upright_are_exact():
    assert board("A").placement.normal == (0, 0, 1)
    upright = board("A", turn=90, tilt=90).placement
    assert (upright.x_axis, upright.y_axis) == ((0, 1, 0), (0, 0, 1))
    assert angles_of(upright) == (90, 90, 0)


@pytest.mark.parametrize("name", FORM_NAMES)
def test_a_form_freed_is_the_same_structure_and_survives_its_file(name):
    project = project_of(name)
    free = free_structure_edits.make_free(project)
    was, now = solved_structure_of(project), solved_structure_of(free)
    assert [piece.name for piece in was.pieces] == [piece.name for piece in now.pieces]
    for one, other in zip(was.pieces, now.pieces, strict=True):
        assert one.region.area == pytest.approx(other.region.area, abs=1e-5)
        off = one.region.shape.symmetric_difference(other.region.shape).area
        assert off < 1e-4
    assert [joint.id for joint in was.joints] == [joint.id for joint in now.joints]
    assert project_file.from_bytes(project_file.to_bytes(free)) == free
    assert preflight(free).ok


def test_a_form_that_cannot_be_cut_is_not_freed():
    sizes = {"height": 300.0, "foot_span": 900.0, "top_diameter": 780.0, "arch": 250.0}
    with pytest.raises(ParameterError, match="The outline of Upright A crosses itself"):
        free_structure_edits.make_free(project_of("crossed-stand", **sizes))


@pytest.mark.parametrize("name", ["crossed-stand", "easel", "lantern", "rib-lamp", "spine-lamp"])
def test_what_a_form_declares_is_proposed_where_its_plates_meet(name):
    """The proposals, made from where plates are alone, agree with every form's own joints."""
    project = project_of(name)
    free, of = (
        to_free_structure(project.structure, fit_context_of(project)),
        fit_context_of(project),
    )
    found = suggest_joints(tuple(placed_plates(free.plates, (), of).values()), (), of)
    own = {(kind_of(joint), frozenset(plates_of(joint))) for joint in free.joints}
    assert {(kind_of(each.ways[0]), frozenset(each.pieces)) for each in found} == own


def test_each_meeting_gets_its_kind():
    base = board("Base", width=120, height=120)
    cases = {
        "cross-lap": (board("A", tilt=90, z=30), board("B", tilt=90, turn=70, z=30)),
        "tabs": (base, board("Wall", tilt=90, z=31.5)),
        "fingers": (base, board("Edge", width=120, tilt=90, y=60, z=30)),
        "passing": (base, board("Peg", width=20, height=80, tilt=90)),
        "seat": (base, board("Inlay", width=50, height=50)),
    }
    for kind, plates in cases.items():
        (found,), project = proposed(*plates)
        assert kind_of(found.ways[0]) == kind
        done = joint_edits.join_all(project)
        assert solved_structure_of(done).findings == ()
        if kind != "seat":  # the inlay is in the plane of its plate: solids are told by the pocket
            assert preflight(done).interference == ()


def test_nothing_is_proposed_for_plates_that_only_come_near():
    found, _ = proposed(board("A", tilt=90, z=30), board("B", tilt=90, y=40, z=30))
    assert found == ()
    with pytest.raises(ParameterError, match="Nothing meets"):
        joint_edits.join_all(proposed(board("A"), board("B", z=80))[1])


def test_three_on_one_line_are_joined_at_once():
    trio = [board(f"P{turn}", tilt=90, turn=turn, z=30) for turn in (0, 60, 120)]
    (found,), project = proposed(*trio)
    assert kind_of(found.ways[0]) == "three-lap"
    assert preflight(joint_edits.join_all(project)).ok


@settings(max_examples=40, deadline=None)
@given(
    turn=st.floats(25, 155), lean=st.floats(-25, 25), aside=st.floats(-15, 15),
    rise=st.floats(-12, 12), spin=st.floats(-15, 15),
)  # fmt: skip
def test_what_is_joined_where_it_crosses_never_overlaps(turn, lean, aside, rise, spin):
    done = joined(
        board("A", tilt=90, z=30, width=140),
        board("B", tilt=90 + lean, turn=turn, x=aside, z=30 + rise, spin=spin, width=140),
    )
    found = preflight(done)
    assert all(each.volume < 0.01 for each in found.interference)
    for piece in solved_structure_of(done).pieces:
        assert piece.region.shape.is_valid


@settings(max_examples=40, deadline=None)
@given(
    measured=st.floats(2.0, 6.5), lean=st.floats(-30, 30), gap=st.floats(-2, 2),
    width=st.floats(40, 110),
)  # fmt: skip
def test_a_tabbed_edge_comes_to_its_mate_whatever_the_sheet(measured, lean, gap, width):
    """Drawn for no thickness at all, and a little too long or short: the joint still closes."""
    project = joined(
        board("Base", width=160, height=160),
        board("Wall", width=width, tilt=90 + lean, z=31.5 * cos(radians(lean))),
    )
    stock = project.stocks[0].with_changes(readings=(measured, measured, measured))
    project = project.with_changes(stocks=(stock, *project.stocks[1:]))
    project = free_structure_edits.move_plate(project, "Wall", (0, 0, gap))
    found = preflight(project)
    assert found.problems == ()
    wall = solved_structure_of(project).piece("Wall")
    assert len(wall.region.outer.segments) == 4 + 4 * len(project.structure.joints[0].tabs)


def test_a_scaled_free_structure_still_goes_together():
    project = project_of("free")
    twice = rescale.by_factor(project, 1.7)
    before, after = (
        rescale.overall(solved_structure_of(p), fit_context_of(p)) for p in (project, twice)
    )
    assert after.height == pytest.approx(1.7 * before.height, abs=0.2)  # the kerf is not scaled
    assert preflight(twice).ok
    ring = project_of(
        "free", joints=(),
        plates=(FreePlate(name="Ring", stock="ply-3", outline=Circle(diameter=90, hole=10)),),
    )  # fmt: skip
    free = free_structure_edits.make_free(ring)
    outline = rescale.by_factor(free, 2).structure.plates[0].outline
    assert (outline.diameter, outline.hole) == (180, 10)


def test_round_holes_for_hardware_are_held_in_freed_plates():
    free = free_structure_edits.make_free(project_of("rib-lamp", fitting_hole=10))
    ring = next(p for p in rescale.by_factor(free, 2).structure.plates if p.name == "Ring 2")
    holes = ring.outline.region().holes
    round_ones = [hole for hole in holes if hole.is_circle]
    assert [hole.bounds[2] - hole.bounds[0] for hole in round_ones] == pytest.approx([10])


@pytest.mark.parametrize(
    ("outline", "words"),
    [
        (Rectangle(width=20, height=10, rounding=6), "rounded more"),
        (Circle(diameter=20, hole=20), "leaves nothing"),
        (Profile(points=((0, 0, False), (10, 10, False), (10, 0, False), (0, 10, False))),
         "crosses itself"),
    ],
)  # fmt: skip
def test_outlines_that_are_none_are_refused(outline, words):
    with pytest.raises(ParameterError, match=words):
        outline.region()


def test_a_rounded_board_has_true_arcs_and_the_right_area():
    region = Rectangle(width=80, height=50, rounding=8).region()
    assert region.size == (80, 50)
    assert region.area == pytest.approx(80 * 50 - (4 - pi) * 64)
    assert sorted(type(s).__name__ for s in region.outer.segments) == ["Arc"] * 4 + ["Line"] * 4


def test_every_kind_of_joint_survives_its_record():
    free = FreeStructure()
    for joint in free.joints:
        assert joint_of(joint_record(joint)) == joint
    for bad in ({"kind": "glue"}, {"kind": "cross-lap", "id": "J1", "from_above": "A",
                                   "from_below": "B", "split": 2}, {"kind": "tabs"}):  # fmt: skip
        with pytest.raises(ValueError):
            joint_of(bad)
    assert set(KINDS) == {kind for kind in KINDS if KINDS[kind].plates}


def test_names_and_joints_must_agree():
    project = project_of("free")
    with pytest.raises(ParameterError, match="same name"):
        project.structure.with_changes(plates=project.structure.plates[:1] * 2)
    with pytest.raises(ParameterError, match="not there"):
        project.structure.with_changes(plates=project.structure.plates[:3])
    with pytest.raises(ParameterError, match="already"):
        free_structure_edits.rename_plate(project, "Rail", "Shelf")
    with pytest.raises(ParameterError, match="no plate “Lid”"):
        free_structure_edits.rename_plate(project, "Lid", "Cover")
    fewer = project
    for name in ("Rail", "Shelf", "Left end"):
        fewer = free_structure_edits.remove_plate(fewer, name)
    assert fewer.structure.joints == ()
    with pytest.raises(ParameterError, match="last plate"):
        free_structure_edits.remove_plate(fewer, "Right end")


def arch():
    """A board with a round top: straight below and at the sides."""
    top = Arc((20.0, 10.0), (-20.0, 10.0), (0.0, 10.0))
    lines = (Line((-20.0, 10.0), (-20.0, -10.0)), Line((-20.0, -10.0), (20.0, -10.0)),
             Line((20.0, -10.0), (20.0, 10.0)))  # fmt: skip
    return Region.of(Contour((top, *lines)))


def test_a_straight_edge_slides_and_its_curves_stay():
    region = arch()
    for level in (8.5, 10.0, 12.25):
        moved = with_edge_at(region, (1.0, 0.0), (0.0, -1.0), level, 5.0)
        assert moved.bounds[1] == -level
        assert moved.outer.segments[0] == region.outer.segments[0]
        assert len(moved.outer.segments) == 4
    assert with_edge_at(region, (1.0, 0.0), (0.0, -1.0), 30.0, 5.0) is region


def test_a_slanted_side_is_followed_when_its_edge_slides():
    wedge = Region.of(Contour.polygon([(-10, 0), (10, 0), (6, 20), (-6, 20)]))
    moved = with_edge_at(wedge, (1.0, 0.0), (0.0, 1.0), 25.0, 10.0)
    assert moved.size == pytest.approx((20, 25))
    assert moved.shape.bounds[2] == 10
    tops = sorted(x for x, y in moved.outer.corners if y > 20)
    assert tops == pytest.approx([-5, 5])


def test_a_curved_edge_is_cut_off_but_never_made_up():
    region = arch()
    cut = with_edge_at(region, (1.0, 0.0), (0.0, 1.0), 28.0, 5.0)
    assert cut.bounds[3] == pytest.approx(28)
    assert any(isinstance(s, Arc) and s.centre == (0.0, 10.0) for s in cut.outer.segments)
    assert with_edge_at(region, (1.0, 0.0), (0.0, 1.0), 33.0, 5.0) is region


@pytest.mark.parametrize(
    "record",
    [
        None,
        {},
        {"outer": []},
        {"outer": [[0, 0], [1, 0]]},
        {"outer": [[0, 0], [9, 0], [9, 9], [0, 9]]},
        {"outer": [[0, 0], [9, 0], [9, 9, 9], [0, 0]]},
        {"outer": [[0, 0], [float("nan"), 0], [9, 9], [0, 0]]},
        {"outer": [[0, 0], [1e9, 0], [9, 9], [0, 0]]},
        {"outer": [[0, 0], [9, 9], [9, 0], [0, 9], [0, 0]]},
        {"outer": [[0, 0], ["x", 0], [9, 9], [0, 0]]},
    ],
)
def test_an_outline_that_is_none_is_refused_when_read(record):
    with pytest.raises((ValueError, TypeError)):
        region_of(record)
    damaged = project_of("free").model_dump(mode="json")
    damaged["structure"]["plates"][0]["outline"] = {"shape": "drawn", "outline": record}
    with pytest.raises(ParameterError):
        new_form("free", plates=damaged["structure"]["plates"], joints=[])


def test_outlines_keep_every_digit_in_their_record():
    region = arch()
    assert region_of(json.loads(json.dumps(region_record(region)))) == region


def test_a_stack_of_free_layers_is_renamed_and_recorded_whole():
    stack = StackLap("J1", ("A", "B"), "C", slack=0.2, up=(1.0, 0.0, 0.0))
    assert plates_of(stack) == ("A", "B", "C")
    assert joint_of(json.loads(json.dumps(joint_record(stack)))) == stack
    assert joint_with_renamed_plates(stack, {"B": "D"}).layers == ("A", "D")


def test_a_joint_that_cannot_be_is_a_problem_with_its_pieces_and_the_mend():
    apart = free_structure_edits.move_plate(project_of("free"), "Rail", (0, 0, 200))
    (problem,) = preflight(apart).problems
    assert (problem.code, problem.joint, problem.pieces) == ("joint", "J3", ("Shelf", "Rail"))
    assert "Move them together" in problem.hint
    assert len(solved_structure_of(apart).joints) == 2  # all else is made


def test_a_free_project_of_before_relations_opens_with_the_same_geometry():
    """Written by the program before plates could be placed by relation: areas (mm²), features.

    Only the base has changed since: its mortises for leaning tabs are narrower by t tan λ sin λ.
    """
    project = project_file.load(DATA / "free-lantern.format-5.anzel")
    pieces = {piece.name: piece for piece in solved_structure_of(project).pieces}
    assert len(pieces) == 20
    for name, area, features in (
        ("Base", 16211.031930, 18), ("Wall 1", 5744.316168, 11),
        ("Diffuser 2", 7501.311122, 2), ("Foot 3", 297.45, 1),
    ):  # fmt: skip
        assert pieces[name].region.area == pytest.approx(area, abs=1e-6)
        assert len(pieces[name].features) == features
    assert preflight(project).ok
