"""What lies on a plate, in the window: lettering, artwork, motifs, inlays, hinges, their fields."""

import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMessageBox
from tests.ui.acting import type_into

from anzel.app.edits import stock_edits
from anzel.app.navigation import Step
from anzel.app.selection import Thing, ThingKind
from anzel.core.typeface import lettering_font
from anzel.output import export
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.structure.artwork.records import LetterStyle, Repeated
from anzel.structure.line_work import LineOperation, LineWish
from anzel.ui.widgets import artwork_fields, artwork_panel

ART = (
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 60 30" width="60mm" height="30mm">'
    '<g id="vein"><path d="M0 15H60"/></g><g id="rim"><path d="M0 5H60V25H0Z"/></g></svg>'
)


@pytest.fixture
def panel(window, session, qtbot):
    """The lines on the top of a lantern."""
    session.begin(project_of("lantern"))
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    session.selection.pick(Thing(ThingKind.PIECE, "Top"))
    return window.build.panel._page(ThingKind.PIECE).artwork


@pytest.fixture
def leaf(tmp_path):
    (tmp_path / "leaf.svg").write_text(ART)
    return tmp_path / "leaf.svg"


def choose(panel, key, text):
    """Choose by its words."""
    choice = panel.item.choices[key]
    at = choice.findText(text, Qt.MatchFlag.MatchContains)
    assert at >= 0
    choice.setCurrentIndex(at)
    choice.activated.emit(at)


def last(session):
    return session.project.structure.own_artwork[-1]


def act(panel, title):
    """Choose from the menu of what can be added, by its words."""
    actions = [*panel.add_menu.menu().actions()]
    actions += [each for action in actions if action.menu() for each in action.menu().actions()]
    next(action for action in actions if action.text() == title).trigger()


def test_lettering_and_artwork_are_put_on_a_piece_of_a_form(panel, window, session, qtbot, leaf):
    act(panel, "Lettering")
    panel.item.text.setText("")
    qtbot.keyClicks(panel.item.text, "Fern")
    qtbot.keyClick(panel.item.text, Qt.Key.Key_Return)
    assert last(session).text == "Fern"
    type_into(qtbot, panel.item.fields["y"], "25")
    assert last(session).y == 25
    panel.bring(leaf)
    label = next(label for label in panel.item.choices if "vein" in label)
    choose(panel, label, "scored")
    assert dict(last(session).wishes) == {label: LineWish.SCORE}
    panel.item.checks["mirrored"].click()
    assert last(session).mirrored
    session.navigation.draw("Top")
    assert LineOperation.SCORE in window.build.sketch.view._lines
    panel.item._take_off()
    qtbot.waitUntil(lambda: len(session.project.structure.own_artwork) == 1, timeout=3000)
    act(panel, "Living hinge")
    type_into(qtbot, panel.item.fields["inner_radius"], "25")
    assert last(session).inner_radius == 25
    assert "rows of slits" in panel.item.told.text()


def test_letters_are_outlines_of_any_font_and_cut_as_a_stencil(
    panel, session, qtbot, tmp_path, monkeypatch
):  # fmt: skip
    act(panel, "Lettering")
    choose(panel, "style", "outlines")
    choose(panel, "operation", "cut")
    assert last(session).style is LetterStyle.OUTLINES
    type_into(qtbot, panel.item.fields["bridge"], "2")
    assert last(session).bridge == 2
    type_into(qtbot, panel.item.fields["y"], "-30")
    type_into(qtbot, panel.item.fields["height"], "12")
    assert len(solved_structure_of(session.project).piece("Top").region.holes) > 10
    (tmp_path / "own.ttf").write_bytes(lettering_font())
    monkeypatch.setattr(artwork_fields, "choose_file", lambda *_: tmp_path / "own.ttf")
    panel.item._choose_font()
    assert last(session).font.name == "own.ttf"
    (tmp_path / "own.ttf").write_bytes(b"none")
    panel.item._choose_font()
    assert session.status.text.startswith("▲ ")
    session.undo()
    assert last(session).font is None


def test_a_motif_goes_round_the_border_and_along_an_edge(panel, session, qtbot):
    act(panel, "Blossom")
    assert last(session).repeated is Repeated.BORDER
    type_into(qtbot, panel.item.fields["pitch"], "14")
    choose(panel, "repeated", "along an edge")
    choose(panel, "edge", "left")
    assert (last(session).repeated, last(session).edge) == (Repeated.EDGE, "left")
    assert "inset" in panel.item.fields
    session.undo()
    assert last(session).edge == "bottom"


def test_an_inlay_takes_sheets_a_gap_and_stands_in_its_plate(
    panel, window, session, qtbot, leaf, monkeypatch
):  # fmt: skip
    session.attempt("Sheet", lambda p: stock_edits.add_stock(p, p.stocks[0]))
    monkeypatch.setattr(artwork_panel, "choose_file", lambda *_: leaf)
    act(panel, "Inlay from a file…")
    type_into(qtbot, panel.item.fields["width"], "20")
    type_into(qtbot, panel.item.fields["y"], "-35")
    solved = solved_structure_of(session.project)
    (insert,) = [piece for piece in solved.pieces if piece.name.startswith("Top L1.")]
    choose(panel, "fit", "as typed")
    type_into(qtbot, panel.item.fields["gap"], "0.1")
    assert last(session).gap == pytest.approx(0.1)
    choose(panel, "fit", "gap of press")
    assert (last(session).gap, last(session).fit) == (None, "press")
    rim = next(label for label in panel.item.choices if "rim" in label)
    choose(panel, rim, session.project.stocks[0].name)
    again = solved_structure_of(session.project).piece(insert.name)
    assert again.stock_id == session.project.stocks[0].id
    panel.item.checks["shared"].click()
    assert last(session).shared
    session.selection.pick(Thing(ThingKind.PIECE, insert.name))
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    assert window.build.panel._page(ThingKind.PIECE).isVisible()


def test_a_picture_is_engraved_on_either_face(panel, window, session, qtbot, tmp_path, monkeypatch):
    Image.new("L", (20, 10), 40).save(tmp_path / "dark.png")
    monkeypatch.setattr(artwork_panel, "choose_file", lambda *_: tmp_path / "dark.png")
    act(panel, "Picture from a file…")
    type_into(qtbot, panel.item.fields["width"], "30")
    choose(panel, "face", "on the back")
    (picture,) = solved_structure_of(session.project).piece("Top").pictures
    assert (picture.width, picture.height, picture.is_back) == (30, 15, True)
    session.navigation.go_to(Step.SHEETS)
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    assert not window.sheets.grab().isNull()
    session.undo()
    (picture,) = solved_structure_of(session.project).piece("Top").pictures
    assert not picture.is_back


def test_a_file_that_cannot_hold_a_picture_is_asked_about(
    panel, window, session, qtbot, tmp_path, monkeypatch
):  # fmt: skip
    Image.new("L", (20, 10), 40).save(tmp_path / "dark.png")
    panel.engrave_picture(tmp_path / "dark.png")
    asked = []
    answers = [QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Save]
    monkeypatch.setattr(QMessageBox, "question", lambda *a: (asked.append(a[2]), answers.pop(0))[1])
    pages = export.structure_pages(session.project)
    exports = window.commands.cutting
    for exists in (False, True):
        exports._put(session.project, pages, tmp_path / "cut.dxf")
        if exists:
            qtbot.waitUntil((tmp_path / "cut.dxf").exists, timeout=10_000)
        assert (tmp_path / "cut.dxf").exists() is exists
    assert "holds no pictures" in asked[0]
