"""The session: edits, undo, picking, files, and who is told."""

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.told import in_mm

from anzel.app import history
from anzel.app.edits import cutter_edits, project_edits, stock_edits
from anzel.app.listeners import Changed
from anzel.app.navigation import Step
from anzel.app.picked_actions import PICKED_ACTIONS
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.core.findings import ParameterError
from anzel.cutjob.operations import Operation
from anzel.project.demos import DEMOS, herb_stand
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.storage.atomic_file import FileError


def heard(session):
    """The list of what the session tells from now on."""
    told = []
    session.subscribe(told.append)
    return told


def test_a_change_is_told_with_its_ripple(session):
    told = heard(session)
    session.change("Reading 3.02", stock_edits.add_readings(session.project, "birch-3", [3.02]))
    assert told == [Changed.PROJECT]
    assert in_mm(session.status.text) == (
        "Reading 3.02: 4 mortises, 2.79 → 2.81 · 2 slots on 2 pieces, 2.83 → 2.85"
    )


def test_undo_and_redo_go_through_every_edit(session):
    first = session.project
    session.change("Height", second := project_edits.change_structure(first, height=120))
    session.change("Span", third := project_edits.change_structure(second, foot_span=160))
    assert (session.document.history.undoable, session.document.history.redoable) == ("Span", None)
    session.undo()
    assert (
        session.project,
        session.document.history.undoable,
        session.document.history.redoable,
    ) == (second, "Height", "Span")
    session.undo()
    session.undo()
    assert (session.project, session.document.history.undoable) == (first, None)
    session.redo()
    session.redo()
    assert session.project == third


def test_an_edit_after_undo_replaces_what_was_undone(session):
    session.change("Height", project_edits.change_structure(session.project, height=120))
    session.undo()
    session.change("Span", project_edits.change_structure(session.project, foot_span=160))
    assert session.document.history.redoable is None
    assert session.project.structure.height == 110


def test_no_change_is_no_edit(session):
    told = heard(session)
    session.change("Nothing", session.project.with_changes(name=session.project.name))
    assert told == []
    assert session.document.history.undoable is None


@pytest.mark.parametrize(
    "edit",
    [
        lambda p: project_edits.change_structure(p, foot_span=900),
        lambda p: cutter_edits.change_kerf(p, "birch-3", 4.0),
        lambda p: project_edits.change_structure(p, tab_width=36),
        lambda p: stock_edits.change_stock(p, "birch-3", readings=(0.0,)),
    ],
)
def test_what_cannot_be_leaves_the_last_good_state(session, edit):
    before, told = session.project, heard(session)
    with pytest.raises(ParameterError) as caught:
        session.change("Bad", edit(session.project))
    assert caught.value.field
    assert session.project is before
    assert session.document.history.undoable is None
    assert told == []


@given(st.lists(st.sampled_from(["height", "span", "undo", "redo", "fit"]), max_size=25))
def test_any_run_of_edits_undoes_to_the_beginning(moves):
    session = Session(herb_stand())
    for index, move in enumerate(moves):
        project = session.project
        match move:
            case "height":
                session.change(move, project_edits.change_structure(project, height=110 + index))
            case "span":
                session.change(move, project_edits.change_structure(project, foot_span=150 + index))
            case "fit":
                other = "slide" if project.fits.in_use == "snug" else "snug"
                session.change(move, project_edits.choose_fit(project, other))
            case "undo":
                session.undo()
            case "redo":
                session.redo()
    last = session.project
    steps = 0
    while session.document.history.undoable:
        session.undo()
        steps += 1
    assert session.project == herb_stand()
    for _ in range(steps):
        session.redo()
    assert session.project == last


def test_joints_are_picked_round_and_round(session):
    told = heard(session)
    session.selection.pick_next_joint()
    assert session.selection.joint.id == "J1"  # the first that is picked
    session.selection.pick_next_joint()
    assert session.selection.joint.id == "J2"
    session.selection.pick_next_joint(-1)
    session.selection.pick_next_joint(-1)
    assert session.selection.joint.id == "J3"
    assert told == [Changed.SELECTION] * 4


