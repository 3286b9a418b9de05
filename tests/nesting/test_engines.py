"""The layout engines, against shapely and against known packings."""

from dataclasses import replace
from math import cos, log2, pi, sin
from time import monotonic

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from anzel.nesting.area_bound import fewest_sheets
from anzel.nesting.bottom_left_fill import FillStrategy, _Filling, fill
from anzel.nesting.compaction import Obstacles
from anzel.nesting.problem import (
    Container,
    ContainerKind,
    Item,
    NestingProblem,
    Orientation,
    PlacedItem,
    Solution,
    cost_of,
    occupied_area,
)
from anzel.nesting.quick_solver import laid_again, solve_quickly
from anzel.nesting.raster import PaddedGrid, cells_of
from anzel.nesting.sliding import slid_together
from anzel.nesting.squeeze import squeeze
from anzel.nesting.strip_packer import short_strips
from anzel.nesting.validation import clashes, miscounted
from anzel.project.demos import DEMOS
from anzel.project.derive import layout_of

QUARTERS = tuple(Orientation(float(turn)) for turn in (0, 90, 180, 270))


def star(radii, hole=0.0):
    """A polygon with corners at some distances from its middle, perhaps with a hole."""
    turns = [2 * pi * i / len(radii) for i in range(len(radii))]
    ring = [(r * cos(a), r * sin(a)) for r, a in zip(radii, turns, strict=True)]
    inner = [(hole * r * cos(a), hole * r * sin(a)) for r, a in zip(radii, turns, strict=True)]
    return shapely.Polygon(ring, [inner] if hole else [])


def ring(outer, inner, name="ring", count=1):
    """A ring."""
    disc = shapely.Point(0, 0).buffer(outer)
    return Item(name, disc.difference(shapely.Point(0, 0).buffer(inner)), count)


def box(name, width, height, count=1, orientations=QUARTERS):
    """A rectangle."""
    return Item(name, shapely.box(0, 0, width, height), count, orientations)


def assert_sound(problem, solution):
    """Every copy laid once; apart, inside, by shapely's own distances."""
    assert not miscounted(problem, solution)
    for container, sheet in solution.sheets:
        laid = [problem.polygon(placed_item) for placed_item in solution.on(container, sheet)]
        inside = problem.containers[container].polygon.buffer(
            0.011 - problem.margin, join_style="mitre"
        )
        assert all(inside.contains(polygon) for polygon in laid)
        for index, polygon in enumerate(laid):
            for other in laid[index + 1 :]:
                assert polygon.distance(other) >= problem.spacing - 0.011
                assert polygon.intersection(other).area < 0.01 * polygon.length
    assert clashes(problem, solution) == ()


ODD = (Orientation(15.0), Orientation(200.0, True))
stars = st.tuples(
    st.lists(st.floats(8, 40), min_size=3, max_size=9), st.sampled_from([0.0, 0.0, 0.6]),
    st.integers(1, 3), st.booleans(),
)  # fmt: skip
L_SCRAP = shapely.Polygon([(0, 0), (180, 0), (180, 70), (80, 70), (80, 150), (0, 150)])


@pytest.mark.slow
@given(st.lists(stars, min_size=1, max_size=6), st.floats(0, 6), st.floats(0, 8), st.booleans())
@settings(max_examples=25)
def test_anything_is_laid_soundly(wanted, spacing, margin, with_scrap):
    shapes = tuple(
        Item(
            str(i),
            star(radii, hole),
            count,
            (Orientation(15.0), Orientation(200.0, True)) if odd else QUARTERS,
        )
        for i, (radii, hole, count, odd) in enumerate(wanted)
    )
    scraps = (Container("scrap", L_SCRAP, 1, kind=ContainerKind.SCRAP),) if with_scrap else ()
    problem = NestingProblem(
        shapes, (*scraps, Container.rectangle("sheet", 220, 160)), spacing, margin
    )
    solution = solve_quickly(problem)
    assert_sound(problem, solution)
    assert not solution.left_out
    used_sheets = [container for container, _ in solution.sheets]
    assert fewest_sheets(problem) <= len(used_sheets)
    assert solve_quickly(problem) == solution, "the same problem has the same solution"


