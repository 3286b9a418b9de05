"""A plate drawn large in the window: drawn from nothing, step by step, as a new maker would."""

from importlib.resources import files
from math import pi
from pathlib import Path

import pytest
import shapely
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication, QPushButton
from tests.ui.acting import click, type_into

from anzel.app.edits import sketch_edits
from anzel.app.picked_actions import PICKED_ACTIONS, actions_for
from anzel.app.selection import Thing, ThingKind
from anzel.app.sketch_actions import OPENINGS
from anzel.project.demos import phone_stand
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import empty_table, project_of
from anzel.shape.sketch import RepeatKind
from anzel.structure.free.outline_shapes import SketchedOutline
from anzel.structure.model import FeatureKind
from anzel.structure.openings.plate_opening import OpeningKind
from anzel.ui.clipboard import paste, put_on_clipboard
from anzel.ui.draw_dialog import DrawDialog

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def drawing(window, session, qtbot):
    """An empty table's plate, drawn large."""
    session.begin(empty_table())
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    session.pick_plate("Plate")
    act(session, "draw")
    QApplication.processEvents()
    return window.build.sketch


def act(session, action_id):
    next(action for action in PICKED_ACTIONS if action.id == action_id).do(session)


def sketch(session):
    return sketch_edits.sketch_of(session.project, "Plate")


def place(session, name):
    return next((p.x, p.y) for path in sketch(session).paths for p in path.points if p.id == name)


def pick(session, *names):
    kinds = {name: kind for kind, ids in sketch_edits.things_on(session.project, "Plate").items()
             for name in ids}  # fmt: skip
    session.selection.pick(*(Thing(ThingKind(kinds[name]), name, "Plate") for name in names))


def area(session):
    return solved_structure_of(session.project).piece("Plate").region.area


def test_a_board_becomes_a_drawing_with_its_sizes_and_the_same_outline(drawing, session):
    assert area(session) == pytest.approx(6000)
    assert [size.name for size in sketch(session).sizes] == ["width", "height"]
    assert drawing._says.text() == "Still free in 2 ways"  # where it lies
    assert session.document.history.undoable == "Plate as a drawing"
    assert isinstance(session.project.structure.plates[0].outline, SketchedOutline)


def test_a_panel_is_made_from_nothing(drawing, window, session, qtbot):
    panel = window.build.panel
    type_into(qtbot, window.build.fields["width"], "72")
    type_into(qtbot, window.build.fields["height"], "160")
    assert area(session) == pytest.approx(72 * 160)
    pick(session, "outline 1")
    act(session, "relate-fixed")
    pick(session, "outline leg 2")  # the right side, let in
    act(session, "split")
    middle = session.selection.picked.name
    assert place(session, middle) == pytest.approx((36, 0))
    page = panel._page(ThingKind.POINT)
    type_into(qtbot, page.fields["x"], "30")
    assert place(session, middle)[0] == pytest.approx(30)
    pick(session, "outline 1", middle)
    hold = next(each for each in page.findChildren(QPushButton)
                if each.accessibleName() == "Hold as it is: Along y")  # fmt: skip
    hold.click()
    assert "along y" in " ".join(size.name for size in sketch(session).sizes)
    pick(session, "outline 2", middle)
    assert panel.line.title.text() == "2 points"
    assert panel.line.up.text() == "‹ Plate"
    panel.line.up.click()
    assert session.selection.plate_name == "Plate"
    before = area(session)
    window.build.sketch.add_opening("window")
    opening = session.selection.picked
    assert opening.kind is ThingKind.OPENING
    assert area(session) < before
    act(session, "delete")
    assert area(session) == pytest.approx(before)
    for _ in range(20):
        session.undo()
    assert area(session) == pytest.approx(6000)


def field(page, words):
    return next(each for each in page.fields.values() if each.accessibleName().startswith(words)
                or each._label.text().startswith(words))  # fmt: skip


