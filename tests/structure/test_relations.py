"""Plates placed by what touches what, for any thickness; and forms built again that way."""

from itertools import combinations
from math import cos, pi, radians, sin, tan

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from tests.common import rack

from anzel.core.findings import ParameterError
from anzel.geometry.placement import dot
from anzel.structure.alike_pieces import alike_pieces
from anzel.structure.forms import FORMS
from anzel.structure.forms.free_structure import FreeStructure, to_free_structure
from anzel.structure.forms.solved_form import solve_form
from anzel.structure.free.expansion import body_of, expanded
from anzel.structure.free.outline_shapes import Circle, Rectangle
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.joints.finger_corner import FingerCorner
from anzel.structure.joints.registry import joint_with_renamed_plates, plates_of
from anzel.structure.model import KerfAt
from anzel.structure.relations.records import (
    Against,
    Centred,
    Facing,
    Hinged,
    PlateRepeat,
    RepeatWay,
    Side,
    member_name,
)
from anzel.structure.relations.repeats import members_of, repeated_plates
from anzel.structure.solids import produced_solid

THICK = st.floats(1.0, 8.0)
SIZE = st.floats(60.0, 200.0)


def side(text):
    """A side as `Plate.side`, or the table."""
    plate, _, name = text.partition(".")
    return Side(plate=plate, side=name) if name else Side()


def on(number, one, other, distance=0.0):
    return Against(id=f"R{number}", side=side(one), to=side(other), distance=distance)


def flush(number, one, other, distance=0.0):
    return on(number, one, other, distance).with_changes(facing=Facing.SAME)


def between(number, one, low, high):
    return Centred(id=f"R{number}", side=side(one), to=side(low), other=side(high))


def board(name, width, height, **at):
    return FreePlate(name=name, stock="ply-3", outline=Rectangle(width=width, height=height), **at)


def plane(free, of, which):
    """A side in space from corners that are worked out one by one: (normal, height)."""
    if not which.plate:
        return np.array([0.0, 0.0, 1.0]), 0.0
    whole = expanded(free, of)
    plate = next(each for each in whole.plates if each.name == which.plate)
    its, at = body_of(plate, of).plane(which.side), whole.placements[which.plate]
    axes = np.array([at.x_axis, at.y_axis, at.normal])
    normal = np.array(its.normal) @ axes
    return normal, its.height + float(normal @ np.array(at.origin))


def assert_touches(free, of):
    """Every relation's sides are parallel, and as far apart as it says, to a picometre."""
    found = expanded(free, of)
    assert not found.troubles
    for relation in free.relations:
        if isinstance(relation, Hinged):
            continue
        (own, height), (other, level) = (plane(free, of, s) for s in (relation.side, relation.to))
        same = float(own @ other)
        assert abs(abs(same) - 1) < 1e-12
        if isinstance(relation, Against):
            assert same == pytest.approx(1.0 if relation.facing is Facing.SAME else -1.0)
            gap = height - level if same > 0 else -height - level
            assert gap == pytest.approx(relation.distance, abs=1e-9)
        else:
            far, end = plane(free, of, relation.other)
            middle = (level + (end if float(other @ far) > 0 else -end)) / 2
            assert height * np.sign(same) == pytest.approx(middle, abs=1e-9)


def overlap(free, of):
    """The largest overlap of two produced plates, mm³."""
    solids = [produced_solid(piece, of) for piece in solve_form(free, of).pieces]
    return max((float((a ^ b).volume()) for a, b in combinations(solids, 2)), default=0.0)


