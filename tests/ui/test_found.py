"""Found drawings in the window: brought in, looked over, held, measured, and written back."""

import pytest
from PySide6.QtCore import QMimeData, QPointF, QRectF, Qt, QUrl
from PySide6.QtGui import (
    QColor,
    QDragEnterEvent,
    QDropEvent,
    QImage,
    QPainter,
    QPainterPath,
    QPen,
    QTransform,
)
from PySide6.QtWidgets import QApplication
from tests.common import HINGE
from tests.ui.acting import click, tick, type_into

from anzel.app.edits import drawing_edits
from anzel.app.navigation import Step
from anzel.app.selection import ThingKind
from anzel.project.derive import layout_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.refit.features import DrawnFeatureKind
from anzel.structure.forms.imported_drawing import ImportedDrawings
from anzel.structure.line_work import LineOperation
from anzel.ui.views.path_crowd import PathCrowd

BRACKET = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="300" height="200">'
    b'<path d="M20 20h200v80h-90v-60h-11.34v60h-98.66z"/>'
    b'<path d="M20 120h90v60h-30v-30h-11.34v30h-48.66z M60 125h12v11.34h-12z"/></svg>'
)


@pytest.fixture
def caddy(window, session, qtbot):
    """The seed caddy, shown."""
    session.begin(project_of("found"))
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    return window.build.panel.found


def first(session):
    return drawing_edits.drawing_views(session.project)[0]


def test_a_drawing_becomes_pieces_for_this_sheet(caddy, session):
    solved = solved_structure_of(session.project)
    assert len(solved.pieces) == 7
    assert not layout_of(session.project, "ply-3").findings
    assert "Made for 3.20 mm, now for 3.00" in caddy.panel.made_for.text()
    assert [row.text(0) for row in caddy.panel._rows()] == [
        "8 slots", "6 mortises", "6 tabs", "12 fingers", "2 holes",
    ]  # fmt: skip


def test_a_tick_holds_a_feature_its_like_and_a_whole_kind(caddy, session):
    slots = caddy.panel._rows()[0]
    slots.setExpanded(True)
    tick(slots.child(0), False, 0)
    assert set(first(session).drawing.held) == {"slot-1", "slot-3"}  # the same side twice
    tick(caddy.panel._rows()[2], False, 0)
    assert "tab" in first(session).drawing.held
    assert not any(d.moved for d in first(session).of_kind(DrawnFeatureKind.TAB))
    session.undo()
    session.undo()
    assert first(session).drawing.held == ()


def picked(session):
    thing = session.selection.one(ThingKind.FEATURE)
    return (thing.of, thing.name)


