"""Forms, profiles, takes, scaling and looking inside, in the window."""

import pytest
import trimesh
from PIL import Image
from PySide6.QtCore import QPoint, Qt, QTimer
from PySide6.QtWidgets import QApplication, QLabel
from tests.told import in_mm
from tests.ui.acting import marks_of, type_into

from anzel.app import background
from anzel.app.edits import project_edits
from anzel.app.edits.profile_curve_edits import curve_of
from anzel.app.selection import Thing, ThingKind
from anzel.project.bounds import standing_box
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.storage import project_file
from anzel.ui.dialogs import StartChooser, form_starts
from anzel.ui.draw_dialog import DrawDialog
from anzel.ui.scale_dialog import ScaleDialog
from anzel.ui.takes_dialog import TakesDialog
from anzel.ui.widgets.stock_strip import StockCard


def answer_with(monkeypatch, name):
    """Choose what has that name in the next chooser."""

    def ask(cls, parent, title, about, starts):
        return next(start for start in starts if start.name == name)

    monkeypatch.setattr(StartChooser, "ask", classmethod(ask))


def test_demos_can_be_started_from(window, session, monkeypatch):
    answer_with(monkeypatch, "Seedling riser")
    window.actions_by_id["new"].trigger()
    assert session.project.name == "Seedling riser"
    assert len(window.findChildren(StockCard)) >= 1


WITH_NUMBERS = [start for start in form_starts() if start.picture not in ("free", "found")]


@pytest.mark.parametrize("start", WITH_NUMBERS, ids=lambda start: start.name)
def test_every_form_can_be_started_from_and_its_fields_follow(
    window, qtbot, session, monkeypatch, start
):
    answer_with(monkeypatch, start.name)
    window.actions_by_id["new-form"].trigger()
    form = session.project.structure
    assert set(window.build.fields) == set(form.numbers()) | form.places
    assert session.selection.joint is not None
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    assert "go together" in window.ripple.proof.text()
    name = next(n for n in form.numbers() if n in ("height", "width"))
    type_into(qtbot, window.build.fields[name], f"{getattr(form, name) * 1.02:g}")
    assert getattr(session.project.structure, name) > getattr(form, name)


def test_another_form_keeps_the_sheets_and_can_be_undone(window, session, monkeypatch):
    answer_with(monkeypatch, "Box")
    before = session.project
    window.actions_by_id["other-form"].trigger()
    assert session.project.structure.form == "box"
    assert session.project.stocks == before.stocks
    box = window.build.panel.whole.form
    box._choices["lid"].activated.emit(box._choices["lid"].findData("none"))
    assert session.project.structure.lid == "none"
    roles = box._roles["bottom_stock"]
    roles.activated.emit(roles.findData("birch-6"))
    assert session.project.structure.bottom_stock == "birch-6"
    for _ in range(3):
        session.undo()
    assert session.project == before
    assert "foot_span" in window.build.fields


def test_a_profile_is_dragged_and_moved_by_keys(window, qtbot, session, monkeypatch):
    answer_with(monkeypatch, "Rib lamp")
    window.actions_by_id["new-form"].trigger()
    session.selection.pick(Thing(ThingKind.CURVE, "profile"))
    panel, canvas = window.build.panel.profile, window.build.panel.profile.editor.canvas
    assert panel.isVisible()
    lamp = session.project.structure
    start = lamp.profile
    (_, up, _), radius = curve_of(lamp, "profile")[2], lamp.radius
    at, to = canvas.at(radius, up).toPoint(), canvas.at(0.9 * radius, up).toPoint()
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=at)
    qtbot.mouseMove(canvas, to)
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=to)
    assert session.project.structure.profile[2][1] == pytest.approx(0.9, abs=0.02)
    assert session.document.history.undoable == "Outer edge"
    type_into(qtbot, panel.editor.out, "95")
    assert session.project.structure.profile[2][1] == pytest.approx(95 / radius)
    qtbot.keyClick(canvas, Qt.Key.Key_S)
    assert not session.project.structure.profile[2][2]
    qtbot.keyClick(canvas, Qt.Key.Key_PageUp)
    qtbot.keyClick(canvas, Qt.Key.Key_Delete)
    assert len(session.project.structure.profile) == len(start) - 1
    for _ in range(4):
        session.undo()
    assert session.project.structure.profile == start