def test_a_point_is_dragged_and_escape_takes_it_back(drawing, window, session, qtbot):
    view = drawing.view
    pick(session, "outline leg 3")
    act(session, "split")
    point = session.selection.picked.name
    start = place(session, point)
    at = view.to_view(*start).toPoint()
    to = view.to_view(start[0], start[1] + 20.3).toPoint()
    qtbot.mousePress(view, LEFT, pos=at)
    qtbot.mouseMove(view, to)
    qtbot.waitUntil(lambda: drawing._preview is not None, timeout=10_000)
    qtbot.keyClick(view, Qt.Key.Key_Escape)
    assert place(session, point) == start
    qtbot.mouseRelease(view, LEFT, pos=to)
    edits = len(session.document.history.edits)
    qtbot.mousePress(view, LEFT, pos=at)
    qtbot.mouseMove(view, to)
    qtbot.mouseRelease(view, LEFT, pos=to)
    qtbot.waitUntil(lambda: place(session, point) != start, timeout=10_000)
    assert place(session, point) == pytest.approx((start[0], start[1] + 20), abs=1.01)
    assert len(session.document.history.edits) == edits + 1  # one undo for a gesture
    qtbot.keyClick(view, Qt.Key.Key_Right)
    qtbot.keyClick(view, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    session.undo()
    session.undo()
    session.undo()
    assert place(session, point) == start


def test_legs_turn_into_arcs_and_relations_are_asked_for_and_let_go(drawing, session, window):
    pick(session, "outline leg 3")
    before = area(session)
    act(session, "leg-arc")
    assert area(session) > before
    page = window.build.panel._page(ThingKind.POINT)
    assert any("Radius" in each._label.text() for each in page.fields.values())
    pick(session, "outline leg 1", "outline leg 2")
    offered = {action.id for action in actions_for(session)}
    assert {"relate-parallel", "relate-square", "relate-equal"} <= offered
    act(session, "relate-parallel")  # they are level and upright: that cannot be
    assert "cannot hold together" in session.status.text
    assert all(relation.kind != "parallel" for relation in sketch(session).relations)
    pick(session, "outline leg 1")
    count = len(sketch(session).relations)
    page._column.itemAt(page._column.count() - 1).widget().findChildren(
        type(window.build.panel.line.up)
    )[0].click()
    assert len(sketch(session).relations) == count - 1


def test_free_corners_are_rounded_at_once_and_one_by_itself(drawing, window, session, qtbot):
    page = window.build.panel.plate
    page._corner.kind.activated.emit(page._corner.kind.findData("round"))
    type_into(qtbot, page._corner.size_field, "5")
    assert area(session) == pytest.approx(6000 - (4 - pi) * 25)
    pick(session, "outline 1")
    one = window.build.panel._page(ThingKind.POINT)._corner
    one.kind.activated.emit(one.kind.findData("sharp"))
    assert area(session) == pytest.approx(6000 - 0.75 * (4 - pi) * 25)
    type_into(qtbot, page._corner.size_field, "40")
    assert area(session) < 6000  # what has no room stays as it is


def test_openings_are_added_and_repeated(drawing, window, session, qtbot):
    full = area(session)
    for kind in OPENINGS:
        drawing.add_opening(kind)
        assert session.selection.picked.kind is ThingKind.OPENING
        assert area(session) < full
        act(session, "delete")
        assert area(session) == pytest.approx(full)
    drawing.add_opening("disc")
    page = window.build.panel._page(ThingKind.POINT)
    type_into(qtbot, field(page, "Diameter"), "4")
    page.repeat.kind.activated.emit(page.repeat.kind.findData(RepeatKind.GRID))
    type_into(qtbot, page.repeat.fields["count"], "3")
    type_into(qtbot, page.repeat.fields["rows"], "2")
    type_into(qtbot, page.repeat.fields["step x"], "9")
    assert [each.error for each in page.repeat.fields.values()] == [""] * 6
    holes = solved_structure_of(session.project).piece("Plate").region.holes
    assert len(holes) == 6
    type_into(qtbot, page.repeat.fields["step x"], "900")
    assert "lies beside the plate" in page.repeat.fields["step x"].error
    page.repeat.kind.activated.emit(page.repeat.kind.findData(None))
    assert len(solved_structure_of(session.project).piece("Plate").region.holes) == 1


def test_what_contradicts_is_said_at_the_field_and_changes_nothing(drawing, window, session, qtbot):
    pick(session, "outline 4", "outline 3")
    page = window.build.panel._page(ThingKind.POINT)
    before = session.project
    type_into(qtbot, field(page, "Along x"), "90")
    assert "cannot hold together" in field(page, "Along x").error
    assert session.project == before


def test_any_plate_can_be_drawn_and_the_way_leads_back(window, session, qtbot):
    session.begin(project_of("free"))
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    pieces = {p.name: p.region.area for p in solved_structure_of(session.project).pieces}
    for name in pieces:
        session.pick_plate(name)
        act(session, "draw")
    assert {p.name: p.region.area for p in solved_structure_of(session.project).pieces} == (
        pytest.approx(pieces)
    )
    assert window.build.sketch.page.isVisible()
    qtbot.keyClick(window.build.sketch.view, Qt.Key.Key_N)
    assert session.selection.picked.kind is ThingKind.POINT
    for _ in range(2):
        qtbot.keyClick(window.build.sketch.view, Qt.Key.Key_Escape)
    assert session.navigation.drawn_plate == ""
    assert window.build.flat.isVisible()


def test_an_opening_is_clicked_and_typed_corner_by_corner(drawing, window, session, qtbot):
    drawing.begin_path(is_outline=False)
    view, bar = drawing.view, drawing.leg_bar
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.to_view(-20.3, -9.8).toPoint())
    assert view.unfinished.corners == [(-20.0, -10.0)], "a click comes to the grid"
    for text in ("30 at 0", "nonsense"):
        bar.leg.setText(text)
        bar.leg.returnPressed.emit()
    assert "nonsense" in bar.says.text()
    assert len(view.unfinished.corners) == 2, "nothing is lost while a leg is half typed"
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.to_view(10.2, 14.9).toPoint())
    qtbot.keyClick(view, Qt.Key.Key_Return)
    path = sketch(session).paths[-1]
    assert [(p.x, p.y) for p in path.points] == [(-20, -10), (10, -10), (10, 15)]
    assert session.selection.picked.name == path.id
    session.undo()
    assert len(sketch(session).paths) == 1, "one gesture is one step back"
    type_into(qtbot, drawing.grid, "0")
    assert "more than 0" in drawing.grid.error
    type_into(qtbot, drawing.grid, "5")
    drawing.begin_path(is_outline=True)
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.to_view(-12.4, 8).toPoint())
    assert view.unfinished.corners == [(-10.0, 10.0)]
    qtbot.keyClick(view, Qt.Key.Key_Backspace)
    qtbot.keyClick(view, Qt.Key.Key_Escape)
    assert view.unfinished is None


