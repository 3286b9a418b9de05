"""Every test piece: sound, labelled on what is kept, and true to its own sum."""

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.common import assert_sound

from anzel.core.findings import ParameterError
from anzel.materials.fits import FitRule, KerfAt
from anzel.structure.model import SheetSpec
from anzel.test_pieces.model import TestPieceKind, TestPieceRequest, TestPieceSettings
from anzel.test_pieces.registry import FELT, LEAST_STEPS, TEST_PIECES, make_test_piece
from anzel.test_pieces.shapes import notched_square

SHEET = SheetSpec("ply", 2.94, 0.16)
RULE = FitRule(0.05, 0.16, KerfAt.DRAWING)


def made(kind, sheet=SHEET, rule=RULE, *, inches=False, **wanted):
    """A test piece for the demo's thin sheet."""
    return make_test_piece(
        TestPieceRequest(TestPieceSettings(kind=kind, **wanted), sheet, rule, inches)
    )


@given(
    kind=st.sampled_from(TestPieceKind), measured=st.floats(0.8, 12), kerf=st.floats(0.05, 0.45),
    clearance=st.floats(-0.2, 0.3), kerf_at=st.sampled_from(KerfAt), inches=st.booleans(),
)  # fmt: skip
@settings(max_examples=40)
def test_any_test_piece_is_sound_and_its_labels_survive(
    kind, measured, kerf, clearance, kerf_at, inches
):
    rule = FitRule(clearance, kerf, kerf_at)
    test_piece = made(kind, SheetSpec("ply", measured, kerf), rule, inches=inches)
    for piece in test_piece.pieces:
        assert_sound(piece.region)
        for stroke in piece.name_strokes:
            assert piece.region.shape.buffer(-0.3).contains(shapely.LineString(stroke))
    assert test_piece.cut_length > 50
    assert test_piece.engraved_length > 0
    ids = [step.id for step in test_piece.steps]
    assert len(set(ids)) == len(ids)


@given(
    kind=st.sampled_from(FELT), measured=st.floats(0.8, 12), kerf=st.floats(0.05, 0.45),
    clearance=st.floats(-0.2, 0.3), kerf_at=st.sampled_from(KerfAt),
)  # fmt: skip
@settings(max_examples=60)
def test_every_steps_clearance_follows_from_its_engraved_number(
    kind, measured, kerf, clearance, kerf_at
):
    """Opening less what goes in, as produced; the step for today's number has the clearance."""
    test_piece = made(kind, SheetSpec("ply", measured, kerf), FitRule(clearance, kerf, kerf_at))
    for step in test_piece.steps:
        assert step.clearance == pytest.approx(test_piece.scale.clearance(step.value), abs=1e-9)
        assert test_piece.scale.drawn(step.clearance) == pytest.approx(step.value, abs=1e-9)
    assert test_piece.scale.clearance(test_piece.today) == pytest.approx(clearance, abs=1e-9)


@pytest.mark.parametrize("kind", TestPieceKind)
def test_every_feature_carries_its_number_as_often_as_it_is_needed(kind):
    """A number beside each opening, and on each loose part that belongs to one."""
    test_piece = made(kind)
    labelled = [piece for piece in test_piece.pieces if piece.name_strokes]
    assert len(labelled) >= (1 if kind is TestPieceKind.COMB else 2)
    assert all(step.label == f"{step.value:.3f}".rstrip("0") or step.label == f"{step.value:.2f}"
               for step in test_piece.steps)  # fmt: skip


@pytest.mark.parametrize("kind", [TestPieceKind.WINDOWS, TestPieceKind.MORTISE])
def test_holes_are_cut_as_long_as_engraved(kind):
    test_piece = made(kind, start=16.0, step=0.1, count=4)
    holes = test_piece.pieces[0].region.holes
    lengths = sorted(hole.bounds[2] - hole.bounds[0] for hole in holes)
    assert lengths == pytest.approx([16.0, 16.1, 16.2, 16.3])


def test_a_plug_comes_out_as_wanted_and_its_windows_with_the_clearance():
    """On the line: plug drawn 16 + k, window 16 + c - k; apart by c once both are cut."""
    test_piece = made(TestPieceKind.WINDOWS)
    left, _, right, _ = test_piece.pieces[1].region.bounds
    assert right - left == pytest.approx(16.16)
    assert test_piece.today == pytest.approx(15.89)


