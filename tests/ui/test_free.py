"""A free structure in the window: plates placed by number and by hand, joints accepted."""

import json
import threading
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtWidgets import QApplication
from tests.ui.acting import click, type_into

from anzel.app import background
from anzel.app.edits import free_structure_edits, joint_edits, sketch_edits
from anzel.app.picked_actions import PICKED_ACTIONS
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.ui.widgets import free_panel

EXAMPLES = Path(__file__).parents[2] / "docs" / "examples"


@pytest.fixture
def shelf(window, session, qtbot):
    """The pot shelf with nothing joined, shown."""
    start = project_of("free")
    bare = start.with_changes(structure=start.structure.with_changes(joints=()))
    session.begin(bare)
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    return window.build


def act(session, action_id):
    """Do what the table of actions says to what is picked."""
    next(action for action in PICKED_ACTIONS if action.id == action_id).do(session)


def plate(session, name):
    return free_structure_edits.plate_of(session.project, name)


def test_joints_are_accepted_one_by_one_in_the_picture_and_then_all(shelf, session, qtbot):
    offers = shelf.standing._offers()
    assert len(offers) == 3
    click(qtbot, shelf.standing, offers[0])
    assert len(solved_structure_of(session.project).joints) == 1
    assert session.selection.joint_id == "J1"
    shelf.free.join_all()
    assert len(solved_structure_of(session.project).joints) == 3
    assert not shelf.free.offers.isVisible()
    session.undo()
    session.undo()
    assert solved_structure_of(session.project).joints == ()


def test_another_way_of_joining_is_chosen_in_the_list(shelf, session):
    offers = shelf.free.offers
    rows = [offers.item(row) for row in range(offers.count())]
    through = next(row for row in rows if "goes right through" in row.text())
    offers.itemActivated.emit(through)
    QApplication.processEvents()
    (joint,) = session.project.structure.joints
    assert type(joint).__name__ == "ThroughMortise"


def test_a_plate_is_picked_and_carried_over_the_table(shelf, session, qtbot):
    session.pick_plate("Rail")
    before = plate(session, "Rail")
    qtbot.waitUntil(lambda: shelf.standing.is_drawn, timeout=15_000)
    view = shelf.standing
    found = (
        QPoint(x, y)
        for y in range(10, view.height(), 9)
        for x in range(10, view.width(), 9)
        if view._piece_at(QPointF(x, y)) == "Rail" and view._offer_near(QPointF(x, y)) is None
    )
    at = next(found)
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=at)
    qtbot.mouseMove(view, at + QPoint(12, 4))
    qtbot.mouseMove(view, at + QPoint(40, 10))
    assert session.project.structure.plates[3] == before  # not before it is let go
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at + QPoint(40, 10))
    after = plate(session, "Rail")
    assert (after.x, after.y) != (before.x, before.y)
    assert after.z == before.z
    assert session.document.history.undoable == "Rail moved"
    qtbot.keyClick(view, Qt.Key.Key_PageUp, Qt.KeyboardModifier.ShiftModifier)
    assert plate(session, "Rail").z == before.z + 1


def test_a_drag_beside_the_plates_turns_the_picture(shelf, session, qtbot):
    session.selection.pick_whole()
    view = shelf.standing
    qtbot.waitUntil(lambda: view.is_drawn, timeout=15_000)
    before, at = view._camera, QPoint(4, 4)
    assert view._piece_at(QPointF(at)) == ""
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=at)
    qtbot.mouseMove(view, at + QPoint(30, 8))
    qtbot.mouseMove(view, at + QPoint(60, 8))
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at + QPoint(60, 8))
    assert view._camera.azimuth != before.azimuth


def test_a_plate_is_placed_by_number_and_a_joint_left_behind_is_named(shelf, session, qtbot):
    shelf.free.join_all()
    session.pick_plate("Rail")
    type_into(qtbot, shelf.fields["z"], "200")
    assert plate(session, "Rail").z == 200
    findings = solved_structure_of(session.project).findings
    assert [(each.code, each.where) for each in findings] == [("joint", "J3")]
    assert "do not reach each other" in str(findings[0])
    shelf.free.troubles.take_out("J3")
    assert [each.code for each in solved_structure_of(session.project).findings] == ["loose-plate"]
    act(session, "set-down")
    assert plate(session, "Rail").z == pytest.approx(22)


def test_plates_are_added_renamed_copied_and_removed(shelf, session, qtbot):
    free, page = shelf.free, shelf.panel.plate
    for kind in ("rectangle", "circle", "profile"):
        free.add(kind)
        assert session.selection.plate_name == kind.capitalize()
    type_into(qtbot, page.fields["x"], "40")
    page._curve.canvas.setFocus()
    qtbot.keyClick(page._curve.canvas, Qt.Key.Key_Right)
    assert plate(session, "Profile").outline.points[0] == (-39, -30, False)
    page._rename.setText("Back")
    page._rename.editingFinished.emit()
    assert plate(session, "Back").x == 40
    act(session, "duplicate")
    assert session.selection.plate_name == "Back 2"
    act(session, "delete")
    page._rename.setText("Shelf") if page._rename.isVisible() else None
    assert [p.name for p in session.project.structure.plates][-3:] == [
        "Rectangle",
        "Circle",
        "Back",
    ]


