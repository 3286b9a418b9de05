"""A refit arrives at what the same piece is when it is made for the new sheet from the start."""

from math import hypot
from random import Random

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from tests.refit import made
from tests.told import refused

from anzel.core.findings import UnsureError
from anzel.drawings.model import DrawingError, DrawnPath
from anzel.geometry.regions import Contour, Region
from anzel.geometry.segments import Arc, Line, circle, reverse
from anzel.materials.fits import FitRule, KerfAt
from anzel.refit.analysis import analyse
from anzel.refit.features import DrawnFeatureKind, KeptSize
from anzel.refit.identical_pieces import congruent_features
from anzel.refit.refit import Refit, RefitOptions, refit_drawing
from anzel.refit.report import refit_findings, require_certainty
from anzel.refit.side_offset import translated_segment
from anzel.structure.artwork.drawn_hinges import drawn_hinges

PLAIN = FitRule(0.0, 0.0, KerfAt.DRAWING)
TREATMENTS = {
    "square": None,
    "filleted": made.fillet(0.6),
    "chamfered": made.chamfer(0.5),
    "relieved": made.relief(0.8),
    "in chords": made.chords(made.fillet(0.6), 6),
}


def refit(drawing, thickness: float, rule: FitRule = PLAIN, **wishes) -> Refit:
    return refit_drawing(analyse(drawing), RefitOptions(thickness, rule, **wishes))


def new_edges(done: Refit, loop: int):
    return [e for e in done.edges.get(loop, done.analysis.nested.loops[loop].segments) if e]


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
    assert done.analysis.drawn_for() is not None
    assert done.analysis.evidence[0].value == pytest.approx(3.0)
    kinds = [d.feature.kind for d in done.decisions]
    assert [kinds.count(k) for k in DrawnFeatureKind] == [3, 2, 2, 0]
    wanted = piece(thickness + clearance - kerf, thickness)
    for loop, target in enumerate(wanted):
        assert farthest(new_edges(done, loop), target) < 1e-6


@given(**ANY, keep=st.sampled_from(KeptSize), n=st.sampled_from([5, 7, 9]))
@settings(max_examples=60, deadline=None)
def test_finger_rows_keep_the_size_that_is_chosen(thickness, angle, mirrored, style, keep, n):
    def piece(t: float):
        outer, inner = (0.0, t) if keep is KeptSize.OUTSIDE else (t - 3.0, 3.0)
        corners = made.fingered(80, n * 12.0, n, outer, inner)
        return made.turned(made.edges(corners, TREATMENTS[style]), angle, mirrored)

    done = refit(made.drawing(piece(3.0)), thickness, keep=keep)
    rows = {d.feature.row for d in done.decisions}
    assert {d.feature.kind for d in done.decisions} == {DrawnFeatureKind.FINGER}
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


@given(
    st.floats(0, 360), st.randoms(use_true_random=False), st.floats(0, 0.04),
    st.floats(2.0, 5.0), st.sampled_from(["square", "filleted"]),
)  # fmt: skip
@example(90.0, Random(4), 0.03125, 2.0, "filleted")
@settings(max_examples=40, deadline=None)
def test_loose_edges_in_any_order_and_direction_with_gaps_and_doubles(
    angle, chance, gap, thickness, style
):
    """The same piece, cut up into single edges, each its own element."""
    loop = made.turned(made.edges(made.slotted(100, 60, SLOTS, 3.0), TREATMENTS[style]), angle)
    pieces = [made.apart(edge, gap, chance) for edge in loop]
    doubles = chance.sample(pieces, 3) if gap == 0 else []
    mixed = [reverse(e) if chance.random() < 0.5 else e for e in [*pieces, *doubles]]
    chance.shuffle(mixed)
    drawn_paths = [DrawnPath(i, (edge,), (0,), "cut") for i, edge in enumerate(mixed)]
    done = refit(made.of_traces(drawn_paths), thickness)
    assert [d.feature.kind for d in done.decisions] == [DrawnFeatureKind.SLOT] * 3
    wanted = made.turned(
        made.edges(made.slotted(100, 60, SLOTS, thickness), TREATMENTS[style]), angle
    )
    assert farthest(new_edges(done, 0), wanted) < 0.01 + 1.5 * gap
    said = {repair.what: repair for repair in done.analysis.assembled.repairs}
    if "gaps closed" in said:
        assert 0 < said["gaps closed"].largest <= 2 * gap + 1e-9
    elif gap:
        assert farthest(pieces, loop) < 1e-6
    if doubles:
        assert len(said["lines drawn twice merged"].places) == 3


