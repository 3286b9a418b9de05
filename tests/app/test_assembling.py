"""Moments of building, wishes in words, pulling apart on proven ways, mends that were tried."""

import pytest

from anzel.app.edits import assembly_edits, free_structure_edits
from anzel.app.navigation import Step
from anzel.app.views.assembly_play import goes_in, moment_of, piece_words, step_words
from anzel.app.views.step_status import StepState, findings_before_cutting, status_of
from anzel.assembly.partings import partings_of
from anzel.assembly.records import AssemblyProof, AssemblyStep, Move, way_in_words
from anzel.core.findings import ParameterError
from anzel.project.assembly import assembly_of, known_assembly, proven_partings, summary
from anzel.project.demos import DEMOS
from anzel.project.derive import solved_structure_of
from anzel.project.mends import mends_for
from anzel.project.preflight import preflight
from anzel.scene.exploded_view import exploded_offsets
from anzel.storage import project_file


def demo(name):
    return next(each for each in DEMOS if each.name == name).make()


@pytest.fixture(scope="module")
def locked_wren():
    wren = demo("garden-wren")
    coarse = wren.structure.with_changes(own_joints=(), first=4, second=5)
    return wren.with_changes(structure=coarse)


def test_moments_follow_the_order_from_first_to_last():
    project = demo("fern-lantern")
    proof, solved = assembly_of(project).proof, solved_structure_of(project)
    names = {piece.name for piece in solved.pieces}
    for number, step in enumerate(proof.steps):
        start, end = (moment_of(proof, solved, number + share) for share in (0.0, 0.999))
        assert start.step == number
        assert start.new == step.pieces
        there = {name for each in proof.steps[: number + 1] for name in each.pieces}
        assert start.hidden == names - there
        if step.moves:
            assert start.ways
            assert all(sum(part**2 for part in start.placed[n]) > 100 for n in step.pieces)
            assert all(sum(part**2 for part in end.placed[n]) < 1 for n in step.pieces)
    done = moment_of(proof, solved, len(proof.steps))
    assert (done.hidden, done.placed, done.ways) == (frozenset(), {}, ())


def test_a_group_is_built_by_itself():
    steps = (
        AssemblyStep(("Upright A",)), AssemblyStep(("Upright B",), (), "group-1"),
        AssemblyStep(("Top",), (Move(("Top",), (0.0, 0.0, -1.0), 9.0),), "group-1"),
        AssemblyStep(
            ("Upright B", "Top"), (Move(("Upright B", "Top"), (0.0, 0.0, -1.0), 80.0),)
        ),
    )  # fmt: skip
    proof, solved = AssemblyProof(steps), solved_structure_of(demo("herb-stand"))
    assert moment_of(proof, solved, 2.5).hidden == {"Upright A"}
    assert moment_of(proof, solved, 3.0).hidden == frozenset()
    assert step_words(steps[2]) == "Top from above (by itself)"
    assert piece_words(proof, "Top") == "Goes in at step 3 of 4, from above."
    assert piece_words(proof, "Nothing") == ""
    assert summary(proof) == "2 moves"


def test_pieces_are_pulled_apart_on_proven_ways():
    project = demo("herb-stand")
    assembly_of(project)
    solved = solved_structure_of(project)
    proven = proven_partings(project)
    assert {frozenset(parting[:2]) for parting in proven} == {
        frozenset(pair) for joint in solved.joints for pair in joint.separations
    }
    offsets = exploded_offsets(solved, 50.0, proven)
    for first, second, way in proven:
        apart = [b - a for a, b in zip(offsets[first], offsets[second], strict=True)]
        assert sum(a * w for a, w in zip(apart, way, strict=True)) > 49.5


def test_of_pieces_that_move_at_once_the_difference_parts_them():
    moves = (Move(("A",), (1.0, 0.0, 0.0), 10.0), Move(("B",), (0.0, 1.0, 0.0), 10.0))
    proof = AssemblyProof((AssemblyStep(("C",)), AssemblyStep(("A", "B"), moves)))
    parted = {p[:2]: p[2] for p in partings_of(proof, (("A", "B"), ("C", "A"), ("C", "D")))}
    assert parted["B", "A"] == pytest.approx((-(0.5**0.5), 0.5**0.5, 0.0))
    assert parted["C", "A"] == (-1.0, 0.0, 0.0)
    assert len(parted) == 2, "what is not in the order parts on no way"


