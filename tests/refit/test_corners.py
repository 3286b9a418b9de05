"""How corners are told from sides: fillets, chamfers, reliefs and loops, in curves or in chords."""

from math import cos, hypot, pi, sin

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.refit import made

from anzel.geometry.segments import Arc, Cubic, Line
from anzel.materials.fits import FitRule, KerfAt
from anzel.refit.analysis import analyse
from anzel.refit.corners import treated
from anzel.refit.refit import RefitOptions, refit_drawing

SQUARE = [(0.0, 0.0), (60.0, 0.0), (60.0, 40.0), (0.0, 40.0)]
PLAIN = FitRule(0.0, 0.0, KerfAt.DRAWING)


def sides(edges) -> int:
    return len(treated(edges))


def cubic_fillet(radius):
    """A fillet as many programs write it: one cubic of the usual tangent length."""
    arc = made.fillet(radius)

    def treat(before, corner, after):
        (edge,) = arc(before, corner, after)
        reach = 4 / 3 * 0.41421356  # tan(90°/4)
        controls = [
            tuple(p[i] + reach * (corner[i] - p[i]) for i in (0, 1)) for p in (edge.start, edge.end)
        ]
        return [Cubic(edge.start, controls[0], controls[1], edge.end)]

    return treat


def side_hole(radius):
    """A relief drilled into the wall beside the floor's corner: half a circle."""

    def treat(before, corner, after):
        size = hypot(before[0] - corner[0], before[1] - corner[1])
        u = ((before[0] - corner[0]) / size, (before[1] - corner[1]) / size)
        start = (corner[0] + 2 * radius * u[0], corner[1] + 2 * radius * u[1])
        centre = (corner[0] + radius * u[0], corner[1] + radius * u[1])
        return [Arc(start, corner, centre, clockwise=True)]

    return treat


def overrun(by):
    """A loop: both edges run on past the corner, and a little line leads from one to the other."""

    def treat(before, corner, after):
        away = [
            tuple(corner[i] + by * (corner[i] - p[i]) / hypot(p[0] - corner[0], p[1] - corner[1])
                  for i in (0, 1))
            for p in (before, after)
        ]  # fmt: skip
        return [Line(away[0], away[1])]

    return treat


@pytest.mark.parametrize("inner", [True, False])
@pytest.mark.parametrize("radius", [0.3, 1.0, 4.0])
@pytest.mark.parametrize("style", [made.fillet, made.chamfer, cubic_fillet])
def test_rounded_and_cut_corners_are_no_sides(style, radius, inner):
    corners = made.slotted(100, 60, [(30, 25), (70, 25)], 12.0)
    assert sides(made.edges(corners, style(radius), inner=inner)) == len(corners)


@given(st.floats(0.4, 3.0), st.integers(3, 16), st.floats(0, 360))
@settings(max_examples=40, deadline=None)
def test_so_are_corners_rounded_in_chords_however_fine(radius, count, angle):
    corners = made.slotted(100, 60, [(30, 25), (70, 25)], 9.0)
    edges = made.edges(corners, made.chords(made.fillet(radius), count))
    assert sides(made.turned(edges, angle)) == len(corners)


@pytest.mark.parametrize(
    "style", [made.relief(0.8), made.relief(1.4), side_hole(0.7), overrun(1.0)]
)
@pytest.mark.parametrize("angle", [0, 33, 90, 211.5])
def test_reliefs_and_loops_go_along_with_their_corner(style, angle):
    """The slot is measured between its walls, and what relieves its floor moves as it is."""
    slots = [(20.0, 24.0), (50.0, 24.0), (80.0, 30.0)]

    def piece(width):
        return made.turned(made.edges(made.slotted(100, 60, slots, width), style), angle)

    done = refit_drawing(analyse(made.drawing(piece(5.0))), RefitOptions(6.2, PLAIN, drawn=(5.0,)))
    assert [d.new for d in done.decisions] == [6.2] * 3
    wanted = piece(6.2)
    for got, target in zip(done.edges[0], wanted, strict=True):
        assert got.start == pytest.approx(target.start, abs=1e-6)
        assert got.end == pytest.approx(target.end, abs=1e-6)
    arcs = [(e.radius, round(e.sweep, 6)) for e in done.edges[0] if isinstance(e, Arc)]
    assert arcs == [(pytest.approx(e.radius), round(e.sweep, 6))
                    for e in wanted if isinstance(e, Arc)]  # fmt: skip


def test_straight_edges_drawn_in_several_lines_are_one_side():
    points = [(0, 0), (20, 0), (20.0001, 0.00001), (60, 0), (60, 40), (30, 40), (0, 40)]
    assert sides(made.edges(points)) == 4


def test_round_things_have_no_treatments():
    ring = [(30 * cos(2 * pi * i / 64), 30 * sin(2 * pi * i / 64)) for i in range(64)]
    assert sides(made.edges(ring)) == 64
    assert sides(made.edges([(30 * cos(pi * i / 4), 30 * sin(pi * i / 4)) for i in range(8)])) == 8
    two = [Arc((5, 0), (-5, 0), (0, 0)), Arc((-5, 0), (5, 0), (0, 0))]
    assert sides(two) == 2


def test_a_half_round_end_is_a_side_and_an_octagon_keeps_its_own():
    """A stadium: two straight sides, two round ones."""
    ends = [Line((0, 0), (20, 0)), Arc((20, 0), (20, 6), (20, 3)), Line((20, 6), (0, 6)),
            Arc((0, 6), (0, 0), (0, 3))]  # fmt: skip
    assert sides(ends) == 4
    cut = made.edges(SQUARE, made.chamfer(12.5), inner=False)
    assert sides(cut) == 8  # corners cut this far are sides of their own
