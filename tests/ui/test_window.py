"""The window as a maker uses it: real widgets, real keys, a real display."""

import gc
from functools import partial
from time import monotonic

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QAbstractButton,
    QFileDialog,
    QMessageBox,
)
from tests.ui.acting import click, marks_of, type_into

from anzel.app.edits import project_edits, stock_edits
from anzel.app.navigation import Step
from anzel.materials.fits import FitName, KerfAt
from anzel.materials.stock import SheetSize
from anzel.output.svg_writer import svg_bytes
from anzel.project.demos import herb_stand
from anzel.project.derive import derived_test_piece
from anzel.storage import project_file
from anzel.test_pieces.model import TestPieceKind
from anzel.ui.commands import Commands
from anzel.ui.housekeeping import Housekeeping
from anzel.ui.widgets.stock_strip import StockCard

SMALL = SheetSize(width=165, height=125)


def flat_mark(window, joint):
    """Where a joint's first mark is in the flat view."""
    flat = window.build.flat
    for laid in flat._content.plan.placed:
        for feature in laid.piece.features:
            if feature.joint == joint:
                return flat._at(laid, feature)
    raise AssertionError(joint)


def test_it_opens_on_the_build_step_with_everything_in_sight(window):
    assert window.build.isVisible()
    assert "Herb-pot stand" in window.windowTitle()
    cards = window.findChildren(StockCard)
    assert [card.accessibleName() for card in cards] == [
        "Birch ply 3, 2.94 ± 0.01, slot drawn 2.83 mm",
        "Birch ply 6, 5.86 ± 0.02, slot drawn 5.71 mm",
    ]
    assert "all 3 joints go together" in window.ripple.proof.text()


def test_a_joint_picked_in_the_flat_view_is_picked_everywhere(window, qtbot, session):
    click(qtbot, window.build.flat, flat_mark(window, "J3"))
    assert session.selection.joint_id == "J3"
    assert window.build.panel.line.title.text() == "J3  Upright B → Top"
    assert window.build.standing._picked == ("J3",)
    assert "Top, mortise width" in window.build.panel.joint.lens.accessibleDescription()


def test_a_joint_picked_in_the_standing_view_is_picked_everywhere(window, qtbot, session):
    marks = marks_of(window.build.standing)
    click(qtbot, window.build.standing, marks["J2"])
    assert session.selection.joint_id == "J2"
    assert window.build.flat._content.picked == {"J2"}


def test_a_joint_picked_in_the_list_is_picked_everywhere(window, session):
    rows = window.build.panel.whole.joints
    rows.itemActivated.emit(rows.item(1))
    assert session.selection.joint_id == "J2"
    assert window.build.fields["tab_width"].isVisible()
    assert not window.build.fields["split"].isVisible()


def test_typing_a_size_changes_all_views_and_tells_the_ripple(window, qtbot, session):
    before = window.build.flat._content.plan
    type_into(qtbot, window.build.fields["foot_span"], "160")
    assert session.project.structure.foot_span == 160
    assert "Foot span 150 → 160" in window.ripple.says.text()
    assert window.build.flat._content.plan != before
    qtbot.waitUntil(lambda: window.is_settled, timeout=10_000)


