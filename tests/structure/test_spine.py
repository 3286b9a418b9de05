"""Spine lamps: the spiral strip flat and hung, layers lapped as one stack, the lights' channel."""

from math import asinh, hypot, pi, sqrt

import numpy as np
import pytest
from tests.common import assert_sound, rack

from anzel.app.edits.free_structure_edits import make_free
from anzel.checks.interference import collisions
from anzel.core.findings import ParameterError
from anzel.geometry.placement import Placement
from anzel.materials.fits import crossing_terms
from anzel.project.new_project import project_of
from anzel.scene.exploded_view import exploded_offsets
from anzel.structure.forms.common_outlines import board, lying
from anzel.structure.forms.solved_form import solve_form
from anzel.structure.forms.spine_lamp import SpineLamp
from anzel.structure.forms.spiral import Spiral
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.stack_lap import StackLap
from anzel.structure.model import Plate
from anzel.structure.solids import produced_solid
from anzel.structure.solver import solve

SPIRAL = SpineLamp(hangs="spiral")


def archimedes(outer, inner, pitch):
    """Length of a spiral r = a t between two radii (the arc length of Archimedes' spiral, any
    calculus text): a/2 (t sqrt(1 + t^2) + asinh t)."""
    a = pitch / (2 * pi)

    def upto(radius):
        t = radius / a
        return a / 2 * (t * sqrt(1 + t * t) + asinh(t))

    return upto(outer) - upto(inner)


def test_the_strip_is_as_long_as_archimedes_has_it():
    spiral = Spiral(turns=9, outer=140, width=8, pitch=10, held=5)
    middle = 140 - 4 + 5  # the strip starts half a turn, half a pitch, before its first slot
    exact = archimedes(middle, middle - 90, 10)
    assert spiral.length == pytest.approx(exact, rel=2e-3)
    region = spiral.region()
    assert_sound(region)
    assert region.area == pytest.approx(8 * exact, rel=2e-3)
    outline = np.array(region.outer.corners)
    reach = np.hypot(*outline.T)
    assert reach.max() == pytest.approx(145, abs=0.05)
    assert reach.min() == pytest.approx(140 - 85 - 8, abs=0.05)


def test_a_hung_strip_is_one_piece_that_comes_down_turn_by_turn():
    sheets = rack()
    lamp = SPIRAL.with_changes(bend=0.0)
    made = solve_form(lamp, sheets)
    strip = made.piece("Strip")
    assert [piece.name for piece in made.pieces if piece.name.startswith("Ring")] == []
    assert len(strip.features) == SPIRAL.rings
    low, high = np.array(produced_solid(strip, sheets).bounding_box()).reshape(2, 3)
    assert high[2] - low[2] > SPIRAL.height  # half a turn more above and below
    heights = [joint.at[2] for joint in made.joints]
    assert heights == sorted(heights)
    assert collisions(made, sheets, 0.01) == ()


def test_the_notches_reach_into_no_other_turn():
    sheets = rack()
    strip = solve_form(SPIRAL, sheets).piece("Strip")
    bare = SPIRAL._spiral().region()
    lost = bare.area - strip.region.area
    cut = sum(f.width.drawn * f.depth.drawn for f in strip.features)
    assert lost == pytest.approx(cut, rel=0.02)


def test_a_steep_strip_is_warned_of_and_its_length_said():
    steep = SPIRAL.with_changes(height=1500, rings=3, spiral_diameter=110)
    (finding,) = solve_form(steep, rack()).findings
    assert "comes down at" in finding.message
    assert finding.severity == "warning"
    (note,) = solve_form(SPIRAL, rack()).findings
    assert note.severity == "note"