def test_text_hinges_open_lines_and_a_border_are_kept_and_said():
    slits = [made.edges(made.mortise(20 + 3 * i, 60 + 12 * (i % 2), 1.0, 20.0)) for i in range(14)]
    plate = made.edges([(0, 0), (100, 0), (100, 100), (0, 100)])
    mortises = [made.edges(made.mortise(80, y, 12.0, 1.0)) for y in (20, 40, 60)]
    border = made.edges([(-20, -20), (240, -20), (240, 120), (-20, 120)])
    tabs = made.edges([(x + 120, y) for x, y in made.tabbed(100, 60, [(30, 12), (70, 12)], 1.0)])
    drawn_paths = list(made.drawing(border, plate, *slits, *mortises, tabs).paths)
    drawn_paths.append(DrawnPath(99, (Line((10, 5), (20, 5)),), (0,)))
    done = refit(made.of_traces(drawn_paths), 1.5)
    assert done.analysis.nested.has_border
    assert done.analysis.nested.pieces == 2
    assert done.analysis.hinge_slits == 14
    assert [d.feature.kind for d in done.decisions].count(DrawnFeatureKind.MORTISE) == 3
    said = " ".join(map(str, refit_findings(done)))
    assert "14 slits of living hinges" in said
    assert "border" in said or "rectangle round everything" in said
    assert any(
        m.what == "lines of no outline kept as drawn" for m in done.analysis.assembled.repairs
    )


def test_slits_drawn_there_and_back_make_the_hinge_that_narrow_ones_make():
    plate = Contour.polygon([(0, 0), (100, 0), (100, 40), (0, 40)])
    ends = {0: [(2, 38)], 1: [(0.5, 19.5), (20.5, 39.5)]}
    places = [(20 + 3 * row, *each) for row in range(6) for each in ends[row % 2]]

    def hinges(half, *more):
        slits = [
            [(x - half, low), (x + half, low), (x + half, top), (x - half, top)]
            if half else [(x, low), (x, top)]
            for x, low, top in places
        ]  # fmt: skip
        holes = [Contour(made.edges(corners)) for corners in (*slits, *more)]
        return drawn_hinges(Region(plate, tuple(holes)), ())

    (narrow,) = hinges(0.1)
    (line,) = hinges(0.0, [(70, 20), (70, 20)])
    assert len(narrow.rows) == 6
    assert line.rows == pytest.approx(narrow.rows)
    assert line.middle == pytest.approx(narrow.middle)


@pytest.mark.parametrize(
    ("corners", "reason"),
    [
        (made.mortise(30, 30, 3.1, 3.0), "which side"),
        (made.slotted(100, 60, [(50, 2.0)], 3.0), "recess"),
        (made.slotted(100, 60, [(50, 3.0)], 3.0), "recess"),
    ],
)
def test_what_cannot_be_told_is_left_until_the_maker_says(corners, reason):
    slots = made.edges([(x, y + 200) for x, y in made.slotted(100, 60, SLOTS, 3.0)])
    doubtful = [made.edges(corners)]
    if len(corners) == 4:
        doubtful.insert(0, made.edges([(0, 0), (60, 0), (60, 60), (0, 60)]))
    drawing = made.drawing(*doubtful, slots)
    done = refit(drawing, 4.0)
    left = [d for d in done.decisions if d.feature.uncertainty]
    assert len(left) == 1
    assert not left[0].moved
    assert reason in left[0].why
    told = refit(drawing, 4.0, sure=frozenset({left[0].feature.id}))
    assert [d.moved for d in told.decisions] == [True] * 4


def test_holds_kinds_and_other_sheets():
    plate = made.edges(made.slotted(100, 60, SLOTS, 3.0))
    tabs = made.edges([(x, y - 100) for x, y in made.tabbed(100, 60, TABS, 3.0)])
    drawing = made.drawing(plate, tabs)
    assert [d.moved for d in refit(drawing, 4.0, held=frozenset({"slot-2"})).decisions] == [
        True, False, True, True, True,
    ]  # fmt: skip
    assert sum(d.moved for d in refit(drawing, 4.0, held=frozenset({"piece-2"})).decisions) == 3
    assert (
        sum(d.moved for d in refit(drawing, 4.0, only=frozenset({DrawnFeatureKind.TAB})).decisions)
        == 2
    )
    other = refit(drawing, 4.0, others={"slot-1": 6.0, 3.0: 5.0})
    assert [d.new for d in other.decisions] == pytest.approx([6, 5, 5, 5, 5])


def test_walls_with_no_room_to_move_stay_and_are_named():
    """Two slots with 0.5 mm between them cannot both grow by a millimetre."""
    close = made.edges(made.slotted(100, 60, [(40, 20), (43.5, 20), (80, 20)], 3.0))
    done = refit(made.drawing(close), 4.0)
    assert [d.moved for d in done.decisions] == [False, False, True] or [
        d.moved for d in done.decisions
    ] == [True, False, False]
    assert "no room" in " ".join(d.why for d in done.decisions)
    assert "no room" in " ".join(map(str, refit_findings(done)))


def test_mouths_slide_along_curves_and_flattened_curves():
    """Slots into a disc: its arcs keep centre and radius; chords that are passed over go."""
    for chords in (None, 240):
        disc = made.slotted_disc(40.0, 12, 3.0, 20.0, chords)
        done = refit(made.drawing(disc), 4.2)
        assert len(done.decisions) == 12
        got = new_edges(done, 0)
        arcs = [e for e in got if isinstance(e, Arc)]
        assert {(e.centre, round(e.radius, 9)) for e in arcs} <= {((0.0, 0.0), 40.0)}
        again = analyse(made.drawing(got))
        assert again.shapes.notches.wide == pytest.approx([4.2] * 12)
        assert again.shapes.notches.long == pytest.approx([20.0] * 12, abs=0.06)