def test_features_are_picked_and_held_on_the_drawing_and_edges_measured(caddy, session, qtbot):
    view = caddy.view
    at, _, decision = view._paths.marks[3]
    click(qtbot, view, view.to_view(*at))
    assert picked(session) == ("seed caddy.svg", decision.feature.id)
    qtbot.keyClick(view, Qt.Key.Key_H)
    assert decision.feature.row in first(session).drawing.held
    qtbot.keyClick(view, Qt.Key.Key_Right)
    assert picked(session)[1] == view._paths.marks[4][2].feature.id
    longest = max(view.edges, key=lambda edge: edge.length)
    start, end, length = longest.start, longest.end, longest.length
    middle = view.to_view((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    assert f"{length:.2f} mm" in view._edge_words(middle)
    qtbot.mouseClick(
        view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier,
        view.to_view(*start).toPoint(),
    )  # fmt: skip
    view.hovered_at(view.to_view(*end))
    assert view._pointer == end
    view.hovered_at(QPointF(5, 5))
    qtbot.keyClick(view, Qt.Key.Key_Escape)
    assert view._from is None


def test_what_a_drawing_was_made_for_is_picked_from_the_sizes(caddy, session, qtbot):
    chart = caddy.panel.chart
    sixteen = next(i for i, e in enumerate(chart._sizes) if e.value == 16)
    click(qtbot, chart, chart._boxes()[sixteen].center())
    assert first(session).drawing.drawn == (3.2, 16.0)
    qtbot.keyClick(chart, Qt.Key.Key_Space)
    assert first(session).drawing.drawn == (3.2,)


def test_one_feature_takes_another_sheet_stays_elsewhere_and_gets_deeper(caddy, session, qtbot):
    caddy.pick("seed caddy.svg", "slot-1")
    box = caddy.feature.settings
    box.mate.activated.emit(box.mate.findData("ply-6"))
    by_id = {d.feature.id: d for d in first(session).refit.decisions}
    assert by_id["slot-1"].new == by_id["slot-3"].new == pytest.approx(6.05 - 0.15, abs=0.2)
    box.stays.activated.emit(1)
    assert "one side stays" in drawing_edits.decision_of(first(session), "slot-1").why
    type_into(qtbot, box.deep, "30")
    assert dict(first(session).drawing.depths) == {"slot-1": 30, "slot-3": 30}
    lows = [e.bounds[3] for e in first(session).refit.edges[0] if e is not None]
    assert len(lows) > 10
    assert "ply-6" in {stock.id for stock in session.project.stocks_in_use}


def test_drawings_are_brought_in_together_in_the_background(window, session, qtbot, tmp_path):
    paths = []
    for name in ("one.svg", "two.svg"):
        paths.append(tmp_path / name)
        paths[-1].write_bytes(BRACKET)
    window.commands.found.read_files(paths)
    qtbot.waitUntil(
        lambda: (
            session.project.structure.form == "found"
            and len(session.project.structure.drawings) == 2
        ),
        timeout=15_000,
    )
    assert session.navigation.step is Step.BUILD
    panel = window.build.panel.found.panel
    panel.choose("two.svg")
    assert "a guess" in panel.overall.text()
    assert panel.remarks.isVisible()
    panel.units.activated.emit(panel.units.findData("mm"))
    assert drawing_edits.drawing_views(session.project)[1].drawing.units == "mm"
    again = drawing_edits.remove_drawing(session.project, "one.svg")
    assert len(again.structure.drawings) == 1
    session.undo()
    session.undo()
    session.undo()
    assert session.project.structure.form != "found"


def test_a_file_that_is_none_is_refused_in_words(window, session, qtbot, tmp_path, warnings):
    path = tmp_path / "bad.svg"
    path.write_bytes(b"<svg><path d='M0 0'/></svg>")
    window.commands.found.read_files([path])
    qtbot.waitUntil(lambda: bool(warnings), timeout=15_000)
    assert "bad.svg" in warnings[0][1]
    assert session.project.structure.form != "found"


def test_stopped_reading_changes_nothing(window, session, qtbot, tmp_path):
    path = tmp_path / "one.svg"
    path.write_bytes(BRACKET)
    window.commands.found.read_files([path]).cancel()
    qtbot.wait(300)
    assert session.project.structure.form != "found"


def test_a_drawing_goes_back_to_a_file_like_the_one_that_came(
    caddy, window, session, qtbot, tmp_path
):
    path = tmp_path / "caddy for 3.svg"
    window.commands.found.write_to(first(session), path)
    qtbot.waitUntil(path.exists, timeout=15_000)
    again = drawing_edits.import_file(project_of("found"), "again.svg", path.read_bytes())
    shown = drawing_edits.drawing_views(again)[1]
    assert {d.feature.kind for d in shown.refit.decisions} == set(DrawnFeatureKind)
    assert path.read_bytes().count(b"<use") == 4
    assert isinstance(again.structure, ImportedDrawings)


def test_the_scale_of_found_drawings_is_a_size_of_the_whole(caddy, session):
    assert caddy.panel.isVisible()
    scaled = session.project.structure.scaled(2.0)
    assert scaled.scale == 2.0
    session.change("Twice", session.project.with_changes(structure=scaled))
    widths = [f.width.drawn for p in solved_structure_of(session.project).pieces for f in p.features
              if f.kind.value == "slot"]  # fmt: skip
    assert widths == pytest.approx([widths[0]] * 8)
    assert solved_structure_of(session.project).pieces[0].region.size[0] == pytest.approx(360)


def test_a_long_piece_is_split_and_made_whole_again(caddy, session):
    split = caddy.panel.split
    split.head.setChecked(True)
    assert split.piece.currentText().startswith("5: 188.0")
    split.hold.setCurrentIndex(1)
    split.take.click()
    assert len(solved_structure_of(session.project).pieces) == 10
    assert len(caddy.view._paths.pieces) == 10
    assert "cut it twice" in split.says.text()
    share = split.share
    share.edit.setText("2")
    share.edit.committed.emit("2")
    assert "0.05" in share.error
    split.whole.click()
    assert len(solved_structure_of(session.project).pieces) == 7


def test_drawings_are_dropped_on_the_window(window, session, qtbot, tmp_path):
    path = tmp_path / "one.svg"
    path.write_bytes(BRACKET)
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path)), QUrl.fromLocalFile(str(tmp_path / "a.txt"))])
    where, buttons = QPointF(300, 300), Qt.MouseButton.LeftButton
    action, keys = Qt.DropAction.CopyAction, Qt.KeyboardModifier.NoModifier
    entering = QDragEnterEvent(where.toPoint(), action, data, buttons, keys)
    window.dragEnterEvent(entering)
    assert entering.isAccepted()
    window.dropEvent(QDropEvent(where, action, data, buttons, keys))
    qtbot.waitUntil(lambda: session.project.structure.form == "found", timeout=15_000)
    assert [each.file.name for each in session.project.structure.drawings] == ["one.svg"]


