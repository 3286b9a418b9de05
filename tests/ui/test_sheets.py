"""The sheets step in the window: laying by hand, squeezing, the cut played, files and paper."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QFileDialog, QInputDialog
from tests.ui.acting import tick

from anzel.app.edits import project_edits
from anzel.app.navigation import Step
from anzel.cutjob.job_settings import LabelStyle
from anzel.cutjob.operations import DxfRelease, Operation
from anzel.output.cut_file_reader import read_cut_file
from anzel.project.derive import layout_of
from anzel.project.new_project import project_of

STOCK = "birch-3"


@pytest.fixture
def sheets(window, session, qtbot):
    """The sheets step, settled."""
    session.navigation.go_to(Step.SHEETS)
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    return window.sheets


def laid(session, name):
    """A copy as it lies now, and its sheet."""
    plans = layout_of(session.project, STOCK).plans
    return next((each, plan) for plan in plans for each in plan.placed if each.piece.name == name)


def on_screen(step, name):
    """Where a copy's inside is in the view, pixels."""
    where = step._table.find(name, 1, STOCK)
    spread = step._table.sheets[where[0]]
    inside = step._table.laid(where).region.shape.representative_point()
    return step.view.to_view(inside.x + spread.x, inside.y + spread.y).toPoint()


def test_a_piece_is_dragged_nudged_turned_and_pinned(sheets, session, qtbot):
    view, left = sheets.view, Qt.MouseButton.LeftButton
    before = laid(session, "Upright A")[0].region.bounds
    start = on_screen(sheets, "Upright A")
    way = QPoint(round(30 * view.scale), 0)
    qtbot.mousePress(view, left, pos=start)
    qtbot.mouseMove(view, start + way / 2)
    qtbot.mouseMove(view, start + way)
    qtbot.mouseRelease(view, left, pos=start + way)
    after = laid(session, "Upright A")[0]
    assert after.pinned
    assert after.region.bounds[0] == pytest.approx(before[0] + way.x() / view.scale, abs=0.01)
    qtbot.keyClick(view, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert laid(session, "Upright A")[0].region.bounds[1] == pytest.approx(
        after.region.bounds[1] + 10
    )
    qtbot.keyClick(view, Qt.Key.Key_R)
    assert laid(session, "Upright A")[0].turn == (after.turn + 90) % 360
    qtbot.keyClick(view, Qt.Key.Key_P)
    assert not laid(session, "Upright A")[0].pinned
    for _ in range(4):
        session.undo()
    assert laid(session, "Upright A")[0].region.bounds == before


def test_the_picked_piece_is_placed_by_number_and_left_out(sheets, window, session, qtbot):
    qtbot.mouseClick(sheets.view, Qt.MouseButton.LeftButton, pos=on_screen(sheets, "Upright B"))
    copy = sheets.copy
    copy._x.edit.setText("120")
    copy._x.edit.committed.emit("120")
    assert laid(session, "Upright B")[0].region.bounds[0] == pytest.approx(120)
    copy._many.edit.committed.emit("3")
    assert session.project.sheets.count_of("Upright B", 1) == 3
    copy._many.edit.committed.emit("many")
    assert "not a number of pieces" in copy._many.error
    window.actions_by_id["pin"].trigger()
    assert not laid(session, "Upright B")[0].pinned
    for _ in range(3):
        window.actions_by_id["delete"].trigger()
    names = {each.piece.name for plan in layout_of(session.project, STOCK).plans
             for each in plan.placed}  # fmt: skip
    assert names == {"Upright A"}
    qtbot.mouseClick(sheets.lay._back, Qt.MouseButton.LeftButton)
    assert session.project.sheets.copy_counts == ()


def test_squeezing_runs_aside_and_can_be_stopped(sheets, session, qtbot):
    bar = sheets.lay.squeezing
    bar.start(600)
    assert sheets.is_working
    qtbot.wait(400)
    bar._stop.click()
    qtbot.waitUntil(lambda: not bar.is_working, timeout=15_000)
    assert session.status.text.startswith("Squeezed")
    assert len(session.project.sheets.kept_placements) == 3
    bar.start(600)
    session.change("Height", project_edits.change_structure(session.project, height=118))
    bar._stop.click()
    qtbot.waitUntil(lambda: "squeeze it again" in session.status.text, timeout=15_000)


def test_what_is_left_is_kept_as_scraps(sheets, session):
    sheets.lay._rest.click()
    names = [scrap.name for scrap in session.project.stock(STOCK).scraps]
    assert names == [f"rest of Herb-pot stand {n}" for n in range(1, len(names) + 1)] != []
    assert layout_of(session.project, STOCK).plans == ()
    sheets.lay._back.click()
    assert layout_of(session.project, STOCK).plans[0].is_scrap


def test_the_cut_is_played_and_put_together(sheets, window, session, qtbot):
    sheets.show_view(1)
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    job = sheets.cut
    job._labels.button(1).click()
    job.fields["bridges"].edit.committed.emit("2")
    assert (session.project.job.labels, session.project.job.bridges) == (LabelStyle.ENGRAVE, 2)
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    assert "in all" in job._times.text()
    job._speeds.button(2).click()
    job._play.click()
    qtbot.waitUntil(lambda: job.seconds > 3, timeout=10_000)
    job._play.click()
    assert job._play.text() == "Play"
    job._slider.sliderMoved.emit(1000)
    assert "outer cut" in job._says.text()
    job._bench.click()
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    assert session.navigation.step is Step.PRACTICE
    assert window.practice._outcome.words == "10 of 10 openings came out snug."


def test_files_are_shown_as_they_will_be_and_follow_every_save(
    sheets, window, session, qtbot, tmp_path, monkeypatch
):
    sheets.show_view(2)
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    assert sheets.file._holds.text().splitlines()[-1].startswith("outer cut: 3 lines")
    sheets.file.pens._change(Operation.SCORE, "width", "0.3")
    sheets.file.pens._change(Operation.SCORE, "layer", "half")
    pen = session.project.pens.score
    assert (pen.width, pen.layer) == (0.3, "half")
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Shed", True))
    sheets.file.pens._keep()
    assert session.project.pen_presets[-1].name == "Shed"
    sheets.file._formats.buttons()[3].click()
    assert session.project.pens.dxf is DxfRelease.R12
    sheets.file._formats.buttons()[0].click()
    path = tmp_path / "followed.svg"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    sheets.file.follow.setChecked(True)
    sheets.file.write.click()
    qtbot.waitUntil(path.exists, timeout=10_000)
    before = read_cut_file(path)
    session.change("Height", project_edits.change_structure(session.project, height=150))
    session.save(tmp_path / "mine.anzel")
    qtbot.waitUntil(lambda: read_cut_file(path) != before, timeout=10_000)


def test_pages_that_arrive_for_a_project_that_was_left_are_not_written(
    sheets, session, window, qtbot, monkeypatch
):
    asked = []
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: asked.append(a) or ("", ""))
    sheets.file.write.click()
    session.begin(project_of("easel"))
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    assert not asked
    sheets.file.write.click()
    qtbot.waitUntil(lambda: len(asked) == 1, timeout=15_000)