def test_a_size_can_be_typed_in_inches_and_stepped_with_the_arrows(window, qtbot, session):
    field = window.build.fields["height"]
    type_into(qtbot, field, "4.5 in")
    assert session.project.structure.height == pytest.approx(114.3)
    qtbot.keyClick(field.edit, Qt.Key.Key_Up)
    assert session.project.structure.height == pytest.approx(115.3)
    qtbot.keyClick(field.edit, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    assert session.project.structure.height == pytest.approx(115.2)


@pytest.mark.parametrize(
    ("name", "typed", "words"),
    [
        ("foot_span", "900", "Between 42 and 464.5 will do"),
        ("height", "tall", "There is no number “tall” here"),
        ("arch", "-3", "must be at least 0"),
        ("top_diameter", "0", "must be more than 0"),
    ],
)
def test_what_cannot_be_is_said_at_the_field_and_nothing_changes(
    window, qtbot, session, name, typed, words
):
    field, before = window.build.fields[name], session.project
    type_into(qtbot, field, typed)
    assert words in field.error
    assert field._error.isVisible()
    assert field.edit.text() == typed
    assert session.project is before
    qtbot.keyClick(field.edit, Qt.Key.Key_Escape)
    assert field.error == ""
    assert field.edit.text() == f"{getattr(before.structure, name):g}"


def test_an_error_goes_when_the_value_is_mended(window, qtbot):
    field = window.build.fields["foot_span"]
    type_into(qtbot, field, "900")
    type_into(qtbot, field, "170")
    assert field.error == ""


def test_a_size_on_the_drawing_leads_to_its_field(window, qtbot):
    box, name = window.build.flat._chips[0]
    click(qtbot, window.build.flat, box.center())
    assert window.build.fields[name].edit.hasFocus()


def test_undo_and_redo_by_keys(window, qtbot, session):
    field = window.build.fields["height"]
    type_into(qtbot, field, "120")
    qtbot.keyClick(field.edit, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.project.structure.height == 110
    assert field.edit.text() == "110"
    both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    qtbot.keyClick(field.edit, Qt.Key.Key_Z, both)
    assert session.project.structure.height == 120


def test_readings_are_typed_one_after_the_other(window, qtbot, session):
    window.actions_by_id["add-reading"].trigger()
    assert session.navigation.step is Step.STOCK
    reading = window.stock.reading
    assert reading.edit.hasFocus()
    for text in ("2.96", "0.118 in"):
        qtbot.keyClicks(reading.edit, text)
        qtbot.keyClick(reading.edit, Qt.Key.Key_Return)
    assert session.project.stocks[0].readings == (2.93, 2.95, 2.94, 2.96, pytest.approx(2.9972))
    assert reading.edit.text() == ""
    assert "slots" in window.ripple.says.text()


@pytest.mark.parametrize(("typed", "words"), [("0", "more than 0"), ("thick", "not a length")])
def test_a_bad_reading_is_said_at_its_field(window, qtbot, session, typed, words):
    session.navigation.go_to(Step.STOCK)
    type_into(qtbot, window.stock.reading, typed)
    assert words in window.stock.reading.error
    assert len(session.project.stocks[0].readings) == 3


def test_a_reading_is_taken_out_with_delete(window, qtbot, session):
    session.navigation.go_to(Step.STOCK)
    readings = window.stock._readings
    readings.setCurrentRow(0)
    qtbot.keyClick(readings, Qt.Key.Key_Delete)
    assert session.project.stocks[0].readings == (2.95, 2.94)


def test_a_kerf_wider_than_the_slot_is_said_at_the_kerf(window, qtbot, session):
    session.navigation.go_to(Step.CUTTER)
    type_into(qtbot, window.cutter.fields["kerf"], "3.4")
    assert "wider than the slot" in window.cutter.fields["kerf"].error


def test_fit_and_kerf_place_are_chosen_in_the_strip_and_by_keys(window, qtbot, session):
    names = {b.accessibleName(): b for b in window.findChildren(QAbstractButton)}
    qtbot.mouseClick(names["Fit slide"], Qt.MouseButton.LeftButton)
    assert session.project.fits.in_use is FitName.SLIDE
    qtbot.keyClick(window, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
    assert session.project.fits.in_use is FitName.SNUG
    qtbot.mouseClick(names["Kerf at the cutter"], Qt.MouseButton.LeftButton)
    assert session.project.kerf_at is KerfAt.CUTTER
    window.actions_by_id["kerf-place"].trigger()
    assert session.project.kerf_at is KerfAt.DRAWING
    window.actions_by_id["kerf-place"].trigger()
    assert session.project.kerf_at is KerfAt.PATH


def test_a_press_fit_is_told_as_biting(window, qtbot, session):
    session.change("press", project_edits.choose_fit(session.project, "press"))
    qtbot.waitUntil(lambda: "bites" in window.ripple.proof.text(), timeout=10_000)


def test_without_opengl_the_rest_works_and_the_view_says_what_is_missing(window, qtbot, session):
    from anzel.scene.renderer import RendererError

    window.build.standing._cannot_draw(RendererError("needs OpenGL 3.3", hint="Rest works."))
    assert "needs OpenGL" in window.build.standing.missing
    type_into(qtbot, window.build.fields["height"], "120")
    assert session.project.structure.height == 120
    assert window.build.standing.is_drawn


def test_the_comb_follows_its_fields_and_its_slots_can_be_picked(window, qtbot, session):
    session.navigation.go_to(Step.TEST)
    type_into(qtbot, window.test.fields["count"], "5")
    type_into(qtbot, window.test.fields["start"], "2.75")
    assert derived_test_piece(session.project, "birch-3", TestPieceKind.COMB).steps[0].value == 2.75
    window.test.view.joint_picked.emit("S1", False)
    assert "2.750" in window.test.lens.accessibleDescription()
    qtbot.mouseClick(window.test._centre, Qt.MouseButton.LeftButton)
    assert session.project.test_pieces.settings(TestPieceKind.COMB).start is None


def tap(qtbot, window, *feels):
    """Tap what the slots felt like, one after the other from the first."""
    names = {b.accessibleName(): b for b in window.test.feel.findChildren(QAbstractButton)}
    window.test.view.joint_picked.emit("S1", False)
    for feel in feels:
        qtbot.mouseClick(names[f"This slot: {feel}"], Qt.MouseButton.LeftButton)


def test_a_comb_is_felt_slot_by_slot_and_taken_over(window, qtbot, session):
    """The comb is 2.68, 2.73 ... 2.98; 2.88 feels snug, so c = 2.88 + 0.16 - 2.94 = 0.10."""
    session.navigation.go_to(Step.TEST)
    tap(qtbot, window, "won't", "won't", "press", "press", "snug", "slides", "loose")
    assert "For snug draw 2.88: clearance 0.100" in window.test.feel.lesson.text()
    assert "2 slots on 2 pieces, 2.83 → 2.88" in window.test.feel.lesson.text()
    assert "J1 Upright B: slot width 2.83 → 2.88" in window.test.feel.where.text()
    assert session.project.fits.snug == 0.05
    window.actions_by_id["looser"].trigger()
    assert "For slide draw 2.93" in window.test.feel.lesson.text()
    window.actions_by_id["tighter"].trigger()
    qtbot.mouseClick(window.test.feel.take, Qt.MouseButton.LeftButton)
    assert session.project.clearance_in("birch-3") == pytest.approx(0.10)
    assert session.project.clearance_in("birch-6") == 0.05
    assert [trial.stock_id for trial in session.project.trials] == ["birch-3", "birch-3"]
    assert session.project.in_hand == ()
    session.undo()
    assert session.project.clearance_in("birch-3") == 0.05
    assert len(session.project.in_hand[0].felt) == 7


def test_a_comb_that_contradicts_itself_is_pointed_at_and_not_taken(window, qtbot, session):
    session.navigation.go_to(Step.TEST)
    tap(qtbot, window, "snug", "press")
    assert "a wider one cannot feel tighter" in window.test.feel.lesson.text()
    assert not window.test.feel.take.isEnabled()


def test_a_colour_two_operations_share_is_refused(window, session):
    session.navigation.go_to(Step.SHEETS)
    pens = session.project.pens
    from anzel.cutjob.operations import Operation

    window.sheets.file.pens.set_colour(Operation.SCORE, pens.outer.colour)
    assert "same colour" in window.ripple.says.text()
    window.sheets.file.pens.set_colour(Operation.SCORE, "#123456")
    assert session.project.pens.score.colour == "#123456"


def test_a_cut_file_is_written_in_the_background(window, qtbot, session, tmp_path, monkeypatch):
    path = tmp_path / "cut"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    session.navigation.go_to(Step.SHEETS)
    qtbot.mouseClick(window.sheets.file.write, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: session.status.text.startswith("Written"), timeout=10_000)
    from anzel.output.export import structure_pages

    expected = svg_bytes(structure_pages(session.project), session.project.pens)
    assert (tmp_path / "cut.svg").read_bytes() == expected


def test_one_of_several_sheets_can_be_written(window, session):
    small = stock_edits.change_stock(
        session.project, "birch-3", sheets=(SheetSize(width=165, height=125),)
    )
    session.change("Small sheets", small)
    session.navigation.go_to(Step.SHEETS)
    which = window.sheets.file.which
    texts = [which.itemText(i) for i in range(which.count())]
    assert "Only Birch ply 3, sheet 2" in texts
    which.setCurrentIndex(texts.index("Only Birch ply 3, sheet 2"))
    assert (window.sheets.file.stock_id, window.sheets.file.sheet) == ("birch-3", 2)
    which.setCurrentIndex(0)
    assert (window.sheets.file.stock_id, window.sheets.file.sheet) == (None, None)


def test_a_cut_file_that_cannot_be_written_is_told(window, qtbot, tmp_path, monkeypatch, warnings):
    path = tmp_path / "none" / "cut.svg"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    window.actions_by_id["write-test-piece"].trigger()
    qtbot.waitUntil(lambda: bool(warnings), timeout=10_000)
    assert "could not be written" in warnings[0][1]


def test_saving_and_opening_through_the_dialogs(window, session, tmp_path, monkeypatch):
    path = tmp_path / "mine"
    session.change("Height", project_edits.change_structure(session.project, height=120))
    assert window.isWindowModified()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    window.actions_by_id["save"].trigger()
    assert not window.isWindowModified()
    session.begin(herb_stand())
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (f"{path}.anzel", ""))
    window.actions_by_id["open"].trigger()
    assert session.project.structure.height == 120
    window._fill_recent()
    assert "mine.anzel" in window._recent.actions()[0].text()


def test_a_damaged_file_is_told_and_nothing_is_lost(window, session, tmp_path, warnings):
    bad = tmp_path / "bad.anzel"
    bad.write_bytes(b"junk")
    before = session.project
    window.commands.open_path(bad)
    assert "not a whole Anzel project" in warnings[0][1]
    assert session.project is before


@pytest.mark.parametrize(
    ("answer", "leaves"), [("Save", True), ("Discard", True), ("Cancel", False)]
)
def test_unsaved_changes_are_asked_about(window, session, tmp_path, monkeypatch, answer, leaves):
    session.save(tmp_path / "a.anzel")
    session.change("Height", project_edits.change_structure(session.project, height=120))
    button = QMessageBox.StandardButton[answer]
    monkeypatch.setattr(QMessageBox, "question", lambda *a: button)
    commands = Commands(window, session, window._settings, window.jobs, window.jobs)
    assert commands.may_leave() is leaves
    height = project_file.load(tmp_path / "a.anzel").structure.height
    assert height == (120 if answer == "Save" else 110)


def test_pages_are_made_while_nothing_is_asked_for(window, qtbot, session):
    assert set(window.pages) == {Step.BUILD}
    pages = Housekeeping(window)
    qtbot.waitUntil(lambda: not pages._loading.is_alive(), timeout=60_000)
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_Control)
    pages._look()
    assert set(window.pages) == {Step.BUILD}, "the maker is at work"
    qtbot.waitUntil(lambda: pages.is_over, timeout=60_000)
    assert set(window.pages) == set(Step)
    assert session.navigation.step is Step.BUILD


def test_garbage_is_collected_while_the_maker_rests_for_long(window, qtbot, monkeypatch):
    keeping = Housekeeping(window)
    qtbot.waitUntil(lambda: keeping.is_over, timeout=60_000)
    done, new = [], [50_000]
    monkeypatch.setattr(gc, "get_count", lambda: (new[0], 0, 0))
    for each in ("collect", "freeze", "unfreeze"):
        monkeypatch.setattr(gc, each, partial(done.append, each))

    def look(rested):
        done.clear()
        keeping._last_act = monotonic() - rested
        keeping._look()
        return list(done)

    assert look(0) == []
    assert look(2) == ["collect", "freeze"]
    new[0] = 150_000
    assert look(2) == [], "that takes a tenth of a second: not in a short rest"
    assert look(10) == ["collect", "freeze"]
    new[0] = 300_000
    assert look(0) == look(10) == ["freeze"], "too many: they stay until the maker is away"
    new[0] = 0
    assert look(10) == []
    assert look(100) == ["unfreeze", "collect", "freeze"], "the maker is away"
    assert look(100) == [], "once is enough"


def test_a_page_that_is_not_seen_catches_up_when_it_is(window, session):
    session.navigation.go_to(Step.STOCK)
    page, stock = window.stock, session.project.stocks[0]
    shown = page.line.title.text()
    session.navigation.go_to(Step.BUILD)
    session.attempt("Name", lambda p: stock_edits.change_stock(p, stock.id, name="Lime 4 mm"))
    assert page.line.title.text() == shown, "it is not seen"
    session.navigation.go_to(Step.STOCK)
    assert page.line.title.text() == "Lime 4 mm"


def test_what_did_not_change_is_not_painted_again(window, session, qtbot, monkeypatch):
    flat, painted = window.build.flat, []
    pieces = flat._pieces
    monkeypatch.setattr(flat, "_pieces", lambda: [painted.append(1), *pieces()][1:])
    flat.repaint()
    painted.clear()
    session.selection.pick_joint("J1")
    flat.repaint()
    assert painted == [], "picking paints over what is there"
    flat.zoom(1.2)
    flat.repaint()
    assert painted == [1]
