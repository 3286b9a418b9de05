"""Sizes that hold: closed forms of any geometry handbook, and properties of least change."""

from math import cos, hypot, pi, radians, sin, sqrt, tan

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.optimize import NonlinearConstraint, minimize
from shapely import affinity

from anzel.core.findings import ParameterError
from anzel.geometry.regions import Contour, Region
from anzel.shape.constraint_solver import SOLVED, least_change
from anzel.shape.equations import evaluated
from anzel.shape.outline_building import region_of
from anzel.shape.sketch import (
    HeldSize,
    LegKind,
    Relation,
    RelationKind,
    Repeat,
    SizeKind,
    Sketch,
)
from anzel.shape.sketch_changes import (
    rectangle_sketch,
    sketch_of_region,
    split_leg,
    with_disc,
    with_leg_kind,
    with_polygon,
    with_repeat,
    with_round_ended,
    with_window,
    without_point,
    without_repeat,
)
from anzel.shape.sketch_solver import (
    all_equations,
    freedom_of,
    measured,
    retyped,
    scaled_sketch,
    solved,
    with_relation,
    with_size,
    without_size,
)
from anzel.shape.sketch_variables import SketchVariables


def polygon(*corners, sizes=(), relations=()):
    """A closed path through corners p0, p1, …, with straight legs l0, l1, …."""
    points = [{"id": f"p{at}", "x": x, "y": y} for at, (x, y) in enumerate(corners)]
    legs = [{"id": f"l{at}"} for at in range(len(corners))]
    return Sketch.validated(
        paths=[{"id": "outline", "points": points, "legs": legs}],
        sizes=[{"name": n, "kind": k, "of": of, "value": v} for n, k, of, v in sizes],
        relations=[{"kind": k, "of": of} for k, of in relations],
    )


def places(sketch):
    return {point.id: (point.x, point.y) for path in sketch.paths for point in path.points}


def residual(sketch):
    """The largest residual of a sketch, mm."""
    variables = SketchVariables(sketch)
    values, _ = evaluated(all_equations(sketch, variables), variables.start)
    return float(np.abs(values).max(initial=0.0))


def lengths(*values):
    return [(f"s{at}", "length", (f"l{at}",), value) for at, value in enumerate(values)]


def test_a_triangle_from_three_sides_has_a_right_angle():
    triangle = solved(polygon((0, 0), (50, 3), (44, 30), sizes=lengths(4, 3, 5)))
    assert residual(triangle) < 1e-9
    assert measured(triangle, SizeKind.ANGLE, ("l0", "l1")) == pytest.approx(90, abs=1e-9)
    assert region_of(triangle.with_changes(sizes=())).area == pytest.approx(6, abs=1e-9)


@given(st.floats(2, 90), st.floats(2, 90), st.floats(5, 175))
def test_a_triangle_from_two_sides_and_the_angle_obeys_the_law_of_cosines(a, b, degrees):
    start = polygon(
        (0, 0), (40, 0), (30, 30), sizes=[*lengths(a), ("b", "length", ("l1",), b)],
        relations=[("fixed", ("p0",)), ("level", ("l0",))],
    )  # fmt: skip
    angle = HeldSize(name="turn", kind=SizeKind.ANGLE, of=("l0", "l1"), value=180 - degrees)
    made = with_size(start, angle)
    third = sqrt(a * a + b * b - 2 * a * b * cos(radians(degrees)))
    assert measured(made, SizeKind.LENGTH, ("l2",)) == pytest.approx(third, abs=1e-8)


def test_a_regular_pentagon_has_the_circumradius_of_its_side():
    rough = [(40 * cos(a) + 3 * (at % 2), 38 * sin(a)) for at, a in enumerate(2 * pi * k / 5
             for k in range(5))]  # fmt: skip
    sizes = [*lengths(40, 40, 40, 40, 40), *(
        (f"a{at}", "angle", (f"l{at}", f"l{at + 1}"), 72.0) for at in range(2)
    )]  # fmt: skip
    made = solved(polygon(*rough, sizes=sizes))
    corners = np.array(list(places(made).values()))
    around = np.hypot(*(corners - corners.mean(axis=0)).T)
    assert around == pytest.approx([20 / sin(pi / 5)] * 5, abs=1e-8)  # 34.0260