def test_small_pieces_go_into_the_holes_of_large_ones():
    problem = NestingProblem(
        (ring(95, 80), box("tile", 45, 45, 4)), (Container.rectangle("sheet", 200, 200),), 3.0, 2.0
    )
    solution = solve_quickly(problem)
    assert_sound(problem, solution)
    assert len(solution.sheets) == 1


def test_nothing_is_laid_over_a_spike_narrower_than_the_spacing():
    """A slit of a scrap, as a kerf leaves one, is no room, however narrow."""
    slit = shapely.box(60, 0, 60.4, 90)
    container = Container(
        "scrap", shapely.box(0, 0, 150, 120).difference(slit), 1, kind=ContainerKind.SCRAP
    )
    problem = NestingProblem((box("a", 50, 40, 2), box("b", 70, 60)), (container,), 6.0, 1.0)
    solution = solve_quickly(problem)
    assert_sound(problem, Solution(solution.placed, solution.left_out))


def test_scraps_are_used_up_first_and_the_smallest_sheet_that_does_is_taken():
    containers = (
        Container.rectangle("large", 600, 400), Container.rectangle("small", 150, 120),
        Container.rectangle("scrap", 80, 60, 1, kind=ContainerKind.SCRAP),
    )  # fmt: skip
    problem = NestingProblem((box("a", 70, 50), box("b", 100, 90)), containers, 2.0, 3.0)
    solution = solve_quickly(problem)
    assert_sound(problem, solution)
    assert {problem.containers[container].name for container, _ in solution.sheets} == {
        "scrap",
        "small",
    }


def test_what_is_fixed_stays_and_the_rest_keeps_clear_of_it():
    middle = PlacedItem(0, 0, 0, Orientation(), 80.0, 60.0)
    shapes = (box("a", 40, 40), box("b", 30, 20, 9))
    problem = NestingProblem(
        shapes, (Container.rectangle("sheet", 200, 160),), 4.0, 5.0, fixed=(middle,)
    )
    solution = solve_quickly(problem)
    assert middle in solution.placed
    assert_sound(problem, solution)


def test_clashes_are_told_with_their_depth():
    problem = NestingProblem(
        (box("a", 40, 40, 3),), (Container.rectangle("sheet", 200, 100),), 5.0, 5.0
    )
    near = [PlacedItem(0, 0, 0, Orientation(), x, 5.0) for x in (3.0, 46.0, 84.0)]
    found = clashes(problem, Solution(tuple(near)))
    assert [(c.other is None, round(c.by, 1)) for c in found] == [
        (True, 2.0), (False, 2.0), (False, 7.0),
    ]  # fmt: skip


# Radius of the largest n equal circles in a unit square: 2, 3, 5 and 7 as published by Graham and
# Lubachevsky (Repeated patterns of dense packings of equal disks in a square, 1996), from memory.
BEST_CIRCLES = {2: 0.292893, 3: 0.254333, 5: 0.207107, 7: 0.174458}


@pytest.mark.parametrize(("count", "radius"), BEST_CIRCLES.items())
def test_circles_need_no_less_than_the_best_packing_known_and_not_much_more(count, radius):
    side = 100.0 / radius / 2  # the square that holds so many circles of diameter 100
    circles = (Item("circle", shapely.Point(0, 0).buffer(50.0, quad_segs=64), count),)

    def sheets(factor):
        container = Container.rectangle("square", side * factor, side * factor)
        return len(solve_quickly(NestingProblem(circles, (container,), 0.0, 0.0)).sheets)

    assert sheets(0.985) > 1
    assert sheets(1.16) == 1


