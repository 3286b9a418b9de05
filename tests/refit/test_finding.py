"""What is found, and as what: thickness from sizes that recur, tabs from fingers, doubts told."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.refit import made
from tests.told import refused

from anzel.core.findings import UnsureError
from anzel.materials.fits import FitRule, KerfAt
from anzel.refit.analysis import analyse
from anzel.refit.feature_recognition import DrawnThicknesses
from anzel.refit.features import DrawnFeatureKind, KeptSize
from anzel.refit.finger_rows import EdgeInterpretation
from anzel.refit.refit import Anchor, Outcome, RefitOptions, refit_drawing
from anzel.refit.report import refit_findings, report_record, require_consistency
from anzel.refit.thickness_estimation import (
    ThicknessEvidence,
    candidates,
    is_sure,
    tolerance_for,
)
from anzel.refit.unmatched_features import unmatched_features

PLAIN = FitRule(0.0, 0.0, KerfAt.DRAWING)
SLOTS = [(20.0, 24.0), (47.5, 24.0), (80.0, 30.0)]


def moved_by(corners, x, y):
    return [(a + x, b + y) for a, b in corners]


def found(*loops, thickness=4.0, **wishes):
    drawing = made.drawing(*(made.edges(loop) for loop in loops))
    return refit_drawing(analyse(drawing), RefitOptions(thickness, PLAIN, **wishes))


def kinds(done):
    names = [d.feature.kind for d in done.decisions]
    return {kind.value: names.count(kind) for kind in DrawnFeatureKind if kind in names}


def evidence(value, count, kinds=1):
    parts = [count - kinds + 1, *[1] * (kinds - 1), 0, 0, 0][:4]
    return ThicknessEvidence(value, *parts)


@pytest.mark.parametrize(
    ("sizes", "sure"),
    [
        ([], False),
        ([evidence(3, 1)], False),
        ([evidence(3, 2)], True),
        ([evidence(3, 8), evidence(10, 4)], True),
        ([evidence(3, 8), evidence(10, 5)], False),
        ([evidence(3, 8, kinds=3), evidence(10, 5)], True),
        ([evidence(3, 8, kinds=3), evidence(10, 5, kinds=2)], False),
    ],
)
def test_a_thickness_is_sure_when_it_stands_out(sizes, sure):
    assert is_sure(sizes) is sure


def test_sizes_far_from_the_sheet_need_much_more_evidence():
    sizes = [evidence(1.0, 6), evidence(3.2, 4, kinds=1), evidence(25.0, 1)]
    assert is_sure(sizes, 3.3), "four of about the sheet against six of a third of it"
    assert [each.value for each in candidates(sizes, 3.3)] == [3.2, 1.0]
    assert is_sure([evidence(1.0, 40), evidence(3.2, 4)], 3.3)
    assert not is_sure([evidence(1.0, 16), evidence(3.2, 4)], 3.3)


@given(st.floats(0.3, 4.0), st.floats(-0.06, 0.06))
@settings(max_examples=40, deadline=None)
def test_tabs_tell_the_thickness_although_slots_have_kerf_and_clearance_in_them(t, part):
    """Slots drawn a little off the sheet, tabs on it: the value is the tabs'."""
    width = t * (1 + part)
    tabs = made.tabbed(100, 40, [(25, 12 + 2 * t), (70, 14 + 2 * t)], t)
    slotted = moved_by(made.slotted(100, 60 + 4 * t, SLOTS, width), 0, 200)
    analysis = analyse(made.drawing(made.edges(tabs), made.edges(slotted)))
    assert analysis.drawn_for() is not None
    assert analysis.evidence[0].value == pytest.approx(t, abs=2e-4)
    assert (analysis.evidence[0].slots, analysis.evidence[0].tabs) == (3, 2)


def test_sizes_belong_together_within_a_tenth_or_a_quarter_millimetre():
    assert tolerance_for(1.0) == pytest.approx(0.1)
    assert tolerance_for(9.0) == 0.25
    drawn_thicknesses = DrawnThicknesses((3.0, 6.0))
    assert [drawn_thicknesses.thickness_of(s) for s in (2.76, 3.24, 3.3, 5.9, 8)] == [
        3,
        3,
        None,
        6,
        None,
    ]
    assert DrawnThicknesses((3.0,), 0.5).thickness_of(3.45) == 3.0
    assert DrawnThicknesses(()).thickness_of(3.0) is None


