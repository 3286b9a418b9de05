"""Loose edges to loops: nothing closed or merged that should not be, and all of it told."""

from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.refit import made

from anzel.drawings.containment import chord_points, nest_loops
from anzel.drawings.loops import AssembledLoops, Loop, assemble_loops
from anzel.drawings.model import DrawnPath
from anzel.drawings.retraced import taken_for_lines
from anzel.geometry.rigid_transform import RigidTransform
from anzel.geometry.segments import Arc, Line, reverse

SQUARE = [(0.0, 0.0), (60.0, 0.0), (60.0, 40.0), (0.0, 40.0)]


def drawn_paths(*runs, labels=None):
    names = labels or [""] * len(runs)
    return [DrawnPath(i, tuple(run), range(len(run)), names[i]) for i, run in enumerate(runs)]


def lines(*points):
    return [Line(p, q) for p, q in pairwise(points)]


def said(found):
    return {repair.what: (len(repair.places), round(repair.largest, 6)) for repair in found.repairs}


def test_a_closed_run_needs_no_mending():
    found = assemble_loops(drawn_paths(made.edges(SQUARE)))
    assert len(found.loops) == 1
    assert found.repairs == []


@pytest.mark.parametrize("backwards", [(), (1,), (0, 2)])
def test_runs_meet_end_to_end_whichever_way_they_are_drawn(backwards):
    runs = [lines((0, 0), (60, 0), (60, 40)), lines((60, 40), (0, 40)), lines((0, 40), (0, 0))]
    turned = [
        [reverse(e) for e in reversed(run)] if i in backwards else run for i, run in enumerate(runs)
    ]
    found = assemble_loops(drawn_paths(*turned))
    (loop,) = found.loops
    assert {edge.start for edge in loop.segments} == {tuple(map(float, p)) for p in SQUARE}
    assert {at for at, _ in loop.links} == {0, 1, 2}


def test_gaps_are_closed_where_lines_cross_and_no_further_than_said():
    """Ends 0.05 short of one corner and 0.05 past another; half a millimetre is no gap."""
    runs = [lines((0, 0), (59.95, 0)), lines((60, 0.05), (60, 40.05)), lines((60.05, 40), (0, 40)),
            lines((0, 40), (0, 0))]  # fmt: skip
    found = assemble_loops(drawn_paths(*runs))
    corners = {(round(e.start[0], 9), round(e.start[1], 9)) for e in found.loops[0].segments}
    assert corners == set(SQUARE)
    assert said(found) == {"gaps closed": (2, pytest.approx(0.070711, abs=1e-6))}
    assert assemble_loops(drawn_paths(*runs), 0.01).loops == []
    wide = [lines((0, 0), (59.5, 0)), *runs[1:]]
    assert assemble_loops(drawn_paths(*wide)).loops == []
    assert said(assemble_loops(drawn_paths(*wide)))["lines of no outline kept as drawn"][0] == 4


def test_an_arc_brought_to_other_ends_keeps_its_radius():
    half = Arc((60.0, 0.0), (60.0, 40.0), (60.0, 20.0))
    runs = [lines((0, 0), (60, 0.04)), [half], lines((60, 40), (0, 40), (0, 0))]
    (loop,) = assemble_loops(drawn_paths(*runs)).loops
    (arc,) = [e for e in loop.segments if isinstance(e, Arc)]
    assert arc.radius == pytest.approx(20.0, abs=1e-9)
    for end in (arc.start, arc.end):
        assert (end[0] - arc.centre[0]) ** 2 + (end[1] - arc.centre[1]) ** 2 == pytest.approx(400)


def test_doubles_count_once_wherever_they_are_drawn():
    ring = made.edges(SQUARE)
    again = [reverse(e) for e in reversed(ring)]
    turned = [*ring[2:], *ring[:2]]
    found = assemble_loops(drawn_paths(ring, again, turned))
    assert len(found.loops) == 1
    assert found.doubled == [1, 2]
    assert said(found) == {"lines drawn twice merged": (2, 0)}
    loose = assemble_loops(drawn_paths(*[[e] for e in ring], [ring[1]], [reverse(ring[3])]))
    assert len(loose.loops) == 1
    assert len(loose.doubled) == 2


def test_neighbours_that_share_an_edge_are_two_pieces():
    beside = [(60.0, 0.0), (120.0, 0.0), (120.0, 40.0), (60.0, 40.0)]
    found = assemble_loops(drawn_paths(made.edges(SQUARE), made.edges(beside)))
    assert len(found.loops) == 2
    assert found.doubled == []
    assert nest_loops(found.loops).pieces == 2


def test_at_a_junction_lines_of_one_layer_go_on():
    runs = [lines((0, 0), (60, 0), (60, 40), (0, 40)), lines((0, 40), (0, 0)),
            lines((0, 40), (-30, 60)), lines((0, 0), (-30, -20))]  # fmt: skip
    found = assemble_loops(drawn_paths(*runs, labels=["cut", "cut", "fold", "fold"]))
    assert len(found.loops) == 1
    assert sorted(found.open_paths) == [2, 3]