@pytest.mark.parametrize("cut", [[(2, 4), (2, 4)], [(1, 24)], [(6, 6)]])
def test_rectangles_that_tile_a_sheet_exactly_fill_it(cut):
    """Known optima: rows of equal rectangles that fill the sheet to its edge."""
    rows = len(cut)
    shapes = tuple(
        box(f"r{i}", 240 / columns, 180 / rows / lines, columns * lines)
        for i, (lines, columns) in enumerate(cut)
    )
    solution = solve_quickly(
        NestingProblem(shapes, (Container.rectangle("sheet", 240, 180),), 0.0, 0.0)
    )
    assert len(solution.sheets) == 1
    assert not solution.left_out


@pytest.mark.slow
def test_what_ended_on_a_third_sheet_is_laid_first_and_two_are_enough():
    """The acorn's slices: in order of size the two last ones find no room on two sheets."""
    acorn = next(demo for demo in DEMOS if demo.name == "acorn").make()
    problem = layout_of(acorn, acorn.stocks_in_use[0].id).problem
    by_size = fill(problem, FillStrategy())
    again = laid_again(problem, [by_size, fill(problem, FillStrategy(across=True))])
    quick = solve_quickly(problem)
    assert [len(each.sheets) for each in (by_size, again[0], quick)] == [3, 2, 2]
    assert_sound(problem, quick)
    two = replace(problem, containers=(replace(problem.containers[0], count=2),))
    assert fill(two, FillStrategy()).left_out
    assert not solve_quickly(two).left_out


def test_squeezing_is_never_worse_tells_every_step_and_uses_holes():
    shapes = (ring(60, 48, count=2), *(box(f"b{i}", 22 + i, 40 - i) for i in range(6)))
    problem = NestingProblem(shapes, (Container.rectangle("sheet", 420, 130),), 3.0, 3.0)
    fast, told = solve_quickly(problem), []
    best = squeeze(problem, 4.0, told=told.append)
    assert_sound(problem, best)
    costs = [cost_of(problem, solution) for solution in told]
    assert costs == sorted(costs, reverse=True)
    assert (told[-1], costs[-1] <= cost_of(problem, fast)) == (best, True)
    assert occupied_area(problem, best) < 250 * 130, "two rings wide: all the rest lies in them"


def test_squeezing_stops_when_told_with_the_best_so_far():
    problem = NestingProblem(
        (box("a", 50, 30, 9),), (Container.rectangle("sheet", 300, 200),), 3.0, 3.0
    )
    start = monotonic()
    solution = squeeze(problem, 600.0, stopped=lambda: monotonic() > start + 0.5)
    assert monotonic() - start < 5
    assert_sound(problem, solution)


def test_the_strip_packers_copies_come_back_where_it_laid_them():
    shapes = (
        Item("l", L_SCRAP, 2, (Orientation(90.0), Orientation(270.0))),
        Item("t", L_SCRAP, 1, (Orientation(0, True),))
    )  # fmt: skip
    copies = [(0, False), (0, False), (1, True)]
    strips = list(short_strips(shapes, copies, 250.0, 2.0, 1, seed=3, stopped=lambda: False))
    last = strips[-1]
    placed_items = tuple(
        PlacedItem(n, 0, 0, orientation, x, y) for n, orientation, x, y in last.copies
    )
    problem = NestingProblem(shapes, (Container.rectangle("strip", last.length, 250),), 2.0, 0.0)
    assert_sound(problem, Solution(placed_items))


@given(st.lists(st.floats(2, 30), min_size=3, max_size=12), st.floats(0.3, 2.0))
def test_cells_are_those_whose_centres_lie_inside(radii, cell):
    polygon = shapely.transform(star(radii, 0.5), lambda points: points + 31.0)
    cells = cells_of(polygon, cell, (60, 70))
    y, x = np.mgrid[0:60, 0:70] * cell
    sure = shapely.distance(shapely.points(x, y), polygon.boundary) > 1e-9
    assert (cells == shapely.contains_xy(polygon, x, y))[sure].all()


