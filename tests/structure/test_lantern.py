"""Lanterns: a wall that opens on pins, keyed walls, where the tabs' play lies; boxes' dividers."""

from itertools import combinations
from math import cos, degrees, radians, sin, sqrt

import numpy as np
import pytest
from tests.common import FLOOR, rack, rectangle
from tests.told import refused

from anzel.app.edits import joint_edits, project_edits
from anzel.checks.interference import collisions
from anzel.core.findings import ParameterError
from anzel.geometry.placement import Placement
from anzel.geometry.regions import Region
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.structure.forms.box import Box
from anzel.structure.forms.lantern import Lantern
from anzel.structure.forms.solved_form import solve_form
from anzel.structure.joints.pin import Pin
from anzel.structure.keyed_tabs import tabs_fit
from anzel.structure.model import FeatureKind, Plate
from anzel.structure.solids import produced_solid


@pytest.mark.parametrize("sides", [3, 4, 5, 6, 8])
def test_a_door_opens_outwards_and_touches_nothing_on_its_way(sides):
    """The door turned about its pins, a step at a time, against everything that stands."""
    form = Lantern(sides=sides, base_width=140, top_width=140, tab_width=12, door=True)
    sheets = rack()
    made = solve_form(form, sheets)
    door = produced_solid(made.piece("Wall 1"), sheets)
    rest = [produced_solid(p, sheets) for p in made.pieces if p.name != "Wall 1"]
    pins = [joint for joint in made.joints if joint.id in ("PB", "PT")]
    x, y, _ = pins[0].at
    assert pins[1].at[:2] == pytest.approx((x, y))
    for angle in np.linspace(0, 100, 21):  # about the pin at its northern edge
        turned = door.translate((-x, -y, 0)).rotate((0, 0, angle)).translate((x, y, 0))
        overlap = sum((turned ^ other).volume() for other in rest)
        assert overlap < 0.01, f"at {degrees(radians(angle)):.0f}°"
    furthest = np.array(turned.bounding_box()).reshape(2, 3)[1]
    assert furthest[0] > 100  # it does stand open


def test_a_pin_turns_in_a_hole_round_its_corners():
    form, sheets = Lantern(top_width=130, door=True), rack()
    made = solve_form(form, sheets)
    joint = next(joint for joint in made.joints if joint.id == "PT")
    (hole,) = [f for f in joint.features if f.kind is FeatureKind.MORTISE]
    thick = made.piece("Wall 1").thickness
    assert hole.width.produced == pytest.approx(sqrt(2) * thick + 0.2 + sheets.clearance)
    round_holes = [c for c in made.piece("Top").region.holes if c.is_circle]
    assert len(round_holes) == 2  # this one and the vent


@pytest.mark.parametrize(("base", "top"), [(130, 90), (150, 130), (110, 140)])
def test_a_leaning_door_turns_about_its_slanted_pins(base, top):
    """Turned about the line of its pins to a right angle, it touches neither plate nor wall."""
    sheets = rack()
    made = solve_form(Lantern(base_width=base, top_width=top, door=True, tab_width=12), sheets)
    door = produced_solid(made.piece("Wall 1"), sheets)
    rest = [produced_solid(p, sheets) for p in made.pieces if p.name != "Wall 1"]
    low, high = (next(np.array(j.at) for j in made.joints if j.id == name) for name in ("PB", "PT"))
    axis = (high - low) / np.linalg.norm(high - low)
    across = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    for angle in np.radians(np.linspace(0, 90, 19)):
        turn = np.eye(3) + np.sin(angle) * across + (1 - np.cos(angle)) * across @ across
        moved = door.transform(np.hstack([turn, (low - turn @ low)[:, None]]))
        overlap = sum((moved ^ other).volume() for other in rest)
        assert overlap < 0.05, f"at {np.degrees(angle):.0f}°"