def test_what_an_earlier_project_had_is_not_picked(session, monkeypatch):
    top, stock = Thing(ThingKind.PIECE, "Top"), session.project.stocks_in_use[0].id
    gone = (Thing(ThingKind.PIECE, "Rib 1"), Thing(ThingKind.LAID, "Rib 1", stock, 1))
    session.selection.pick(top, *gone)  # as from a view that still shows the project before
    assert session.selection.things == (top,)
    lies, before = session.layouts[0].plans[0].placed[0], session.project
    session.selection.pick(Thing(ThingKind.LAID, lies.piece.name, stock, lies.copy_number))
    session.navigation.go_to(Step.SHEETS)
    pin = next(action for action in PICKED_ACTIONS if action.id == "pin")
    with monkeypatch.context() as patched:
        patched.setattr(Session, "layouts", None)
        pin.do(session)
    assert session.project is before
    assert "laid anew" in session.status.text
    pin.do(session)
    pinned = [each.piece for each in session.project.sheets.kept_placements if each.pinned]
    assert pinned == [lies.piece.name]


def test_saving_makes_clean_and_changing_makes_dirty(session, tmp_path):
    assert not session.is_dirty
    session.change("Height", project_edits.change_structure(session.project, height=120))
    assert session.is_dirty
    session.save(tmp_path / "stand.anzel")
    assert not session.is_dirty
    session.undo()
    assert session.is_dirty


def test_a_saved_project_opens_in_another_session(session, tmp_path):
    session.change("Height", project_edits.change_structure(session.project, height=120))
    session.save(tmp_path / "stand.anzel")
    other = Session(DEMOS[1].make())
    other.open(tmp_path / "stand.anzel")
    assert other.project == session.project
    assert other.selection.stock_id == "birch-3"
    assert other.document.history.undoable is None
    assert not other.is_dirty


def test_a_file_that_cannot_be_opened_leaves_the_session_alone(session, tmp_path):
    bad = tmp_path / "bad.anzel"
    bad.write_bytes(b"not a project")
    session.change("Height", project_edits.change_structure(session.project, height=120))
    with pytest.raises(FileError):
        session.open(bad)
    assert session.project.structure.height == 120
    assert session.document.history.undoable == "Height"


def test_a_failed_save_stays_dirty(session, tmp_path):
    session.change("Height", project_edits.change_structure(session.project, height=120))
    with pytest.raises(FileError):
        session.save(tmp_path / "none" / "stand.anzel")
    assert session.is_dirty
    assert session.document.path is None


def test_beginning_anew_forgets_file_and_history(session, tmp_path):
    session.save(tmp_path / "a.anzel")
    session.begin(DEMOS[1].make())
    assert session.document.path is None
    assert session.document.history.undoable is None
    assert session.selection.stock_id == "acrylic-4"


def test_steps_and_stocks_are_told_once(session):
    told = heard(session)
    session.navigation.go_to(Step.STOCK)
    session.navigation.go_to(Step.STOCK)
    session.selection.pick_stock("birch-6")
    assert told == [Changed.STEP, Changed.SELECTION]


def test_stocks_can_be_added_and_only_unused_ones_removed(session):
    project = stock_edits.add_stock(session.project, session.project.stocks[0])
    assert project.stocks[-1].id == "stock-1"
    assert not project.stocks[-1].is_measured
    assert len(stock_edits.remove_stock(project, "stock-1").stocks) == 2
    with pytest.raises(ParameterError, match="in use"):
        stock_edits.remove_stock(project, "birch-3")


def test_readings_are_corrected_and_taken_out(project):
    changed = stock_edits.change_reading(project, "birch-3", 0, 2.99)
    assert changed.stocks[0].readings == (2.99, 2.95, 2.94)
    assert stock_edits.remove_reading(changed, "birch-3", 1).stocks[0].readings == (2.99, 2.94)


