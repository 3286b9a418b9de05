"""Orders of assembly: replayed by moving the solids in small steps, and never called possible where
they are not."""

from itertools import product

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from tests.common import rack
from tests.structure.test_forms import forms

from anzel.assembly.blocking import Blocking
from anzel.assembly.bodies import AXES, Bodies, Flat, RigidBody, bodies_of, distinct
from anzel.assembly.order import prove
from anzel.assembly.records import AssemblyStep
from anzel.assembly.sweeps import sweep_meets
from anzel.assembly.wishes import AssemblyWishes
from anzel.core.findings import MakerError
from anzel.core.tolerances import OVERLAP_VOLUME
from anzel.geometry.placement import Placement
from anzel.project.assembly import assembly_of
from anzel.project.demos import DEMOS
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.project.preflight import preflight
from anzel.structure.forms import FORMS
from anzel.structure.forms.solved_form import solve_form
from anzel.structure.solids import produced_solid

_SAMPLES = 16


def replay(steps, solids):
    """Move solids as steps say, in small steps, by booleans of manifold3d alone."""
    boxes = {name: np.array(s.bounding_box()).reshape(2, 3) for name, s in solids.items()}
    there: dict[str, set[str]] = {}
    for step in steps:
        standing = there.setdefault(step.group, set())
        moving = {name: move for move in step.moves for name in move.pieces}
        assert not step.moves or set(moving) == set(step.pieces)
        for share in np.linspace(1.0, 0.0, _SAMPLES + 1) if moving else ():
            away = {n: -np.array(m.direction) * m.distance * share for n, m in moving.items()}
            for name, other in product(moving, [*standing, *moving]):
                if moving.get(name) is moving.get(other) or name == other:
                    continue
                by, its = away[name], away.get(other, np.zeros(3))
                low, high = boxes[name] + by
                least, most = boxes[other] + its
                if (low < most).all() and (high > least).all():
                    common = solids[name].translate(by) ^ solids[other].translate(its)
                    assert common.volume() < OVERLAP_VOLUME, (name, other, share)
        if step.moves:
            assert _is_clear(step, standing, boxes), step
        standing.update(step.pieces)
    return there[""]


def _is_clear(step: AssemblyStep, standing, boxes):
    """Where a move begins, a plane square to its way parts what moves from the rest."""
    for move in step.moves:
        way = np.array(move.direction)
        corners = [np.array(list(product(*boxes[n].T))) for n in move.pieces]
        last = max(float((c @ way).max()) for c in corners) - move.distance
        others = [np.array(list(product(*boxes[n].T))) @ way for n in standing]
        if others and len(step.moves) == 1 and last > max(float(o.max()) for o in others):
            return False
    return True


def _replayed(solved, sheets, proof):
    solids = {piece.name: produced_solid(piece, sheets) for piece in solved.pieces}
    assert replay(proof.steps, solids) == set(solids)


@pytest.mark.parametrize("name", [name for name in FORMS if name != "found"])
def test_every_form_goes_together_as_it_starts(name):
    sheets = rack()
    solved = solve_form(FORMS[name](), sheets)
    proof = prove(bodies_of(solved, sheets))
    assert proof.ok
    _replayed(solved, sheets, proof)


@pytest.mark.slow
@given(forms())
@settings(max_examples=40)
def test_any_form_is_put_together_as_proven_or_named_as_locked(made):
    form, sheets = made
    try:
        solved = solve_form(form, sheets)
    except MakerError:
        return
    if len(solved.pieces) > 60:
        return
    proof = prove(bodies_of(solved, sheets))
    assert all(len(each.pieces) > 1 and each.why for each in proof.locked)
    _replayed(solved, sheets, proof)


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.name)
def test_every_demo_has_a_proven_order(demo):
    project = demo.make()
    found = assembly_of(project)
    assert found.proof.ok
    assert found.findings == ()
    if not project.structure.has_drawings:
        _replayed(solved_structure_of(project), fit_context_of(project), found.proof)


def _box(low, high) -> Flat:
    (x, y, z), (u, v, w) = low, high
    return Flat(shapely.box(x, y, u, v), w - z, Placement((0.0, 0.0, (z + w) / 2), *AXES[:2]))


def _body(name, *flats, ways=AXES) -> RigidBody:
    return RigidBody(name, tuple(flats), name, distinct(ways))


def _ring(name, placement, wide=60.0, high=24.0) -> RigidBody:
    outer = shapely.box(-wide / 2, -high / 2, wide / 2, high / 2)
    return _body(name, Flat(outer.difference(outer.buffer(-3, join_style="mitre")), 3.0, placement))


