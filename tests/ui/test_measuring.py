"""The window's steps about sheets, cutter, test pieces, forecast and practice."""

import json

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMessageBox,
)
from tests.ui.acting import click, type_into

from anzel.app.edits import cutter_edits, stock_edits
from anzel.app.navigation import Step
from anzel.core.findings import ParameterError
from anzel.materials.cutter import KerfSource
from anzel.materials.material import Material, PressBehaviour
from anzel.project.demos import seedling_riser
from anzel.storage import stock_library
from anzel.test_pieces.model import TestPieceKind

LEFT = Qt.MouseButton.LeftButton


def settled(window, qtbot):
    """Wait until nothing is being worked out."""
    qtbot.waitUntil(lambda: window.is_settled, timeout=20_000)


@pytest.fixture
def answers(monkeypatch):
    """Give the answers to the next question; remember what was asked."""
    asked = []

    def give(answer):
        button = QMessageBox.StandardButton[answer]
        monkeypatch.setattr(QMessageBox, "question", lambda *a: (asked.append(a[2]), button)[1])
        return asked

    return give


def test_a_sheet_is_picked_on_the_rack_by_mouse_and_keys(window, qtbot, session):
    session.navigation.go_to(Step.STOCK)
    view = window.stock.rack
    click(qtbot, view, view.box_of("birch-6").center())
    assert session.selection.stock_id == "birch-6"
    assert window.stock._name.text() == "Birch ply 6"
    qtbot.keyClick(view, Qt.Key.Key_Right)
    assert session.selection.stock_id == "birch-3"


def test_many_sheets_stay_within_reach(window, qtbot, session):
    session.navigation.go_to(Step.STOCK)
    for _ in range(9):
        window.actions_by_id["add-stock"].trigger()
    assert session.selection.stock_id == "stock-9"
    view = window.stock.rack
    assert view.rect().contains(view.box_of("stock-9").center().toPoint())


def test_a_reading_is_struck_out_and_counts_again(window, qtbot, session, monkeypatch):
    session.change("odd", stock_edits.add_readings(session.project, "birch-3", [3.16]))
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("burr", True))
    window.actions_by_id["strike-reading"].trigger()
    stock = session.project.stocks[0]
    assert stock.readings == (2.93, 2.95, 2.94)
    assert (stock.struck[0].value, stock.struck[0].reason) == (3.16, "burr")
    readings = window.stock._readings
    readings.itemActivated.emit(readings.item(3))
    QApplication.processEvents()
    assert session.project.stocks[0].readings == (2.93, 2.95, 2.94, 3.16)
    assert "does not belong" in window.stock._says.text()


def test_a_reading_that_is_being_typed_is_of_its_own_stock_whichever_is_picked_then(
    window, session
):
    session.navigation.go_to(Step.STOCK)
    readings, first, other = window.stock._readings, *session.project.stocks[:2]
    readings.item(2).setText("2.90")
    session.selection.pick_stock(other.id)
    QApplication.processEvents()
    assert session.project.stocks[0].readings == (*first.readings[:2], 2.9)
    assert session.project.stocks[1].readings == other.readings
    with pytest.raises(ParameterError, match="not there any more"):
        stock_edits.change_reading(session.project, other.id, 99, 3.0)


def test_material_nature_and_sheets_are_chosen(window, qtbot, session):
    session.navigation.go_to(Step.STOCK)
    step = window.stock
    step._material.activated.emit(step._material.findData(Material.ACRYLIC.value))
    assert session.project.stocks[0].press_behaviour is PressBehaviour.BRITTLE
    edits = {e.accessibleName(): e for e in step._sizes.findChildren(QLineEdit)}
    count = edits["Sheet size 1, count"]
    count.setText("plenty")
    qtbot.keyClick(count, Qt.Key.Key_Return)
    assert session.project.stocks[0].sheets[0].count is None
    width = {e.accessibleName(): e for e in step._sizes.findChildren(QLineEdit)
             if e.isEnabled()}["Sheet size 1, width"]  # fmt: skip
    width.setText("0")
    qtbot.keyClick(width, Qt.Key.Key_Return)
    assert "must be more than 0" in step._sizes._error.text()


def test_the_cutter_is_edited_and_its_contradiction_shown(window, qtbot, session):
    session.navigation.go_to(Step.CUTTER)
    type_into(qtbot, window.cutter.fields["kerf"], "0.17")
    type_into(qtbot, window.cutter.fields["uncertainty"], "0.004")
    kerf = session.project.kerf_in("birch-3")
    assert (kerf.kerf, kerf.uncertainty) == (0.17, 0.004)
    type_into(qtbot, window.cutter.fields["bed_width"], "24 in")
    assert session.project.cutter.bed_width == pytest.approx(609.6)
    qtbot.mouseClick(window.cutter._setting.button(1), LEFT)
    assert "counted twice" in window.cutter._warning.text()
    click(qtbot, window.cutter.view, window.cutter.view.box_of(1).center())
    assert session.selection.stock_id == "birch-6"
    window.actions_by_id["add-cutter"].trigger()
    assert "assumed" in window.cutter._learnt.text()
    assert session.project.cutter.name == "Cutter 1"