def test_a_door_that_leans_too_far_or_has_no_air_is_refused_with_a_size():
    with pytest.raises(ParameterError, match=r"leans (so|too) far"):
        solve_form(Lantern(base_width=230, top_width=70, height=80, frame=10, vent=0, tab_width=12,
                           light_opening=20, door=True), rack())  # fmt: skip
    leaning = Placement((0.0, 0.0, 30.0), (1.0, 0.0, 0.0), (0.0, sin(0.2), cos(0.2)))
    plates = {
        "Door": Plate("Door", "ply-3", Region.of(rectangle(60, 56, -30, -28)), leaning),
        "Base": Plate("Base", "ply-3", Region.of(rectangle(120, 120, -60, -60)), FLOOR),
    }
    with refused(ParameterError, "would rub on Base when it turns. Let its edge end .* before"):
        Pin("J1", "Door", "Base", 25.0).solve(plates, rack())


def test_of_keyed_walls_only_the_right_one_fits():
    form, sheets = Lantern(key_step=0.8, tab_width=10), rack()
    made = solve_form(form, sheets)
    assert collisions(made, sheets, 0.01) == ()
    holds = [j for j in form.place(sheets)[1] if getattr(j, "id", "").startswith("B")]
    assert len({joint.tabs for joint in holds}) == form.sides
    for one, other in combinations(holds, 2):
        assert not tabs_fit(one.tabs, other.tabs, sheets.clearance)
        assert not tabs_fit(other.tabs, one.tabs, sheets.clearance)


@pytest.mark.parametrize("lean", [130, 100, 160])
def test_all_play_is_on_the_inner_side_when_asked(lean):
    """The seen side of every tab touches its mortise's edge, the other has all the clearance."""
    sheets = rack()
    shifts = []
    for inside in (False, True):
        made = solve_form(Lantern(play_inside=inside, top_width=lean, diffusers=False), sheets)
        assert collisions(made, sheets, 0.01) == ()
        joint = next(joint for joint in made.joints if joint.id == "B1")
        (hole,) = joint.features_on("Base")
        shifts.append(hole.at[0])
    assert shifts[0] - shifts[1] == pytest.approx(sheets.clearance / 2)


def test_free_tabs_are_told_apart_and_their_play_moved():
    project = joint_edits.key_tabs(project_of("free"), 1.0)
    one, other = project.structure.joints[:2]
    assert not tabs_fit(one.tabs, other.tabs, 0.05)
    moved = joint_edits.change_joint_numbers(project, "J1", play_side="upper")
    was, now = (
        next(j for j in solved_structure_of(p).joints if j.id == "J1").features_on("Left end")[0].at
        for p in (project, moved)
    )
    assert abs(now[1] - was[1]) == pytest.approx(0.025)
    with pytest.raises(ParameterError, match="two tabs"):
        joint_edits.key_tabs(joint_edits.remove_joint(project, "J1"), 1.0)
    with pytest.raises(ParameterError):
        joint_edits.change_joint_numbers(project, "J1", play_side="sideways")


def spaces(made, name, low, high, axis):
    """Clear widths between dividers and walls."""
    stops = [p.placement.origin[axis] for p in made.pieces if p.name.startswith(name)]
    half = made.pieces[0].thickness / 2
    edges = [low, *(at + s for at in stops for s in (-half, half)), high]
    return [b - a for a, b in zip(edges[::2], edges[1::2], strict=True)]


@pytest.mark.parametrize("count", [1, 2, 5])
def test_compartments_are_equally_wide(count):
    form = Box(sizes_are="inside", across=count, along=0, tab_width=8)
    found = spaces(solve_form(form, rack()), "Across", -80, 80, 0)
    assert found == pytest.approx([found[0]] * (count + 1))


def test_dividers_stand_where_they_are_told_to():
    project = project_edits.set_from_text(project_of("box"), "across_at", "30 2in")
    assert project.structure.across_at == pytest.approx((30, 50.8))
    form = project.structure.with_changes(sizes_are="inside")
    made = solve_form(form, rack())
    at = [p.placement.origin[0] for p in made.pieces if p.name.startswith("Across")]
    assert at == pytest.approx([-50, -29.2])
    assert form.unused() == {"across"}
    assert form.scaled(2).across_at == pytest.approx((60, 101.6))
    with pytest.raises(ParameterError, match="stands outside"):
        solve_form(form.with_changes(across_at=(170,)), rack())