def test_a_four_bar_stands_as_its_closed_form_says():
    """Freudenstein's equation, as in any handbook of mechanisms: here solved for the coupler."""
    ground, crank, coupler, rocker, turn = 60.0, 25.0, 55.0, 45.0, radians(70)
    made = solved(polygon(
        (0, 0), (8, 24), (50, 40), (60, 0), sizes=lengths(crank, coupler, rocker, ground),
        relations=[("fixed", ("p0",)), ("level", ("p3", "p0"))],
    ))  # fmt: skip
    made = with_size(made, HeldSize(name="turn", kind=SizeKind.ANGLE, of=("l3", "l0"), value=110))
    x, y = places(made)["p1"]
    assert (abs(x), y) == (pytest.approx(crank * cos(turn)), pytest.approx(crank * sin(turn)))
    bx, by = places(made)["p2"]
    assert hypot(bx - x, by - y) == pytest.approx(coupler, abs=1e-9)
    assert hypot(bx - 60, by) == pytest.approx(rocker, abs=1e-9)


def test_a_circle_tangent_to_two_lines_at_sixty_degrees_is_twice_its_radius_away():
    paths = [{"id": "outline", "points": [
        {"id": "corner", "x": 0, "y": 0}, {"id": "a", "x": 80, "y": 1},
        {"id": "b", "x": 40, "y": 60},
    ], "legs": [{"id": "la"}, {"id": "far"}, {"id": "lb"}]}]  # fmt: skip
    made = solved(Sketch.validated(
        paths=paths, discs=[{"id": "disc", "x": 30, "y": 14, "radius": 9}],
        sizes=[{"name": "angle", "kind": "angle", "of": ("la", "lb"), "value": 120},
               {"name": "radius", "kind": "radius", "of": ("disc",), "value": 10}],
        relations=[{"kind": "fixed", "of": ("corner",)}],
    ))  # fmt: skip
    for leg in ("la", "lb"):
        distance = HeldSize(name=f"to {leg}", kind=SizeKind.TO_LEG, of=("disc", leg), value=10)
        made = with_size(made, distance)
    (disc,) = made.discs
    assert hypot(disc.x, disc.y) == pytest.approx(20, abs=1e-9)  # r / sin 30°


def test_an_arc_stays_an_arc_and_its_chord_follows_its_angle():
    arc = {"id": "bow", "kind": "arc", "centre": (20.0, 0.0), "clockwise": False}
    made = solved(Sketch.validated(paths=[{
        "id": "outline",
        "points": [{"id": "p0", "x": 0, "y": 0}, {"id": "p1", "x": 40, "y": 0}],
        "legs": [{"id": "base"}, arc],
    }], sizes=[{"name": "radius", "kind": "radius", "of": ("bow",), "value": 25}],
        relations=[{"kind": "fixed", "of": ("p0",)}, {"kind": "level", "of": ("base",)}],
    ))  # fmt: skip
    made = with_size(made, HeldSize(name="chord", kind=SizeKind.LENGTH, of=("base",), value=30))
    (x, y) = made.paths[0].legs[1].centre
    assert (x, abs(y)) == (pytest.approx(15, abs=1e-9), pytest.approx(20, abs=1e-9))
    phi = 2 * np.arcsin(30 / 50)  # the chord of a circle R over φ is 2 R sin(φ/2)
    assert 2 * 25 * sin(phi / 2) == pytest.approx(30)
    segment = 25**2 / 2 * (2 * pi - phi + sin(phi))
    small = 25**2 / 2 * (phi - sin(phi))
    area = region_of(made).area
    assert min(abs(area - segment), abs(area - small)) < 1e-8


def test_a_round_corner_at_a_right_angle_shortens_each_leg_by_its_radius():
    square = polygon((0, 0), (40, 0), (40, 30), (0, 30))
    round_ones = square.with_changes(corner={"kind": "round", "size": 5})
    assert region_of(round_ones).area == pytest.approx(1200 - (4 - pi) * 25)
    lines = [s for s in region_of(round_ones).outer.segments if type(s).__name__ == "Line"]
    assert sorted(line.length for line in lines) == pytest.approx([20, 20, 30, 30])
    chamfered = square.with_changes(corner={"kind": "chamfer", "size": 5})
    assert region_of(chamfered).area == pytest.approx(1200 - 4 * 12.5)