def test_a_round_floor_and_fingers_on_a_disc():
    """Once the maker is sure, a round floor parts with its walls and keeps its depth; fingers on a
    round edge change radius."""
    slot = made.round_slot(100, 60, 50, 3.0, 20)
    square = made.edges([(x, y + 200) for x, y in made.slotted(100, 60, SLOTS, 3.0)])
    sure = refit(made.drawing(slot, square), 4.0, sure=frozenset({"slot-1"}))
    lowest = min(e.bounds[1] for e in new_edges(sure, 0) if isinstance(e, Arc))
    assert lowest == pytest.approx(40 - 1.5)
    assert {round(e.radius, 9) for e in new_edges(sure, 0) if isinstance(e, Arc)} == {2.0}
    ring = refit(made.drawing(made.fingered_disc(50, 12, 3.0)), 4.0, drawn=(3.0,))
    radii = {round(e.radius, 6) for e in new_edges(ring, 0) if isinstance(e, Arc)}
    assert radii == {50.0, 46.0}


def test_identical_pieces_turned_or_mirrored_are_decided_alike():
    slots = [(20.0, 24.0), (47.5, 20.0)]
    one = made.edges(made.slotted(100, 60, slots, 3.0))
    loops = [one, made.turned(one, 77), made.turned(one, 12, mirrored=True)]
    shifted = [made.turned(loop, 0) if i else loop for i, loop in enumerate(loops)]
    apart = [
        [translated_segment(e, (i * 300.0, 0.0)) for e in loop] for i, loop in enumerate(shifted)
    ]
    done = refit(made.drawing(*apart), 4.0)
    deep = [d.feature.id for d in done.decisions if d.feature.length > 22]
    assert len(deep) == 3
    assert congruent_features(done, deep[0]) == set(deep)


def test_several_thicknesses_need_asking():
    """As many slots for 3 as for 5: nobody can tell which is meant."""
    three = made.edges(made.slotted(100, 60, SLOTS, 3.0))
    five = made.edges([(x, y + 100) for x, y in made.slotted(100, 60, SLOTS, 5.0)])
    analysis = analyse(made.drawing(three, five))
    assert [(e.value, e.slots) for e in analysis.evidence[:2]] == [(3.0, 3), (5.0, 3)]
    with refused(UnsureError, match=r"3 mm \(3 slot floors\)"):
        require_certainty(analysis, 4.0)
    both = refit_drawing(analysis, RefitOptions(4.0, PLAIN, drawn=(3.0, 5.0)))
    assert [d.new for d in both.decisions] == pytest.approx([4.0] * 6)
    assert refit_drawing(analysis, RefitOptions(4.0, PLAIN)).decisions == ()


def test_a_scaled_drawing_comes_back_to_thickness_and_held_holes_to_their_size():
    plate = made.edges(made.slotted(100, 60, SLOTS, 3.0))
    hole = [circle((30.0, 20.0), 5.0)]
    scale = 1.7
    larger = [made.scaled(loop, scale) for loop in (plate, hole)]
    held = frozenset({"hole-1", "slot-2"})
    done = refit(made.drawing(*larger), 4.0, scale=scale, held=held)
    assert [d.new for d in done.decisions] == pytest.approx([4.0, 3.0, 4.0])
    assert new_edges(done, 1)[0].radius == pytest.approx(5.0)
    assert new_edges(done, 1)[0].centre == pytest.approx((51.0, 34.0))


@pytest.mark.parametrize("moves", [False, True])
def test_pieces_that_share_a_side_are_refitted_if_it_can_stay(moves):
    """Two slotted plates side by side, all edges loose, the side between them drawn once."""
    left = made.slotted(100, 60, SLOTS, 3.0)
    right = [(x + 100, y) for x, y in made.slotted(100, 60, SLOTS, 3.0)]
    if moves:  # a tab of the left one, for which the right one has a recess
        tab = [(100, 24), (103, 24), (103, 36), (100, 36)]
        left, right = [*left[:2], *tab, *left[2:]], [*right, *reversed(tab)]
    edges = {frozenset((e.start, e.end)): e for loop in (left, right) for e in made.edges(loop)}
    paths = [DrawnPath(i, (e,), range(1), "") for i, e in enumerate(edges.values())]
    done = refit(made.of_traces(paths), 4.0, drawn=(3.0,))
    assert done.analysis.nested.pieces == 2
    assert any("shared" in each.what for each in done.analysis.assembled.repairs)
    slots = [d for d in done.decisions if d.feature.kind is DrawnFeatureKind.SLOT]
    assert [d.moved for d in slots] == [True] * 6
    if moves:
        with refused(DrawingError, match="share a side"):
            list(done.changed_paths())
    else:
        assert len(list(done.changed_paths())) == 6 * 4 + 2, "and what lies between mouths"