def test_wishes_are_edits_that_can_be_saved_and_taken_back():
    project = demo("herb-stand")
    wished = assembly_edits.goes_before(project, "Top", "Upright A")
    wished = assembly_edits.goes_before(wished, "Upright A", "Top")
    assert wished.assembly.before == (("Upright A", "Top"),), "the opposite gives way"
    wished = assembly_edits.put_together_first(wished, ["Top", "Upright B", "Top"])
    wished = assembly_edits.come_in(wished, "Top", (0.0, 0.0, -2.0))
    assert assembly_edits.wishes_in_words(wished.assembly) == (
        "Upright A before Top", "first together: Top, Upright B", "Top from above",
    )  # fmt: skip
    assert project_file.from_bytes(project_file.to_bytes(wished)) == wished
    back = assembly_edits.take_back(wished, 1)
    assert back.assembly.groups == ()
    assert assembly_edits.take_back(assembly_edits.take_back(back, 1), 0) == project
    assert assembly_edits.come_in(wished, "Top", None).assembly.directions == ()
    with pytest.raises(ParameterError, match="before itself"):
        assembly_edits.goes_before(project, "Top", "Top")
    with pytest.raises(ParameterError, match="two pieces or more"):
        assembly_edits.put_together_first(project, ["Top"])
    with pytest.raises(ParameterError, match="length"):
        assembly_edits.come_in(project, "Top", (0.0, 0.0, 0.0))


@pytest.mark.parametrize(("way", "words"), [
    ((0, 1, 0), "from the front"), ((0, -1, 0), "from behind"), ((1, 0, 0), "from the left"),
    ((0, 0, 1), "from below"), ((0.7, 0, -0.7), "from the left and above"),
])  # fmt: skip
def test_ways_are_told_as_a_maker_would(way, words):
    assert way_in_words(way) == words


def test_wishes_follow_a_plate_that_is_renamed():
    project = demo("phone-stand")
    wished = assembly_edits.goes_before(project, "Rest", "Shelf")
    wished = assembly_edits.put_together_first(wished, ["Shelf", "Left side"])
    wished = assembly_edits.come_in(wished, "Shelf", (-1.0, 0.0, 0.0))
    named = free_structure_edits.rename_plate(wished, "Shelf", "Ledge")
    assert named.assembly.before == (("Rest", "Ledge"),)
    assert named.assembly.groups == (("Ledge", "Left side"),)
    assert [each.piece for each in named.assembly.directions] == ["Ledge"]
    steps = assembly_of(named).proof.steps
    first = {name: at for at, step in reversed(list(enumerate(steps))) for name in step.pieces}
    assert first["Rest"] <= first["Ledge"]


def test_a_wish_for_a_piece_that_is_gone_waits():
    project = assembly_edits.goes_before(demo("herb-stand"), "Gone", "Top")
    found = assembly_of(project)
    assert found.proof.ok
    assert found.keeps_wishes


def test_the_rail_tells_the_proof_and_findings_name_what_is_locked(locked_wren):
    fresh = locked_wren.with_changes(name="Another name", kerf_at=locked_wren.kerf_at)
    assert status_of(fresh, Step.ASSEMBLE, None).words in (
        "not proved yet", "no way in: A3.2, B3a",
    )  # fmt: skip
    found = assembly_of(fresh)
    assert known_assembly(fresh) is found
    status = status_of(fresh, Step.ASSEMBLE, None)
    assert (status.words, status.state) == ("no way in: A3.2, B3a", StepState.PROBLEM)
    assert "locked" in {finding.code for finding in findings_before_cutting(fresh, ())}
    assert goes_in(fresh, "A3.2").startswith("Goes in at step 1")
    assert [f.code for f in preflight(fresh).problems] == ["locked"]


def test_every_mend_that_is_offered_frees_the_pieces(locked_wren):
    proof = assembly_of(locked_wren).proof
    said = []
    offered = mends_for(locked_wren, proof, said.append)
    assert offered[0].words == "A3.2×B3 slotted from the other side"
    for mend in offered:
        assert assembly_of(locked_wren.with_changes(structure=mend.structure)).proof.ok
    assert any(words.startswith("trying a mend: A3.2×B3") for words in said)


def test_found_drawings_do_not_say_what_stands_where():
    found = assembly_of(demo("seed-caddy")).proof
    assert found.ok
    assert [step.moves for step in found.steps] == [()]
    assert summary(found) == "nothing to put together"