def box(width, depth, height, cells=5, **more):
    """A closed box of six boards, all fronts outside, as large outside as said."""
    plates = (
        board("Bottom", width, depth, tilt=180, **more),
        board("Top", width, depth, z=height, **more),
        board("East", depth, height, turn=90, tilt=90, x=width, **more),
        board("West", depth, height, turn=-90, tilt=90, x=-width, **more),
        board("South", width, height, tilt=90, y=-depth, **more),
        board("North", width, height, turn=180, tilt=90, y=depth, **more),
    )  # fmt: skip
    walls = ("East", "West", "South", "North")
    relations = [on(1, "Bottom.front", "")]
    for number, (wall, edge) in enumerate(
        zip(walls, ("right", "left", "top", "bottom"), strict=True)
    ):
        low, high = ("bottom", "top") if wall in ("East", "West") else ("left", "right")
        relations += [
            flush(10 * number + 10, f"{wall}.front", f"Bottom.{edge}"),
            on(10 * number + 11, f"{wall}.bottom", ""),
            between(10 * number + 12, f"{wall}.middle of width", f"Bottom.{low}", f"Bottom.{high}"),
        ]
    relations += [
        flush(60, "Top.front", "East.top"), flush(61, "Top.right", "East.front"),
        between(62, "Top.middle of height", "Bottom.bottom", "Bottom.top"),
    ]  # fmt: skip
    pairs = [(a, b) for a in ("Bottom", "Top") for b in walls]
    pairs += [("East", "South"), ("East", "North"), ("West", "South"), ("West", "North")]
    joints = tuple(FingerCorner(f"J{n}", a, b, cells) for n, (a, b) in enumerate(pairs, 1))
    return FreeStructure(plates=plates, relations=tuple(relations), joints=joints)


def prism(sides, wide, tall):
    """Walls each hinged on the one before, closed to a ring by their angles alone."""
    angle = 180.0 - 360.0 / sides
    plates = tuple(board(f"Wall {n}", wide, tall, tilt=90, x=50.0 * n) for n in range(sides))
    hinges = tuple(
        Hinged(id=f"R{n}", side=side(f"Wall {n}.left"), to=side(f"Wall {n - 1}.right"), angle=angle)
        for n in range(1, sides)
    )
    joints = tuple(
        FingerCorner(f"J{n}", f"Wall {n}", f"Wall {(n + 1) % sides}", 5) for n in range(sides)
    )
    feet = tuple(on(900 + n, f"Wall {n}.bottom", "") for n in range(sides))
    return FreeStructure(plates=plates, relations=(*hinges, *feet), joints=joints)


def stack(count, gaps, thick_one):
    """Boards on one another, some with air between, of two sheets."""
    plates = [
        board(f"Layer {n}", 80 + n, 60, z=float(n)).with_changes(
            stock="ply-6" if n == thick_one else "ply-3"
        )
        for n in range(count)
    ]
    relations = [on(1, "Layer 0.back", "")]
    for n in range(1, count):
        relations += [
            on(10 * n, f"Layer {n}.back", f"Layer {n - 1}.front", gaps[n]),
            flush(10 * n + 1, f"Layer {n}.left", f"Layer {n - 1}.left"),
        ]
    return FreeStructure(plates=tuple(plates), relations=tuple(relations), joints=())


def frame(wide, tall):
    """Four rails lying round an opening, edge to edge."""
    plates = (
        board("Lower", wide, 20), board("Upper", wide, 20, y=tall), board("Left", 20, tall - 40),
        board("Right", 20, tall - 40, x=wide),
    )  # fmt: skip
    relations = [
        on(n, f"{p.name}.back", "") for n, p in enumerate(plates, 1)
    ] + [
        on(10, "Left.bottom", "Lower.top"), flush(11, "Left.left", "Lower.left"),
        on(12, "Right.bottom", "Lower.top"), flush(13, "Right.right", "Lower.right"),
        on(14, "Upper.bottom", "Left.top"), flush(15, "Upper.left", "Left.left"),
    ]  # fmt: skip
    return FreeStructure(plates=plates, relations=tuple(relations), joints=())


@settings(max_examples=25)
@given(width=SIZE, depth=SIZE, height=SIZE, first=THICK, then=THICK)
def test_a_box_keeps_touching_whatever_the_sheet_measures(width, depth, height, first, then):
    free = box(width, depth, height)
    for thickness in (first, then):
        of = rack(thickness)
        assert_touches(free, of)
        assume(solve_form(free, of).findings == ())
        assert overlap(free, of) < 0.01


@settings(max_examples=20)
@given(
    sides=st.integers(3, 9), wide=st.floats(50, 120), thickness=st.floats(1.5, 5),
    kerf=st.floats(0, 0.3),
)  # fmt: skip
def test_a_prism_closes_by_its_angles(sides, wide, thickness, kerf):
    free, of = prism(sides, wide, 70.0), rack(thickness, kerf=kerf)
    assert_touches(free, of)
    whole = expanded(free, of)
    first, last = whole.placements["Wall 0"], whole.placements[f"Wall {sides - 1}"]
    meeting = np.subtract(last.to_world((wide / 2, 0)), first.to_world((-wide / 2, 0)))
    assert np.abs(meeting).max() < 1e-9
    assert all(at.origin[2] == pytest.approx(35) for at in whole.placements.values())
    assume(solve_form(free, of).findings == ())
    assert overlap(free, of) < 0.01


