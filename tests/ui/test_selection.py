"""What is picked: one model for every view and list, and the table of what can be done to it."""

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QContextMenuEvent, QGuiApplication, QKeySequence
from PySide6.QtWidgets import QApplication, QMenu
from tests.ui.acting import click, marks_of

from anzel.app.navigation import Step
from anzel.app.picked_actions import PICKED_ACTIONS, actions_for
from anzel.app.selection import Thing, ThingKind
from anzel.drawings.reader import read_drawing
from anzel.project.demos import DEMOS
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.ui.clipboard import SVG

TOP = Thing(ThingKind.PIECE, "Top")


def begin(window, session, qtbot, project):
    session.begin(project)
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)


def test_the_panel_shows_one_thing_and_its_line_leads_up(window, session, qtbot):
    panel = window.build.panel
    assert panel.line.title.text() == "Herb-pot stand"
    assert panel.whole.isVisible()
    assert not panel.joint.isVisible()
    session.selection.pick_joint("J2")
    assert panel.line.title.text() == "J2  Upright A → Top"
    assert panel.joint.isVisible()
    assert not panel.whole.isVisible()
    panel.line.stepped.emit(1)
    assert session.selection.picked_joint == "J3"
    panel.line.up.click()
    assert session.selection.things == ()
    assert panel.whole.isVisible()


def test_escape_in_a_view_leads_up_and_shift_adds(window, session, qtbot):
    marks = marks_of(window.build.standing)
    click(qtbot, window.build.standing, marks["J2"])
    qtbot.mouseClick(window.build.standing, Qt.MouseButton.LeftButton,
                     Qt.KeyboardModifier.ShiftModifier, marks["J3"].toPoint())  # fmt: skip
    assert session.selection.names(ThingKind.JOINT) == ("J2", "J3")
    assert window.build.panel.line.title.text() == "2 joints"
    assert window.build.flat._content.picked == {"J2", "J3"}
    qtbot.keyClick(window.build.standing, Qt.Key.Key_Escape)
    assert session.selection.things == ()


def test_a_dimension_leads_to_its_field(window, session):
    session.selection.pick_joint("J1")
    window.build.flat.dimension_clicked.emit("height")
    assert window.build.panel.whole.isVisible()
    assert window.build.fields["height"].edit.hasFocus()


def test_a_piece_is_hidden_found_on_its_sheet_and_back(window, session, qtbot):
    session.selection.pick(TOP)
    assert [action.id for action in actions_for(session)] == [
        "draw", "pick-joints", "pick-alike", "hide", "show-only", "find-on-sheet",
    ]  # fmt: skip
    window.actions_by_id["hide"].trigger()
    assert window.build.standing.hidden == {"Top"}
    assert session.document.history.undoable is None  # it is no decision about the structure
    window.actions_by_id["show-all"].trigger()
    assert window.build.standing.hidden == frozenset()
    window.actions_by_id["find-on-sheet"].trigger()
    assert session.navigation.step is Step.SHEETS
    assert window.sheets.line.title.text() == "Top"
    assert window.sheets.copy.isVisible()
    window.actions_by_id["find-in-structure"].trigger()
    assert (session.navigation.step, session.selection.picked) == (Step.BUILD, TOP)
    window.actions_by_id["pick-joints"].trigger()
    assert session.selection.names(ThingKind.JOINT) == ("J2", "J3")


def test_copies_on_sheets_are_picked_by_keys_and_pinned_together(window, session, qtbot):
    session.navigation.go_to(Step.SHEETS)
    view = window.sheets.view
    qtbot.keyClick(view, Qt.Key.Key_N)
    first = session.selection.picked
    qtbot.keyClick(view, Qt.Key.Key_N)
    second = session.selection.picked
    assert {first.kind, second.kind} == {ThingKind.LAID}
    assert first != second
    session.selection.pick(first, second)
    assert window.sheets.line.title.text() == "2 pieces"
    window.actions_by_id["pin"].trigger()
    pinned = [kept for kept in session.project.sheets.kept_placements if kept.pinned]
    assert {kept.piece for kept in pinned} == {first.name, second.name}
    qtbot.keyClick(view, Qt.Key.Key_Escape)
    assert session.selection.things == ()


def test_nothing_out_of_sight_is_deleted(window, session):
    session.begin(project_of("free"))
    session.selection.pick_joint(next(iter(solved_structure_of(session.project).joints)).id)
    assert window.actions_by_id["delete"].isEnabled()
    session.navigation.go_to(Step.STOCK)
    before = session.project
    window.actions_by_id["delete"].trigger()
    next(each for each in PICKED_ACTIONS if each.id == "delete").do(session)
    assert session.project == before