def test_a_relief_lets_a_tool_into_the_corners_of_an_opening_and_no_others():
    square = polygon((0, 0), (40, 0), (40, 30), (0, 30))
    window = {"id": "window", "points": [
        {"id": f"w{at}", "x": x, "y": y} for at, (x, y) in enumerate(
            [(10, 10), (30, 10), (30, 20), (10, 20)])
    ], "legs": [{"id": f"v{at}"} for at in range(4)]}  # fmt: skip
    plain = square.with_changes(paths=(*square.paths, window))
    relieved = plain.with_changes(corner={"kind": "relief", "size": 4})
    # a disc of radius 2 through the corner cuts a segment of a quarter turn beyond each side
    assert region_of(plain).area - region_of(relieved).area == pytest.approx(
        4 * 2 * 2**2 / 2 * (pi / 2 - 1), abs=1e-9
    )  # fmt: skip


@given(st.floats(20, 160), st.floats(2, 9))
def test_a_corner_of_any_angle_is_rounded_at_its_half_angle(degrees, radius):
    x, y = 200 * cos(radians(degrees)), 200 * sin(radians(degrees))
    cut = radius / tan(radians(degrees) / 2)
    assume(cut < 150)
    corner = {"id": "p0", "x": 0, "y": 0, "corner": {"kind": "round", "size": radius}}
    path = {"id": "outline", "points": [corner, {"id": "p1", "x": 200, "y": 0},
                                        {"id": "p2", "x": x, "y": y}],
            "legs": [{"id": "a"}, {"id": "b"}, {"id": "c"}]}  # fmt: skip
    sharp = 0.5 * 200 * y
    taken = radius * cut - radius**2 * radians(180 - degrees) / 2
    assert region_of(Sketch.validated(paths=[path])).area == pytest.approx(sharp - taken, rel=1e-9)


corner_lists = st.lists(
    st.tuples(st.floats(-80, 80), st.floats(-80, 80)), min_size=4, max_size=7, unique=True
)


@st.composite
def sketches(draw):
    """A polygon with some of its lengths held at other values than it has."""
    corners = draw(corner_lists)
    assume(min(hypot(a[0] - b[0], a[1] - b[1]) for at, a in enumerate(corners)
               for b in corners[at + 1 :]) > 12)  # fmt: skip
    chosen = draw(st.sets(st.integers(0, len(corners) - 1), min_size=1, max_size=3))
    sizes = []
    for at in sorted(chosen):
        a, b = corners[at], corners[(at + 1) % len(corners)]
        factor = draw(st.floats(0.8, 1.25))
        length = factor * hypot(a[0] - b[0], a[1] - b[1])
        sizes.append((f"s{at}", "length", (f"l{at}",), length))
    return polygon(*corners, sizes=sizes)


@settings(max_examples=40)
@given(sketches())
def test_all_sizes_hold_and_solving_again_moves_nothing(sketch):
    made = solved(sketch)
    assert residual(made) <= 1e-9
    assert solved(made) == made
    for size in made.sizes:
        assert retyped(made, size.name, size.value) == made


@pytest.mark.filterwarnings("ignore:delta_grad == 0.0")
@settings(max_examples=25)
@given(sketches())
def test_the_change_is_the_least_there_is(sketch):
    """SciPy's trust-region method on the same equations finds nothing nearer.

    A figure whose corners are nearly on one line can buckle to either side, and has several.
    """
    outline = shapely.Polygon(list(places(sketch).values()))
    assume(outline.convex_hull.area > 0.02 * outline.length**2)
    variables = SketchVariables(sketch)
    equations = all_equations(sketch, variables)
    start = variables.start
    found = least_change(start, lambda point: evaluated(equations, point))
    constraint = NonlinearConstraint(
        lambda p: evaluated(equations, p)[0], 0.0, 0.0, jac=lambda p: evaluated(equations, p)[1]
    )
    witness = minimize(
        lambda p: 0.5 * np.sum((p - start) ** 2), found.point + 0.01, jac=lambda p: p - start,
        method="trust-constr", constraints=[constraint], options={"gtol": 1e-10, "xtol": 1e-12},
    )  # fmt: skip
    mine = np.sum((found.point - start) ** 2)
    assert mine <= np.sum((witness.x - start) ** 2) * (1 + 1e-5) + 1e-8


