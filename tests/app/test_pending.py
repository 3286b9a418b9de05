"""Changes that take a while: pending, joined, taken back, finished before saving."""

import threading

import pytest
from tests.told import in_mm

from anzel.app.background import Background
from anzel.app.edits import project_edits
from anzel.app.session import Session
from anzel.core.findings import MakerError
from anzel.storage import project_file


class Mail:
    """What background work delivers, kept until it is opened."""

    def __init__(self):
        self.calls, self.came = [], threading.Event()

    def __call__(self, call):
        self.calls.append(call)
        self.came.set()

    def open(self):
        assert self.came.wait(20)
        self.came.clear()
        while self.calls:
            self.calls.pop(0)()


@pytest.fixture
def slow(project, gate):
    """A session whose changes are pending until the gate is opened, and its mail."""
    mail = Mail()
    session, work, layer = Session(project), Background(mail), Background(mail)
    session.work_in(work, layer)
    yield session, mail
    gate.set()
    work.close()
    layer.close()


def taller(session, height):
    session.attempt(f"Height {height}", lambda p: project_edits.change_structure(p, height=height))


def test_a_change_that_takes_long_is_pending_and_arrives(slow, gate, project):
    session, mail = slow
    taller(session, 120)
    assert session.is_working
    assert session.project == project
    assert session.project_with_pending.structure.height == 120
    assert session.pending_edit == "Height 120"
    gate.set()
    while session.is_working:
        mail.open()
    assert session.project.structure.height == 120
    assert session.document.history.undoable == "Height 120"
    session.undo()
    while session.is_working:
        mail.open()
    assert session.project == project


def test_changes_meanwhile_add_to_the_pending_one_and_are_one_step_to_undo(slow, gate, project):
    session, mail = slow
    taller(session, 120)
    session.attempt("Span", lambda p: project_edits.change_structure(p, foot_span=210))
    gate.set()
    while session.is_working:  # what was overtaken is delivered too, and comes to nothing
        mail.open()
    found = session.project.structure
    assert (found.height, found.foot_span) == (120, 210)
    assert session.document.history.undoable == "Height 120, Span"
    session.undo()
    while session.is_working:
        mail.open()
    assert session.project == project
    mail.calls.clear()


def test_going_back_waits_for_what_is_shown_and_counts_every_step(project, monkeypatch, gate):
    session, mail = Session(project), Mail()
    gate.set()
    for height in (120, 130, 140):
        taller(session, height)
    gate.clear()
    work, layer = Background(mail), Background(mail)
    session.work_in(work, layer)
    session.undo()
    session.undo()
    assert session.is_working
    assert session.project.structure.height == 140, "what is shown is worked out first"
    gate.set()
    while session.is_working:
        mail.open()
    assert session.project.structure.height == 120
    assert session.document.history.redoable == "Height 130"
    session.redo()
    while session.is_working:
        mail.open()
    assert session.project.structure.height == 130
    work.close()
    layer.close()


def test_undo_drops_what_is_pending(slow, gate, project):
    session, mail = slow
    taller(session, 120)
    session.undo()
    assert not session.is_working
    assert session.status.text == "Undone: Height 120"
    gate.set()
    mail.came.wait(1)
    while mail.calls:
        mail.calls.pop(0)()
    assert session.project == project


def test_a_pending_change_that_cannot_be_leaves_the_project_as_it_was(slow, gate, project):
    session, mail = slow
    taller(session, 9999)
    assert session.is_working
    gate.set()
    while session.is_working:
        mail.open()
    assert session.project == project
    assert "Height 9999 is more than possible" in in_mm(session.status.text)


def test_saving_waits_for_what_is_pending(slow, gate, tmp_path):
    session, _ = slow
    taller(session, 120)
    threading.Timer(0.2, gate.set).start()
    session.save(tmp_path / "stand.anzel")
    assert project_file.load(tmp_path / "stand.anzel").structure.height == 120
    assert not session.is_dirty


def test_saving_says_if_what_is_pending_cannot_be(slow, gate, tmp_path, project):
    session, _ = slow
    taller(session, 9999)
    gate.set()
    with pytest.raises(MakerError):
        session.save(tmp_path / "stand.anzel")
    assert session.project == project
    assert not (tmp_path / "stand.anzel").exists()


def test_after_closing_changes_are_made_at_once(slow, gate):
    session, _ = slow
    gate.set()
    session._changes_in.close()
    taller(session, 120)
    assert session.project.structure.height == 120
