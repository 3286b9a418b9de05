"""Edits of a free structure by relation, by name, and many at a time."""

import pytest
from tests.told import refused

from anzel.app.edits import (
    formula_edits,
    free_structure_edits,
    joint_edits,
    many_edits,
    project_edits,
    relation_edits,
    repeat_edits,
    stock_edits,
)
from anzel.app.placing import place, side_under
from anzel.core.findings import ParameterError
from anzel.project import rescale
from anzel.project.demos import potting_cube
from anzel.project.derive import settled_form, solved_structure_of
from anzel.project.new_project import empty_table, project_of
from anzel.project.preflight import preflight
from anzel.storage import project_file
from anzel.structure.alike_pieces import alike_pieces
from anzel.structure.formulas import MOST, Formula, NamedNumber, Quantities, work_out
from anzel.structure.free.outline_shapes import Profile, Rectangle
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.corner_kinds import KIND_NAMES, corner_kind
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.finger_corner import FingerCorner
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.joints.through_mortise import ThroughMortise
from anzel.structure.relations.records import RepeatWay, Side


def board(name, width=100.0, height=60.0, **place):
    outline = Rectangle(width=width, height=height)
    return FreePlate(name=name, stock="ply-3", outline=outline, **place)


def project(*plates, joints=()):
    return project_of("free", plates=plates, joints=joints)


def measured(edited, stock_id, thickness):
    readings = edited.stock(stock_id).readings
    for _ in readings:
        edited = stock_edits.remove_reading(edited, stock_id, 0)
    return stock_edits.add_readings(edited, stock_id, [thickness])


def size(edited, plate, field="width"):
    return getattr(relation_edits.standing_plate(edited, plate).outline, field)


def joint_kinds(edited):
    return [type(offer.ways[0]) if offer.ways else None
            for offer in joint_edits.suggestions_of(edited)]  # fmt: skip


def test_a_new_makers_box_of_six_equal_sides_takes_fewer_than_fifteen_steps():
    """As the help tells it: each line is one thing that the maker does."""
    steps = [
        lambda _: empty_table(),
        lambda p: free_structure_edits.type_plate(p, "Plate", "width", "100"),
        lambda p: free_structure_edits.type_plate(p, "Plate", "height", "100"),
        lambda p: place(p, Side(plate="Plate", side="back"), Side()),
        lambda p: many_edits.duplicate(p, ["Plate"])[0],
        lambda p: place(p, Side(plate="Plate 2", side="front"), Side(plate="Plate", side="right")),
        lambda p: place(p, Side(plate="Plate 2", side="bottom"), Side()),
        lambda p: relation_edits.centred_on(p, "Plate 2", "Plate"),
        lambda p: repeat_edits.repeat_plate(
            p, "Plate 2", RepeatWay.RING, count=4,
            about=repeat_edits.likely_middle(p, "Plate 2"),
        ),
        lambda p: many_edits.duplicate(p, ["Plate"])[0],
        lambda p: place(p, Side(plate="Plate 3", side="front"), Side(plate="Plate 2", side="top")),
        lambda p: relation_edits.centred_on(p, "Plate 3", "Plate"),
        joint_edits.join_all,
        alike_corners,
    ]  # fmt: skip
    assert len(steps) < 15
    made = None
    for step in steps:
        made = step(made)
    assert len(solved_structure_of(made).joints) == 12
    for thickness in (2.7, 4, 6.1):
        thick = measured(made, "ply-3", thickness)
        solved = solved_structure_of(thick)
        assert [group.count for group in alike_pieces(solved.pieces)] == [6], thickness
        assert preflight(thick).ok


def alike_corners(edited):
    for joint in edited.structure.joints:
        edited = joint_edits.turn_into_corner(edited, joint.id, "fingers, edges alike")
    return edited