def test_a_plate_with_a_waist_in_a_closed_hole_is_locked():
    holder = shapely.box(-30, -30, 30, 30).difference(shapely.box(-10.1, -1.6, 10.1, 1.6))
    waisted = shapely.union_all([shapely.box(-10, -20, 10, 20), shapely.box(-20, 10, 20, 20),
                                 shapely.box(-20, -20, 20, -10)])  # fmt: skip
    upright = Placement((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    bodies = (_body("Holder", Flat(holder, 3.0, Placement((0.0, 0.0, 0.0), *AXES[:2]))),
              _body("Waist", Flat(waisted, 3.0, upright)))  # fmt: skip
    proof = prove(Bodies(bodies, frozenset({(0, 1)})))
    assert not proof.ok
    assert proof.locked[0].pieces == ("Holder", "Waist")
    assert "no straight way found" in proof.locked[0].why
    # without its lower bar it comes out upwards: the check above can pass
    freed = Flat(waisted.difference(shapely.box(-30, -30, 30, -10)), 3.0, upright)
    assert prove(Bodies((bodies[0], _body("Waist", freed)), frozenset({(0, 1)}))).ok


def test_three_rings_through_one_another_are_locked():
    """Borromean rings: no two are linked, and still none comes away (any text on knots)."""
    x, y, z = AXES
    at = [Placement((0.0, 0.0, 0.0), *pair) for pair in ((x, y), (y, z), (z, x))]
    rings = tuple(_ring(f"Ring {n + 1}", place) for n, place in enumerate(at))
    assert [len(each.pieces) for each in prove(Bodies(rings)).locked] == [3]
    assert prove(Bodies(rings[:2])).ok


def test_what_needs_two_hands_and_two_moves_at_once_is_not_called_possible():
    """A slides along x only and B along y only, and a slanting tongue makes both go at once."""
    frame = _body(
        "Frame", _box((-40, -40, -5), (40, 40, 0)), _box((-40, -40, 20), (40, 40, 25)),
        _box((10, 10, 0), (40, 40, 20)), _box((-10, -40, 0), (40, -10, 20)),
        _box((-40, -40, 0), (-10, 40, 20)),
    )  # fmt: skip
    tongue = shapely.Polygon([(-2, -2), (2, 2), (-2, 6), (-6, 2)])
    a = shapely.Polygon([(-10, -10), (40, -10), (40, 10), (10, 10)]).union(tongue)
    b = shapely.Polygon([(-10, -10), (10, 10), (10, 40), (-10, 40)]).difference(tongue)
    slabs = [Flat(s, 20.0, Placement((0.0, 0.0, 10.0), *AXES[:2])) for s in (a, b)]
    bodies = (frame, _body("A", slabs[0]), _body("B", slabs[1]))
    joined = frozenset({(0, 1), (1, 2), (0, 2)})
    locked = prove(Bodies(bodies, joined)).locked
    assert locked, "both would have to move at once"
    assert {"A", "B"} <= set(locked[0].pieces)


OWNERS = (
    "Y2X1Y2X1Z2Z2X2X2X1X1Z1Z1X1X1Z1Z1Y1Z2X2Y1X1X1Z1Y1X1X1Y1Y1Y1X1Y1X1"
)  # fmt: skip
"""Which of the six sticks has each cell that two or three of them would share, in order."""


def six_piece_burr() -> Bodies:
    """Return six sticks of 2 × 2 × 6 cells in three crossing pairs; X1 is the plain key."""
    lengths = {
        "X1": ((-3, 3), (-1, 1), (0, 2)), "X2": ((-3, 3), (-1, 1), (-2, 0)),
        "Y1": ((0, 2), (-3, 3), (-1, 1)), "Y2": ((-2, 0), (-3, 3), (-1, 1)),
        "Z1": ((-1, 1), (0, 2), (-3, 3)), "Z2": ((-1, 1), (-2, 0), (-3, 3)),
    }  # fmt: skip
    cells = {n: set(product(*(range(*side) for side in box))) for n, box in lengths.items()}
    shared = sorted(
        c for c in set.union(*cells.values()) if sum(c in s for s in cells.values()) > 1
    )
    owners = [OWNERS[at : at + 2] for at in range(0, len(OWNERS), 2)]
    for cell, owner in zip(shared, owners, strict=True):
        for name, own in cells.items():
            if name != owner:
                own.discard(cell)
    made = []
    for name, own in cells.items():
        layers = [(z, [(x, y) for x, y, height in own if height == z]) for z in range(-3, 3)]
        flats = [
            Flat(part, 10.0, Placement((0.0, 0.0, 10.0 * z + 5.0), *AXES[:2]))
            for z, layer in layers
            for part in shapely.get_parts(
                shapely.union_all([shapely.box(10 * x, 10 * y, 10 * x + 10, 10 * y + 10)
                                   for x, y in layer])
            )
        ]  # fmt: skip
        made.append(_body(name, *flats))
    return Bodies(tuple(made))


def test_the_six_piece_burr_is_closed_by_its_plain_key():
    """Hoffmann, Puzzles Old and New (1893), the six-piece puzzle: the plain stick goes in last,
    along its own length (from memory)."""
    burr = six_piece_burr()
    proof = prove(burr)
    assert proof.ok
    last = proof.steps[-1]
    assert last.pieces == ("X1",)
    assert abs(last.moves[0].direction[0]) == 1.0
    blocking, whole = Blocking(burr), (1 << 6) - 1
    free = {body.name for at, body in enumerate(burr.all) for way in body.ways
            if blocking.is_free(at, way, whole & ~(1 << at))}  # fmt: skip
    assert free == {"X1"}, "the key alone can be drawn"
    replay(proof.steps, {body.name: body.solid for body in burr.all})


def test_a_ring_of_walls_that_hook_one_another_closes_at_once():
    """Each wall has a tongue that goes along itself into the next: none can go in alone."""
    walls, radius = [], 12.0
    corner, half = radius * 3**0.5, 1.5 * 3**0.5  # where mid-planes meet, and what a slant takes
    outline = shapely.box(-30, -10, corner - half, 10)
    outline = outline.union(shapely.box(corner - half, -3, corner + half + 2, 3))
    hole = shapely.box(-corner - half - 0.1, -3.1, -corner + half + 0.1, 3.1)
    ways = [(float(np.cos(angle)), float(np.sin(angle)), 0.0)
            for angle in 2 * np.pi * np.arange(3) / 3]  # fmt: skip
    for number, way in enumerate(ways):
        at = (radius * way[1], -radius * way[0], 0.0)
        shape = outline.difference(hole)
        flat = Flat(shape, 3.0, Placement(at, way, AXES[2]))
        walls.append(_body(f"Wall {number}", flat, ways=(*AXES, *ways)))
    joined = frozenset((n, (n + 1) % 3) for n in range(3))
    bodies = Bodies(tuple(walls), joined)
    solids = {body.name: body.solid for body in walls}
    assert all((solids[f"Wall {a}"] ^ solids[f"Wall {b}"]).volume() < 1e-6 for a, b in joined)
    blocking = Blocking(bodies)
    assert not any(blocking.is_free(0, way, 0b110) for way in walls[0].ways)
    proof = prove(bodies)
    assert proof.ok
    assert len(proof.steps[-1].moves) == 2, "the first stays, the others close round it"
    replay(proof.steps, solids)


def test_wishes_are_kept_and_proven_again():
    project = next(demo for demo in DEMOS if demo.name == "herb-stand").make()
    usual = [step.pieces[0] for step in assembly_of(project).proof.steps]
    first, then = usual[1], usual[0]
    wished = project.with_changes(assembly=AssemblyWishes(before=((first, then),)))
    kept = assembly_of(wished)
    order = [step.pieces[0] for step in kept.proof.steps]
    assert kept.keeps_wishes
    assert order.index(first) < order.index(then)
    grouped = project.with_changes(assembly=AssemblyWishes(groups=(("Top", usual[0]),)))
    told = assembly_of(grouped)
    assert not told.keeps_wishes
    assert told.proof.ok
    assert [f.code for f in told.findings] == ["wish-impossible"]


@pytest.mark.parametrize(("way", "meets"), [
    ((0.0, 0.0, 60.0), True), ((0.0, 0.0, 20.0), False), ((60.0, 0.0, 60.0), False),
    ((7.0, 0.0, 60.0), True), ((44.0, 0.0, 60.0), True), ((45.0, 0.0, 60.0), False),
])  # fmt: skip
def test_a_sweep_is_exact(way, meets):
    """A slab of 20 × 20 rises to one of the same size, 30 above it: worked out by hand."""
    square = shapely.box(-10, -10, 10, 10)
    low = Flat(square, 3.0, Placement((0.0, 0.0, 0.0), *AXES[:2]))
    high = Flat(square, 3.0, Placement((0.0, 0.0, 30.0), *AXES[:2]))
    assert sweep_meets(low, way, high) is meets
    assert sweep_meets(high, tuple(-part for part in way), low) is meets


def test_what_bends_is_not_called_impossible():
    """A strip wound round a spine is put on by bending it: a warning, which stops no cut."""
    project = project_of("spine-lamp", hangs="spiral")
    found = assembly_of(project)
    assert [(each.bent, each.pieces[0]) for each in found.proof.locked] == [(True, "Spine")]
    assert [finding.code for finding in found.findings] == ["put-on-by-bending"]
    assert "locked" not in {each.code for each in preflight(project).problems}


def test_a_slice_with_a_loop_comes_down_on_the_others():
    """Nothing could be pushed over the loop: its slots open downwards."""
    project = project_of("sliceform", loop=6, loop_wall=5, loop_on="first", loop_slice=5)
    proof = assembly_of(project).proof
    assert proof.ok
    step = next(step for step in proof.steps if "A5" in step.pieces)
    assert not step.moves or step.moves[0].direction == (0.0, 0.0, -1.0)
