"""Paths drawn corner by corner: what is typed holds, what is pointed at is helped."""

from dataclasses import replace
from math import cos, hypot, pi, sin

import pytest
from hypothesis import given
from hypothesis import strategies as st

from anzel.app.number_display import number_format, show_numbers
from anzel.app.typed_legs import typed_leg
from anzel.core.findings import ParameterError
from anzel.core.number_format import Unit
from anzel.geometry.segments import Line
from anzel.shape.corners import heading_at_end
from anzel.shape.outline_building import region_of, segments_of
from anzel.shape.path_drawing import DrawnLeg, arc_through, with_drawn_path
from anzel.shape.sketch import HeldSize, LegKind, RelationKind, SizeKind
from anzel.shape.sketch_changes import rectangle_sketch, with_disc
from anzel.shape.sketch_solver import freedom_of, retyped, solved, with_size
from anzel.shape.snapping import SnapTargets, snapped_place, targets_of

BOARD = rectangle_sketch(200.0, 200.0)


def typed(*texts):
    """Return the start and the legs of typed texts."""
    start, legs = typed_leg(texts[0], None, []).end, []
    for text in texts[1:]:
        legs.append(typed_leg(text, start, legs))
    return start, legs


def test_a_typed_rectangle_is_exact_held_and_can_be_retyped():
    start, legs = typed("x -20 y -10", "40 at 0", "20 turn 90", "40 turn 90")
    made, name = with_drawn_path(BOARD, start, legs)
    assert region_of(made).area == pytest.approx(200**2 - 40 * 20, abs=1e-9)
    corners = [(p.x, p.y) for p in made.paths[1].points]
    assert corners == [(-20, -10), (20, -10), (20, 10), (-20, 10)]
    lengths = {size.of[0]: size.name for size in made.sizes if size.of[0].startswith(name)}
    assert list(lengths) == [f"{name} leg 1", f"{name} leg 2"], "the third follows from the first"
    wider = retyped(made, lengths[f"{name} leg 1"], 50.0)
    assert region_of(wider).area == pytest.approx(200**2 - 50 * 20, abs=1e-9)


def test_a_typed_arc_is_the_circle_it_says():
    """A half disc: the area is π r² / 2, as in any geometry handbook."""
    start, legs = typed("x 0 y 30", "60 at -90 radius -30")
    made, _ = with_drawn_path(BOARD, start, legs)
    assert region_of(made).area == pytest.approx(200**2 - pi * 30**2 / 2, abs=1e-6)


def test_an_outline_drawn_anew_lets_go_what_held_the_old_one():
    start, legs = typed("x 0 y 0", "3 in at 0", "x -1 in y 50")
    made, name = with_drawn_path(BOARD, start, legs, is_outline=True)
    assert (name, len(made.paths)) == ("outline", 1)
    assert region_of(made).area == pytest.approx(76.2 * 50 / 2, abs=1e-9)
    assert [size.value for size in made.sizes] == pytest.approx([76.2])


@pytest.mark.parametrize(
    "text",
    [
        "",
        "40",
        "forty at 9",
        "40 at",
        "x y",
        "40 at 20 radius",
        "40 at 20 through",
        "x 9 y 9 through x 4 y 4",
        "40 at 0 tangent",
        "40 at 0 radius 9",
    ],
)
def test_what_is_no_leg_says_what_one_looks_like(text):
    with pytest.raises(ParameterError) as told:
        typed_leg(text, (0.0, 0.0), [])
    assert told.value.hint


def test_a_bare_number_is_in_the_unit_that_the_maker_chose():
    before = number_format()
    show_numbers(replace(before, unit=Unit.INCHES))
    try:
        assert typed_leg("2 at 0", (0.0, 0.0), []).end == pytest.approx((50.8, 0.0))
        assert typed_leg("2 mm at 0", (0.0, 0.0), []).end == pytest.approx((2.0, 0.0))
    finally:
        show_numbers(before)


def test_an_arc_through_a_point_and_one_that_goes_on_tangent():
    """Thales: an arc over 60 through the point above its middle is a half circle."""
    start, legs = typed("x -30 y 0", "x 60 y 0 through x 30 y -30")
    made, _ = with_drawn_path(BOARD, start, legs)
    assert region_of(made).area == pytest.approx(200**2 - pi * 30**2 / 2, abs=1e-6)
    start, legs = typed(
        "x -20 y -10", "40 at 0", "x 0 y 20 tangent", "40 at 180", "x 0 y -20 tangent"
    )
    made, name = with_drawn_path(BOARD, start, legs)
    assert region_of(made).area == pytest.approx(200**2 - 40 * 20 - pi * 10**2, abs=1e-6)
    kinds = [relation.kind for relation in made.relations]
    assert kinds.count(RelationKind.TANGENT) == 4
    radius = HeldSize(name="end", kind=SizeKind.RADIUS, of=(f"{name} leg 2",), value=12.0)
    ends = segments_of(with_size(made, radius).paths[1])[1::2]
    assert [end.radius for end in ends] == pytest.approx([12.0, 12.0]), "mirrored on one another"
    held = next(size.name for size in made.sizes if size.of[0] == f"{name} leg 1")
    longer = retyped(made, held, 55.0)  # the ends stay tangent whatever is retyped
    first, second, *_ = longer.paths[1].legs
    assert first.kind is LegKind.LINE
    assert second.centre[0] == pytest.approx(longer.places()[f"{name} 2"][0], abs=1e-9)