def test_a_ring_of_32_plates_takes_fewer_than_ten():
    """As the help tells it."""
    steps = [
        lambda _: empty_table(),
        lambda p: free_structure_edits.add_shape(p, "circle", "ply-3")[0],
        lambda p: free_structure_edits.type_plate(p, "Circle", "diameter", "160"),
        lambda p: free_structure_edits.type_plate(p, "Plate", "width", "30"),
        lambda p: place(p, Side(plate="Plate", side="bottom"), Side(plate="Circle", side="front")),
        lambda p: free_structure_edits.type_plate(p, "Plate", "x", "55"),
        lambda p: repeat_edits.repeat_plate(
            p, "Plate", RepeatWay.RING, count=4, about=repeat_edits.likely_middle(p, "Plate")),
        lambda p: repeat_edits.type_repeat(p, "M1", "count", "32"),
        joint_edits.join_all,
    ]  # fmt: skip
    assert len(steps) < 10
    made = None
    for step in steps:
        made = step(made)
    solved = solved_structure_of(made)
    assert (len(solved.pieces), len(solved.joints)) == (33, 32)
    assert sorted(group.count for group in alike_pieces(solved.pieces)) == [1, 32]
    assert preflight(made).ok
    fewer = repeat_edits.type_repeat(made, "M1", "count", "8 × 2")
    assert len(solved_structure_of(fewer).joints) == 16


@pytest.mark.parametrize("thickness", [2.7, 3.3, 4.0, 5.2, 6.1])
def test_the_potting_cube_goes_together_for_every_sheet(thickness):
    cube = measured(potting_cube(), "birch-3", thickness)
    found = preflight(cube)
    assert (found.ok, found.interference) == (True, ())
    assert [g.count for g in alike_pieces(solved_structure_of(cube).pieces)] == [6]


def test_a_figure_a_sum_and_a_name_in_a_field(tmp_path):
    made = project(board("Wall"), board("Lid", x=200))
    made = formula_edits.name_number(made, "wall", "80")
    made = free_structure_edits.type_plate(made, "Wall", "width", "wall")
    made = free_structure_edits.type_plate(made, "Lid", "width", "Wall width − 2 × sheet")
    assert size(made, "Lid") == pytest.approx(80 - 2 * made.stock("ply-3").measured_thickness)
    made = formula_edits.name_number(made, "wall", "60 + 1/2 in")
    thin = measured(made, "ply-3", 2.5)
    assert size(thin, "Lid") == pytest.approx(72.7 - 5)
    project_file.save(thin, tmp_path / "a.anzel")
    assert project_file.load(tmp_path / "a.anzel") == thin
    again = free_structure_edits.type_plate(thin, "Lid", "width", "33")
    assert (size(again, "Lid"), len(again.structure.own_formulas)) == (33, 1)
    renamed = free_structure_edits.rename_plate(thin, "Wall", "Side")
    assert size(renamed, "Lid") == pytest.approx(67.7)
    assert formula_edits.formula_at(renamed.structure, "Lid/width") == "Side width − 2 × sheet"
    called = formula_edits.rename_number(thin, "wall", "span")
    assert formula_edits.formula_at(called.structure, "Wall/width") == "span"


def test_what_cannot_be_worked_out_is_told_and_the_last_value_stays():
    made = formula_edits.name_number(project(board("A"), board("B", x=200)), "wall", "80")
    made = free_structure_edits.type_plate(made, "A", "width", "wall")
    with refused(ParameterError, "circle: B/width → A/width|circle: A/width → B/width"):
        both = free_structure_edits.type_plate(made, "B", "width", "A width")
        free_structure_edits.type_plate(both, "A", "width", "B width + 1")
    with refused(ParameterError, "Width: .*divides by nothing"):
        free_structure_edits.type_plate(made, "A", "width", "wall / (wall − 80)")
    with refused(ParameterError, "no number “wals” here. Did you mean “wall”"):
        free_structure_edits.type_plate(made, "A", "width", "wals")
    with refused(ParameterError, "means something already"):
        formula_edits.name_number(made, "sheet", "3")
    with refused(ParameterError, "follow one another in a circle"):
        formula_edits.name_number(made, "wall", "A width")
    gone = formula_edits.remove_number(formula_edits.name_number(made, "wall", "70"), "wall")
    assert size(gone, "A") == 70
    assert "There is no number “wall”" in formula_edits.trouble_at(gone, "A/width")
    assert [f.where for f in solved_structure_of(gone).findings if f.code == "formula"] == [
        "A/width"
    ]


def test_a_forms_field_takes_sums_of_its_others():
    made = project_edits.set_from_text(project_of("box"), "depth", "width / 2 + sheet")
    form = settled_form(made)
    sheet = made.stock(next(iter(form.stock_roles().values()))).measured_thickness
    assert form.depth == pytest.approx(form.width / 2 + sheet)
    wider = project_edits.set_from_text(made, "width", "180")
    assert settled_form(wider).depth == pytest.approx(90 + sheet)
    assert max(p.region.size[0] for p in solved_structure_of(wider).pieces) >= 180