def test_what_it_was_made_for_is_typed_with_how_far_sizes_may_be_off(caddy, session, qtbot):
    caddy.panel.typed.head.setChecked(True)
    type_into(qtbot, caddy.panel.drawn, "16")
    assert first(session).drawing.drawn == (16.0,)
    type_into(qtbot, caddy.panel.drawn, "1/8 in")
    assert first(session).drawing.drawn == (3.175,)
    assert len(first(session).refit.decisions) == 32
    type_into(qtbot, caddy.panel.within, "0.01")
    assert first(session).refit.decisions == ()
    assert "Made for 3.17" in caddy.panel.made_for.text()


def test_holes_are_held_when_the_whole_is_scaled_and_pieces_as_a_whole(caddy, session, qtbot):
    holes = caddy.panel._rows()[-1]
    holes.setExpanded(True)
    tick(holes.child(0), False, 0)
    assert first(session).drawing.held == ("hole-1",)
    larger = session.project.structure.scaled(1.5)
    session.change("Larger", session.project.with_changes(structure=larger))
    one, other = (first(session).refit.edges.get(h.loop) for h in first(session).refit.holes)
    assert one is not None
    assert other is None
    caddy.pick("seed caddy.svg", "slot-1")
    caddy.view.setFocus()
    qtbot.keyClick(caddy.view, Qt.Key.Key_P)
    assert "piece-1" in first(session).drawing.held
    qtbot.keyClick(caddy.view, Qt.Key.Key_P)
    assert "piece-1" not in first(session).drawing.held


def test_what_becomes_of_lines_on_pieces_is_asked_once_and_shown(window, session, qtbot):
    session.attempt(
        "Brought in", lambda p: drawing_edits.import_file(p, "hinge.svg", HINGE.encode())
    )  # fmt: skip
    QApplication.processEvents()
    panel = window.build.panel.found.panel.lines
    labels = {label.split("/")[0]: label for label in panel.choices}
    assert set(labels) == {"outline", "name", "engrave"}
    asked = panel.choices[labels["name"]]
    assert asked.currentText() == "not decided: left out"
    asked.setCurrentIndex(asked.findText("scored"))
    asked.activated.emit(asked.currentIndex())
    assert session.document.history.undoable == "Lines scored"
    (piece,) = solved_structure_of(session.project).pieces
    assert LineOperation.SCORE in {line.operation for line in piece.lines}
    again = panel.choices[labels["name"]]
    assert again.findText("not decided: left out") < 0
    assert LineOperation.SCORE in window.build.panel.found.view._paths.lines
    session.undo()
    assert session.project.structure.drawings[0].lines == ()