def test_inner_edge_and_second_rib_are_drawn_and_given_up(window, qtbot, session, monkeypatch):
    answer_with(monkeypatch, "Rib lamp")
    window.actions_by_id["new-form"].trigger()
    panel = window.build.panel.profile
    for which in ("inner", "second"):
        panel.choose(which)
        assert getattr(session.project.structure, which) == ()
        qtbot.keyClick(panel.editor.canvas, Qt.Key.Key_Left)
        drawn = getattr(session.project.structure, which)
        assert len(drawn) == len(session.project.structure.profile)
        qtbot.mouseClick(panel.alike, Qt.MouseButton.LeftButton)
        assert getattr(session.project.structure, which) == ()


def test_a_profile_is_drawn_over_a_picture_of_known_size(window, qtbot, session, tmp_path):
    session.begin(project_of("rib-lamp"))
    path = tmp_path / "pod.png"
    Image.new("L", (300, 440), 200).save(path)
    dialog = DrawDialog(window, session)
    qtbot.addWidget(dialog)
    dialog.take_picture(path)
    traced = session.project.structure.traced
    assert traced.mm_per_pixel * 440 == pytest.approx(session.project.structure.height)
    dialog._ends = [(0.0, 0.0), (0.0, 100.0)]
    dialog.scale_by("150")
    after = session.project.structure.traced
    assert after.mm_per_pixel == pytest.approx(1.5 * traced.mm_per_pixel)
    assert after.y == pytest.approx(1.5 * traced.y)  # the first place touched stays where it is
    type_into(qtbot, dialog.fields["turn"], "12")
    assert session.project.structure.traced.turn == 12
    session.save(tmp_path / "lamp.anzel")
    assert project_file.load(tmp_path / "lamp.anzel") == session.project
    dialog.take_picture(tmp_path / "lamp.anzel")
    labels = [label.text() for label in dialog.findChildren(QLabel)]
    assert any("holds no picture that can be read" in text for text in labels)
    dialog.done(0)
    session.undo()
    assert session.project.structure.traced.turn == 0


def at_rest(qtbot, dialog):
    """Wait until a dialog has worked out what it shows."""
    qtbot.waitUntil(lambda: not dialog.is_working, timeout=30_000)


def test_takes_are_compared_and_one_taken_up(window, qtbot, session):
    window.actions_by_id["keep-take"].trigger()
    session.change("Tall", project_edits.change_structure(session.project, height=160))
    dialog = TakesDialog(window, session, window.jobs)
    qtbot.addWidget(dialog)
    at_rest(qtbot, dialog)
    labels = {label.accessibleName(): label.text() for label in dialog.findChildren(QLabel)}
    assert "3 pieces on 2 sheets" in labels["Take 1 in numbers"]
    assert "smallest web" in labels["In hand in numbers"]
    before = dialog._labels[1].pixmap().toImage()
    qtbot.keyClick(dialog._labels[0], Qt.Key.Key_Left)
    at_rest(qtbot, dialog)
    assert dialog._labels[1].pixmap().toImage() != before  # one is turned, and all turn
    dialog._take_up(0)
    at_rest(qtbot, dialog)
    assert session.project.structure.height == 110
    qtbot.mouseClick(dialog.keep, Qt.MouseButton.LeftButton)
    at_rest(qtbot, dialog)
    assert len(session.project.takes) == 2
    dialog.done(0)


def test_a_scale_is_seen_before_it_is_taken(window, qtbot, session):
    dialog = ScaleDialog(window, session, window.jobs)
    qtbot.addWidget(dialog)
    dialog.show()
    at_rest(qtbot, dialog)
    assert "150.0" in dialog._now.text() or "149.8" in dialog._now.text()
    type_into(qtbot, dialog.fields["factor"], "500")
    assert "out of reason" in dialog.fields["factor"].error
    assert not dialog.take.isEnabled()
    type_into(qtbot, dialog.fields["height"], "150")
    at_rest(qtbot, dialog)
    assert "150.0 mm" in dialog._then.text()
    before = session.project
    qtbot.mouseClick(dialog.sheet, Qt.MouseButton.LeftButton)
    at_rest(qtbot, dialog)
    assert session.project is before
    qtbot.mouseClick(dialog.take, Qt.MouseButton.LeftButton)
    assert session.project.structure.height > 150
    session.undo()
    assert session.project == before


def test_the_standing_view_is_cut_open_hidden_and_seen_by_people(window, session, qtbot):
    build, standing = window.build, window.build.standing
    side = build.side
    side.cut.setValue(50)
    qtbot.mouseClick(side.parallel, Qt.MouseButton.LeftButton)
    assert standing.is_parallel
    session.visibility.hide(["Top"])
    qtbot.waitUntil(lambda: window.is_settled, timeout=10_000)
    shown = standing._shown.request
    assert (shown.cut_open, shown.style.hidden) == (0.5, frozenset({"Top"}))
    marks = len(standing._marks()[0])
    side.cut.setValue(90)
    qtbot.waitUntil(lambda: window.is_settled, timeout=10_000)
    assert len(standing._marks()[0]) < marks
    standing.look_from("seated")
    qtbot.waitUntil(lambda: window.is_settled, timeout=10_000)
    assert standing._shown.camera.eye[2] == pytest.approx(470)
    session.visibility.show_all()
    assert standing.hidden == frozenset()