def test_relations_stay_through_removals_and_what_they_placed_stays_put():
    made = project(board("A"), board("B", z=9), board("C", z=30))
    made = place(made, Side(plate="B", side="back"), Side(plate="A", side="front"))
    made = place(made, Side(plate="C", side="back"), Side(plate="B", side="front"))
    before = relation_edits.standing_plate(made, "C")
    with refused(ParameterError, "circle: A → C → B → A"):
        place(made, Side(plate="A", side="front"), Side(plate="C", side="front"))
    with refused(ParameterError, "cannot hold beside"):
        apart = relation_edits.against(
            made, Side(plate="C", side="back"), Side(plate="A", side="front"), distance=9
        )
        relation_edits.relate(made, apart)
    gone = free_structure_edits.remove_plate(made, "B")
    assert relation_edits.standing_plate(gone, "C").z == pytest.approx(before.z)
    assert gone.structure.relations == ()
    typed = relation_edits.type_relation(made, "R1", "distance", "2 × sheet")
    thick = made.stock("ply-3").measured_thickness
    assert relation_edits.standing_plate(typed, "C").z == pytest.approx(before.z + 2 * thick)
    off = relation_edits.remove_relation(typed, "R1")
    assert relation_edits.standing_plate(off, "C").z == pytest.approx(before.z + 2 * thick)
    assert off.structure.own_formulas == ()


def test_sides_are_told_from_where_they_are_pointed_at():
    made = project(board("A", 100, 60))
    half = made.stock("ply-3").measured_thickness / 2
    for at, side in (
        ((0, 0, half), "front"), ((5, 5, -half), "back"), ((50, 0, 0), "right"),
        ((49, 3, half), "right"), ((0, 30, 0.3), "top"), ((-20, -29, half), "bottom"),
    ):  # fmt: skip
        assert side_under(made, "A", at).side == side


def test_single_members_of_a_repeat_may_differ_and_it_can_be_ended():
    made = project(board("Base", 300, 100), board("Rib", 60, 50, tilt=90, turn=90, x=-100, z=26))
    made = repeat_edits.repeat_plate(made, "Rib", RepeatWay.ROW, count=5, pitch=50.0,
                                     direction="rightwards")  # fmt: skip
    made = joint_edits.join_all(made)
    assert len(solved_structure_of(made).joints) == 5
    made = repeat_edits.let_differ(made, "Rib 3")
    made = free_structure_edits.type_plate(made, "Rib 3", "height", "80")
    heights = {p.name: p.region.size[1] for p in solved_structure_of(made).pieces}
    assert heights["Rib 3"] == pytest.approx(heights["Rib 2"] + 30, abs=16)
    made = repeat_edits.leave_out(made, "Rib 2")
    assert {p.name for p in solved_structure_of(made).pieces} == {
        "Base", "Rib", "Rib 3", "Rib 4", "Rib 5",
    }  # fmt: skip
    plain = repeat_edits.end_repeat(made, "M1")
    assert plain.structure.repeats == ()
    assert len(solved_structure_of(plain).joints) == 4
    one = repeat_edits.remove_repeat(made, "M1")
    assert [p.name for p in solved_structure_of(one).pieces] == ["Base", "Rib"]
    with refused(ParameterError, "repeated already"):
        repeat_edits.repeat_plate(made, "Rib", RepeatWay.RING)


def test_a_repeat_in_a_grid_joins_each_where_it_stands():
    made = project(board("Base", 300, 200), board("Peg", 20, 40, tilt=90, x=-100, y=-60, z=0))
    made = repeat_edits.repeat_plate(
        made, "Peg", RepeatWay.GRID, count=4, pitch=60.0, rows=3, row_pitch=50.0,
        direction="rightwards", row_direction="backwards",
    )  # fmt: skip
    made = joint_edits.join_all(made)
    assert len(solved_structure_of(made).joints) == 12
    spots = {tuple(round(c) for c in joint.at[:2]) for joint in solved_structure_of(made).joints}
    assert spots == {(x, y) for x in (-100, -40, 20, 80) for y in (-60, -10, 40)}