def test_what_stands_between_slots_is_no_tab():
    """A comb of teeth as high as its slots are deep, and as the drawing's other sizes go."""
    teeth = made.slotted(120, 60, [(20 + 20 * i, 12) for i in range(5)], 3.0)
    assert kinds(found(teeth)) == {"slot": 5}


def test_tabs_in_mortises_are_tabs_though_they_share_their_edge_evenly():
    tabs = made.tabbed(90, 40, [(15, 10), (35, 10), (55, 10), (75, 10)], 3.0)
    plate = [(0, 100), (120, 100), (120, 160), (0, 160)]
    holes = [made.mortise(20 + 20 * i, 130, 10.1, 3.0) for i in range(4)]
    assert kinds(found(tabs, plate, *holes)) == {"tab": 4, "mortise": 4}


def test_a_single_finger_between_gaps_needs_its_counterpart():
    """Three cells: gap, finger, gap against finger, gap, finger; alone it is a tab."""
    one = made.tabbed(30, 40, [(15, 10)], 3.0)
    other = [(0, 100), (10, 100), (10, 103), (20, 103), (20, 100), (30, 100), (30, 140), (0, 140)]
    assert kinds(found(one, other, drawn=(3.0,))) == {"finger": 3}
    assert kinds(found(one, drawn=(3.0,))) == {"tab": 1}


def test_thirds_all_round_are_fingers_though_nothing_else_is_drawn():
    board = made.corner_box_side(60, 3, 3.0, True)
    done = found(board, drawn=(3.0,))
    assert kinds(done) == {"finger": 8}
    assert all(d.moved for d in done.decisions)
    inner = {c for e in done.edges[0] for c in e.start} - {0, 20, 40, 60}
    assert {round(c, 9) for c in inner} == {4, 56}


def test_a_step_alone_is_a_corner_cut_out_and_uneven_steps_are_doubtful():
    corner = [(0, 0), (60, 0), (60, 30), (40, 30), (40, 33), (0, 33)]
    assert kinds(found(corner, drawn=(3.0,))) == {}
    recess = [(0, 0), (60, 0), (60, 30), (50, 30), (50, 27), (22, 27), (22, 30), (0, 30)]
    done = found(recess, drawn=(3.0,))
    assert all("recess" in d.why for d in done.decisions)
    assert done.edges == {}


@pytest.mark.parametrize(("anchor", "ends"), [
    (Anchor.CENTRE, (18.0, 22.0)), (Anchor.FIRST, (17.5, 21.5)), (Anchor.SECOND, (18.5, 22.5)),
])  # fmt: skip
def test_a_slot_keeps_its_centre_line_or_a_side(anchor, ends):
    done = found(made.slotted(100, 60, SLOTS, 3.0), stays={"slot-3": anchor})
    wall = [e.start[0] for e in done.edges[0] if e.start[1] == 36 and e.start[0] < 30]
    assert sorted(wall) in (
        [pytest.approx(ends[0]), pytest.approx(ends[1])],
        [pytest.approx(40 - ends[1]), pytest.approx(40 - ends[0])],
    )
    assert f"its {anchor.value} stays" in done.decisions[2].why


def test_a_slot_takes_another_depth_and_tabs_stand_proud():
    deeper = found(made.slotted(100, 60, SLOTS, 3.0), depths={"slot-1": 35.0})
    floors = sorted({e.start[1] for e in deeper.edges[0]} - {0, 60})
    assert floors == [25, 36]
    proud = found(made.tabbed(100, 60, [(20, 12), (60, 12)], 3.0), proud=0.5)
    assert [d.new for d in proud.decisions] == [4.5, 4.5]
    assert max(e.start[1] for e in proud.edges[0]) == 64.5