@settings(max_examples=25)
@given(count=st.integers(2, 8), data=st.data(), first=THICK, then=THICK, thick=THICK)
def test_a_stack_stays_together(count, data, first, then, thick):
    gaps = data.draw(st.lists(st.sampled_from([0.0, 0.0, 4.5]), min_size=count, max_size=count))
    free = stack(count, gaps, data.draw(st.integers(0, count - 1)))
    for thickness in (first, then):
        of = rack(thickness, thick)
        assert_touches(free, of)
        assert overlap(free, of) < 0.01
        top = expanded(free, of).placements[f"Layer {count - 1}"].origin[2]
        sheets = [of.of(plate.stock).measured_thickness for plate in free.plates]
        assert top + sheets[-1] / 2 == pytest.approx(sum(sheets) + sum(gaps[1:]), abs=1e-9)


@settings(max_examples=15)
@given(wide=SIZE, tall=SIZE, thickness=THICK)
def test_a_frame_lies_edge_to_edge(wide, tall, thickness):
    free, of = frame(wide, tall), rack(thickness)
    assert_touches(free, of)
    assert overlap(free, of) < 0.01


@pytest.mark.parametrize("thickness", [2.7, 3.3, 4.6, 6.1])
@pytest.mark.parametrize("cells", [2, 4, 6, 5])
def test_six_sides_of_a_cube_are_one_piece(cells, thickness):
    """Even fingers make all edges alike; odd ones where each side leads at two edges of four."""
    free, of = box(100, 100, 100, cells, true_size=True), rack(thickness)
    if cells % 2:
        lead = {"East": 0, "West": 0, "North": 1, "South": 1, "Top": 2, "Bottom": 2}

        def led(joint):  # along an edge the plate leads that faces the next axis
            one, other = lead[joint.first], lead[joint.second]
            edge = 3 - one - other
            return joint if one == (edge + 1) % 3 else FingerCorner(
                joint.id, joint.second, joint.first, joint.cells
            )  # fmt: skip

        free = free.with_changes(joints=tuple(led(joint) for joint in free.joints))
    solved = solve_form(free, of)
    assert solved.findings == ()
    assert [group.count for group in alike_pieces(solved.pieces)] == [6]
    solids = [produced_solid(piece, of) for piece in solved.pieces]
    assert max(float((a ^ b).volume()) for a, b in combinations(solids, 2)) < 0.01
    ends = np.array([solid.bounding_box() for solid in solids])
    size = ends[:, 3:].max(axis=0) - ends[:, :3].min(axis=0)
    assert size == pytest.approx([100, 100, 100], abs=1e-9)


def test_a_plate_of_its_true_size_comes_out_as_typed():
    single = FreeStructure(plates=(board("A", 50, 40),), joints=())
    for kerf_at, drawn in ((KerfAt.DRAWING, 49.84), (KerfAt.PATH, 50.0)):
        of = rack(kerf_at=kerf_at)
        wide = [
            produced_solid(solve_form(each, of).pieces[0], of).bounding_box()[3] * 2
            for each in (single, single.with_changes(plates=(board("A", 50, 40, true_size=True),)))
        ]
        assert wide == pytest.approx([drawn, 50.0], abs=1e-6)


def test_what_is_free_is_told_and_stays_a_number():
    of = rack(3.0)
    free = FreeStructure(
        plates=(board("A", 100, 60), board("B", 50, 30, x=7, y=-3, z=40, turn=30)), joints=(),
        relations=(on(1, "B.back", "A.front"),),
    )  # fmt: skip
    freedom = expanded(free, of).placed.freedoms["B"]
    assert freedom.turns == 1
    assert {tuple(np.round(way, 9)) for way in freedom.moves} == {(1, 0, 0), (0, 1, 0)}
    assert expanded(free, of).placements["B"].origin == pytest.approx((7, -3, 3))
    held = free.with_changes(relations=(*free.relations, flush(2, "B.left", "A.left"),
                                        flush(3, "B.top", "A.top")))  # fmt: skip
    assert expanded(held, of).placed.freedoms["B"] == type(freedom)(0, ())
    assert expanded(held, of).placements["B"].origin == pytest.approx((-25, 15, 3))


