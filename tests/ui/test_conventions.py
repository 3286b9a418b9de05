"""What every desktop program does: find, history, files handed over, standard keys, folders."""

import os
import socket
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from tempfile import mkdtemp

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QKeySequence
from PySide6.QtWidgets import QFileDialog

from anzel.app.edits import project_edits
from anzel.app.navigation import Step
from anzel.app.search import Kind, search
from anzel.app.session import Session
from anzel.project.demos import DEMOS
from anzel.storage import project_file
from anzel.ui import instances, main_window
from anzel.ui.file_choice import PROJECTS, choose_file, choose_target
from anzel.ui.find_dialog import FindDialog
from anzel.ui.history_dialog import HistoryDialog
from anzel.ui.incoming_files import take_files

STANDARD = {
    "new-form": "New", "open": "Open", "save": "Save", "undo": "Undo", "redo": "Redo",
    "find": "Find", "close": "Close", "quit": "Quit", "zoom-in": "ZoomIn", "zoom-out": "ZoomOut",
    "full-screen": "FullScreen", "help": "HelpContents",
}  # fmt: skip


@pytest.mark.parametrize(("action", "standard"), STANDARD.items())
def test_standard_keys_do_the_standard_thing(window, action, standard):
    usual = QKeySequence.keyBindings(getattr(QKeySequence.StandardKey, standard))
    if usual:
        assert window.actions_by_id[action].shortcut() == usual[0]


def test_find_goes_to_joints_pieces_sizes_sheets_and_commands(window, session, qtbot):
    assert [m.kind for m in search(session, "j2")] == [Kind.JOINT]
    dialog = FindDialog(window, session, window.places.go_to_match)
    qtbot.addWidget(dialog)
    qtbot.keyClicks(dialog.typed, "arch")
    qtbot.keyClick(dialog.typed, Qt.Key.Key_Return)
    assert window.build.fields["arch"].edit.hasFocus()
    for text, kind in (("top", Kind.PIECE), ("birch ply 6", Kind.STOCK), ("j3", Kind.JOINT)):
        match = next(m for m in search(session, text) if m.kind is kind)
        window.places.go_to_match(match)
    assert session.selection.joint_id == "J3"
    assert session.selection.stock_id == "birch-6"
    window.places.go_to_match(next(m for m in search(session, "sheets") if m.id == "step-sheets"))
    assert session.navigation.step is Step.SHEETS
    assert search(session, "no such thing") == []


def test_the_history_is_a_list_one_can_go_back_in(window, session, qtbot):
    for height in (120, 130, 140):
        session.change("Height", project_edits.change_structure(session.project, height=height))
    dialog = HistoryDialog(window, session)
    qtbot.addWidget(dialog)
    assert [dialog.rows.item(at).text() for at in range(4)] == ["As it was opened", *["Height"] * 3]
    dialog.go_to(1)
    assert session.project.structure.height == 120
    assert session.document.history.redoable == "Height"
    dialog.go_to(3)
    assert session.project.structure.height == 140


def test_files_are_taken_in_by_their_kind(window, session, qtbot, tmp_path, warnings):
    window.commands.may_leave = lambda: True
    path = tmp_path / "acorn.anzel"
    project_file.save(next(demo for demo in DEMOS if demo.name == "acorn").make(), path)
    drawing = tmp_path / "plate.svg"
    drawing.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60">'
        '<path d="M0 0H90V60H46.5V30H43.5V60H0Z"/></svg>'
    )
    take_files(window.commands, session, [path, tmp_path / "notes.odt"])
    assert session.document.path == path
    assert "notes.odt" in session.status.text
    take_files(window.commands, session, [drawing])
    qtbot.waitUntil(lambda: session.project.structure.has_drawings, timeout=15_000)
    take_files(window.commands, session, [tmp_path / "photo.png"])
    assert "no profile" in warnings[0][1]


def test_a_window_takes_what_another_start_hands_over(
    window, session, qtbot, tmp_path, monkeypatch
):
    monkeypatch.setenv("XDG_RUNTIME_DIR", mkdtemp())
    path = tmp_path / "mine.anzel"
    project_file.save(session.project, path)
    assert not instances.hand_over(path, tmp_path), "nobody is there"
    taken, opened = [], []
    server = instances.SingleInstanceServer(window, tmp_path, taken.append)
    assert server.is_open
    with ThreadPoolExecutor() as starts:  # another start is another process
        answer = starts.submit(instances.hand_over, path, tmp_path)
        qtbot.waitUntil(answer.done, timeout=5_000)
        assert answer.result()
    assert taken == [path]
    server.close()
    monkeypatch.setattr(main_window, "open_window", opened.append)
    window.take_file(path)
    assert (session.document.path, opened) == (path, [])
    window.take_file(path)
    assert opened == [path], "a window with a project of its own keeps it"


def test_nobody_else_can_stand_where_windows_meet(window, qtbot, tmp_path, monkeypatch):
    """Without a private runtime folder the address lies in the maker's own state folder."""
    shared = tmp_path / "shared"
    shared.mkdir(mode=0o777)
    shared.chmod(0o777)
    monkeypatch.setenv("XDG_RUNTIME_DIR", str(shared))
    monkeypatch.setenv("XDG_STATE_HOME", mkdtemp())
    taken = []
    server = instances.SingleInstanceServer(window, tmp_path, taken.append)
    assert server.is_open
    assert list(shared.iterdir()) == []
    (address,) = Path(os.environ["XDG_STATE_HOME"]).rglob("*.socket")
    assert address.parent.stat().st_mode & 0o777 == 0o700
    for message in (b"\xff" * 8, b"\0\0\0", b"/tmp/a\n/tmp/b\n", b"\0\0\0\1\0\0\0\0\1\0"):
        with socket.socket(socket.AF_UNIX) as connection:
            connection.connect(str(address))
            connection.sendall(message)
            qtbot.wait(50)
    assert taken == [], "a message that is no path opens nothing"
    odd = Path(os.fsdecode(b"/tmp/caf\xe9\nlamp.anzel"))
    with ThreadPoolExecutor() as starts:
        answer = starts.submit(instances.hand_over, odd, tmp_path)
        qtbot.waitUntil(answer.done, timeout=5_000)
    assert taken == [odd]
    server.close()


def test_a_fresh_session_is_untouched_until_something_is_done(project):
    session = Session(project)
    assert session.is_untouched
    session.change("Height", project_edits.change_structure(project, height=150))
    session.undo()
    assert not session.is_untouched


def test_each_kind_of_file_is_looked_for_where_the_last_one_was(window, tmp_path, monkeypatch):
    folder = tmp_path / "projects"
    folder.mkdir()
    asked = []

    def answer(parent, title, start, *_):
        asked.append(start)
        return str(folder / "a.anzel"), ""

    monkeypatch.setattr(QFileDialog, "getOpenFileName", answer)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", answer)
    choose_file(window, "Open", PROJECTS)
    choose_target(window, "Save", "b.anzel", PROJECTS)
    assert asked == ["", str(folder.resolve() / "b.anzel")]