def test_a_stack_is_taken_in_by_one_slot_about_its_middle():
    sheets = rack()
    made = solve_form(SpineLamp(layers=3), sheets)
    ring = made.piece("Ring 4")
    (slot,) = ring.features
    spine, own = made.piece("Spine 1").thickness, ring.thickness
    taken = sum(term.value for term in crossing_terms(3 * spine, own, pi / 2))
    assert slot.inserted.produced == pytest.approx(taken)
    assert slot.width.produced - taken == pytest.approx(sheets.clearance)
    assert slot.at[1] == pytest.approx(0, abs=1e-9)
    joint = next(joint for joint in made.joints if joint.id == "J4")
    assert set(joint.pieces) == {"Ring 4", "Spine 1", "Spine 2", "Spine 3"}
    floors = set()
    for layer in ("Spine 1", "Spine 2", "Spine 3"):
        (own_slot,) = joint.features_on(layer)
        end = np.array(own_slot.at) - np.array(own_slot.along) * own_slot.depth.drawn / 2
        floors.add(tuple(np.round(end, 6)))
    assert len(floors) == 1  # the ring comes to rest on all layers at once
    assert collisions(made, sheets, 0.01) == ()


def test_slack_goes_on_top_of_the_clearance():
    plain, slack = (solve_form(SpineLamp(slack=each), rack()).joints[0] for each in (0.0, 0.3))
    for one, other in zip(plain.features, slack.features, strict=True):
        assert other.width.drawn - one.width.drawn == pytest.approx(0.3)


def test_the_channel_lies_between_the_outer_layers_behind_the_slots():
    lamp = SpineLamp(layers=5, channel=24)
    made = solve_form(lamp, rack())
    wide, narrow = made.piece("Spine 1").region, made.piece("Spine 3").region
    assert wide.area - narrow.area == pytest.approx(24 * 370, rel=0.2)
    assert not any(f.joint.startswith("J") for f in made.piece("Spine 3").features)
    assert len(made.piece("Ring 1").features) == 2
    assert collisions(made, rack(), 0.01) == ()
    with pytest.raises(ParameterError, match="no deeper than the slots"):
        solve_form(lamp.with_changes(channel=5), rack())


def test_what_hangs_bent_is_not_placed_by_hand():
    with pytest.raises(ParameterError, match="hangs bent"):
        make_free(project_of("spine-lamp", hangs="spiral"))


def test_a_turn_closes_on_the_next():
    """Neighbouring facets meet along their border within what the leaning leaves open."""
    lamp = SPIRAL.with_changes(bend=0.0)
    (strip,) = [p for p in lamp.place(rack())[0] if p.bent]
    for one, other in zip(strip.bent, strip.bent[1:], strict=False):
        shared = one.region.shape.boundary.intersection(other.region.shape.buffer(1e-3))
        at = shared.centroid.coords[0]
        here, there = one.placement.to_world(at), other.placement.to_world(at)
        assert hypot(*(a - b for a, b in zip(here, there, strict=True))) < 1.5


def test_a_stack_that_parts_its_plate_names_the_parts_when_pulled_apart():
    """A ring cut through by another slot becomes two pieces; the stack holds on to one of them."""
    upright = Placement((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    layers = [
        Plate(f"Layer {n}", "ply-6", board(-12, -20, 12, 20), Placement(
            (0.0, 5.86 * n, 0.0), upright.x_axis, upright.y_axis))
        for n in range(2)
    ]  # fmt: skip
    shelf = Plate("Shelf", "ply-3", board(-70, -40, 5, 40), lying(0.0), may_part=True)
    blade = Plate("Blade", "ply-3", board(-20, -60, 20, 60), Placement(
        (-45.0, 0.0, 0.0), (0.0, 0.0, 1.0), (0.0, 1.0, 0.0)))  # fmt: skip
    declared = [
        StackLap("J1", ("Layer 0", "Layer 1"), "Shelf", up=(1.0, 0.0, 0.0)),
        CrossLap("J2", "Shelf", "Blade", split=0.999, up=(0.0, 1.0, 0.0)),
    ]
    made = solve((*layers, shelf, blade), declared, rack())
    names = {piece.name for piece in made.pieces}
    assert "Shelfa" in names
    assert "Shelf" not in names
    for joint in made.joints:
        assert {name for pair in joint.separations for name in pair} <= names
    offsets = exploded_offsets(made, 50.0)
    assert set(offsets) == names