def test_circles_and_contradictions_are_named():
    of = rack(3.0)
    plates = (board("A", 100, 60), board("B", 50, 30, z=9), board("C", 50, 30, z=19))
    circle = FreeStructure(
        plates=plates, joints=(),
        relations=(on(1, "A.front", "C.back"), on(2, "B.back", "A.front"),
                   on(3, "C.back", "B.front")),
    )  # fmt: skip
    found = solve_form(circle, of).findings
    assert {f.code for f in found} >= {"relation"}
    assert "A → C → B → A" in str(found[0])
    twice = FreeStructure(plates=plates, joints=(), relations=(
        on(1, "B.back", "A.front"), on(2, "B.back", "A.front", 5.0)))  # fmt: skip
    assert "cannot hold beside R1" in expanded(twice, of).troubles["R2"]
    with pytest.raises(ParameterError, match="an angle needs an edge"):
        Hinged.validated(id="R1", side=side("A.front"), to=side("B.left"))


def test_the_members_of_a_ring_stand_round_their_middle():
    of = rack(3.0)
    spoke = board("Spoke", 40, 20, tilt=90, x=60)
    free = FreeStructure(
        plates=(FreePlate(name="Hub", stock="ply-3", outline=Circle(diameter=50)), spoke),
        relations=(on(1, "Spoke.bottom", "Hub.front"),), joints=(),
        repeats=(PlateRepeat(id="M1", plate="Spoke", way=RepeatWay.RING, count=32, about="Hub"),),
    )  # fmt: skip
    placements = expanded(free, of).placements
    for number in range(32):
        at, turn = placements[member_name("Spoke", number + 1)], radians(360 * number / 32)
        assert at.origin == pytest.approx((60 * cos(turn), 60 * sin(turn), 11.5), abs=1e-9)
        assert dot(at.normal, (cos(turn), sin(turn), 0)) == pytest.approx(0, abs=1e-12)
    fewer = free.with_changes(
        repeats=(free.repeats[0].with_changes(count=5, left_out=(2,)),),
        plates=(*free.plates, spoke.with_changes(name="Spoke 4", outline=Rectangle(width=9))),
    )
    whole = expanded(fewer, of)
    assert [plate.name for plate in whole.plates] == [
        "Hub", "Spoke", "Spoke 4", "Spoke 3", "Spoke 5",
    ]  # fmt: skip
    assert whole.placements["Spoke 4"].origin == pytest.approx(
        (60 * cos(6 * pi / 5), 60 * sin(6 * pi / 5), 11.5)
    )


def as_repeats(free):
    """A structure with every run of like plates, moved or turned evenly, as one repeat.

    Their numbers are worked out from the first two of each run; joints that the repeats make again
    are left out.
    """
    groups, left = [], list(free.plates)
    while left:
        first = left.pop(0)
        like = [p for p in left if p.outline == first.outline and p.tilt == first.tilt
                and p.stock == first.stock and p.spin == first.spin]  # fmt: skip
        run = _row(first, like) or _ring(first, like)
        if run:
            groups.append(run)
            left = [p for p in left if p not in run[1]]
        else:
            groups.append(({}, [first]))
    names, repeats, plates = {}, [], []
    for number, (fields, run) in enumerate(groups, 1):
        names |= {p.name: member_name(f"G{number}", n) for n, p in enumerate(run, 1)}
        plates.append(run[0].with_changes(name=f"G{number}"))
        if len(run) > 1:
            repeats.append(
                PlateRepeat(id=f"M{number}", plate=f"G{number}", count=len(run), **fields)
            )
    members, covered, joints = members_of(repeats), set(), []
    for joint in free.joints:
        own = tuple(names[name] for name in plates_of(joint))
        if frozenset(own) not in covered:
            joints.append(joint_with_renamed_plates(joint, names))
            covered |= {frozenset(each) for each in repeated_plates(own, members)}
    return FreeStructure(plates=tuple(plates), joints=tuple(joints), repeats=tuple(repeats)), names