def test_clear_places_are_those_that_share_no_cell():
    random = np.random.default_rng(4)
    grid, patch = random.random((23, 31)) < 0.2, random.random((4, 5)) < 0.4
    frame = PaddedGrid(*grid.shape)
    clear = frame.clear(frame.spectrum(grid), frame.spectrum(patch), (20, 27))
    wanted = [
        [not (grid[r : r + 4, c : c + 5] & patch).any() for c in range(27)] for r in range(20)
    ]
    assert (clear == np.array(wanted)).all()


@given(
    st.lists(st.floats(2, 12), min_size=3, max_size=8),
    st.lists(st.floats(2, 12), min_size=3, max_size=8), st.floats(-14, 14), st.integers(0, 1),
)  # fmt: skip
def test_sliding_stops_exactly_at_the_first_touch(radii, other_radii, aside, axis):
    there = star(other_radii)
    far = np.array([40.0, aside] if axis == 0 else [aside, 40.0])
    here = shapely.transform(star(radii), lambda points: points + far)
    obstacles = Obstacles()
    obstacles.add(there)
    run = obstacles.free_distance(here, axis, 80.0)

    def after(way):
        step = np.array([-way, 0.0] if axis == 0 else [0.0, -way])
        return shapely.transform(here, lambda points: points + step)

    assert after(run).intersection(there).area < 1e-3
    if run < 80.0:
        assert after(run).distance(there) < 1e-4
        assert after(run + 0.5).intersection(there).area > 0


@pytest.mark.parametrize("axis", [0, 1])
@given(st.lists(stars, min_size=1, max_size=5), st.floats(0.1, 6))
@settings(max_examples=25, deadline=None)
def test_what_lies_apart_slides_together_and_no_nearer(axis, wanted, spacing):
    items = tuple(
        Item(str(n), star(radii, hole), count) for n, (radii, hole, count, _) in enumerate(wanted)
    )
    problem = NestingProblem(items, (Container.rectangle("sheet", 700, 500),), spacing, 4.0)
    apart = fill(problem, FillStrategy(slides=False))
    for key in apart.sheets:
        before = apart.on(*key)
        after = slid_together(problem, before, axis)
        assert [each.item for each in after] == [each.item for each in before]
        alone = problem.only([each.item for each in before], [key[0]])
        assert clashes(alone, Solution(after)) == ()
        for was, now in zip(before, after, strict=True):
            assert now.x <= was.x
            assert now.y <= was.y


def test_boxes_slide_until_they_are_the_spacing_apart():
    problem = NestingProblem(
        (box("box", 20, 10, 3),), (Container.rectangle("sheet", 200, 100),), 3.0, 5.0
    )
    placed = [PlacedItem(0, 0, 0, QUARTERS[0], x, y) for x, y in ((90, 30), (40, 32), (10, 28))]
    slid = slid_together(problem, placed, 0)
    assert sorted((each.x, each.y) for each in slid) == [
        pytest.approx((x, 5.0), abs=0.003) for x in (5, 28, 51)
    ]


def test_many_different_pieces_ask_each_sheet_only_now_and_then(monkeypatch):
    """So the time grows like n log n: else each piece would be tried on each sheet."""
    count, tried = 160, []
    boxes = tuple(box(f"b{n}", 61.0 + 0.1 * n, 62.0) for n in range(count))  # one on a sheet
    problem = NestingProblem(boxes, (Container.rectangle("sheet", 100, 100),), 2.0, 2.0)
    place = _Filling._place
    monkeypatch.setattr(_Filling, "_place", lambda *a: [tried.append(a[2]), place(*a)][1])
    solution = fill(problem, FillStrategy())
    assert_sound(problem, solution)
    assert not solution.left_out
    assert len(tried) < count * (2 + 24 + log2(count))
    few = replace(problem, containers=(Container.rectangle("sheet", 100, 100, 150),))
    assert len(fill(few, FillStrategy()).left_out) == count - 150, "nothing is passed for good"