def test_what_has_no_mate_is_pointed_at():
    plate = [(0, 100), (120, 100), (120, 160), (0, 160)]
    holes = [made.mortise(x, 130, long, 3.0) for x, long in ((20, 12.1), (60, 12.1), (95, 20))]
    tabs = made.tabbed(100, 40, [(25, 12), (60, 12), (86, 16)], 3.0)
    slotted = moved_by(made.slotted(40, 60, [(20, 30)], 3.0), 200, 0)
    done = found(tabs, plate, *holes, slotted)
    lonely = {each.id for each in unmatched_features(done)}
    assert sorted(name.split("-")[0] for name in lonely) == ["slot", "tab"]
    told = [str(each) for each in refit_findings(done) if "size to go with it" in str(each)]
    assert told == ["tab-1, slot-1: nothing in the drawing has the size to go with it."]
    alone = next(
        d for d in done.decisions if d.feature.kind is DrawnFeatureKind.MORTISE and not d.moved
    )
    assert (alone.feature.length, alone.outcome) == (pytest.approx(20), Outcome.UNCERTAIN)
    assert "nothing in the drawing goes into it" in alone.why


def test_the_report_tells_places_sizes_and_reasons():
    done = found(made.fingered(80, 60, 5, 0.0, 3.0), keep=KeptSize.INSIDE, scale=1.0)
    record = report_record(done)
    assert record["pieces"] == 1
    assert {f["row"] for f in record["features"]} == {"row-1", "row-2"}
    first = record["features"][0]
    assert first["at"] == pytest.approx([78.5, 6.0])
    assert (first["drawn"], first["new"], first["moved"]) == (3, 4, True)
    assert "inside stays" in first["why"]
    assert record["size"] == [80, 60]
    assert record["drawn_thickness"][0]["evidence"]["fingers"] >= 2
    assert record["repairs"] == []


def test_a_piece_that_would_cross_itself_is_left_and_the_file_is_refused():
    """A mortise near the edge that would grow through it."""
    plate = [(0, 0), (100, 0), (100, 60), (0, 60)]
    near = [made.mortise(30, 2.0, 20, 3.0), made.mortise(70, 30, 20, 3.0)]
    done = found(plate, *near, thickness=5.0)
    assert done.self_crossing == ()
    assert {d.outcome for d in done.decisions} == {Outcome.NO_ROOM}
    with refused(UnsureError, match="would cross itself"):
        require_consistency(done)
    assert found(plate, *near, thickness=3.2).decisions[0].moved
    held = found(plate, *near, thickness=5.0, held=frozenset({"mortise-1"}))
    assert [d.moved for d in held.decisions] == [False, True]
    require_consistency(held)


def test_a_tab_whose_mortise_is_left_is_asked_about():
    tabs = made.tabbed(100, 40, [(25, 12), (60, 12)], 3.0)
    plate = [(0, 100), (120, 100), (120, 160), (0, 160)]
    wide = [made.mortise(x, 130, 12.1, 3.6) for x in (20, 60)]
    with refused(UnsureError, match=r"holes of its length are 3\.60 mm wide"):
        require_consistency(found(tabs, plate, *wide, drawn=(3.0,)))
    near = found(tabs, plate, *wide, drawn=(3.0,), tolerance=0.7)
    require_consistency(near)
    assert all(d.moved for d in near.decisions)


def test_kerf_that_is_in_the_drawing_is_told():
    tabs = made.tabbed(100, 40, [(25, 12), (60, 12)], 3.0)
    plate = [(0, 100), (120, 100), (120, 160), (0, 160)]
    for narrower, told in ((0.18, 0.18), (0.0, None)):
        holes = [made.mortise(x, 130, 12.1, 3.0 - narrower) for x in (20, 60)]
        done = found(tabs, plate, *holes)
        assert done.kerf_in_drawing == (told if told is None else pytest.approx(told))
        assert any("kerf is in the drawing" in str(f) for f in refit_findings(done)) is bool(told)


def test_the_maker_says_what_an_edge_is():
    """A post in the middle of a long edge: a tab, until the maker says otherwise."""
    plain = found(made.tabbed(100, 40, [(50, 12)], 3.0), drawn=(3.0,))
    (edge,) = plain.features.edges
    assert (edge.id, edge.taken_for, edge.why) == ("edge-1", "tabs", "they stand on shoulders")
    assert [d.feature.edge for d in plain.decisions] == ["edge-1"]
    for what, kind in (("fingers", {"finger": 1}), ("neither", {})):
        chosen = {"edge-1": EdgeInterpretation(what)}
        done = found(made.tabbed(100, 40, [(50, 12)], 3.0), drawn=(3.0,), edges=chosen)
        assert kinds(done) == kind