def _row(first, like):
    for axis, way in (("x", "rightwards"), ("y", "backwards"), ("z", "upwards")):
        others = [a for a in ("x", "y", "z") if a != axis]
        run = [first, *(p for p in like if p.turn == first.turn and all(
            abs(getattr(p, a) - getattr(first, a)) < 1e-9 for a in others))]  # fmt: skip
        steps = np.diff([getattr(p, axis) for p in run])
        if len(run) > 1 and np.ptp(steps) < 1e-9:
            return {"way": "row", "pitch": float(steps[0]), "direction": way}, run
    return None


def _ring(first, like):
    radius = np.hypot(first.x, first.y)
    run = [
        first,
        *(p for p in like if abs(np.hypot(p.x, p.y) - radius) < 1e-9 and abs(p.z - first.z) < 1e-9),
    ]
    turns = np.diff([p.turn for p in run]) % 360
    if len(run) < 2 or np.ptp(turns) > 1e-9 or turns[0] < 1e-6:
        return None
    spread = turns[0] * (len(run) - 1)
    return {"way": "ring", "spread": 360 if abs(turns[0] * len(run) - 360) < 1e-6 else spread}, run


def with_feet(free, of):
    """A structure whose plates that lie or stand upright are held at their height by a relation."""
    whole, relations = expanded(free, of), []
    for number, plate in enumerate(free.plates, 1):
        if plate.tilt in (0.0, 90.0) and plate.spin == 0.0:
            which = side(f"{plate.name}.{'bottom' if plate.tilt else 'back'}")
            level = plane(free, of, which)[1]
            relations.append(on(number, f"{plate.name}.{which.side}", "", -level))
    assert relations or not whole.plates
    return free.with_changes(relations=tuple(relations))


@pytest.mark.parametrize("form", [f for f in FORMS if f not in ("free", "drawings")])
@pytest.mark.parametrize("thickness", [2.7, 3.4])
def test_a_form_built_again_by_repeats_gives_the_same_pieces(form, thickness):
    of = rack(thickness)
    free = to_free_structure(FORMS[form](), of)
    again, names = as_repeats(free)
    again = with_feet(again, of)
    wanted, made = solve_form(free, of), solve_form(again, of)
    assert len(made.joints) == len(wanted.joints)
    found = {piece.name: piece for piece in made.pieces}
    for piece in wanted.pieces:
        same = found[names[piece.name]] if piece.name in names else None
        if same is None:
            continue  # a part of a plate that falls in several
        assert np.allclose(same.placement.origin, piece.placement.origin, atol=1e-6)
        difference = same.region.shape.symmetric_difference(piece.region.shape)
        assert difference.area < 1e-4, piece.name
    assert len(again.plates) < len(free.plates) or form in ("spine-lamp", "found")


def test_a_leaning_wall_meets_its_mate_where_the_sheets_meet():
    """A wall hinged by its back edges: the backs meet in one line, whatever the thickness."""
    for thickness in (2.0, 5.0):
        of = rack(thickness)
        free = FreeStructure(
            plates=(board("Base", 80, 60), board("Wall", 80, 50, z=40)), joints=(),
            relations=(Hinged(id="R1", side=side("Wall.bottom"), to=side("Base.top"), angle=120,
                              at="back"),),
        )  # fmt: skip
        at = expanded(free, of).placements["Wall"]
        line = at.to_world((0, -25), -thickness / 2)
        assert line[1:] == pytest.approx((30, -thickness / 2), abs=1e-9)
        rise = at.to_world((0, 25), -thickness / 2)
        assert (rise[2] - line[2]) / (rise[1] - line[1]) == pytest.approx(tan(radians(60)))


def test_every_member_that_its_joints_part_is_told():
    """Members are cut once for all; what is wrong with one is wrong with each."""
    free = FreeStructure(
        plates=(board("Leaf", 40, 60, tilt=90), board("Rail", 60, 400)),
        joints=(CrossLap("J1", "Rail", "Leaf", relief=50.0),),
        repeats=(PlateRepeat(id="M1", plate="Leaf", way=RepeatWay.ROW, count=3, pitch=30.0),),
    )
    found = solve_form(free, rack()).findings
    parted = [f.where for f in found if "in 2 parts" in f.message]
    assert set(parted) >= {"Leaf", "Leaf 2", "Leaf 3"}


def test_a_plate_that_nothing_places_keeps_the_numbers_that_were_typed():
    plate = board("A", 50, 40, x=7.0, turn=20.0, spin=30.0)
    assert expanded(FreeStructure(plates=(plate,), joints=()), rack()).plates == (plate,)