def test_a_file_that_contradicts_the_cutter_asks_first(
    window, qtbot, session, tmp_path, monkeypatch, answers
):
    path = tmp_path / "cut.svg"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    session.change("on", cutter_edits.change_cutter(session.project, offsets_path=True))
    asked = answers("Cancel")
    window.actions_by_id["write-sheets"].trigger()
    assert "counted twice" in asked[0]
    window.learn(TestPieceKind.DISC)
    window.actions_by_id["write-test-piece"].trigger()
    assert "hides the kerf" in asked[1]
    assert not path.exists()
    answers("Save")
    window.actions_by_id["write-sheets"].trigger()
    qtbot.waitUntil(path.exists, timeout=10_000)


def test_the_kerf_is_learnt_from_strips_and_taken_over(window, qtbot, session):
    """Ten strips of 12 that measure 118.4 together: 12 - 11.84 = 0.16; then 118.6: 0.14."""
    window.learn(TestPieceKind.STRIPS)
    panel = window.test.measured
    assert not panel.take.isEnabled()
    type_into(qtbot, panel.fields["total"], "118.6")
    assert "Kerf 0.140 mm" in panel.result.text()
    qtbot.mouseClick(panel.take, LEFT)
    kerf = session.project.kerf_in("birch-3")
    assert (kerf.kerf, kerf.learnt) == (0.14, KerfSource.STRIPS)
    assert "4 tabs" in window.ripple.says.text()
    type_into(qtbot, panel.fields["total"], "130")
    assert "cannot be" in panel.result.text()


def test_the_kerf_is_learnt_from_disc_and_hole(window, qtbot, session):
    window.learn(TestPieceKind.DISC)
    panel = window.test.measured
    type_into(qtbot, panel.fields["measured_outside"], "29.86")
    assert not panel.take.isEnabled()
    type_into(qtbot, panel.fields["measured_inside"], "30.18")
    qtbot.mouseClick(panel.take, LEFT)
    assert session.project.kerf_in("birch-3").learnt is KerfSource.DISC


def test_a_comb_is_tapped_by_keys_and_read_as_kerf(window, qtbot, session):
    session.navigation.go_to(Step.TEST)
    view = window.test.view
    view.joint_picked.emit("S2", False)
    qtbot.keyClick(view, Qt.Key.Key_Left)
    for key in "1234455":
        qtbot.keyClick(window, key)
    assert window.test.view._content.tags["S4"] == "slides"
    assert len(session.project.in_hand[0].felt) == 7
    window.test.view.joint_picked.emit("S7", False)
    qtbot.keyClick(window, "1")
    assert window.test.view._content.tags["S7"] == "▲ won't"
    qtbot.mouseClick(window.test.feel.restart, LEFT)
    assert session.project.in_hand == ()
    for key in "1233345":
        felt = len(session.project.in_hand[0].felt) if session.project.in_hand else 0
        window.test.view.joint_picked.emit(f"S{felt + 1}", False)
        qtbot.keyClick(window, key)
    qtbot.mouseClick(window.test.feel.as_kerf, LEFT)
    kerf = session.project.kerf_in("birch-3")
    assert (kerf.learnt, kerf.kerf) == (KerfSource.COMB, pytest.approx(2.94 + 0.05 - 2.83))


@pytest.mark.parametrize("kind", TestPieceKind)
def test_every_test_piece_is_shown_and_its_settings_followed(window, qtbot, session, kind):
    session.navigation.go_to(Step.TEST)
    window.test._kinds.activated.emit(window.test._kinds.findData(kind.value))
    assert window.test.kind is kind
    before = window.test.test_piece
    type_into(qtbot, window.test.fields["count"], "4")
    type_into(qtbot, window.test.fields["start"], "2")
    assert session.project.test_pieces.settings(kind).count == 4
    assert window.test.test_piece != before
    type_into(qtbot, window.test.fields["count"], "0")
    assert window.test.fields["count"].error
    window.test._inches.activated.emit(window.test._inches.findData(True))
    assert session.project.test_pieces.inches
    window.test._centre.click()
    assert session.project.test_pieces.settings(kind).count is None


def test_a_sheet_thinner_than_the_kerf_says_so_instead_of_a_piece(window, session):
    thin = stock_edits.add_stock(session.project, session.project.stocks[0])
    thin = stock_edits.change_stock(thin, "stock-1", nominal_thickness=0.05)
    session.change("Foil", thin)
    session.selection.pick_stock("stock-1")
    window.learn(TestPieceKind.MORTISE)
    assert "kerf" in window.test._says.text()
    assert not window.test._write.isEnabled()


