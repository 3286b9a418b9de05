"""Where makers met walls: what forms make now, and what they warn of instead of refusing."""

from math import pi

import pytest
from tests.common import rack
from tests.told import refused

from anzel.app.edits import project_edits, stock_edits
from anzel.core.findings import ParameterError
from anzel.materials.stock import SheetSize
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.project.preflight import preflight
from anzel.project.takes import figures_of
from anzel.structure.forms import FORMS
from anzel.structure.model import FeatureKind


def proven(form, **fields):
    """A form's project that goes together, and its solved structure."""
    made = project_of(form, **fields)
    large = (SheetSize(width=800, height=800),)
    for stock in made.stocks:
        made = stock_edits.change_stock(made, stock.id, sheets=large)
    found = preflight(made)
    assert found.problems == ()
    assert found.interference == ()
    return made, solved_structure_of(made)


def test_twenty_by_twenty_boards_in_five_inches():
    """Built by a maker: 20 boards each way within 127 mm, of sheet 2.97 mm."""
    made = project_of("grid-stand", width=127, depth=127, across=18, along=18, recess=0)
    for stock in made.stocks:
        made = stock_edits.change_stock(made, stock.id, readings=(2.97,))
    found = preflight(made)
    assert (found.problems, found.interference) == ((), ())
    assert len(solved_structure_of(made).joints) == 400
    assert found.smallest_web == pytest.approx(127 / 19 - 2.97, abs=0.1)


@pytest.mark.parametrize(("form", "more"), [("grid-stand", {"jointed": True}),
                                            ("box", {"lid": "jointed"})])  # fmt: skip
def test_tops_are_jointed(form, more):
    _, solved = proven(form, **more)
    tops = [joint for joint in solved.joints if joint.id.startswith("T")]
    assert len(tops) == 4
    assert all({f.kind for f in joint.features} == {FeatureKind.TAB, FeatureKind.MORTISE}
               for joint in tops)  # fmt: skip


def test_fifty_turns_of_a_strip_in_a_sheet_of_400():
    made = project_of(
        "spine-lamp", hangs="spiral", rings=50, spiral_diameter=390, strip_width=2.4,
        strip_gap=1.2, height=400,
    )  # fmt: skip
    solved = solved_structure_of(made)
    assert max(solved.piece("Strip").region.size) < 400
    assert any("less than two sheets" in f.message for f in solved.findings)
    assert len(solved.joints) == 50


@pytest.mark.parametrize("hangs", ["rings", "spiral"])
def test_single_slots_are_moved_narrowed_and_lengthened_and_stay_so(hangs):
    made, before = proven("spine-lamp", hangs=hangs)
    third = next(joint for joint in before.joints if joint.id.startswith("J3"))
    changed = project_edits.type_joint_change(made, third.id, "wider", "-0.05")
    changed = project_edits.type_joint_change(changed, third.id, "deeper", "1.5")
    after = {joint.id: joint for joint in solved_structure_of(changed).joints}
    for old in before.joints:
        both = list(zip(after[old.id].features, old.features, strict=True))
        is_third = old.id == third.id
        wider = [new.width.drawn - was.width.drawn for new, was in both]
        deeper = [new.depth.drawn - was.depth.drawn for new, was in both]
        assert wider == pytest.approx([-0.05 * is_third] * 2, abs=1e-9)
        assert deeper == pytest.approx([1.5 * is_third] * 2, abs=1e-9)
    changed = project_edits.type_joint_change(changed, third.id, "moved", "6")
    after = {joint.id: joint for joint in solved_structure_of(changed).joints}
    for old in before.joints:
        way = sum((a - b) ** 2 for a, b in zip(after[old.id].at, old.at, strict=True)) ** 0.5
        assert way == pytest.approx(6 if old.id == third.id else 0, abs=0.4)
    taller = project_edits.change_structure(changed, height=made.structure.height + 20)
    assert project_edits.joint_change_of(taller, third.id).moved == 6
    back = changed
    for field in ("moved", "wider", "deeper"):
        back = project_edits.type_joint_change(back, third.id, field, "0")
    assert back.structure.own_joints == ()


def test_rings_of_a_rib_lamp_have_the_diameters_that_are_typed():
    plain, solved = proven("rib-lamp")
    wide = [solved.piece(f"Ring {n}").region.size[0] for n in (1, 2)]
    made, solved = proven("rib-lamp", ring_diameters=(wide[0] + 6, wide[1] - 5))
    found = [solved.piece(f"Ring {n}").region.size[0] for n in (1, 2)]
    assert found == pytest.approx([wide[0] + 6, wide[1] - 5], abs=0.1)  # slots notch the edge
    with refused(ParameterError, "Ring 1 of .* Between .* will do"):
        solved_structure_of(project_of("rib-lamp", ring_diameters=(20.0,)))
    larger = made.structure.scaled(1.1)
    assert larger.ring_diameters == pytest.approx([d * 1.1 for d in made.structure.ring_diameters])
    assert figures_of(plain).seconds > 60


@pytest.mark.parametrize("sides", [4, 6])
def test_walls_lean_45_degrees(sides):
    _, solved = proven(
        "lantern", sides=sides, base_width=230, top_width=70, height=80, frame=10, vent=0,
        tab_width=12, light_opening=20, diffusers=False,
    )  # fmt: skip
    assert len([p for p in solved.pieces if p.name.startswith("Wall")]) == sides


def test_the_loop_is_on_the_slice_that_was_chosen():
    for on, number, name in (("second", 0, "B4"), ("second", 2, "B2"), ("first", 5, "A5")):
        plain = {p.name: p for p in proven("sliceform", loop=0)[1].pieces}
        _, solved = proven("sliceform", loop=6, loop_wall=5, loop_on=on, loop_slice=number)
        higher = [
            p.name for p in solved.pieces
            if p.region.bounds[3] > plain[p.name].region.bounds[3] + 3
        ]  # fmt: skip
        assert higher == [name]
        eye = max(solved.piece(name).region.holes, key=lambda hole: hole.bounds[3])
        assert eye.bounds[2] - eye.bounds[0] == pytest.approx(6)
    with refused(ParameterError, "no slice 40"):
        solved_structure_of(project_of("sliceform", loop=6, loop_slice=40))


def test_a_body_has_play_in_its_cradle():
    areas = []
    for play in (0.0, 2.0):
        _, solved = proven("sliceform", cradle=True, body="sphere", play=play)
        areas.append(sum(piece.region.area for piece in solved.pieces))
    assert areas[1] < areas[0] - 2 * 2 * pi


def test_the_limits_of_every_form_leave_room_and_its_defaults_lie_between():
    for name in FORMS:
        form = FORMS[name]()
        for thickness in (1.5, 3.0, 6.0):
            for field, (low, high) in form.ranges(rack(thickness)).items():
                if thickness == 3.0 and name != "found":
                    assert low <= getattr(form, field) <= high, (name, field)