@settings(max_examples=25)
@given(sketches(), st.floats(0, 360))
def test_the_solution_turns_with_the_sketch_and_knows_no_order(sketch, degrees):
    c, s = cos(radians(degrees)), sin(radians(degrees))

    def turned(x, y):
        return (c * x - s * y, s * x + c * y)

    corners = list(places(sketch).values())
    rotated = polygon(
        *(turned(*corner) for corner in corners),
        sizes=[(z.name, z.kind, z.of, z.value) for z in reversed(sketch.sizes)],
    )
    ours = np.array([turned(*at) for at in places(solved(sketch)).values()])
    theirs = np.array(list(places(solved(rotated)).values()))
    before = np.array([turned(*corner) for corner in corners])
    # legs in nearly one line leave a flat valley, in which the change is as small all along
    moved = [np.sum((after - before) ** 2) for after in (ours, theirs)]
    assert moved[0] == pytest.approx(moved[1], rel=1e-6, abs=1e-9)
    assert ours == pytest.approx(theirs, abs=max(1e-6, 1e-2 * np.sqrt(moved[0])))


RECTANGLE = polygon(
    (0, 0), (60, 0), (60, 40), (0, 40),
    relations=[("fixed", ("p0",)), *(("level", (f"l{at}",)) for at in (0, 2)),
               *(("upright", (f"l{at}",)) for at in (1, 3))],
)  # fmt: skip


def test_what_is_not_held_stays_and_what_is_free_is_told():
    assert freedom_of(RECTANGLE).count == 2
    assert freedom_of(RECTANGLE).points == {"p1", "p2", "p3"}
    wide = with_size(RECTANGLE, HeldSize(name="w", kind="along x", of=("p0", "p1"), value=72.5))
    assert places(wide) == {"p0": (0, 0), "p1": (72.5, 0), "p2": (72.5, 40), "p3": (0, 40)}
    assert freedom_of(wide).count == 1
    dragged = solved(wide, {"p2": (90.0, 51.0)})
    assert places(dragged)["p2"] == (pytest.approx(72.5), pytest.approx(51.0, abs=1e-4))
    assert freedom_of(without_size(wide, "w")).count == 2


def test_a_contradiction_names_its_sizes_and_what_follows_is_refused():
    def along(name, of, value):
        return HeldSize(name=name, kind=SizeKind.ALONG_X, of=of, value=value)

    made = with_size(RECTANGLE, along("low", ("p0", "p1"), 60))
    with pytest.raises(ParameterError, match=r"“high”.*“low”|“low”.*“high”") as told:
        with_size(made, along("high", ("p3", "p2"), 61))
    assert "cannot hold together" in str(told.value)
    with pytest.raises(ParameterError, match="“high” follows from the others already"):
        with_size(made, along("high", ("p3", "p2"), 60))
    assert with_relation(made, Relation(kind=RelationKind.SQUARE, of=("l0", "l1"))).relations
    with pytest.raises(ParameterError, match="no size “depth”"):
        retyped(made, "depth", 3)
    impossible = polygon((0, 0), (50, 3), (44, 30), sizes=lengths(10, 20, 90))
    with pytest.raises(ParameterError, match="No outline has the size"):
        solved(impossible)


def test_what_was_typed_is_not_rounded():
    typed = with_size(RECTANGLE, HeldSize(name="w", kind="along x", of=("p0", "p1"), value=0.9525))
    assert abs(places(typed)["p1"][0] - 0.9525) <= SOLVED


