"""Sweeps against samples, and bounds that settle what is clear against the exact answer."""

from itertools import product

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from tests.common import rack

from anzel.assembly.blocking import Blocking, bodies_meet, members
from anzel.assembly.bodies import (
    AXES,
    Bodies,
    Flat,
    RigidBody,
    bodies_of,
    distinct,
    without_interference,
)
from anzel.assembly.directions import directions_for_locked
from anzel.assembly.order import prove
from anzel.core.tolerances import OVERLAP_VOLUME
from anzel.geometry.placement import Placement, cross, unit
from anzel.structure.forms import FORMS
from anzel.structure.forms.solved_form import solve_form

small = st.floats(-1.0, 1.0).map(lambda share: round(share, 2))
vectors = st.tuples(small, small, small).filter(lambda v: sum(part**2 for part in v) > 0.05)


@st.composite
def flats(draw):
    """A plate with a notch and a hole, anywhere and at any angle."""
    width, height = draw(st.floats(12, 40)), draw(st.floats(12, 40))
    shape = shapely.box(-width / 2, -height / 2, width / 2, height / 2)
    shape = shape.difference(shapely.box(-2, 0, 2, height))
    shape = shape.difference(shapely.Point(width / 4, -height / 4).buffer(2.5, 5))
    x_axis, other = unit(draw(vectors)), unit(draw(vectors))
    normal = cross(x_axis, other)
    assume(sum(part**2 for part in normal) > 0.05)
    normal = unit(normal)
    at = tuple(20 * part for part in draw(vectors))
    return Flat(shape, draw(st.floats(1.5, 6)), Placement(at, x_axis, cross(normal, x_axis)))


@given(flats(), flats(), vectors, st.floats(5, 80))
@settings(max_examples=80, deadline=None)
def test_what_meets_at_any_moment_meets_the_sweep(moving, other, way, far):
    """A solid that is moved in steps and overlaps at one of them must be told; and the other way
    round the same is told."""
    whole = tuple(part * far for part in unit(way))
    one, mate = RigidBody("One", (moving,)), RigidBody("Mate", (other,))
    worst = max(
        (moving.solid.translate(np.array(whole) * share) ^ other.solid).volume()
        for share in np.linspace(0, 1, 25)
    )
    told = bodies_meet(one, mate, whole)
    assert told or worst <= OVERLAP_VOLUME
    assert bodies_meet(mate, one, tuple(-part for part in whole)) is told
    if told:  # what is told is there: some of 400 moments overlaps, if only by a little
        hits = (
            (moving.solid.translate(np.array(whole) * share) ^ other.solid).volume()
            for share in np.linspace(0, 1, 400)
        )
        assert any(volume > 1e-9 for volume in hits)


@pytest.mark.parametrize("name", ["crossed-stand", "box", "sliceform"])
def test_bounds_never_free_what_the_exact_answer_blocks(name):
    """The quick answers of `Blocking` against the sweep alone, for every pair and direction."""
    sheets = rack()
    bodies = bodies_of(solve_form(FORMS[name](), sheets), sheets)
    blocking, some = Blocking(bodies), range(min(len(bodies.all), 9))
    for one, other in product(some, some):
        if one == other:
            continue
        for way in bodies.all[one].ways:
            ahead = other in blocking._possibly(one, way)
            quick = ahead and blocking.meets(one, other, way)
            far = tuple(part * blocking.reach for part in way)
            assert quick == bodies_meet(bodies.all[one], bodies.all[other], far), (one, other, way)


def test_a_press_fit_may_bite_at_its_joint_and_nowhere_else():
    sheets = rack(clearance=-0.2)
    pressed = solve_form(FORMS["crossed-stand"](), sheets)
    assert not prove(bodies_of(pressed, sheets)).ok, "its own solids overlap as they stand"
    relaxed = without_interference(sheets)
    assert relaxed.rule(sheets.by_stock[0].stock_id).clearance == 0.0
    assert prove(bodies_of(solve_form(FORMS["crossed-stand"](), relaxed), relaxed)).ok
    loose = rack(clearance=0.1)
    assert without_interference(loose).rule(loose.by_stock[0].stock_id).clearance == 0.1


def _slab(name, x, z):
    shape = shapely.box(x - 10, -10, x + 10, 10)
    return RigidBody(
        name, (Flat(shape, 3.0, Placement((0.0, 0.0, z), *AXES[:2])),), name, distinct(AXES)
    )


def test_bodies_that_overlap_are_one_lump_and_said_so():
    bodies = Bodies((_slab("A", 0, 0), _slab("B", 15, 1), _slab("C", 30, 2), _slab("D", 80, 0)))
    blocking = Blocking(bodies)
    assert blocking.overlaps == ((0, 1), (1, 2))
    assert [members(mask) for mask in blocking.lumps] == [[0, 1, 2]] * 3 + [[3]]
    proof = prove(bodies)
    assert [each.pieces for each in proof.locked] == [("A", "B", "C")]
    assert proof.locked[0].why == "A and B would be in the same place"


def test_a_plug_that_only_leaves_askew_finds_its_way():
    """A prism in a slanting channel, closed above: no joint names its direction."""
    slope = 30.0
    way = (float(np.cos(np.radians(slope))), 0.0, float(np.sin(np.radians(slope))))
    side = Placement((0.0, 0.0, 0.0), AXES[0], AXES[2])
    along, up = np.array([way[0], way[2]]), np.array([-way[2], way[0]])
    plug = shapely.Polygon(
        [a * 40 * along + b * 5 * up for a, b in ((0, -1), (1, -1), (1, 1), (0, 1))]
    )
    block = shapely.box(-30, -30, 60, 60).difference(
        shapely.Polygon(
            [a * 200 * along + b * 5.05 * up for a, b in ((0, -1), (1, -1), (1, 1), (0, 1))]
        )
    )
    cheeks = [
        Flat(shapely.box(-30, -30, 60, 60), 3.0, Placement((0.0, y, 0.0), AXES[0], AXES[2]))
        for y in (-8.1, 8.1)
    ]
    holder = RigidBody("Holder", (Flat(block, 13.0, side), *cheeks), "Holder", distinct(AXES))
    inside = RigidBody("Plug", (Flat(plug, 13.0, side),), "Plug", distinct(AXES))
    bodies = Bodies((holder, inside), frozenset({(0, 1)}))
    assert any(np.allclose(each, way) for each in directions_for_locked(bodies.all))
    proof = prove(bodies)
    assert proof.ok
    assert np.abs(np.array(proof.steps[1].moves[0].direction)) == pytest.approx(np.abs(way))
    assert not prove(bodies, thorough=False).ok