def test_parallel_square_and_concentric_legs_are_recognised_and_stay_so():
    start, legs = typed("x 0 y 0", "40 at 20", "15 turn 90", "40 turn 90")
    made, name = with_drawn_path(BOARD, start, legs)
    kinds = {r.kind: r.of for r in made.relations if name in r.of[0]}
    assert kinds[RelationKind.SQUARE] is not None
    start, legs = typed("x -40 y 0", "30 at 33", "x 12 y -30", "30 at 213")
    made, name = with_drawn_path(BOARD, start, legs)
    parallels = [r.of for r in made.relations if r.kind is RelationKind.PARALLEL]
    assert parallels == [(f"{name} leg {at}", f"{name} leg {at + 2}") for at in (1, 2)]
    held = next(size.name for size in made.sizes if size.of[0] == f"{name} leg 1")
    wider = retyped(made, held, 36.0)
    ways = [heading_at_end(segments_of(wider.paths[1])[at]) for at in (0, 2)]
    assert ways[0][0] * ways[1][1] - ways[0][1] * ways[1][0] == pytest.approx(0, abs=1e-9)
    ring = ("x 60 y 0 through x 30 y -30", "x -10 y 0", "x -40 y 0 through x -20 y -20")
    made, _ = with_drawn_path(BOARD, *typed("x -30 y 20", *ring))
    assert RelationKind.CONCENTRIC in [relation.kind for relation in made.relations]


def test_slanted_legs_of_one_length_are_recognised_and_stay_so():
    made, name = with_drawn_path(BOARD, *typed("x 0 y 0", "x 30 y 10", "x 10 y 30", "x -35 y 5"))
    (equal,) = [r.of for r in made.relations if r.kind is RelationKind.EQUAL]
    assert equal == (f"{name} leg 1", f"{name} leg 2")
    size = HeldSize(name="side", kind=SizeKind.LENGTH, of=(equal[0],), value=45.0)
    longer = segments_of(with_size(made, size).paths[1])
    assert [leg.length for leg in longer[:2]] == pytest.approx([45.0, 45.0], abs=1e-9)


PANEL = (
    "x 0 y 0", "72 at 0", "80 turn 90", "6 turn 90", "80 turn -90", "60 turn 90", "80 turn 90",
    "6 turn -90",
)  # fmt: skip


def test_a_symmetric_outline_keeps_its_axis_so_a_recess_is_typed_once():
    made, name = with_drawn_path(BOARD, *typed(*PANEL), is_outline=True)
    assert freedom_of(made).count == 2, "only where it lies is free"
    deeper = retyped(made, f"{name} leg 3 length", 8.0)
    assert region_of(deeper).area == pytest.approx(72 * 160 - 2 * 8 * 80, abs=1e-6)
    taken_off = [r for r in deeper.relations if r.kind is not RelationKind.SYMMETRIC]
    assert len(taken_off) == len(deeper.relations) - 2
    assert freedom_of(deeper.with_changes(relations=taken_off)).count == 4


def test_an_opening_drawn_in_the_middle_is_symmetric_about_the_axis_of_the_outline():
    made, name = with_drawn_path(BOARD, *typed(*PANEL), is_outline=True)
    gable = ("x 16 y 20", "x 40 y 0", "x 0 y 100", "x -20 y 20", "x -20 y -20")
    made, opening = with_drawn_path(made, *typed(*gable))
    wider = retyped(made, f"{name} leg 1 length", 90.0).places()
    assert wider[f"{opening} 4"][0] == pytest.approx(
        (wider[f"{name} 1"][0] + wider[f"{name} 2"][0]) / 2, abs=1e-9
    )