def test_the_mortises_take_the_sheet_and_the_tab_is_as_high_as_it_is_thick():
    test_piece = made(TestPieceKind.MORTISE)
    plate, tab = test_piece.pieces
    assert plate.features[0].width.drawn == pytest.approx(2.83)
    assert tab.region.bounds[3] - 24 == pytest.approx(2.94)


def test_inserts_stand_off_their_pocket_by_the_offset_all_round():
    """Against shapely's own offset with sharp corners."""
    for offset in (0.1, 0.16, -0.05):
        ours = notched_square((3.0, 4.0), 18.0, 4.0, offset).polygon_shape
        pocket = notched_square((3.0, 4.0), 18.0, 4.0, 0.0).polygon_shape
        theirs = pocket.buffer(offset, join_style="mitre")
        assert ours.symmetric_difference(theirs).area < 1e-9


def test_handbook_rule_of_inlays():
    """Handbook, 3: to leave gap g per side offset the insert outward by k - g."""
    test_piece = made(TestPieceKind.INLAY)
    assert test_piece.today == pytest.approx(0.16 - 0.025)
    assert test_piece.scale.drawn(0.0) == pytest.approx(0.16)


def test_handbook_rule_of_finger_corners():
    """Handbook, 3: on-line, drawn finger L/n + k - c/2, drawn gap L/n - k + c/2."""
    (step,) = made(TestPieceKind.FINGERS).steps
    assert step.inserted.drawn == pytest.approx(12 + 0.16 - 0.025)
    assert step.opening.drawn == pytest.approx(12 - 0.16 + 0.025)


@given(kerf=st.floats(0.0, 0.4), clearance=st.floats(-0.2, 0.4))
@settings(max_examples=30)
def test_the_halves_of_a_corner_interlock_with_their_clearance(kerf, clearance):
    """Both halves laid over one another, each eroded by half the kerf: all gaps are c/2 wide."""
    rule = FitRule(clearance, kerf, KerfAt.DRAWING)
    test_piece = made(TestPieceKind.FINGERS, SheetSpec("ply", 3.0, kerf), rule)
    one, other = (
        piece.region.shape.buffer(-kerf / 2, join_style="mitre") for piece in test_piece.pieces
    )
    row = shapely.LineString([(-5, 23.5), (65, 23.5)])
    together = row.intersection(one).length + row.intersection(other).length
    assert together == pytest.approx(60 - kerf - 4 * test_piece.steps[0].value / 2, abs=1e-6)


def test_strips_and_discs_are_drawn_as_engraved():
    strips, disc = (
        made(TestPieceKind.STRIPS, start=20.0, count=10),
        made(TestPieceKind.DISC, start=25.0),
    )
    assert [piece.region.size[0] for piece in strips.pieces] == pytest.approx([20.0] * 10)
    assert disc.pieces[0].region.outer.is_circle
    assert disc.pieces[0].region.size == pytest.approx((25.0, 25.0))
    assert disc.pieces[1].region.holes[0].is_circle
    assert [step.label for step in disc.steps] == ["25.00"]


def test_several_discs_and_corners_are_made_and_told_apart():
    assert [p.name for p in made(TestPieceKind.DISC, count=2).pieces] == [
        "Disc 1", "Hole 1", "Disc 2", "Hole 2",
    ]  # fmt: skip
    corners = made(TestPieceKind.FINGERS, start=0.0, step=0.1, count=3)
    assert [step.value for step in corners.steps] == pytest.approx([0.0, 0.1, 0.2])
    assert len({piece.name for piece in corners.pieces}) == 6


@pytest.mark.parametrize("kind", LEAST_STEPS)
def test_too_few_steps_are_refused_with_the_least(kind):
    with pytest.raises(ParameterError, match=f"at least {LEAST_STEPS[kind]}") as caught:
        made(kind, count=LEAST_STEPS[kind] - 1)
    assert caught.value.field == "count"


@pytest.mark.parametrize(
    ("kind", "wanted"),
    [(TestPieceKind.STRIPS, {"start": -1}), (TestPieceKind.WINDOWS, {"start": -1}),
     (TestPieceKind.DISC, {"start": -5}), (TestPieceKind.FINGERS, {"start": 20})],
)  # fmt: skip
def test_sizes_that_cannot_be_are_refused_at_the_start(kind, wanted):
    with pytest.raises(ParameterError) as caught:
        made(kind, **wanted)
    assert caught.value.field == "start"


def test_every_kind_says_what_it_tells_and_what_to_do():
    for kind in TestPieceKind:
        known = TEST_PIECES[kind]
        assert all((known.title, known.tells, known.how, known.number))
