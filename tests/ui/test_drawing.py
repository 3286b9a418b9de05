"""Drawing in the window: closed outlines, points by key and by number, a picture scaled by touch,
takes turned and pulled apart, plates in a panel that only free structures have."""

import pytest
from PIL import Image
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QFileDialog, QInputDialog
from tests.ui.acting import type_into

from anzel.app.edits import profile_curve_edits, project_edits
from anzel.project.new_project import project_of
from anzel.ui.draw_dialog import DrawDialog
from anzel.ui.takes_dialog import TakesDialog
from anzel.ui.widgets.curve_canvas import CurveCanvas, Paper
from anzel.ui.widgets.curve_editor import CurveEditor

SQUARE = ((0.0, 0.0, False), (40.0, 0.0, False), (40.0, 30.0, True), (0.0, 30.0, False))
ARCH = ((10.0, 0.0, True), (30.0, 40.0, True), (12.0, 80.0, False))


@pytest.fixture
def canvas(qtbot):
    """A canvas with the closed square, and what it told."""
    made, told = CurveCanvas(), []
    qtbot.addWidget(made)
    made.resize(300, 240)
    made.show_curve(SQUARE, Paper(closed=True))
    made.changed.connect(told.append)
    return made, told


def drag(qtbot, view, start, to):
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(view, to)
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=to)


def test_a_drag_is_one_change_and_a_click_none(canvas, qtbot):
    view, told = canvas
    at = view.at(40, 0).toPoint()
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=at)
    assert told == []
    drag(qtbot, view, at, view.at(50, -6).toPoint())
    assert len(told) == 1
    assert told[0][1][:2] == pytest.approx((50, -6), abs=0.5)
    assert told[0][0] == SQUARE[0]


def test_a_point_is_added_on_the_nearest_edge_and_kinds_change(canvas, qtbot):
    view, told = canvas
    qtbot.mouseDClick(view, Qt.MouseButton.LeftButton, pos=view.at(20, 29).toPoint())
    added = told[-1]
    assert len(added) == 5
    assert added[3][:2] == pytest.approx((20, 29), abs=0.5)  # between the two upper corners
    view.show_curve(SQUARE, Paper(closed=True))
    qtbot.mouseDClick(view, Qt.MouseButton.LeftButton, pos=view.at(40, 30).toPoint())
    assert [smooth for *_, smooth in told[-1]] == [False] * 4


def test_keys_walk_move_and_take_out_but_leave_three_points(canvas, qtbot):
    view, told = canvas
    qtbot.keyClick(view, Qt.Key.Key_PageUp)
    qtbot.keyClick(view, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert told[-1][1] == (40.0, 0.1, False)
    qtbot.keyClick(view, Qt.Key.Key_PageDown)
    qtbot.keyClick(view, Qt.Key.Key_PageDown)
    qtbot.keyClick(view, Qt.Key.Key_Delete)
    assert len(told[-1]) == 3
    view.show_curve(told[-1], Paper(closed=True))
    count = len(told)
    qtbot.keyClick(view, Qt.Key.Key_Delete)
    assert len(told) == count


def test_points_in_order_stay_between_their_neighbours_and_within_limits(qtbot):
    view, told = CurveCanvas(), []
    qtbot.addWidget(view)
    view.resize(300, 240)
    view.show_curve(ARCH, Paper(limits=(50.0, 80.0)))
    view.changed.connect(told.append)
    drag(qtbot, view, view.at(30, 40).toPoint(), view.at(90, 120).toPoint())
    x, y, _ = told[-1][1]
    assert x == 50
    assert 0 < y < 80


def test_the_picked_points_numbers_are_typed(qtbot):
    editor, told = CurveEditor(), []
    qtbot.addWidget(editor)
    editor.resize(320, 320)
    editor.show_curve(ARCH, Paper(limits=(50.0, 80.0)))
    editor.changed.connect(told.append)
    type_into(qtbot, editor.out, "1in")
    assert told[-1][0] == (25.4, 0.0, True)
    type_into(qtbot, editor.up, "wide")
    assert "wide" in editor.up.error
    editor.smooth.click()
    assert told[-1][0][2] is False


def test_a_picture_is_scaled_by_two_touches_and_taken_away(
    window, session, qtbot, tmp_path, monkeypatch
):
    session.begin(project_of("rib-lamp"))
    path = tmp_path / "pod.png"
    Image.new("L", (60, 90), 200).save(path)
    dialog = DrawDialog(window, session)
    qtbot.addWidget(dialog)
    dialog.show()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(path), ""))
    dialog._choose()
    before = profile_curve_edits.lamp_of(session.project).traced
    monkeypatch.setattr(QInputDialog, "getText", lambda *a: ("100", True))
    canvas = dialog.profile.editor.canvas
    dialog.scale.click()
    for height in (20, 70):
        qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.at(0, height).toPoint())
    after = profile_curve_edits.lamp_of(session.project).traced
    assert after.mm_per_pixel == pytest.approx(2 * before.mm_per_pixel, rel=0.03)
    assert not canvas.touching
    dialog.scale_by("nothing")
    assert profile_curve_edits.lamp_of(session.project).traced == after
    dialog.faded.setValue(80)
    dialog.faded.sliderReleased.emit()
    assert profile_curve_edits.lamp_of(session.project).traced.faded == 0.8
    dialog._take_away()
    assert profile_curve_edits.lamp_of(session.project).traced is None
    assert not dialog._of_picture.isVisible()
    session.begin(project_of("box"))  # there is nothing to draw any more
    assert not dialog.isVisible()


def test_takes_are_looked_at_from_a_side_nearer_and_pulled_apart(window, session, qtbot):
    window.actions_by_id["keep-take"].trigger()
    session.change("Tall", project_edits.change_structure(session.project, height=160))
    dialog = TakesDialog(window, session, window.jobs)
    qtbot.addWidget(dialog)

    def shown():
        qtbot.waitUntil(lambda: not dialog.is_working, timeout=30_000)
        return [label.pixmap().toImage() for label in dialog._labels]

    seen = [shown()]
    label = dialog._labels[0]
    wheel = QWheelEvent(
        QPointF(50, 50), QPointF(50, 50), QPoint(), QPoint(0, 240), Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    changes = (
        lambda: dialog.pictures.look_from("above"),
        lambda: label.wheelEvent(wheel),
        lambda: drag(qtbot, label, QPoint(40, 40), QPoint(90, 60)),
        lambda: dialog._apart.setValue(60),
    )
    for change in changes:
        change()
        seen.append(shown())
        assert all(one != other for one, other in zip(seen[-2], seen[-1], strict=True))
    dialog.done(0)


def test_only_free_structures_have_the_panel_of_plates(window, session, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: ("", ""))
    window.actions_by_id["bring-drawing"].trigger()  # and nothing chosen
    assert window.build.free.isHidden()
    assert session.project.structure.form == "crossed-stand"
    session.begin(project_of("free"))
    assert window.build.free.isVisible()
    session.begin(project_of("box"))
    assert window.build.free.isHidden()


def test_a_joint_of_a_form_gets_a_fit_of_its_own_in_the_panel(window, session):
    session.selection.pick_joint("J1")
    window.build.panel.joint.fit.take(4)
    assert session.project.structure.own_fits == (("J1", "loose"),)
    assert session.document.history.undoable == "J1 loose"
    assert window.build.panel.joint.fit.currentText() == "loose"
    session.selection.pick_joint("J2")
    assert window.build.panel.joint.fit.currentText() == "the project's fit"
    session.selection.pick_joint("J1")
    window.build.panel.joint.fit.take(0)
    assert session.project.structure.own_fits == ()