def test_openings_of_every_kind_hold_their_sizes_and_are_repeated():
    board = rectangle_sketch(200, 120)
    makers = {
        "round-ended": (lambda s: with_round_ended(s, (-40, 0), 40, 10), pi * 25 + 300, 2),
        "pentagon": (lambda s: with_polygon(s, (40, 0), 5, 20), 500 / tan(pi / 5), 3),
        "triangle": (lambda s: with_polygon(s, (-60, 40), 3, 8), 16 * sqrt(3), 3),
        "window": (lambda s: with_window(s, (0, 0), 30, 20), 600, 2),
        "disc": (lambda s: with_disc(s, (0, 0), 5), pi * 25, 0),
    }  # fmt: skip
    for made, taken, free in makers.values():
        sketch, _ = made(board)
        assert solved(sketch) == sketch
        assert region_of(board).area - region_of(sketch).area == pytest.approx(taken)
        assert freedom_of(sketch).count - freedom_of(board).count == free + 2 * (free == 0)
    sketch, disc = with_disc(board, (0, 40), 5)
    ring = with_repeat(sketch, Repeat(of=disc, kind="ring", count=8))
    assert region_of(board).area - region_of(ring).area == pytest.approx(8 * pi * 25)
    centres = [hole.segments[0].centre for hole in region_of(ring).holes]
    assert sorted(hypot(*centre) for centre in centres) == pytest.approx([40] * 8)
    grid = Repeat(of=disc, kind="grid", count=4, rows=3, step=(15, -20))
    assert len(region_of(with_repeat(sketch, grid)).holes) == 12
    assert len(region_of(without_repeat(with_repeat(sketch, grid), disc)).holes) == 1
    with pytest.raises(ParameterError, match="no opening “outline” to repeat"):
        with_repeat(sketch, Repeat(of="outline", kind="row"))


@pytest.mark.parametrize("kind", ["mirrored along x", "mirrored along y", "mirrored along both"])
def test_mirrored_openings_lie_symmetric_about_the_middle_and_follow_the_outline(kind):
    sketch, name = with_round_ended(rectangle_sketch(200, 120), (-40, 20), 40, 10)
    mirrored = with_repeat(sketch, Repeat(of=name, kind=kind))
    for width in (200.0, 220.0):
        whole = region_of(retyped(mirrored, "width", width))
        count = 4 if kind.endswith("both") else 2
        assert 120 * width - whole.area == pytest.approx(count * (pi * 25 + 300), abs=1e-9)
        x0, y0, x1, y1 = whole.bounds
        along = {"x": (-1, 1), "y": (1, -1), "both": (-1, -1)}[kind.split()[-1]]
        turned = affinity.scale(whole.shape, *along, origin=((x0 + x1) / 2, (y0 + y1) / 2))
        assert turned.symmetric_difference(whole.shape).area < 1e-6
    assert Sketch.model_validate_json(mirrored.model_dump_json()) == mirrored


def test_legs_are_split_turned_and_points_taken_out_without_a_trace():
    board = rectangle_sketch(100, 60)
    split, point = split_leg(board, "outline leg 2", 0.25)
    assert region_of(split).area == pytest.approx(6000)
    assert places(split)[point] == pytest.approx((50, -15))
    assert region_of(without_point(split, point)).area == pytest.approx(6000)
    bowed = with_leg_kind(board, "outline leg 2", LegKind.ARC)
    assert region_of(bowed).area > 6000
    assert [type(s).__name__ for s in region_of(bowed).outer.segments].count("Arc") == 1
    curved = with_leg_kind(bowed, "outline leg 2", LegKind.CURVE)
    assert region_of(curved).area == pytest.approx(6000)
    moved = solved(curved, {"outline 3": (60.0, 40.0)})
    assert residual(moved) <= 1e-9
    assert with_leg_kind(curved, "outline leg 2", LegKind.LINE).paths[0].legs[1].controls is None


def test_any_region_becomes_a_sketch_with_the_same_edges():
    ring = Region.of(Contour.circle((0, 0), 30), [Contour.circle((5, 0), 8)])
    for region in (ring, region_of(rectangle_sketch(80, 50, 7))):
        again = region_of(sketch_of_region(region))
        assert again.area == pytest.approx(region.area, abs=1e-9)
        assert again.size == pytest.approx(region.size)
    scaled = scaled_sketch(rectangle_sketch(80, 50, 7), 2.0)
    assert region_of(scaled).area == pytest.approx(4 * region_of(rectangle_sketch(80, 50, 7)).area)
    assert [size.value for size in scaled.sizes] == [160, 100]
    assert residual(scaled) <= 1e-9