def test_pulling_apart_moves_the_marks(window, qtbot):
    before = marks_of(window.build.standing)
    window.actions_by_id["apart"].trigger()
    assert window.build.standing.apart == 0.6
    qtbot.waitUntil(lambda: window.is_settled, timeout=10_000)
    assert marks_of(window.build.standing) != before


def test_the_standing_view_orbits_zooms_and_comes_back(window, qtbot):
    standing = window.build.standing
    before = standing._camera
    qtbot.keyClick(standing, Qt.Key.Key_Left)
    qtbot.keyClick(standing, Qt.Key.Key_Plus)
    assert standing._camera.azimuth != before.azimuth
    assert standing._camera.distance < before.distance
    qtbot.mousePress(standing, Qt.MouseButton.LeftButton, pos=QPoint(100, 100))
    qtbot.mouseMove(standing, QPoint(160, 130))
    qtbot.mouseMove(standing, QPoint(180, 140))
    qtbot.mouseRelease(standing, Qt.MouseButton.LeftButton, pos=QPoint(180, 140))
    window.actions_by_id["from-corner"].trigger()
    qtbot.waitUntil(lambda: window.is_settled, timeout=10_000)
    assert standing._camera.distance == pytest.approx(before.distance)


def test_a_mesh_is_read_in_the_background_and_sliced(window, qtbot, session, tmp_path, warnings):
    path = tmp_path / "ball.ply"
    trimesh.creation.icosphere(subdivisions=3, radius=60).export(path)
    window.commands.slice(path)
    qtbot.waitUntil(lambda: session.project.structure.form == "sliceform", timeout=20_000)
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    assert in_mm(session.status.text).startswith("ball.ply; 120 mm high as drawn")
    assert window.build.fields["wall"].isVisibleTo(window.build)
    window.build.fields["wall"].focus()
    type_into(qtbot, window.build.fields["wall"], "9")
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    assert "go together" in window.ripple.proof.text()
    path.write_bytes(b"ply nothing")
    window.commands.slice(path)
    qtbot.waitUntil(lambda: bool(warnings), timeout=20_000)
    assert warnings[0][0] == "This mesh cannot be sliced"
    session.undo()
    session.undo()
    assert session.project.structure.form == "crossed-stand"


def test_a_long_change_leaves_the_window_free_and_shows_what_is_wanted(
    window, qtbot, session, monkeypatch
):
    session.begin(
        project_of("sliceform", body="sphere", width=300, height=300, first=20, second=20)
    )
    monkeypatch.setattr(background, "PATIENCE", 0.0)
    field = window.build.fields["height"]
    type_into(qtbot, field, "310")
    assert session.is_working
    assert session.project.structure.height == 300
    assert field.edit.text() == "310"
    qtbot.waitUntil(lambda: not session.is_working, timeout=30_000)
    assert session.project.structure.height == 310


def test_the_lamp_is_turned_on_where_there_is_one(window, qtbot, session):
    assert not window.build.lamp.isVisible()
    session.begin(project_of("lantern"))
    assert window.build.lamp.isVisible()
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)
    day = window.build.standing._image.copy()
    qtbot.mouseClick(window.build.lamp, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: window.build.standing.is_drawn, timeout=20_000)
    assert window.build.standing._image != day


def test_what_goes_beyond_its_bounds_is_offered_to_be_made_to_fit(window, session, qtbot):
    panel = window.build.panel.whole.bounds
    panel.head.setChecked(True)
    type_into(qtbot, panel.fields["height"], "100")
    assert "may have 100.0" in panel._says.text()
    assert not panel.fit.isHidden()
    assert window.build.standing._frame is not None
    seen = []

    def take():
        dialog = next(w for w in QApplication.topLevelWidgets() if isinstance(w, ScaleDialog))
        qtbot.waitUntil(lambda: not dialog.is_working, timeout=20_000)
        seen.append(dialog._says.text())
        dialog._take()

    QTimer.singleShot(0, take)
    panel.fit.click()
    assert seen == [""]
    assert panel.fit.isHidden()
    height = standing_box(solved_structure_of(session.project))
    assert height.greatest[2] - height.least[2] == pytest.approx(100, abs=0.01)