def test_an_opening_is_copied_with_its_sizes_and_pasted(drawing, session, qtbot):
    drawing.add_opening("round-ended opening")
    taken = 6000 - area(session)
    name = session.selection.picked.name
    put_on_clipboard(session, b"")
    paste(session)
    assert 6000 - area(session) == pytest.approx(2 * taken), "it lies beside the first"
    again = session.selection.picked.name
    sizes = {size.of[0].split(" leg")[0]: size.value for size in sketch(session).sizes}
    assert sizes[name] == sizes[again] > 0
    session.navigation.draw("")
    paste(session)
    assert "drawn large" in session.status.text


def test_a_plate_of_a_form_is_shown_large_and_takes_openings_from_its_edges(window, session, qtbot):
    session.begin(project_of("lantern"))
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    session.selection.pick(Thing(ThingKind.PIECE, "Base"))
    act(session, "draw")
    QApplication.processEvents()
    drawing = window.build.sketch
    assert drawing.view.accessible_items() == [], "its outline is the form's"
    titles = [action.text() for action in drawing.fill_menu().actions()]
    assert "Mortise for a sheet" in titles
    assert "Drawn corner by corner" not in titles
    drawing.place_opening(OpeningKind.MORTISE)
    (opening,) = session.project.structure.own_openings
    panel = window.build.panel._openings()
    window.build.panel.focus_field(f"Base/{opening.id} width")
    assert panel.one.fields["width"].edit.hasFocus()
    type_into(qtbot, panel.one.fields["width"], "9.5")
    assert session.project.structure.own_openings[0].width == 9.5
    type_into(qtbot, panel.one.fields["width"], "900")
    assert "does not lie inside" in panel.one.fields["width"].error
    assert session.project.structure.own_openings[0].width == 9.5
    session.selection.pick_joint(opening.id)
    assert [row.split(", ")[1] for row in texts(window.build.panel.joint.sizes)] == [
        "mortise width", "mortise length",
    ]  # fmt: skip
    act(session, "delete")
    assert session.project.structure.own_openings == ()
    session.undo()
    assert session.project.structure.own_openings == (opening.with_changes(width=9.5),)


def test_neighbours_are_ghosted_where_they_meet_the_plate(window, session, qtbot):
    session.begin(phone_stand())
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    session.navigation.draw("Left side")
    found = window.build.sketch.view._content.neighbours
    assert {each.name for each in found} == {"Rest", "Shelf"}
    solved = solved_structure_of(session.project)
    mortises = [f for f in solved.piece("Left side").features if f.kind is FeatureKind.MORTISE]
    for feature in mortises:  # each tab goes through where its ghost is
        assert any(shapely.contains_xy(each.outline.polygon_shape, *feature.at) for each in found)
    view = window.build.sketch.view
    assert view._targets().edges, "points go to the edges of neighbours"


