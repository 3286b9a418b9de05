"""Placing by relation in the window: picked in the view, by list, repeated, many at a time."""

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from tests.ui.acting import click, type_into

from anzel.app.edits import joint_edits, relation_edits
from anzel.app.navigation import Step
from anzel.app.picked_actions import PICKED_ACTIONS
from anzel.app.selection import Thing, ThingKind
from anzel.project.demos import potting_cube
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.structure.free.outline_shapes import Rectangle
from anzel.structure.free.plate import FreePlate


@pytest.fixture
def two(window, session, qtbot):
    """Two boards, one lying, one upright beside it, shown."""
    board = Rectangle(width=100, height=80)
    plates = (
        FreePlate(name="Base", stock="ply-3", outline=board),
        FreePlate(name="Wall", stock="ply-3", outline=board, tilt=90, y=90, z=60),
    )
    session.begin(project_of("free", plates=plates, joints=()))
    window.resize(1280, 800)
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    session.pick_plate("Wall")
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    return window.build


@pytest.fixture
def cube(window, session, qtbot):
    session.begin(potting_cube())
    window.resize(1280, 800)
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    return window.build


def seen(view, at):
    """Where a point of space is seen, in pixels."""
    (spot,) = view._shown.camera.all_to_pixels([at], view.width(), view.height())
    return QPointF(*spot)


def act(session, action_id):
    next(action for action in PICKED_ACTIONS if action.id == action_id).do(session)


def drag(view, start, to, key):
    QTest.mousePress(view, Qt.MouseButton.LeftButton, key, start.toPoint())
    middle = (start + to) / 2
    for place in (middle, to):
        QTest.mouseMove(view, place.toPoint())
        QApplication.processEvents()
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, key, to.toPoint())


def test_one_is_picked_and_the_other_and_it_goes_there(two, window, session, qtbot):
    act(session, "place")
    view = two.standing
    assert two.side.says.text().startswith("Pick a face or an edge")
    wall = relation_edits.expanded_of(session.project).placements["Wall"]
    click(qtbot, view, seen(view, wall.to_world((20, 10), 1.5)))
    assert session.placing.first.words == "front of Wall"
    assert view._outline
    click(qtbot, view, seen(view, (20, 10, 1.5)))
    (relation,) = session.project.structure.relations
    assert relation.words == "front of Wall on front of Base"
    assert session.placing.is_on  # ready for the next pair
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    qtbot.keyClick(view, Qt.Key.Key_Escape)
    assert not session.placing.is_on
    assert not two.side.says.isVisible()
    session.undo()
    assert session.project.structure.relations == ()


def test_a_relation_is_made_by_list_typed_turned_and_taken_off(two, session, qtbot):
    panel = two.panel.plate.placing
    panel.own.setCurrentIndex(panel.own.findData("bottom"))
    panel.mate.setCurrentIndex(panel.mate.findData("Base"))
    panel._offer_sides()
    panel.its.setCurrentIndex(panel.its.findData("front"))
    panel.take()
    assert panel.rows.item(0).text() == "R1  Bottom on front of Base"
    assert panel._free.text() == "It can still move left and right and back and forth and turn " \
        "about one axis."  # fmt: skip
    type_into(qtbot, panel.field, "2 × sheet")
    thick = session.project.stock("ply-3").measured_thickness
    at = relation_edits.standing_plate(session.project, "Wall")
    assert at.z == pytest.approx(40 + thick / 2 + 2 * thick)
    assert panel.field._unit.text() == f"= {2 * thick:g}"
    panel.centre()
    assert len(session.project.structure.relations) == 3
    panel.rows.setCurrentRow(0)
    relation_edits.turn_facing(session.project, "R1")
    session.attempt("off", lambda p: relation_edits.remove_relation(p, "R1"))
    assert relation_edits.standing_plate(session.project, "Wall").z == pytest.approx(at.z)