def test_templates_and_lists_are_written(sheets, qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setattr(QInputDialog, "getItem", lambda *a: ("A4", True))
    for what, name in (("paper", "t.pdf"), ("sheet", "s.pdf"), ("list", "l.csv")):
        path = tmp_path / name
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, path=path: (str(path), ""))
        window.print_sheets(what)
        qtbot.waitUntil(path.exists, timeout=10_000)


def test_how_pieces_may_lie_is_set(sheets, session):
    lie = sheets.lay.lie
    lie._turns.activated.emit(4)
    assert session.project.sheets.turns.value == "any turn"
    lie._grain.click()
    lie._over.click()
    assert not session.project.sheets.follow_grain
    assert session.project.sheets.turn_over


def test_pieces_are_ticked_out_of_and_into_the_job(sheets, session):
    rows = sheets.lay.pieces.rows
    names = [rows.item(i).text() for i in range(rows.count())]
    tick(rows.item(names.index("Upright A")), False)
    assert session.project.sheets.count_of("Upright A", 1) == 0
    sheets.lay.pieces._none()
    assert all(not amount.count for amount in session.project.sheets.copy_counts)
    assert "nothing in this job" in sheets.lay.says.text()
    rows = sheets.lay.pieces.rows
    tick(rows.item(names.index("Top")))
    assert [a.piece for a in session.project.sheets.copy_counts] == ["Upright A", "Upright B"]


def test_scraps_are_added_by_size_and_drawing_and_taken_off(window, session, tmp_path):
    session.navigation.go_to(Step.STOCK)
    scraps = window.stock.scraps
    scraps.add_sized("20 cm x 150")
    (tmp_path / "l.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="80mm" viewBox="0 0 90 80">'
        '<path d="M0,0 L90,0 L90,30 L30,30 L30,80 L0,80 Z"/></svg>'
    )
    scraps.add_drawn(tmp_path / "l.svg")
    sizes = [scrap.size for scrap in session.project.stock(STOCK).scraps]
    assert sizes[0] == (200, 150)
    assert sizes[1] == pytest.approx((90, 80))
    assert [scraps.rows.item(i).text() for i in range(2)] == [
        "scrap 1: 200 × 150", "scrap 2: 90 × 80",
    ]  # fmt: skip
    for wrong, words in (("large", "no size"), ("0 x 5", "no scrap: its outline")):
        scraps.add_sized(wrong)
        assert words.lower() in session.status.text.lower()
    scraps.add_drawn(tmp_path / "none.svg")
    assert session.status.text.startswith("▲")
    scraps.rows.setCurrentRow(1)
    scraps.remove()
    assert [scrap.name for scrap in session.project.stock(STOCK).scraps] == ["scrap 1"]
    window.stock._faces.activated.emit(1)
    assert session.project.stock(STOCK).faces.value == "one good face"


def test_a_cutters_times_and_prices_are_set(window, session):
    session.navigation.go_to(Step.CUTTER)
    for field, text in (("pierce_time", "0.4"), ("cost_per_hour", "30"), ("travel_speed", "250")):
        window.cutter.fields[field].edit.committed.emit(text)
        assert getattr(session.project.cutter, field) == float(text)
    session.navigation.go_to(Step.STOCK)
    window.stock._sizes._commit(0, "price", "4.5", "0")
    assert session.project.stock(STOCK).sheets[0].price == 4.5
