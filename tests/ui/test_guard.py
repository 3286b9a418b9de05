"""The window's guard: recovery offered, failures told and survived, other programs' writes asked
about."""

import sys
import threading
from pathlib import Path

import pytest
from PySide6.QtWidgets import QLabel, QMessageBox

from anzel.app.edits import project_edits
from anzel.app.navigation import Step
from anzel.app.settings import Settings
from anzel.storage import project_file
from anzel.storage.recovery_store import RecoveryStore, recoverable_projects
from anzel.ui import application
from anzel.ui.crash_safety import CrashSafety
from anzel.ui.versions_dialog import VersionsDialog


@pytest.fixture
def boxes(monkeypatch):
    """Message boxes that are not shown: their texts, and the answer they give."""
    shown, answer = [], {"text": "Open it"}

    def run(box):
        shown.append(f"{box.text()}\n{box.informativeText()}")
        box._answer = next((b for b in box.buttons() if b.text() == answer["text"]), None)

    monkeypatch.setattr(QMessageBox, "exec", run)
    monkeypatch.setattr(QMessageBox, "clickedButton", lambda box: box._answer)
    return shown, answer


@pytest.fixture
def guard(window, session, tmp_path):
    """A guard with folders of its own."""
    made = CrashSafety(window, session, tmp_path / "unsaved", tmp_path / "log" / "anzel.log")
    yield made
    made.release()


def leave(project, folder, path=None):
    """Leave unsaved work behind, as a killed window does."""
    import os

    store = RecoveryStore(folder)
    store.keep(project, path)
    os.close(store._lock)


@pytest.mark.parametrize("answer", ["Open it", "Keep it for later", "Throw it away"])
def test_left_work_is_offered(window, session, tmp_path, boxes, qtbot, answer):
    shown, choice = boxes
    choice["text"] = answer
    leave(
        project_edits.change_structure(session.project, height=141),
        tmp_path / "u",
        Path("/a/b.anzel"),
    )
    made = CrashSafety(window, session, tmp_path / "u", tmp_path / "log" / "anzel.log")
    made.offer_recovery()
    qtbot.waitUntil(lambda: bool(shown), timeout=5_000)
    own = made.autosave._store.file
    if answer == "Open it":
        assert own.exists() or recoverable_projects(tmp_path / "u"), "one copy is always there"
        qtbot.waitUntil(lambda: not recoverable_projects(tmp_path / "u"), timeout=5_000)
        assert own.exists()
    made.release()
    assert "was not saved" in shown[0]
    assert "/a/b.anzel" in shown[0]
    assert (session.project.structure.height == 141) == (answer == "Open it")
    assert bool(recoverable_projects(tmp_path / "u")) == (answer == "Keep it for later")


def test_a_failure_nobody_expected_is_told_logged_and_survived(
    guard, session, qtbot, boxes, tmp_path, capsys
):
    shown, _ = boxes
    session.change("Height", project_edits.change_structure(session.project, height=142))
    try:
        raise RuntimeError("unforeseen")
    except RuntimeError:
        sys.excepthook(*sys.exc_info())
    qtbot.waitUntil(lambda: bool(shown), timeout=5_000)
    assert "should not have" in shown[0]
    assert "RuntimeError: unforeseen" in shown[0]
    (kept,) = (tmp_path / "unsaved").glob("*.anzel")
    assert project_file.load(kept).structure.height == 142
    assert "RuntimeError: unforeseen" in (tmp_path / "log" / "anzel.log").read_text()
    thread = threading.Thread(target=lambda: 1 / 0)
    thread.start()
    thread.join()
    qtbot.waitUntil(lambda: len(shown) == 2, timeout=5_000)
    assert "ZeroDivisionError" in shown[1]
    assert "unforeseen" in capsys.readouterr().err
    session.change("Height", project_edits.change_structure(session.project, height=143))


def test_hooks_are_given_back(window, session, tmp_path):
    before = (sys.excepthook, threading.excepthook)
    CrashSafety(window, session, tmp_path / "u", tmp_path / "l.log").release()
    assert (sys.excepthook, threading.excepthook) == before


@pytest.mark.parametrize("answer", [QMessageBox.StandardButton.Save,
                                    QMessageBox.StandardButton.Cancel])  # fmt: skip
def test_saving_over_another_programs_change_is_asked(
    window, session, tmp_path, monkeypatch, answer
):
    path = tmp_path / "mine.anzel"
    session.save(path)
    theirs = project_file.to_bytes(session.project) + b" "
    path.write_bytes(theirs)
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda *a: asked.append(a[2]) or answer)
    session.change("Height", project_edits.change_structure(session.project, height=144))
    saved = window.commands.save()
    assert "changed by another program" in asked[0]
    assert saved == (answer == QMessageBox.StandardButton.Save)
    assert (path.read_bytes() == theirs) != saved
    if saved:
        assert (tmp_path / "mine.anzel.bak").read_bytes() == theirs


def test_earlier_versions_are_offered_with_what_differs(window, session, tmp_path, qtbot):
    path = tmp_path / "mine.anzel"
    for height in (130, 140, 150):
        session.change("Height", project_edits.change_structure(session.project, height=height))
        session.save(path)
    kept = session.versions.of(path)
    assert [each.project().structure.height for each in kept] == [150, 140, 130]
    dialog = VersionsDialog(window, session, window.jobs, kept)
    dialog.rows.setCurrentRow(1)
    qtbot.waitUntil(lambda: dialog.project is not None, timeout=10_000)
    assert "the structure" in dialog.says.text()
    assert "Upright" in dialog.says.text()
    dialog.accept()
    assert dialog.project.structure.height == 140
    dialog.deleteLater()


@pytest.mark.parametrize("at_start", [False, True])
def test_a_file_that_cannot_be_read_is_opened_from_its_versions(
    window, session, tmp_path, monkeypatch, qtbot, at_start
):
    path = tmp_path / "mine.anzel"
    session.save(path)
    path.write_bytes(b"PK damaged")

    def take(dialog):
        qtbot.waitUntil(lambda: dialog.project is not None, timeout=10_000)
        assert "not a whole Anzel project" in dialog.findChildren(QLabel)[1].text()
        return VersionsDialog.DialogCode.Accepted

    monkeypatch.setattr(VersionsDialog, "exec", take)
    name = session.project.name
    if at_start:
        application._open(window, session, Settings(tmp_path), path, Step.BUILD, may_warn=True)
    else:
        window.commands.open_path(path, ask=False)
    assert session.project.name == name
    assert session.is_dirty, "the file itself was not touched"
    assert path.read_bytes() == b"PK damaged"