def test_plates_are_aligned_spaced_and_mirrored():
    made = project(board("A", x=-50), board("B", x=7, y=40), board("C", x=90, z=5))
    assert many_edits.align(made, ["A", "B", "C"], "z").structure.plates[0].z == 5
    spaced = many_edits.space_evenly(made, ["C", "A", "B"])
    assert [plate.x for plate in spaced.structure.plates] == [-50, 20, 90]
    with refused(ParameterError, "three plates or more"):
        many_edits.space_evenly(made, ["A", "B"])
    points = ((-30, -20, False), (30, -20, False), (0, 25, False))
    wing = FreePlate(name="Wing", stock="ply-3", outline=Profile(points=points), tilt=90, turn=30)
    both, names = many_edits.mirror(project(wing, board("Post", x=100)), ["Wing"])
    solved = {p.name: p for p in solved_structure_of(both).pieces}
    ends = [p.placement.to_world(c)[0] for p in (solved["Wing"], solved["Post"])
            for c in p.region.outer.corners]  # fmt: skip
    middle = (min(ends) + max(ends)) / 2

    def corners(name, mirrored):
        piece = solved[name]
        found = [piece.placement.to_world(c) for c in piece.region.outer.corners]
        return sorted(
            (round(2 * middle - x if mirrored else x, 6), round(y, 6), round(z, 6))
            for x, y, z in found
        )

    assert corners(names[0], False) == corners("Wing", True)
    assert many_edits.alike_plates(made, ["A"]) == ("A", "B", "C")


def corner_of_two():
    return project(
        board("A", 100, 60, tilt=90), board("B", 80, 60, tilt=90, turn=90, x=50, y=40),
    )  # fmt: skip


@pytest.mark.parametrize("kind", KIND_NAMES)
def test_every_kind_of_corner_goes_together_either_way_round(kind):
    made = joint_edits.join_all(corner_of_two())
    made = joint_edits.turn_into_corner(made, "J1", kind)
    for edited in (made, joint_edits.lead_by_other(made, "J1")):
        assert corner_kind(edited.structure.joints[0]) == kind
        found = preflight(edited)
        assert found.interference == (), kind
        assert len(solved_structure_of(edited).joints) == 1
    back = joint_edits.turn_into_corner(made, "J1", "fingers")
    assert isinstance(back.structure.joints[0], FingerCorner)


def test_the_numbers_of_joints_are_refused_where_they_cannot_be():
    made = project(board("Shelf", 100, 60), board("End", 60, 80, turn=90, tilt=90, x=51))
    made = joint_edits.join_all(made)
    assert isinstance(made.structure.joints[0], TabMortise)
    with refused(ParameterError, "would be .* high. Let them be recessed by less than"):
        joint_edits.type_joint(made, "J1", "proud", "-5")
    assert joint_edits.type_joint(made, "J1", "proud", "sheet / 3").structure.joints[
        0
    ].proud == pytest.approx(made.stock("ply-3").measured_thickness / 3)
    cross = project(board("A", tilt=90), board("B", tilt=90, turn=90))
    cross = joint_edits.join_all(cross)
    lap = cross.structure.joints[0]
    assert isinstance(lap, CrossLap)
    other = joint_edits.lead_by_other(cross, lap.id).structure.joints[0]
    assert (other.from_above, other.from_below) == (lap.from_below, lap.from_above)


def test_plates_that_cross_too_flat_are_told_with_what_would_do():
    flat = project(board("A", 200, 100), board("B", 200, 100, tilt=12))
    offer = joint_edits.suggestions_of(flat)[0]
    assert offer.ways == ()
    assert "too flat for slots or tabs at" in offer.why
    with refused(ParameterError, "Nothing meets"):
        joint_edits.join_all(flat)
    assert joint_kinds(project(board("A", 200, 100), board("B", 200, 100, tilt=25))) == [CrossLap]


def test_a_plate_goes_through_another_only_if_it_can_be_brought_in():
    flange = ((-40, -60, False), (40, -60, False), (40, -54, False), (8, -54, False),
              (8, 54, False), (40, 54, False), (40, 60, False), (-40, 60, False),
              (-40, 54, False), (-8, 54, False), (-8, -54, False), (-40, -54, False))  # fmt: skip
    dumbbell = FreePlate(name="Bar", stock="ply-3", outline=Profile(points=flange), tilt=90)
    stuck = project(board("Plate", 200, 200), dumbbell)
    ways = [way for offer in joint_edits.suggestions_of(stuck) for way in offer.ways]
    assert not any(isinstance(way, ThroughMortise) for way in ways)
    peg = project(board("Plate", 200, 200), board("Bar", 16, 120, tilt=90))
    assert joint_kinds(peg) == [ThroughMortise]