@given(
    st.lists(st.tuples(st.floats(3, 60), st.floats(-60, 60)), min_size=2, max_size=5),
    st.floats(0, 360), st.tuples(st.floats(-60, 60), st.floats(-60, 60)),
)  # fmt: skip
def test_what_is_symmetric_stays_so_wherever_a_point_is_dragged(half, turn, away):
    """A path and its mirror image, turned: dragging one point takes the other one along."""
    half = [(x, y + 130 * at) for at, (x, y) in enumerate(half)]
    c, s = cos(turn * pi / 180), sin(turn * pi / 180)
    points = [(x * c - y * s, x * s + y * c) for x, y in
              [*half, *((-x, y) for x, y in reversed(half))]]  # fmt: skip
    made, name = with_drawn_path(BOARD, points[0], [DrawnLeg(p) for p in points[1:]])
    count = len(points)
    target = (points[1][0] + away[0], points[1][1] + away[1])
    try:
        places = solved(made, {f"{name} 2": target}).places()
    except ParameterError:
        return  # what else was recognised does not let it go there
    pairs = [(places[f"{name} {at}"], places[f"{name} {count + 1 - at}"])
             for at in range(1, count // 2 + 1)]  # fmt: skip
    (ax, ay), (bx, by) = pairs[0]
    for (px, py), (qx, qy) in pairs[1:]:
        middle = ((px + qx - ax - bx) * (bx - ax) + (py + qy - ay - by) * (by - ay)) / 2
        across = (qx - px) * (by - ay) - (qy - py) * (bx - ax)
        assert (middle, across) == pytest.approx((0, 0), abs=1e-6)


def test_a_typed_radius_is_held():
    start, legs = typed("x 0 y 30", "60 at -90 radius -40")
    made, _ = with_drawn_path(BOARD, start, legs)
    assert [size.value for size in made.sizes if size.kind is SizeKind.RADIUS] == [40.0]


@given(*[st.tuples(st.floats(-50, 50), st.floats(-50, 50))] * 3)
def test_an_arc_through_three_points_is_as_far_from_all_of_them(a, b, c):
    try:
        leg = arc_through(a, b, c)
    except ParameterError:
        return
    radii = [hypot(x - leg.centre[0], y - leg.centre[1]) for x, y in (a, b, c)]
    assert max(radii) - min(radii) <= 1e-9 * max(radii) ** 2 + 1e-9
    arc = leg.segment(a)
    if hypot(b[0] - a[0], b[1] - a[1]) > 1 and hypot(c[0] - b[0], c[1] - b[1]) > 1:
        near = min(
            hypot(x - b[0], y - b[1]) for x, y in (arc.point_at(t / 999) for t in range(1000))
        )
        assert near <= arc.length / 999, "the point lies on the way, not on the other side"


def test_too_few_corners_are_told():
    with pytest.raises(ParameterError):
        with_drawn_path(BOARD, (0.0, 0.0), [DrawnLeg((5.0, 0.0))])


@given(st.floats(0, 360), st.floats(5, 200), st.sampled_from([0.5, 1.0, 5.0]))
def test_a_place_that_is_helped_lies_on_a_level_a_direction_or_the_grid(angle, length, step):
    at = (length * cos(angle * pi / 180), length * sin(angle * pi / 180))
    found = snapped_place(at, (0.0, 0.0), SnapTargets(points=((30.0, 40.0),)), 2.0, step)
    x, y = found.place
    if found.angle is not None:
        assert found.angle % 15 == 0
        assert hypot(x, y) / step == pytest.approx(round(hypot(x, y) / step), abs=1e-9)
    else:
        for value, level, other in ((x, found.level_x, 30.0), (y, found.level_y, 40.0)):
            assert level in (None, other)
            assert value == level or value / step == pytest.approx(round(value / step), abs=1e-9)
    assert hypot(x - at[0], y - at[1]) <= 2 * max(2.0, step)


def test_middles_centres_ends_tangents_and_the_edges_of_neighbours_are_met():
    sketch, disc = with_disc(BOARD, (40.0, 10.0), 20.0)
    shelf = Line((-80.0, -33.0), (-20.0, -33.0))
    targets = targets_of(sketch, neighbours=[shelf])

    def met(x, y, last=None):
        found = snapped_place((x, y), last, targets, 1.5, 1.0)
        return found.met, found.place

    assert met(0.4, 99.2) == ("middle", (0.0, 100.0))
    assert met(40.9, 9.5) == ("centre", (40.0, 10.0))
    assert met(-79.3, -33.4) == ("end", (-80.0, -33.0))
    assert met(-52.3, -33.9) == ("edge", (-52.3, -33.0))
    what, place = met(40.4, 29.3, last=(-60.0, 30.0))
    assert (what, place) == ("tangent", pytest.approx((40.0, 30.0)))
    assert "centre" not in [kind for _, kind in targets_of(sketch, without=disc).spots]


@given(st.floats(-90, 90), st.floats(-90, 90), st.floats(1, 40))
def test_a_leg_to_where_it_touches_a_circle_stands_square_on_its_radius(x, y, radius):
    targets = SnapTargets(circles=(((0.0, 0.0), radius),))
    if hypot(x, y) <= radius + 0.01:
        return
    found = [snapped_place((radius * cos(t / 20), radius * sin(t / 20)), (x, y), targets, radius, 1)
             for t in range(126)]  # fmt: skip
    touched = {each.place for each in found if each.met == "tangent"}
    assert touched
    for px, py in touched:
        assert hypot(px, py) == pytest.approx(radius)
        assert (px - x) * px + (py - y) * py == pytest.approx(0, abs=1e-6 * (1 + hypot(x, y)) ** 2)
