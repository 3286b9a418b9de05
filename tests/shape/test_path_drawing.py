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
from anzel.shape.outline_building import region_of
from anzel.shape.path_drawing import DrawnLeg, snapped_place, with_drawn_path
from anzel.shape.sketch_changes import rectangle_sketch
from anzel.shape.sketch_solver import retyped

BOARD = rectangle_sketch(200.0, 200.0)


def typed(*texts):
    """Return the start and the legs of typed texts."""
    corners, legs = [typed_leg(texts[0], []).end], []
    for text in texts[1:]:
        legs.append(typed_leg(text, corners))
        corners.append(legs[-1].end)
    return corners[0], legs


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


@pytest.mark.parametrize("text", ["", "40", "forty at 9", "40 at", "x y", "40 at 20 radius"])
def test_what_is_no_leg_says_what_one_looks_like(text):
    with pytest.raises(ParameterError) as told:
        typed_leg(text, [(0.0, 0.0)])
    assert told.value.hint


def test_a_bare_number_is_in_the_unit_that_the_maker_chose():
    before = number_format()
    show_numbers(replace(before, unit=Unit.INCHES))
    try:
        assert typed_leg("2 at 0", [(0.0, 0.0)]).end == pytest.approx((50.8, 0.0))
        assert typed_leg("2 mm at 0", [(0.0, 0.0)]).end == pytest.approx((2.0, 0.0))
    finally:
        show_numbers(before)


def test_too_few_corners_and_arcs_that_cannot_be_are_told():
    for legs in (
        [DrawnLeg((5.0, 0.0))],
        [DrawnLeg((50.0, 0.0), radius=20.0), DrawnLeg((5.0, 9.0))],
    ):
        with pytest.raises(ParameterError):
            with_drawn_path(BOARD, (0.0, 0.0), legs)


@given(st.floats(0, 360), st.floats(5, 200), st.sampled_from([0.5, 1.0, 5.0]))
def test_a_place_that_is_helped_lies_on_a_level_a_direction_or_the_grid(angle, length, step):
    at = (length * cos(angle * pi / 180), length * sin(angle * pi / 180))
    found = snapped_place(at, (0.0, 0.0), [(30.0, 40.0)], 2.0, step)
    x, y = found.place
    if found.angle is not None:
        assert found.angle % 15 == 0
        assert hypot(x, y) / step == pytest.approx(round(hypot(x, y) / step), abs=1e-9)
    else:
        for value, level, other in ((x, found.level_x, 30.0), (y, found.level_y, 40.0)):
            assert level in (None, other)
            assert value == level or value / step == pytest.approx(round(value / step), abs=1e-9)
    assert hypot(x - at[0], y - at[1]) <= 2 * max(2.0, step)