IN_DOUBT = """<svg xmlns="http://www.w3.org/2000/svg" width="240mm" height="180mm"
 viewBox="0 0 240 180"><path d="M10 10h100v60h-20v-30h-3v30h-17v-30h-3v30h-17v-30h-3v30h-37z"/>
 <path d="M130 10h90v70h-90z"/><path d="M10 100h100v40h-20v3h-20v-3h-20v3h-20v-3h-20z"/>
 <rect x="150" y="30" width="3" height="20"/><rect x="170" y="30" width="3" height="20"/>
 <path d="M190 32a1.5 1.5 0 0 1 3 0v18a1.5 1.5 0 0 1 -3 0z"/>
 <path d="M205 32a1.5 1.5 0 0 1 3 0v18a1.5 1.5 0 0 1 -3 0z"/><rect x="140" y="60" width="3"
 height="9"/><path d="M140 20l9 0" fill="none"/></svg>"""


@pytest.fixture
def doubtful(window, session, qtbot):
    """A drawing with two kinds of doubt, shown."""
    session.begin(drawing_edits.import_file(session.project, "d.svg", IN_DOUBT.encode()))
    qtbot.waitUntil(lambda: window.is_settled, timeout=15_000)
    return window.build.panel.found


def test_doubtful_features_are_asked_about_one_by_one_with_their_likes(doubtful, session):
    doubts = doubtful.panel.doubts
    assert not doubts.isHidden()
    assert "1 of 2" in doubts._title.text()
    asked = [d.decision.feature.id for d in doubts._doubts]
    assert (doubts.likes.text(), doubts.leave.text()) == ("and 1 other like it", "Leave: 3.00")
    for picture in doubts.pictures:
        assert picture.grab().toImage().pixelColor(3, 3).isValid()
    assert doubts.pictures[0]._path != doubts.pictures[1]._path, "two outcomes"
    doubts.later.click()
    assert doubts._doubts[doubts._at].decision.feature.id == asked[1]
    doubts.later.click()
    doubts.change.click()
    moved = {d.feature.id: d.moved for d in first(session).refit.decisions}
    assert all(moved[each] for each in ("mortise-3", "mortise-4"))
    assert not moved[asked[1]]
    doubts.leave.click()
    assert doubts.isHidden()
    assert asked[1] in first(session).drawing.held
    session.undo()
    assert not doubts.isHidden()


def test_an_edge_is_taken_for_what_the_maker_says_and_unused_lines_are_shown(doubtful, session):
    tab = next(d for d in first(session).refit.decisions if d.feature.kind is DrawnFeatureKind.TAB)
    doubtful.pick("d.svg", tab.feature.id)
    choice = doubtful.feature.settings.edge
    assert choice.currentText() == "Tabs: they go into mortises"
    choice.setCurrentIndex(choice.findText("Take it for fingers"))
    choice.activated.emit(choice.currentIndex())
    assert first(session).drawing.edges == (("edge-1", "fingers"),)
    assert {d.feature.kind for d in first(session).refit.decisions if d.feature.edge} == {
        DrawnFeatureKind.FINGER
    }
    assert doubtful.view._paths.unused


def test_paths_in_lots_look_as_each_on_its_own():
    paths = []
    for number in range(130):
        x, y = 4 + number % 20 * 9, 4 + number // 20 * 9
        path = QPainterPath(QPointF(x, y))
        path.lineTo(x + 5, y + 4)
        paths.append(path)

    def painted(paint):
        image = QImage(200, 80, QImage.Format.Format_ARGB32)
        image.fill("white")
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint(painter)
        painter.end()
        return image

    def each(painter):
        painter.setPen(QPen(QColor("black"), 1.8))
        for path in paths:
            painter.drawPath(path)

    def together(painter, transform):
        pen, view = QPen(QColor("black"), 1.8), QRectF(0, 0, 200, 80)
        for step in crowd.steps(transform, view, pen):
            step(painter)

    crowd, away = PathCrowd(paths), QTransform.fromTranslate(500, 0)
    assert painted(lambda p: together(p, QTransform())) == painted(each)
    assert painted(lambda p: together(p, away)) == painted(lambda p: None)
    assert crowd
    assert not PathCrowd()
    assert crowd.bounds == QRectF(4, 4, 176, 58)