def test_a_form_goes_on_by_hand_and_takes_up_a_drawing(window, session, qtbot, tmp_path):
    pieces = {p.name: p.region for p in solved_structure_of(session.project).pieces}
    window.actions_by_id["make-free"].trigger()
    assert {p.name: p.region for p in solved_structure_of(session.project).pieces} == pieces
    assert not window.actions_by_id["make-free"].isEnabled()
    path = tmp_path / "leaf.svg"
    path.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30">'
        '<path d="M0 15 C 10 0 30 0 40 15 C 30 30 10 30 0 15 Z"/>'
        '<circle cx="20" cy="15" r="4"/></svg>'
    )
    window.build.free.bring(path)
    assert session.selection.plate_name == "Piece 1"
    outline = plate(session, "Piece 1").outline.region()
    assert [type(s).__name__ for s in outline.outer.segments] == ["Cubic", "Cubic"]
    assert outline.holes[0].is_circle
    session.undo()
    session.undo()
    assert session.project.structure.form == "crossed-stand"


def test_a_drawing_is_read_aside_while_the_maker_goes_on(
    window, session, qtbot, tmp_path, monkeypatch
):
    monkeypatch.setattr(background, "PATIENCE", 0.01)
    reading, go_on, read = [], threading.Event(), free_panel.read_apart

    def slow(*call):
        reading.append(threading.current_thread())
        assert go_on.wait(20)
        return read(*call)

    monkeypatch.setattr(free_panel, "read_apart", slow)
    path = tmp_path / "disc.svg"
    path.write_text('<svg xmlns="http://www.w3.org/2000/svg"><circle r="40"/></svg>')
    window.build.free.bring(path)
    assert "working it out" in session.status.text
    session.attempt("Another name", lambda p: p.with_changes(name="Other name"))
    go_on.set()
    qtbot.waitUntil(lambda: session.project.structure.form == "free", timeout=20_000)
    assert threading.main_thread() not in reading
    assert len(reading) == 2, "it was put on the project as it had become"
    assert session.project.name == "Other name"
    path.write_text("no drawing")
    window.build.free.bring(path)
    qtbot.waitUntil(lambda: "disc.svg" in session.status.text, timeout=20_000)
    assert not session.is_working


def test_numbers_of_a_free_joint_are_typed(shelf, session, qtbot):
    shelf.free.join_all()
    session.selection.pick_joint("J1")
    fields = shelf.panel.joint.free.fields
    type_into(qtbot, fields["tab_count"], "3")
    type_into(qtbot, fields["proud"], "2")
    joint = joint_edits.joint_spec_of(session.project, "J1")
    assert (len(joint.tabs), joint.proud) == (3, 2)
    type_into(qtbot, fields["tab_width"], "900")
    assert "past the end" in fields["tab_width"].error
    fields["tab_width"].restore()
    shelf.panel.joint.fit.take(4)
    assert joint_edits.joint_spec_of(session.project, "J1").fit == "loose"


def test_an_error_names_the_field_as_it_is_labelled(shelf, session, qtbot):
    session.pick_plate("Rail")
    field = shelf.fields["x"]
    type_into(qtbot, field, "9999999")
    assert field.error.startswith("▲ East: “9999999” is longer")


def test_sizes_of_a_drawn_plate_are_retyped_in_the_panel_and_on_the_plate(shelf, session, qtbot):
    record = json.loads((EXAMPLES / "panel.json").read_text())
    project, name = sketch_edits.add_plate_record(session.project, record)
    session.change("Panel", project)
    session.pick_plate(name)
    assert {"recess", "window_up"} <= set(shelf.fields)
    type_into(qtbot, shelf.fields["recess"], "8")
    piece = solved_structure_of(session.project).piece("Panel")
    assert piece.region.area == pytest.approx(4840)
    type_into(qtbot, shelf.fields["recess"], "40")
    assert "crosses itself" in shelf.fields["recess"].error
    assert sketch_edits.drawn_size(session.project, "Panel", "recess").value == 8
    session.selection.pick_whole()
    shelf.flat.dimension_clicked.emit("Panel/window_up")
    assert session.selection.plate_name == "Panel"
    assert shelf.fields["window_up"].edit.hasFocus()
    session.undo()
    assert sketch_edits.drawn_size(session.project, "Panel", "recess").value == 6


def test_fields_stay_while_a_pending_change_gives_a_plate_another_shape(window, session):
    session.begin(project_of("free"))
    plate = next(p for p in session.project.structure.plates if hasattr(p.outline, "width"))
    session.pick_plate(plate.name)
    width = window.build.panel.plate.fields["width"]
    drawn = sketch_edits.as_drawn(session.project, plate.name)
    assert width._get(drawn) == width._get(session.project)