def test_plates_are_cut_pasted_and_duplicated_together(window, session, qtbot):
    begin(window, session, qtbot, project_of("free"))
    plates = [plate.name for plate in session.project.structure.plates]
    chosen = [Thing(ThingKind.PLATE, name) for name in plates[:2]]
    session.selection.pick(*chosen)
    window.actions_by_id["cut"].trigger()
    assert [plate.name for plate in session.project.structure.plates] == plates[2:]
    window.actions_by_id["paste"].trigger()
    assert set(session.selection.names(ThingKind.PLATE)) == set(plates[:2])
    window.actions_by_id["duplicate"].trigger()
    assert len(session.project.structure.plates) == len(plates) + 2
    for _ in range(3):
        session.undo()
    assert [plate.name for plate in session.project.structure.plates] == plates


def test_copy_puts_a_picture_and_a_drawing_on_the_clipboard(window, session, qtbot):
    session.selection.pick(TOP)
    QGuiApplication.clipboard().clear()
    window.actions_by_id["copy"].trigger()
    qtbot.waitUntil(lambda: QGuiApplication.clipboard().mimeData().hasFormat(SVG), timeout=10_000)
    data = QGuiApplication.clipboard().mimeData()
    assert data.hasImage()
    drawing = read_drawing(bytes(data.data(SVG).data()), "clipboard.svg")
    solved = solved_structure_of(session.project).piece("Top").region.size
    assert drawing.size == pytest.approx(solved, abs=0.5)  # as drawn, with the kerf in it


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.name)
def test_all_of_a_kind_are_picked(window, session, qtbot, demo):
    begin(window, session, qtbot, demo.make())
    window.actions_by_id["select-all"].trigger()
    kinds = {thing.kind for thing in session.selection.things}
    assert len(kinds) == 1
    assert window.build.panel.line.up.isVisible()


def test_the_right_button_shows_what_fits_the_thing_under_it(window, session, qtbot):
    marks = marks_of(window.build.standing)
    at = marks["J2"].toPoint()
    event = QContextMenuEvent(
        QContextMenuEvent.Reason.Mouse, at, window.build.standing.mapToGlobal(at)
    )
    QApplication.sendEvent(window.build.standing, event)
    assert session.selection.picked_joint == "J2"
    menu = next(w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu) and w.isVisible())
    words = [entry.text().replace("&", "") for entry in menu.actions() if entry.text()]
    menu.close()
    assert words[:3] == ["Pick its pieces", "Pick all alike", "Hide"]
    assert {"Copy", "Show all pieces"} <= set(words)


def test_everything_is_reached_by_keys(window, session, qtbot):
    window.actions_by_id["next-thing"].trigger()
    assert session.selection.picked == Thing(ThingKind.PIECE, "Upright A")
    window.actions_by_id["next-thing"].trigger()
    window.actions_by_id["next-thing"].trigger()
    assert session.selection.picked == TOP
    session.navigation.go_to(Step.TEST)
    for _ in range(2):
        window.actions_by_id["next-thing"].trigger()
    assert session.selection.picked.kind is ThingKind.TEST_STEP
    session.navigation.go_to(Step.FORECAST)
    window.actions_by_id["previous-thing"].trigger()
    assert session.selection.picked_joint


def test_delete_in_a_curve_takes_its_point_and_not_the_plate(window, session, qtbot):
    begin(window, session, qtbot, project_of("free"))
    window.build.free.add("profile")
    name, canvas = session.selection.plate_name, window.build.panel.plate._curve.canvas
    canvas.setFocus()
    for key in (Qt.Key.Key_Insert, Qt.Key.Key_PageUp):
        qtbot.keyClick(canvas, key)
    canvas.changed.emit((*canvas._points, (3.0, 30.0, False)))
    before = len(canvas._points)
    qtbot.keyClick(canvas, Qt.Key.Key_Delete)
    assert session.selection.plate_name == name
    assert len(canvas._points) == before - 1


def test_f2_renames_what_is_picked(window, session, qtbot):
    begin(window, session, qtbot, project_of("free"))
    session.pick_plate("Rail")
    QApplication.processEvents()
    window.actions_by_id["rename"].trigger()
    assert window.build.panel.plate._rename.hasFocus()
    for step, page in ((Step.STOCK, window.stock), (Step.CUTTER, window.cutter)):
        session.navigation.go_to(step)
        QApplication.processEvents()
        window.actions_by_id["rename"].trigger()
        assert page._name.hasFocus()


def test_either_view_stands_alone(window, qtbot):
    window.actions_by_id["flat-alone"].trigger()
    assert window.build.flat.isVisible()
    assert not window.build.side.isVisible()
    window.actions_by_id["flat-alone"].trigger()
    assert window.build.side.isVisible()


def test_no_two_commands_have_the_same_keys(window):
    keys = [a.shortcut().toString(QKeySequence.SequenceFormat.PortableText)
            for a in window.actions_by_id.values() if not a.shortcut().isEmpty()]  # fmt: skip
    assert len(keys) == len(set(keys))


def test_a_place_with_nothing_picks_the_whole(window, session, qtbot):
    session.selection.pick_joint("J1")
    click(qtbot, window.build.flat, QPointF(3, window.build.flat.height() - 4))
    assert session.selection.things == ()
    assert window.build.flat.mapToGlobal(QPoint()) is not None
