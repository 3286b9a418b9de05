"""Small shapes in the holes of large ones travel with them; boxes in rows; motions turned over."""

from math import hypot

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from tests.common import blob, rectangle

from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import RigidTransform
from anzel.layout.rows import boxes_in_rows
from anzel.nesting.hole_filling import contents_at, fill_holes
from anzel.nesting.problem import Container, Item, NestingProblem, Orientation, PlacedItem, Solution
from anzel.nesting.validation import clashes

QUARTERS = tuple(Orientation(float(turn)) for turn in (0, 90, 180, 270))
FRAME = shapely.Polygon(
    [(0, 0), (120, 0), (120, 70), (0, 70)], [[(10, 10), (10, 60), (110, 60), (110, 10)]]
)


def puzzle_of(small):
    """A frame, and small boxes."""
    shapes = (Item("frame", FRAME, 1, QUARTERS), *(
        Item(str(i), shapely.box(0, 0, w, h), 1, QUARTERS) for i, (w, h) in enumerate(small)
    ))  # fmt: skip
    return NestingProblem(shapes, (Container.rectangle("sheet", 400, 300),), 2.0, 5.0)


sizes = st.lists(st.tuples(st.floats(8, 60), st.floats(8, 40)), min_size=1, max_size=6)


@pytest.mark.slow
@given(sizes, st.sampled_from(QUARTERS), st.sampled_from(QUARTERS))
def test_a_load_keeps_together_however_it_is_turned(small, before, after):
    problem = puzzle_of(small)
    filled_hosts = fill_holes(problem, problem.loose, {0: before})
    frame = next(filled_host for filled_host in filled_hosts if filled_host.host == 0)
    assert sum(1 + len(filled_host.contents) for filled_host in filled_hosts) == len(problem.loose)
    placed_items = contents_at(problem, frame, PlacedItem(0, 0, 0, after, 60.0, 40.0))
    assert placed_items is not None
    assert clashes(problem, Solution(tuple(placed_items))) == ()
    inside = problem.polygon(placed_items[0]).envelope
    assert all(inside.contains(problem.polygon(placed_item)) for placed_item in placed_items[1:])


def test_what_may_not_turn_so_stays_behind():
    shapes = (Item("frame", FRAME, 1, QUARTERS), Item("a", shapely.box(0, 0, 30, 20), 1))
    problem = NestingProblem(shapes, (Container.rectangle("sheet", 400, 300),), 2.0, 5.0)
    (filled_host,) = fill_holes(problem, problem.loose, {})
    assert len(filled_host.contents) == 1
    assert (
        contents_at(problem, filled_host, PlacedItem(0, 0, 0, Orientation(90.0), 9.0, 9.0)) is None
    )
    assert (
        contents_at(problem, filled_host, PlacedItem(0, 0, 0, Orientation(0.0, True), 9.0, 9.0))
        is None
    )
    assert (
        len(contents_at(problem, filled_host, PlacedItem(0, 0, 0, Orientation(0.0), 9.0, 9.0))) == 2
    )


@given(
    st.lists(st.tuples(st.floats(10, 600), st.floats(10, 400)), min_size=1, max_size=12),
    st.floats(0.3, 3.0),
)
def test_boxes_in_rows_lie_apart_inside_the_whole(boxes, aspect):
    corners, whole = boxes_in_rows(boxes, aspect, gap=20.0, above=12.0)
    laid = [shapely.box(x, y, x + w, y + h) for (x, y), (w, h) in zip(corners, boxes, strict=True)]
    assert all(shapely.box(0, 0, *whole).buffer(1e-6).contains(box) for box in laid)
    for index, box in enumerate(laid):
        assert all(box.distance(other) >= 12 - 1e-6 for other in laid[index + 1 :])


@given(st.floats(0, 360), st.floats(-50, 50), st.booleans())
def test_turning_over_keeps_every_length_and_the_way_outlines_run(turn, shift, over):
    motion = RigidTransform.rotation(turn, over=over).translated(shift, -shift)
    region = Region.of(blob(), [Contour.circle((12.0, 8.0), 3.0), rectangle(4, 3, 20, 8)])
    moved = region.moved(motion)
    assert moved.area == pytest.approx(region.area)
    assert moved.outer.signed_area == pytest.approx(region.outer.signed_area)
    assert [h.signed_area < 0 for h in moved.holes] == [True, True]
    assert sorted(s.length for s in moved.outer.segments) == pytest.approx(
        sorted(s.length for s in region.outer.segments)
    )
    (ax, ay), (bx, by) = motion((0.0, 0.0)), motion((3.0, 4.0))
    assert hypot(bx - ax, by - ay) == pytest.approx(5.0)
    centre = region.holes[0].segments[0].centre
    assert moved.holes[0].segments[0].centre == pytest.approx(motion(centre))
    assert motion.translated(1.0, 0.0).over is over