def test_a_repeat_is_made_retyped_and_one_member_differs(two, session, qtbot):
    members = two.panel.plate.members
    members.repeat("row")
    assert len(solved_structure_of(session.project).pieces) == 3
    type_into(qtbot, members.fields["count"], "4")
    type_into(qtbot, members.fields["pitch"], "25")
    pieces = {p.name: p for p in solved_structure_of(session.project).pieces}
    assert list(pieces) == ["Base", "Wall", "Wall 2", "Wall 3", "Wall 4"]
    assert pieces["Wall 4"].placement.origin[1] == pytest.approx(90 - 3 * 25)
    members._member.setCurrentIndex(members._member.findData("Wall 3"))
    members._with_member("differs", members._differ)
    assert session.selection.plate_name == "Wall 3"
    type_into(qtbot, two.fields["width"], "60")
    wide = {p.name: p.region.size[0] for p in solved_structure_of(session.project).pieces}
    assert wide == {"Base": 100, "Wall": 100, "Wall 2": 100, "Wall 3": 60, "Wall 4": 100}


def test_a_name_is_added_followed_and_taken_away(two, session, qtbot):
    type_into(qtbot, two.fields["width"], "wall")
    assert "There is no number “wall”" in two.fields["width"].error
    two.fields["width"].restore()
    session.selection.pick_whole()
    names = two.panel.whole.names
    names.name.setText("wall")
    names.value.setText("70 + 5")
    names.take()
    session.pick_plate("Wall")
    type_into(qtbot, two.fields["width"], "wall")
    assert (two.fields["width"].edit.text(), two.fields["width"]._unit.text()) == ("wall", "= 75")
    two.fields["height"].give_name("tall")
    assert two.fields["height"].edit.text() == "tall"
    assert [each.name for each in session.project.structure.own_numbers] == ["wall", "tall"]
    session.selection.pick_whole()
    names._take_away("wall")
    session.pick_plate("Wall")
    field = two.fields["width"]
    assert "There is no number “wall”" in field.error
    assert "75 stays" in field.error
    assert solved_structure_of(session.project).piece("Wall").region.size[0] == 75


def test_many_are_picked_by_a_band_and_changed_together(two, session, qtbot):
    flat = two.flat
    corners = QPointF(2, 40), QPointF(flat.width() - 3.0, flat.height() - 3.0)
    drag(flat, *corners, Qt.KeyboardModifier.ShiftModifier)
    assert session.selection.names(ThingKind.PLATE) == ("Base", "Wall")
    type_into(qtbot, two.fields["width"], "66")
    assert [p.outline.width for p in session.project.structure.plates] == [66, 66]
    act(session, "align-x")
    act(session, "duplicate")
    assert session.selection.names(ThingKind.PLATE) == ("Base 2", "Wall 2")
    act(session, "mirror")
    assert len(session.project.structure.plates) == 6
    session.selection.pick_whole()
    view = two.standing
    qtbot.waitUntil(lambda: view.is_drawn, timeout=20_000)
    drag(view, QPointF(2, 2), QPointF(view.width() - 3.0, view.height() - 3.0),
         Qt.KeyboardModifier.ControlModifier)  # fmt: skip
    assert len(session.selection.things) == 6


def test_all_corners_get_another_kind_and_number_of_fingers_at_once(cube, session, qtbot):
    session.selection.pick(*(Thing(ThingKind.JOINT, name) for name in ("J1", "J2", "J3 2")))
    fields = cube.panel.joint.free
    type_into(qtbot, fields.fields["cells"], "4")
    assert [joint.cells for joint in session.project.structure.joints] == [4, 4, 4]
    fields._corner.activated.emit(0)
    assert [joint.cells for joint in session.project.structure.joints] == [5, 5, 5]
    before = session.project.structure.joints
    fields._for_all("led by the other", joint_edits.lead_by_other)
    after = session.project.structure.joints
    assert [(a.first, a.second) for a in after] == [(b.second, b.first) for b in before]
    assert "comes out as typed" in cube.panel.joint.outside.text()
    act(session, "pick-alike")
    assert len(session.selection.things) == 12


def test_alike_pieces_are_one_line_and_cut_ones_are_remembered(cube, window, session, qtbot):
    session.navigation.go_to(Step.SHEETS)
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    rows = window.sheets.lay.pieces.rows
    assert [rows.item(n).text() for n in range(rows.count())] == ["6 × Bottom and 5 alike"]
    window.sheets.lay._rest.click()
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    assert rows.item(0).checkState() == Qt.CheckState.Unchecked
    assert "6 cut already" in window.sheets.lay._which.head.text()