def test_two_operations_may_not_share_a_colour(project):
    with pytest.raises(ParameterError, match="same colour") as caught:
        project_edits.change_pen(project, Operation.SCORE, colour=project.pens.outer.colour)
    assert caught.value.field == "colour"
    layers = project_edits.use_pens(project, "By layer")
    with pytest.raises(ParameterError, match="same layer"):
        project_edits.change_pen(layers, Operation.SCORE, layer="engrave")
    mine = project_edits.keep_pens(
        project_edits.change_pen(layers, Operation.SCORE, layer="half through"), "Mine"
    )
    assert project_edits.use_pens(project_edits.use_pens(mine, "Ours"), "Mine").pens.layer(
        Operation.SCORE
    ) == ("half through")
    with pytest.raises(ParameterError, match="Layer holds a character that no layer's name may"):
        project_edits.change_pen(layers, Operation.SCORE, layer="half/through")
    with pytest.raises(ParameterError, match="no pens “Theirs”"):
        project_edits.use_pens(mine, "Theirs")


@pytest.mark.parametrize(
    ("field", "text", "value"),
    [
        ("height", "4.5 in", 114.3),
        ("split", "0,4", 0.4),
        ("tab_count", "4", 4),
        ("top_stock", " birch-3 ", "birch-3"),
    ],
)
def test_parameters_are_set_from_typed_text(project, field, text, value):
    project = project_edits.change_structure(project, tab_width=8)
    changed = project_edits.set_from_text(project, field, text)
    assert getattr(changed.structure, field) == pytest.approx(value)


@pytest.mark.parametrize(
    ("field", "text", "words"),
    [
        ("height", "tall", "Height: There is no number “tall” here"),
        ("tab_count", "two", "Tab count: There is no number “two” here"),
        ("tab_count", "2.5", "must be a whole number"),
        ("form", "box", "no parameter “form”"),
        ("colour", "1", "There are: upright_stock"),
    ],
)
def test_text_that_is_no_value_names_the_field(project, field, text, words):
    with pytest.raises(ParameterError) as caught:
        project_edits.set_from_text(project, field, text)
    assert words in str(caught.value)


def test_paths_are_kept(session, tmp_path):
    path = tmp_path / "stand.anzel"
    session.save(path)
    assert isinstance(session.document.path, Path)
    assert session.status.text == "Saved stand.anzel"


def test_undo_goes_as_far_back_as_memory_allows(project, monkeypatch):
    monkeypatch.setattr(history, "MOST", 100_000)
    session = Session(project)
    for height in range(120, 160):
        session.change(f"Height {height}", project_edits.change_structure(project, height=height))
    kept = session.document.history
    assert kept.forgotten > 5
    assert kept.forgotten + len(kept.edits) == 41
    assert session.project.structure.height == 159
    while kept.undoable:
        session.undo()
    assert session.project.structure.height == 119 + kept.forgotten


def test_what_was_measured_is_taken_and_the_form_says_what_gives_way():
    session = Session(project_of("lantern"))
    stock = session.project.stocks_in_use[0].id
    assert session.attempt("3.62", lambda p: stock_edits.add_readings(p, stock, [3.62]))
    assert session.project.stock(stock).readings[-1] == 3.62
    solved = solved_structure_of(session.project)
    (gave_way,) = [f for f in solved.findings if f.code == "gave-way"]
    assert "It is built with" in gave_way.message
    wished = session.project.structure.light_opening
    assert session.attempt(
        "Sides", lambda p: project_edits.change_structure(p, height=p.structure.height + 1)
    )
    assert session.project.structure.light_opening == wished, "it holds again where there is room"
    assert not session.attempt(
        "Wider", lambda p: project_edits.change_structure(p, light_opening=wished + 30)
    )
    assert "more than possible" in session.status.text