def test_loops_are_sorted_into_pieces_holes_and_pieces_in_holes():
    def board(x, y, w, h):
        return made.edges([(x, y), (x + w, y), (x + w, y + h), (x, y + h)])

    loops = [board(0, 0, 100, 100), board(10, 10, 50, 50), board(20, 20, 20, 20),
             board(25, 25, 5, 5), board(200, 0, 30, 30)]  # fmt: skip
    rings = nest_loops(assemble_loops(drawn_paths(*loops)).loops)
    assert rings.piece_number.tolist() == [0, 0, 1, 1, 2]
    assert rings.is_hole.tolist() == [False, True, False, True, False]
    assert not rings.has_border


def test_a_plate_with_openings_is_no_border():
    plate = made.edges([(0, 0), (200, 0), (200, 100), (0, 100)])
    holes = [made.edges(made.mortise(x, 50, 20, 3)) for x in (40, 80, 120, 160)]
    rings = nest_loops(assemble_loops(drawn_paths(plate, *holes)).loops)
    assert rings.pieces == 1
    assert not rings.has_border


def test_very_many_copies_and_very_many_ends_in_one_point_are_bounded():
    """Each would take pairs by the million."""
    ring = made.edges(SQUARE)
    found = assemble_loops(drawn_paths(*[list(ring) for _ in range(5000)]))
    assert (len(found.loops), len(found.doubled)) == (1, 4999)
    star = [lines((0, 0), (60 + i, 1000 - i)) for i in range(5000)]
    assert assemble_loops(drawn_paths(*star)).loops == []
    specks = [lines((0, 0), (0.01, 0)) for _ in range(5000)]
    assert len(assemble_loops(drawn_paths(*specks)).doubled) == 4999


@given(
    st.lists(st.floats(5, 60), min_size=1, max_size=4),
    st.lists(st.floats(5, 60), min_size=1, max_size=4),
    st.floats(0, 360), st.randoms(use_true_random=False), st.integers(0, 3),
)  # fmt: skip
@settings(max_examples=40, deadline=None)
def test_pieces_that_share_sides_and_corners_are_all_closed(widths, heights, angle, chance, tails):
    """A grid of rectangles, each side drawn once, with some lines that lead nowhere."""
    xs, ys = np.cumsum([0.0, *widths]), np.cumsum([0.0, *heights])
    sides = [((x, a), (x, b)) for x in xs for a, b in pairwise(ys)]
    sides += [((a, y), (b, y)) for y in ys for a, b in pairwise(xs)]
    sides += [((xs[0], ys[0]), (-9.0 - k, -7.0)) for k in range(tails)]
    chance.shuffle(sides)
    turn = RigidTransform.rotation(angle)
    lines = [Line(*map(turn, side if chance.random() < 0.5 else side[::-1])) for side in sides]
    paths = [DrawnPath(i, (line,), range(1), "a") for i, line in enumerate(lines)]
    found = assemble_loops(paths)
    areas = sorted(shapely.polygons(chord_points(loop.segments)).area for loop in found.loops)
    assert areas == pytest.approx(sorted(w * h for w in widths for h in heights))
    assert (
        sum(len(repair.places) for repair in found.repairs if "no outline" in repair.what) == tails
    )
    inner = len(widths) * (len(heights) - 1) + len(heights) * (len(widths) - 1)
    assert sum(len(each.places) for each in found.repairs if "shared" in each.what) == inner


def test_lines_of_another_layer_do_not_part_a_piece_and_curves_are_followed():
    """Half discs that share a straight side; a fold of another layer ends on their rim."""
    top = Arc((10.0, 0.0), (-10.0, 0.0), (0.0, 0.0))
    low = Arc((-10.0, 0.0), (10.0, 0.0), (0.0, 0.0))
    side, fold = Line((-10.0, 0.0), (10.0, 0.0)), Line((10.0, 0.0), (0.0, 10.0))
    labels = ("cut", "cut", "cut", "fold")
    paths = [
        DrawnPath(i, (edge,), range(1), label)
        for i, (edge, label) in enumerate(zip((top, low, side, fold), labels, strict=True))
    ]
    found = assemble_loops(paths)
    assert [len(loop.segments) for loop in found.loops] == [2, 2]
    assert found.open_paths == [3]
    assert {type(s) for loop in found.loops for s in loop.segments} == {Arc, Line}


def test_a_side_that_a_piece_shares_with_lines_there_and_back_stays_its_side():
    corners = ((0.0, 0.0), (0.0, 9.0), (9.0, 9.0), (9.0, 0.0))
    sides = [Line(a, b) for a, b in zip(corners, corners[1:] + corners[:1], strict=True)]
    piece = Loop(tuple(sides), ((0, False), (1, False)))
    lines = Loop((sides[0], Line(corners[1], corners[0])), ((0, False), (2, True)))
    taken = taken_for_lines(AssembledLoops([piece, lines]), [lines.reversed()])
    assert taken.loops == [piece]
    assert taken.open_paths == [2]
    assert taken.repairs[0].places == (corners[0],)
