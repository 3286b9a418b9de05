"""What once ended a maker's session in the window, or changed or lost something unasked."""

import os
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QPainter, QWheelEvent
from PySide6.QtWidgets import (
    QApplication,
    QFileDialog,
    QLineEdit,
    QMessageBox,
    QProgressDialog,
    QTreeWidgetItemIterator,
    QWidget,
)
from tests.ui.acting import type_into

from anzel.app.edits import free_structure_edits, project_edits
from anzel.app.navigation import Step
from anzel.app.selection import Thing, ThingKind
from anzel.output import export
from anzel.output.cut_file_reader import read_cut_file
from anzel.project.demos import DEMOS, herb_stand
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.ui import clipboard
from anzel.ui.painting import painting
from anzel.ui.takes_dialog import TakesDialog
from anzel.ui.widgets.wheel_safe import Choice, Slider

LEFT = Qt.MouseButton.LeftButton
DEMO = {demo.name: demo.make for demo in DEMOS}


def settle(window, qtbot):
    """Wait until nothing is worked out any more."""
    QApplication.processEvents()
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)


def wheel_over(widget, down=True):
    """Turn the wheel over the middle of a widget; whether it took it."""
    at = QPointF(widget.rect().center())
    turn = QPoint(0, -120 if down else 120)
    event = QWheelEvent(
        at, QPointF(widget.mapToGlobal(at.toPoint())), turn, turn, Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    event.setAccepted(False)
    QApplication.sendEvent(widget, event)
    return event.isAccepted()


def test_features_are_ticked_many_times_by_mouse_and_by_space(window, session, qtbot):
    session.begin(project_of("found"))
    settle(window, qtbot)
    tree = window.build.panel.found.panel.tree
    changes = 0
    for number in range(40):
        kinds = [tree.topLevelItem(at) for at in range(tree.topLevelItemCount())]
        kind = kinds[number % len(kinds)]
        kind.setExpanded(True)
        item = kind if number % 3 == 0 else kind.child(number % kind.childCount())
        tree.setCurrentItem(item)
        tree.scrollToItem(item)
        held = session.project
        if number % 2:
            qtbot.keyClick(tree, Qt.Key.Key_Space)
        else:
            place = tree.visualItemRect(item)
            box = QPoint(place.left() + 10, place.center().y())
            qtbot.mouseClick(tree.viewport(), LEFT, pos=box)
        QApplication.processEvents()
        changes += session.project is not held
    assert changes > 24
    assert QTreeWidgetItemIterator(tree).value() is not None


def test_pieces_and_readings_are_ticked_and_corrected_by_real_events(window, session, qtbot):
    session.navigation.go_to(Step.SHEETS)
    settle(window, qtbot)
    rows = window.sheets.lay.pieces.rows
    for number in range(20):
        place = rows.visualItemRect(rows.item(number % rows.count()))
        qtbot.mouseClick(rows.viewport(), LEFT, pos=QPoint(place.left() + 10, place.center().y()))
        QApplication.processEvents()
    assert len(session.document.history._snapshots) > 20
    session.navigation.go_to(Step.STOCK)
    readings = window.stock._readings
    for number in range(10):
        readings.editItem(readings.item(0))
        (editor,) = (e for e in readings.viewport().findChildren(QLineEdit) if e.isVisible())
        editor.selectAll()
        qtbot.keyClicks(editor, f"2.8{number}")
        qtbot.keyClick(editor, Qt.Key.Key_Return)
        wanted = float(f"2.8{number}")
        qtbot.waitUntil(lambda w=wanted: session.project.stocks[0].readings[0] == w, timeout=5_000)
        QApplication.processEvents()


def test_a_wheel_changes_nothing_that_was_not_clicked_first(window, session, qtbot):
    for step in Step:
        session.navigation.go_to(step)
        settle(window, qtbot)
        before = session.project
        shown = [w for w in window.findChildren(QWidget) if w.isVisible()]
        fields = [w for w in shown if isinstance(w, Choice | Slider)]
        values = [w.currentIndex() if isinstance(w, Choice) else w.value() for w in fields]
        for widget in fields:
            widget.setFocus(Qt.FocusReason.TabFocusReason)  # reached by key, not clicked
            assert not wheel_over(widget)
        now = [w.currentIndex() if isinstance(w, Choice) else w.value() for w in fields]
        assert now == values
        assert session.project is before
    apart = window.build.slider
    session.navigation.go_to(Step.BUILD)
    qtbot.mouseClick(apart, LEFT, pos=QPoint(3, apart.height() // 2))
    value = apart.value()
    wheel_over(apart, down=False)
    assert apart.value() != value


def test_only_our_own_choices_and_sliders_are_used():
    """The mechanism holds only if nobody goes round it."""
    ui = Path(__file__).parents[2] / "src" / "anzel" / "ui"
    for path in ui.rglob("*.py"):
        if path.name != "still.py":
            text = path.read_text(encoding="utf-8")
            assert not any(f"{name}(" in text for name in ("QComboBox", "QSlider", "QSpinBox")), (
                path
            )


@pytest.fixture
def followed(window, session, qtbot, tmp_path, monkeypatch):
    """A cut file that is written again at every save, and the project's file."""
    session.navigation.go_to(Step.SHEETS)
    settle(window, qtbot)
    path = tmp_path / "followed.svg"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    window.sheets.file.which.setCurrentIndex(1)
    window.sheets.file.follow.setChecked(True)
    window.sheets.file.write.click()
    qtbot.waitUntil(path.exists, timeout=10_000)
    settle(window, qtbot)
    return path


def change_and_save(session, path):
    """A change that shows in the cut file, saved."""
    height = session.project.structure.height + 7
    session.change("Height", project_edits.change_structure(session.project, height=height))
    session.save(path)


def test_a_followed_file_keeps_its_choice_of_sheets(followed, window, session, qtbot, tmp_path):
    before = read_cut_file(followed)
    window.sheets.file.which.setCurrentIndex(0)
    change_and_save(session, tmp_path / "mine.anzel")
    qtbot.waitUntil(lambda: read_cut_file(followed) != before, timeout=10_000)
    assert {piece.name for piece in read_cut_file(followed).pieces} == {
        piece.name for piece in before.pieces
    }


def test_only_a_save_writes_a_followed_file_again(followed, window, session, qtbot):
    before = followed.stat().st_mtime_ns
    session.status.show("Something else was said")
    session.change("Height", project_edits.change_structure(session.project, height=150))
    session.undo()
    settle(window, qtbot)
    assert followed.stat().st_mtime_ns == before


@pytest.mark.parametrize("end", ["untick", "begin", "open"])
def test_following_ends_when_unticked_or_when_another_project_comes(
    followed, window, session, qtbot, tmp_path, end
):
    other = tmp_path / "other.anzel"
    if end == "untick":
        window.sheets.file.follow.setChecked(False)
    elif end == "begin":
        session.begin(DEMO["seedling-riser"]())
    else:
        session.save(other)
        settle(window, qtbot)
        session.open(other)
    settle(window, qtbot)
    before = followed.read_bytes(), followed.stat().st_mtime_ns
    assert not window.sheets.file.follow.isChecked()
    structure = session.project.structure.scaled(1.1)
    session.change("Larger", session.project.with_changes(structure=structure))
    session.save(other)
    settle(window, qtbot)
    assert (followed.read_bytes(), followed.stat().st_mtime_ns) == before


def test_a_followed_file_asks_again_about_the_kerf(
    followed, window, session, qtbot, tmp_path, monkeypatch
):
    asked = []
    cancel = QMessageBox.StandardButton.Cancel
    monkeypatch.setattr(QMessageBox, "question", lambda *a: (asked.append(a[2]), cancel)[1])
    before = followed.stat().st_mtime_ns
    session.attempt("At the cutter", lambda p: project_edits.take_kerf_at(p, "cutter"))
    change_and_save(session, tmp_path / "mine.anzel")
    settle(window, qtbot)
    assert len(asked) == 1
    assert "kerf" in asked[0].lower()
    assert followed.stat().st_mtime_ns == before


def test_lines_that_are_left_out_are_asked_about_before_a_file_is_written(
    window, session, qtbot, tmp_path, monkeypatch
):
    session.begin(project_of("found"))
    session.navigation.go_to(Step.SHEETS)
    settle(window, qtbot)
    path, asked = tmp_path / "caddy.svg", []
    answers = [QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Save]
    monkeypatch.setattr(QMessageBox, "question", lambda *a: (asked.append(a[2]), answers.pop(0))[1])
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    for panel in (window.sheets.file._left_out, window.sheets.lay._wrong):
        assert "text”: on no sheet and in no cut file" in panel.text()
    window.sheets.file.write.click()
    settle(window, qtbot)
    assert not path.exists()
    window.sheets.file.write.click()
    qtbot.waitUntil(path.exists, timeout=10_000)
    assert "text”: on no sheet" in asked[0]
    assert "left out: " in path.read_text(encoding="utf-8")


def test_what_a_found_drawing_left_behind_does_no_harm(
    window, session, qtbot, tmp_path, warnings
):  # fmt: skip
    session.begin(project_of("found"))
    settle(window, qtbot)
    split = window.build.panel.found.panel.split
    session.navigation.go_to(Step.TEST)
    session.begin(DEMO["herb-stand"]())
    split.piece.activated.emit(1)
    (tmp_path / "rag.svg").write_text("<svg/>")
    for _ in range(3):
        window.commands.found.read_files([tmp_path / "rag.svg"])
    qtbot.waitUntil(lambda: len(warnings) == 3, timeout=10_000)
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    assert not window.findChildren(QProgressDialog)


def test_the_advice_of_another_project_is_not_followed(window, session, qtbot):
    session.begin(DEMO["seedling-riser"]())
    session.navigation.go_to(Step.FORECAST)
    settle(window, qtbot)
    session.begin(DEMO["seedpod-lamp"]())
    session.selection.pick_stock("birch-3")
    window.forecast._follow_advice()
    assert session.selection.stock_id in {stock.id for stock in session.project.stocks}


def test_a_read_only_project_is_asked_about_before_it_is_written(
    window, session, qtbot, tmp_path, monkeypatch
):
    path, asked = tmp_path / "mine.anzel", []
    session.save(path)
    path.chmod(0o444)
    answers = [QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Save]
    monkeypatch.setattr(QMessageBox, "question", lambda *a: (asked.append(a[2]), answers.pop(0))[1])
    session.change("Height", project_edits.change_structure(session.project, height=141))
    before = path.read_bytes()
    assert not window.commands.save()
    assert path.read_bytes() == before
    assert window.commands.save()
    assert path.read_bytes() != before
    assert not session.is_dirty
    assert all("mine.anzel is read-only" in question for question in asked)


class Broken(QWidget):
    """A view whose painting fails halfway."""

    def paintEvent(self, event):
        with painting(self) as painter:
            self.painter = painter
            raise ValueError("no such stock")


def test_a_view_that_cannot_be_painted_says_so_and_the_window_lives(qtbot, faults_worded):
    view = Broken()
    qtbot.addWidget(view)
    view.resize(300, 120)
    view.show()
    for _ in range(3):
        drawn = view.grab()
        assert not view.painter.isActive()
    image = drawn.toImage()
    colours = {image.pixelColor(x, y).name() for x in range(300) for y in range(120)}
    assert len(colours) > 1, "something is written there"


def test_every_view_paints_through_the_guard():
    ui = Path(__file__).parents[2] / "src" / "anzel" / "ui"
    for path in ui.rglob("*.py"):
        text = path.read_text(encoding="utf-8")
        assert text.count("def paintEvent") <= text.count("with painting(self)"), path


def test_the_bench_keeps_what_it_showed_when_its_sheet_is_gone(window, session, qtbot):
    window.begin_practice(7)
    settle(window, qtbot)
    session.navigation.go_to(Step.PRACTICE)
    window.practice.hand_over()
    settle(window, qtbot)
    assert window.practice._outcome is not None
    session.navigation.go_to(Step.BUILD)
    session.begin(DEMO["seedling-riser"]().with_changes(practice_seed=7))
    session.navigation.go_to(Step.PRACTICE)
    settle(window, qtbot)
    window.practice.view.grab()
    assert window.practice._outcome is None


def test_the_window_closes_at_once_while_jobs_run(window, session, qtbot):
    go = threading.Event()
    try:
        for jobs in (window.jobs, window.squeezing):
            jobs.start(lambda progress: go.wait(30), done=print, failed=print)
        start = time.monotonic()
        assert window.close()
        assert time.monotonic() - start < 1.0
        assert not window.isVisible()
    finally:
        go.set()


def arrive(gate, session, qtbot):
    """Let the pending change arrive."""
    gate.set()
    qtbot.waitUntil(lambda: not session.is_working, timeout=20_000)
    gate.clear()


def test_the_free_panel_takes_pending_changes(window, session, qtbot, gate, tmp_path):
    gate.set()
    session.begin(project_of("free"))
    settle(window, qtbot)
    free = window.build.free
    first, second, *_ = (plate.name for plate in session.project.structure.plates)
    session.pick_plate(first)
    gate.clear()
    page = window.build.panel.plate
    page._rename.setText("Floor")
    page._take_name()
    assert session.is_working
    free.refresh()
    session.pick_plate(second)
    session.pick_plate(first)
    type_into(qtbot, page.fields["x"], "12")
    arrive(gate, session, qtbot)
    assert "Floor" in [plate.name for plate in session.project.structure.plates]
    gate.clear()
    drawing = tmp_path / "d.svg"
    pages = export.structure_pages(herb_stand())
    drawing.write_bytes(export.render(pages, herb_stand().pens, ".svg"))
    free.bring(drawing)
    qtbot.waitUntil(lambda: session.is_working, timeout=20_000)
    free.refresh()
    arrive(gate, session, qtbot)
    assert session.selection.plate_name in [
        plate.name for plate in session.project.structure.plates
    ]
    gate.set()
    session.begin(herb_stand())
    gate.clear()
    free.bring(drawing)
    qtbot.waitUntil(lambda: session.is_working, timeout=20_000)
    arrive(gate, session, qtbot)
    assert free_structure_edits.free_of(session.project).plates
    assert session.selection.plate_name
    assert solved_structure_of(session.project).piece(session.selection.plate_name)


def test_what_a_pending_change_makes_is_picked_when_it_arrives(window, session, qtbot, gate):
    gate.set()
    session.begin(project_of("free"))
    settle(window, qtbot)
    two = [Thing(ThingKind.PLATE, plate.name) for plate in session.project.structure.plates[:2]]
    for picked in (two, two[:1]):
        session.selection.pick(*picked)
        clipboard.put_on_clipboard(session, clipboard.svg_of(session.project, tuple(picked)))
        session.begin(herb_stand())  # a form, which pasting turns into a free structure
        settle(window, qtbot)
        gate.clear()
        window.actions_by_id["paste"].trigger()
        assert session.is_working
        assert not session.selection.things
        arrive(gate, session, qtbot)
        assert len(session.selection.names(ThingKind.PLATE)) == len(picked)
        gate.set()
        session.begin(project_of("free"))
        settle(window, qtbot)


def test_fields_of_one_form_bear_a_pending_other_form(window, session, qtbot, gate):
    other = project_of("rib-lamp").structure
    session.attempt("Rib lamp", lambda p: project_of("rib-lamp").with_changes(structure=other))
    assert session.is_working
    for field in window.build.fields.values():
        field.refresh()
    session.selection.pick_next_joint()
    type_into(qtbot, window.build.fields["height"], "123")
    arrive(gate, session, qtbot)


def test_a_view_pressed_in_takes_before_anything_is_shown_is_borne(window, session, qtbot):
    window.actions_by_id["keep-take"].trigger()
    dialog = TakesDialog(window, session, window.jobs)
    qtbot.addWidget(dialog)
    dialog.pictures._shown = ()  # as while the takes are worked out
    dialog.pictures.look_from("front")
    dialog.pictures.show([session.project])
    qtbot.waitUntil(lambda: dialog.pictures.is_drawn, timeout=20_000)
    dialog.done(0)


def test_typed_points_of_a_profile_are_not_rounded(window, session, qtbot):
    session.begin(project_of("free"))
    settle(window, qtbot)
    project, name = free_structure_edits.add_shape(
        session.project, "profile", session.selection.stock_id
    )
    session.change("Profile", project)
    session.pick_plate(name)
    curve = window.build.panel.plate._curve
    type_into(qtbot, curve.out, "0.0375 in")
    points = free_structure_edits.plate_of(session.project, name).outline.points
    assert points[0][0] == pytest.approx(0.9525, abs=1e-12)
    assert curve.out.edit.text() == "0.9525"


def test_the_window_is_driven_at_random_for_a_while(tmp_path):
    """A short run of the script that the long ones are made with; see its first lines."""
    script = Path(__file__).parent / "monkey.py"
    done = subprocess.run(
        [sys.executable, str(script), "11", "8"], capture_output=True, text=True, timeout=120,
        env={**os.environ, "TMPDIR": str(tmp_path)},
    )  # fmt: skip
    assert done.returncode == 0, (done.stdout + done.stderr)[-4000:]


def test_a_painter_is_never_left_active():
    """The guard ends it also where painting a picture fails."""
    from PySide6.QtGui import QPixmap

    picture = QPixmap(20, 20)
    painters = []

    def halfway():
        with painting(picture) as painter:
            painters.append(painter)
            raise ValueError("halfway")

    with pytest.raises(ValueError, match="halfway"):
        halfway()
    assert isinstance(painters[0], QPainter)
    assert not painters[0].isActive()