def test_three_plates_through_one_point_are_offered_as_what_goes_together():
    made = project(
        board("Flat", 120, 120), board("Long", 100, 60, tilt=90),
        board("Across", 90, 30, tilt=90, turn=90),
    )  # fmt: skip
    kinds = joint_kinds(made)
    assert sorted(kind.__name__ for kind in kinds) == ["CrossLap", "CrossLap", "ThroughMortise"]
    same = project(
        board("Flat", 100, 100), board("Long", 100, 100, tilt=90),
        board("Across", 100, 100, tilt=90, turn=90),
    )  # fmt: skip
    offers = joint_edits.suggestions_of(same)
    assert any("cross at one point" in offer.why for offer in offers)


def test_a_structure_of_names_is_scaled_as_a_whole():
    larger = rescale.by_factor(potting_cube(), 1.5)
    assert larger.structure.own_numbers[0].text == "150.0"
    solved = solved_structure_of(larger)
    assert [group.count for group in alike_pieces(solved.pieces)] == [6]
    assert solved.piece("Bottom").region.size[0] == pytest.approx(150 + 0.16)
    assert preflight(larger).ok
    made = formula_edits.name_number(project(board("A"), board("B", x=200)), "much", "3")
    made = repeat_edits.repeat_plate(made, "A", RepeatWay.ROW, count=2)
    made = repeat_edits.type_repeat(made, "M1", "count", "much")
    made = free_structure_edits.type_plate(made, "B", "width", "40 + sheet")
    made = free_structure_edits.type_plate(made, "B", "height", "A width / 2 + sheet ply-6")
    twice = rescale.by_factor(made, 2.0)
    assert [each.text for each in twice.structure.own_numbers] == ["3"]
    assert size(twice, "B") == pytest.approx(2 * size(made, "B"))
    thick = made.stock("ply-6").measured_thickness
    assert size(twice, "B", "height") == pytest.approx(100 + thick)


def test_a_form_of_sums_goes_on_by_hand_as_it_stands():
    made = project_edits.set_from_text(project_of("box"), "depth", "width / 2")
    wider = project_edits.set_from_text(made, "width", "200")
    free = free_structure_edits.make_free(wider)
    before = {p.name: p.region.area for p in solved_structure_of(wider).pieces}
    after = {p.name: p.region.area for p in solved_structure_of(free).pieces}
    assert after == pytest.approx(before)


def test_formulas_go_with_the_joints_and_relations_of_a_plate_that_goes():
    made = joint_edits.join_all(
        project(board("Shelf", 100, 60), board("End", 60, 80, turn=90, tilt=90, x=51))
    )
    made = place(made, Side(plate="End", side="bottom"), Side(plate="Shelf", side="back"))
    made = joint_edits.type_joint(made, "J1", "proud", "sheet / 3")
    made = relation_edits.type_relation(made, "R1", "distance", "Shelf height / 30 − 2")
    made = free_structure_edits.type_plate(made, "Shelf", "width", "90 + sheet")
    assert len(made.structure.own_formulas) == 3
    gone = free_structure_edits.remove_plate(made, "End")
    assert [each.field for each in gone.structure.own_formulas] == ["Shelf/width"]
    assert [f for f in solved_structure_of(gone).findings if f.code == "formula"] == []


def test_names_follow_one_another_in_a_chain_of_any_length():
    names = tuple(
        NamedNumber(name=f"n{at}", text=f"n{at + 1} + 1" if at < MOST - 1 else "1")
        for at in range(MOST)
    )
    made = work_out(names, (Formula(field="width", text="n0"),), Quantities({}), lambda _: None)
    assert (made.values, made.troubles) == ({"width": MOST}, {})
    ring = (*names[:-1], NamedNumber(name=f"n{MOST - 1}", text="n5"))
    made = work_out(ring, (), Quantities({}), lambda _: None)
    assert "in a circle: n5 → n6" in made.troubles["n5"]