def test_kept_trials_are_looked_back_on(window, session):
    session.navigation.go_to(Step.TEST)
    assert "2026-09-15 comb, Potting-shed laser" in window.test.trials.accessibleDescription()
    session.selection.pick_stock("birch-6")
    assert window.test.trials.accessibleDescription() == ""


def test_the_forecast_is_worked_out_and_its_advice_followed(window, qtbot, session):
    session.navigation.go_to(Step.FORECAST)
    settled(window, qtbot)
    step = window.forecast
    assert step._big.text().endswith("%")
    assert "Kerf strips from Birch ply 6" in step._advice.text()
    click(qtbot, step.view, step.view.row_of(1).center())
    assert session.selection.joint_id == "J2"
    assert step.view.picked.joint == "J2"
    before = step._big.text()
    window.actions_by_id["looser"].trigger()
    settled(window, qtbot)
    assert step._big.text() != before
    qtbot.mouseClick(step._do, LEFT)
    assert (session.navigation.step, window.test.kind) == (Step.TEST, TestPieceKind.STRIPS)


def test_the_whole_loop_is_practised_in_the_window(window, qtbot, session):
    session.navigation.go_to(Step.PRACTICE)
    step = window.practice
    assert not step.stages["measure"].isEnabled()
    window.begin_practice(7)
    assert session.project.practice_seed == 7
    for name in ("measure", "kerf", "comb", "take", "cut"):
        qtbot.mouseClick(step.stages[name], LEFT)
        settled(window, qtbot)
    assert "openings came out snug" in step._outcome.words
    assert len(session.project.trials) == 1
    qtbot.mouseClick(step.stages["loop"], LEFT)
    settled(window, qtbot)
    step._hidden.setChecked(True)
    assert "truly" in step._truth.text()
    assert "snug" in step.view.accessibleDescription()
    while session.document.history.undoable:
        session.undo()
    assert session.project.stocks[0].readings == ()


def test_taking_over_before_anything_was_felt_is_told(window, qtbot, session):
    session.navigation.go_to(Step.PRACTICE)
    window.begin_practice(7)
    qtbot.mouseClick(window.practice.stages["take"], LEFT)
    settled(window, qtbot)
    assert "No comb has been felt yet" in window.ripple.says.text()


def test_a_sheet_is_kept_and_brought_into_another_project(
    window, session, qtbot, tmp_path, monkeypatch
):  # fmt: skip
    window.actions_by_id["bring-stock"].trigger()
    qtbot.waitUntil(lambda: "Nothing kept yet" in window.ripple.says.text(), timeout=10_000)
    window.actions_by_id["keep-stock"].trigger()
    qtbot.waitUntil(lambda: "Kept for other" in window.ripple.says.text(), timeout=10_000)
    assert [s.id for s in stock_library.load_library().stocks] == ["birch-3"]
    session.begin(seedling_riser())
    monkeypatch.setattr(QInputDialog, "getItem", lambda *a: ("Birch ply 3 (birch-3)", True))
    window.actions_by_id["bring-stock"].trigger()
    qtbot.waitUntil(lambda: session.project.stocks[-1].id == "birch-3", timeout=10_000)
    assert session.project.stock("birch-3").readings == (2.93, 2.95, 2.94)
    path = tmp_path / "sheets"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    window.actions_by_id["export-stocks"].trigger()
    qtbot.waitUntil(lambda: "Written" in window.ripple.says.text(), timeout=10_000)
    listed = json.loads((tmp_path / "sheets.json").read_text(encoding="utf-8"))
    assert len(listed["stocks"]) == 2
    session.begin(seedling_riser())
    monkeypatch.setattr(
        QFileDialog, "getOpenFileName", lambda *a: (str(tmp_path / "sheets.json"), "")
    )
    window.actions_by_id["import-stocks"].trigger()
    qtbot.waitUntil(lambda: "Brought in" in window.ripple.says.text(), timeout=10_000)
    assert len(session.project.stocks) == 2


def test_a_damaged_list_of_sheets_is_told(
    window, session, qtbot, tmp_path, monkeypatch, warnings
):  # fmt: skip
    bad = tmp_path / "bad.json"
    bad.write_text("{}")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(bad), ""))
    before = session.project
    window.actions_by_id["import-stocks"].trigger()
    qtbot.waitUntil(lambda: bool(warnings), timeout=10_000)
    assert "not a list of stocks" in warnings[0][1]
    assert session.project is before


def test_every_button_and_field_of_the_new_steps_has_a_name(window, session):
    for step in (Step.STOCK, Step.CUTTER, Step.TEST, Step.FORECAST, Step.PRACTICE):
        session.navigation.go_to(step)
        page = window._steps[step]
        for widget in page.findChildren(QAbstractButton):
            assert widget.text() or widget.accessibleName(), widget
        for widget in page.findChildren(QLineEdit):
            assert widget.accessibleName() or not widget.isVisibleTo(page), widget