def texts(choice):
    return [choice.itemText(at) for at in range(choice.count())]


def test_the_grid_is_the_maker_s_next_time_too(drawing, window, session, qtbot):
    type_into(qtbot, drawing.grid, "2.5")
    window.remember()
    assert window._settings.window.grid_step == 2.5


def test_a_picture_is_placed_levelled_scaled_traced_and_taken(drawing, window, session, qtbot):
    scan = files("anzel.project").joinpath("robin.jpg")
    session.pick_plate("Plate")
    panel = window.build.panel.plate.picture
    panel.place(Path(str(scan)))
    assert session.project.structure.own_pictures[0].file.name == "robin.jpg"
    view, pictures = drawing.view, drawing.pictures
    panel.wanted.emit("scale")
    for place in ((-20.0, 0.0), (20.0, 0.0)):
        click(qtbot, view, view.to_view(*place))
    wide = session.project.structure.own_pictures[0].width
    type_into(qtbot, pictures.apart, "60")
    assert session.project.structure.own_pictures[0].width == pytest.approx(1.5 * wide, rel=0.05)
    panel.wanted.emit("trace")
    qtbot.waitUntil(lambda: view.proposal is not None, timeout=10_000)
    pictures.trace.dark.setValue(140)
    qtbot.waitUntil(lambda: not pictures._newest.is_working, timeout=10_000)
    assert len(view.proposal.regions) == 1
    before = area(session)
    qtbot.mouseClick(pictures.trace.outline, LEFT)
    assert not pictures.is_working
    assert area(session) != pytest.approx(before)
    assert len(sketch(session).paths) == 2
    session.undo()
    assert area(session) == pytest.approx(before)
    panel.wanted.emit("trace")
    qtbot.keyClick(view, Qt.Key.Key_Escape)
    assert not pictures.is_working
    assert not pictures.trace.isVisible()


def test_a_picture_is_carried_with_control_unless_it_is_locked(drawing, window, session, qtbot):
    session.pick_plate("Plate")
    panel = window.build.panel.plate.picture
    panel.place(Path(str(files("anzel.project").joinpath("robin.jpg"))))
    view = drawing.view

    def carry():
        start, end = (view.to_view(*place).toPoint() for place in ((0.0, 0.0), (12.0, 5.0)))
        held = Qt.KeyboardModifier.ControlModifier
        qtbot.mousePress(view, LEFT, held, start)
        qtbot.mouseMove(view, end)
        qtbot.mouseRelease(view, LEFT, held, end)
        picture = session.project.structure.own_pictures[0]
        return picture.x, picture.y

    assert carry() == pytest.approx((12, 5), abs=0.6)
    panel.locked.setChecked(True)
    assert carry() == pytest.approx((12, 5), abs=0.6)


def test_a_leg_is_dragged_with_its_ends_and_what_holds_still_holds(drawing, session, qtbot):
    view = drawing.view
    start, end = (view.to_view(*place).toPoint() for place in ((20.0, 30.0), (20.0, 42.0)))
    qtbot.mousePress(view, LEFT, pos=start)
    qtbot.mouseMove(view, (start + end) / 2)
    qtbot.mouseMove(view, end)
    qtbot.mouseRelease(view, LEFT, pos=end)
    qtbot.waitUntil(lambda: session.document.history.undoable == "Moved", timeout=5000)
    assert area(session) == pytest.approx(6000), "its height is held, so all of it has moved"
    assert place(session, "outline 3")[1] == pytest.approx(42, abs=0.5)
    session.undo()
    assert place(session, "outline 3") == pytest.approx((50, 30))


def test_what_is_wrong_in_a_dialog_is_said_in_it(window, session):
    session.begin(project_of("rib-lamp"))
    dialog = DrawDialog(window, session)
    dialog._attempt("Nothing", lambda project: session.project.stock("none"))
    assert "There is no stock" in dialog._says.text()
    dialog.done(0)
    dialog.deleteLater()


def test_an_empty_clipboard_is_told(window, session, monkeypatch):
    class Gone:
        def mimeData(self):
            return None

    monkeypatch.setattr(QGuiApplication, "clipboard", Gone)
    paste(session)
    assert session.status.text == "▲ The clipboard is empty."
