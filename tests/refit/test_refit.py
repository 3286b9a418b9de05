"""A refit arrives at what the same piece is when it is made for the new sheet from the start."""

from math import hypot

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.refit import made

from anzel.refit.features import Kind
from anzel.refit.plan import Keep, Refit, Wish, refitted
from anzel.refit.survey import surveyed
from anzel.stock.fits import FitRule, KerfAt

PLAIN = FitRule(0.0, 0.0, KerfAt.DRAWING)
TREATMENTS = {
    "square": None,
    "filleted": made.fillet(0.6),
    "chamfered": made.chamfer(0.5),
    "relieved": made.relief(0.8),
    "in chords": made.chords(made.fillet(0.6), 6),
}


def refit(drawing, thickness: float, rule: FitRule = PLAIN, **wishes) -> Refit:
    return refitted(surveyed(drawing), Wish(thickness, rule, **wishes))


def new_edges(done: Refit, loop: int):
    return [e for e in done.edges.get(loop, done.survey.rings.loops[loop].segments) if e]


def farthest(got, wanted) -> float:
    """The greatest distance from an end of one's edges to the nearest end of the other's."""
    assert len(got) == len(wanted)
    ends = [e.start for e in wanted]
    return max(min(hypot(e.start[0] - x, e.start[1] - y) for x, y in ends) for e in got)


SLOTS = [(20.0, 24.0), (47.5, 24.0), (80.0, 30.0)]
TABS = [(25.0, 12.0), (70.0, 16.0)]
ANY = {
    "thickness": st.floats(2.0, 6.0),
    "angle": st.floats(0, 360),
    "mirrored": st.booleans(),
    "style": st.sampled_from(sorted(TREATMENTS)),
}


@given(**ANY, kerf=st.floats(0, 0.3), clearance=st.floats(-0.1, 0.4))
@settings(max_examples=60, deadline=None)
def test_slots_tabs_and_mortises_come_out_as_if_made_for_the_sheet(
    thickness, angle, mirrored, style, kerf, clearance
):
    """Handbook 3 and 5: w = t + c - k about the centre line; a tab's height t from its shoulder."""

    def piece(w: float, height: float):
        treat = TREATMENTS[style]
        loops = (
            made.edges(made.slotted(100, 60, SLOTS, w), treat),
            made.edges([(x, y - 90) for x, y in made.tabbed(100, 40, TABS, height)], treat),
            made.edges(made.mortise(30, 20, 12.0, w), treat),
            made.edges(made.mortise(70, 20, 16.0, w), treat),
        )
        return [made.turned(loop, angle, mirrored) for loop in loops]

    rule = FitRule(clearance, kerf, KerfAt.DRAWING)
    done = refit(made.drawing(*piece(3.0, 3.0)), thickness, rule)
    assert done.survey.is_sure
    assert done.survey.evidence[0].value == pytest.approx(3.0)
    kinds = [d.feature.kind for d in done.decisions]
    assert [kinds.count(k) for k in Kind] == [3, 2, 2, 0]
    wanted = piece(thickness + clearance - kerf, thickness)
    for loop, target in enumerate(wanted):
        assert farthest(new_edges(done, loop), target) < 1e-6


@given(**ANY, keep=st.sampled_from(Keep), n=st.sampled_from([5, 7, 9]))
@settings(max_examples=60, deadline=None)
def test_finger_rows_keep_the_size_that_is_chosen(thickness, angle, mirrored, style, keep, n):
    def piece(t: float):
        outer, inner = (0.0, t) if keep is Keep.OUTSIDE else (t - 3.0, 3.0)
        corners = made.fingered(80, n * 12.0, n, outer, inner)
        return made.turned(made.edges(corners, TREATMENTS[style]), angle, mirrored)

    done = refit(made.drawing(piece(3.0)), thickness, keep=keep)
    rows = {d.feature.row for d in done.decisions}
    assert {d.feature.kind for d in done.decisions} == {Kind.FINGER}
    assert len(rows) == 2
    assert len(done.decisions) == n + 1
    assert farthest(new_edges(done, 0), piece(thickness)) < 1e-6


@given(st.floats(2.0, 5.0), st.floats(0, 360), st.booleans())
@settings(max_examples=30, deadline=None)
def test_boards_with_fingers_all_round_meet_at_their_corners(thickness, angle, starts_out):
    def piece(t: float):
        return made.turned(made.edges(made.corner_box_side(99, 9, t, starts_out)), angle)

    done = refit(made.drawing(piece(3.0)), thickness)
    assert len({d.feature.row for d in done.decisions}) == 4
    assert farthest(new_edges(done, 0), piece(thickness)) < 1e-6
