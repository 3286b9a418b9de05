"""The order of cutting, by property over random nested outlines; what makes a solution worse."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.common import rectangle

from anzel.cutjob.cut_lines import CutLine
from anzel.cutjob.cut_order import HOME, in_cut_order
from anzel.cutjob.operations import Operation
from anzel.geometry.regions import Contour
from anzel.nesting.area_bound import fewest_sheets
from anzel.nesting.bottom_left_fill import FillStrategy, fill
from anzel.nesting.problem import (
    Container,
    ContainerKind,
    Item,
    NestingProblem,
    Orientation,
    PlacedItem,
    Solution,
    cost_of,
)
from anzel.nesting.quick_solver import (
    in_smaller_containers,
    is_valid,
    solve_quickly,
)
from anzel.nesting.raster_grids import RasterGrids
from anzel.nesting.solving import solution_by_boxes
from anzel.nesting.squeeze import squeeze
from anzel.nesting.validation import clashes, miscounted

KINDS = (Operation.INNER, Operation.OUTER)


def nested(depths):
    """Rectangles in rectangles, side by side: (owner, operation, outline) from the outside in."""
    marks = []
    for place, depth in enumerate(depths):
        for level in range(depth):
            inset = 4.0 * level
            size = 40.0 - 2 * inset
            line = rectangle(size, size, 50.0 * place + inset, 10.0 + inset)
            owner = f"{place}.{level // 2}"
            marks.append(CutLine(KINDS[(level + 1) % 2], owner, line))
    return marks


@given(st.lists(st.integers(1, 5), min_size=1, max_size=7), st.randoms())
@settings(max_examples=60)
def test_nothing_is_cut_free_before_what_lies_inside_it(depths, random):
    marks = nested(depths)
    random.shuffle(marks)
    run = in_cut_order(marks)
    assert sorted(m.owner for m in run) == sorted(m.owner for m in marks)
    shapes = [mark.contour.polygon_shape for mark in run]
    for later, outer in enumerate(shapes):
        inside = [i for i, shape in enumerate(shapes) if i != later and outer.contains(shape)]
        assert all(i < later for i in inside)
    areas = sorted(mark.contour.signed_area for mark in run)
    assert areas == pytest.approx(sorted(mark.contour.signed_area for mark in marks))


def test_inner_cuts_of_all_pieces_come_before_any_outer_where_nothing_is_nested():
    marks = nested([2, 2, 2, 2])
    run = in_cut_order(marks)
    assert [mark.operation for mark in run] == [Operation.INNER] * 4 + [Operation.OUTER] * 4


def test_the_nearest_comes_next():
    squares = [CutLine(Operation.OUTER, str(x), rectangle(8, 8, x, 0)) for x in (60, 0, 30, 90)]
    assert [mark.owner for mark in in_cut_order(squares)] == ["0", "30", "60", "90"]
    strokes = [CutLine(Operation.ENGRAVE, str(y), ((0.0, y), (5.0, y))) for y in (80.0, 10.0, 40.0)]
    assert [mark.owner for mark in in_cut_order(strokes)] == ["10.0", "40.0", "80.0"]
    assert in_cut_order([]) == ()
    assert HOME == (0.0, 0.0)


def test_a_circle_is_run_from_where_it_starts():
    circle = Contour.circle((50.0, 50.0), 20.0)
    (mark,) = in_cut_order([CutLine(Operation.OUTER, "Disc", circle)])
    assert mark.line == circle
    assert (mark.start, mark.end, mark.pierces) == ((70.0, 50.0), (70.0, 50.0), 1)


def box(name, width, height, count=1):
    """A rectangle that may be turned."""
    orientations = tuple(Orientation(float(turn)) for turn in (0, 90))
    return Item(name, shapely.box(0, 0, width, height), count, orientations)


def placed_item(shape, x, y, sheet=0, container=0):
    """A copy as it is drawn."""
    return PlacedItem(shape, container, sheet, Orientation(), x, y)


def test_leaving_out_is_worse_than_sheets_and_sheets_worse_than_length():
    problem = NestingProblem((box("a", 40, 40, 2),), (Container.rectangle("s", 100, 60),), 2.0, 2.0)
    near = Solution((placed_item(0, 2, 2), placed_item(0, 44, 2)))
    far = Solution((placed_item(0, 2, 2), placed_item(0, 58, 2)))
    two = Solution((placed_item(0, 2, 2), placed_item(0, 2, 2, sheet=1)))
    short = Solution((placed_item(0, 2, 2),), (0,))
    costs = [cost_of(problem, solution) for solution in (near, far, two, short)]
    assert costs == sorted(costs)
    assert not miscounted(problem, near)
    assert miscounted(problem, Solution((placed_item(0, 2, 2),)))
    once = NestingProblem(problem.items, (Container.rectangle("s", 100, 60, 1),), 2.0, 2.0)
    assert miscounted(once, two)


def test_a_scrap_costs_less_than_a_sheet_and_a_bought_one_more():
    containers = (
        Container.rectangle("scrap", 80, 60, 1, kind=ContainerKind.SCRAP),
        Container.rectangle("sheet", 80, 60, 1),
        Container("to buy", shapely.box(0, 0, 80, 60), None, kind=ContainerKind.TO_BUY),
    )  # fmt: skip
    problem = NestingProblem((box("a", 60, 50, 3),), containers, 2.0, 2.0)
    alone = [
        cost_of(problem, Solution((placed_item(0, 2, 2, container=container),)))
        for container in range(3)
    ]
    assert alone == sorted(alone)
    solution = solve_quickly(problem)
    assert solution.sheets == ((0, 0), (1, 0), (2, 0))
    assert fewest_sheets(problem) == 3


def test_what_lies_on_a_large_sheet_goes_on_a_smaller_one_that_takes_it():
    containers = (Container.rectangle("large", 400, 300), Container.rectangle("small", 90, 70, 1))
    problem = NestingProblem((box("a", 70, 50),), containers, 2.0, 5.0)
    grids = RasterGrids(problem)
    large = fill(problem, FillStrategy(largest_first=True), grids)
    assert large.sheets == ((0, 0),)
    small = in_smaller_containers(problem, large, grids)
    assert small.sheets == ((1, 0),)
    fixed = NestingProblem(problem.items, containers, 2.0, 5.0, fixed=large.placed)
    assert in_smaller_containers(fixed, large, grids) == large


def test_boxes_alone_do_for_a_few_and_odd_sheets_are_filled():
    sheet = NestingProblem((box("a", 30, 20, 4),), (Container.rectangle("s", 70, 60),), 2.0, 2.0)
    assert len(solution_by_boxes(sheet).sheets) == 1
    odd = Container("scrap", shapely.Polygon([(0, 0), (120, 0), (120, 40), (40, 90), (0, 90)]), 1)
    scrap = NestingProblem(sheet.items, (odd,), 2.0, 2.0)
    assert is_valid(scrap, solution_by_boxes(scrap))


@pytest.mark.parametrize("margin", [40.0, 30.0])
def test_a_sheet_that_is_all_margin_takes_nothing(margin):
    problem = NestingProblem((box("a", 10, 10),), (Container.rectangle("s", 80, 60),), 2.0, margin)
    assert solve_quickly(problem).left_out == (0,)


def test_fixed_copies_that_clash_are_left_as_they_are():
    fixed = (placed_item(0, 5, 5), placed_item(0, 15, 5))
    problem = NestingProblem(
        (box("a", 30, 30, 3),), (Container.rectangle("s", 120, 60),), 2.0, 5.0, fixed
    )
    solution = solve_quickly(problem)
    assert set(fixed) <= set(solution.placed)
    assert is_valid(problem, solution)
    assert {clash.placed for clash in clashes(problem, solution)} <= set(fixed)


@pytest.mark.slow
def test_squeezing_moves_pieces_from_a_nearly_empty_sheet_onto_others():
    """Wedges that fit together in pairs: the filling needs more sheets than the strip packer."""
    wedge = shapely.Polygon([(0, 0), (90, 0), (0, 60)])
    orientations = tuple(Orientation(float(turn)) for turn in (0, 180))
    problem = NestingProblem(
        (Item("w", wedge, 9, orientations),), (Container.rectangle("s", 200, 130),), 2.0, 3.0
    )
    fast, best = solve_quickly(problem), squeeze(problem, 4.0)
    assert cost_of(problem, best) <= cost_of(problem, fast)
    assert len(best.sheets) <= len(fast.sheets)
    assert clashes(problem, best) == ()
    assert not miscounted(problem, best)
    assert len(best.sheets) >= fewest_sheets(problem)


@pytest.mark.slow
@given(st.floats(20, 90), st.floats(20, 90), st.integers(1, 12))
@settings(max_examples=40)
def test_the_bound_is_never_more_than_what_is_used(width, height, count):
    problem = NestingProblem(
        (box("a", width, height, count),), (Container.rectangle("s", 200, 150),), 3.0, 4.0
    )
    solution = solve_quickly(problem)
    assert fewest_sheets(problem) <= len(solution.sheets)
    assert np.ceil(count * width * height / (192 * 142)) <= len(solution.sheets)
