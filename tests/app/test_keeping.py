"""Nothing is lost: autosave and recovery, kills at any moment, full disks, other programs, logs."""

import errno
import faulthandler
import os
import random
import signal
import subprocess
import sys
import time

import pytest

from anzel.app import autosave, log_setup
from anzel.app.edits import project_edits
from anzel.app.session import Session
from anzel.project.demos import herb_stand
from anzel.storage import atomic_file, project_file
from anzel.storage.recovery_store import RecoveryStore, recoverable_projects

WORK = """
import sys
from pathlib import Path
from anzel.app.edits import project_edits
from anzel.app.session import Session
from anzel.storage.recovery_store import RecoveryStore
from anzel.project.demos import herb_stand

folder = Path(sys.argv[1])
session, refuge = Session(herb_stand()), RecoveryStore(folder / "unsaved")
for number in range(1, 4000):
    height = 80 + number / 100
    session.change("Height", project_edits.change_structure(session.project, height=height))
    refuge.keep(session.project, folder / "mine.anzel")
    print("kept", height, flush=True)
    session.save(folder / "mine.anzel")
    print("saved", height, flush=True)
"""


def height_of(project):
    return project.structure.height


@pytest.mark.parametrize("seed", range(8))
def test_a_killed_process_never_leaves_less_than_it_said(tmp_path, seed):
    """A real process, killed at a random moment: the file is whole and no older than the last save
    it told of, so is the backup, and so is what was kept unsaved."""
    command = [sys.executable, "-c", WORK, str(tmp_path)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as process:
        lines = [process.stdout.readline()]
        time.sleep(random.Random(seed).uniform(0.0, 0.25))
        process.send_signal(signal.SIGKILL)
        lines += process.stdout.read().splitlines()
    told = [line.split() for line in lines if len(line.split()) == 2]
    saved = [float(height) for word, height in told if word == "saved"]
    kept = [float(height) for word, height in told if word == "kept"]
    if saved:
        assert height_of(project_file.load(tmp_path / "mine.anzel")) >= saved[-1]
    if len(saved) > 1:
        backup = tmp_path / "mine.anzel.bak"
        assert height_of(project_file.from_bytes(backup.read_bytes())) >= saved[-2]
    mine = tmp_path / "mine.anzel"
    in_file = height_of(project_file.load(mine)) if mine.exists() else 0.0
    offered = recoverable_projects(tmp_path / "unsaved")
    if kept[-1] > in_file:
        assert offered, "what was told to be kept is offered"
    for found in offered:
        assert height_of(found.project()) >= kept[-1]
        assert height_of(found.project()) != in_file, "what is saved is never offered"
        assert found.saved_as == mine
        found.discard()
    assert recoverable_projects(tmp_path / "unsaved") == ()


def settled(keeper, wait=5.0):
    """Wait for the autosave under way."""
    end = time.monotonic() + wait
    while keeper._working and time.monotonic() < end:
        time.sleep(0.01)


@pytest.fixture
def keeper(session, tmp_path):
    """An autosave of a session, and its folder."""
    made = autosave.Autosave(session, RecoveryStore(tmp_path / "unsaved"), lambda call: call())
    yield made, tmp_path / "unsaved"
    made.close()


def test_unsaved_work_is_kept_until_it_is_saved(keeper, session, tmp_path):
    made, folder = keeper
    made.tick()
    assert not folder.exists(), "nothing is unsaved"
    session.change("Height", project_edits.change_structure(session.project, height=133))
    made.tick()
    settled(made)
    (file,) = folder.glob("*.anzel")
    assert recoverable_projects(folder) == (), "its window lives"
    assert height_of(project_file.load(file)) == 133
    session.save(tmp_path / "mine.anzel")
    made.tick()
    assert list(folder.glob("*.anzel")) == []


def test_recovered_work_counts_as_unsaved_and_knows_its_file(session, tmp_path):
    path = tmp_path / "mine.anzel"
    session.save(path)
    higher = project_edits.change_structure(session.project, height=140)
    store = RecoveryStore(tmp_path / "unsaved")
    store.keep(higher, path)
    os.close(store._lock)  # as the system does when a process ends
    store._lock = None
    (found,) = recoverable_projects(tmp_path / "unsaved")
    session.recover(found.project(), found.saved_as)
    assert (session.is_dirty, session.document.path, height_of(session.project)) == (
        True,
        path,
        140,
    )
    session.save()
    assert not session.is_dirty
    (tmp_path / "unsaved" / "x.anzel").write_bytes(b"not a project")
    assert recoverable_projects(tmp_path / "unsaved") == (), "what is saved is not offered"


@pytest.mark.parametrize("meanwhile", ["touched", "restored", "saved by another window", "removed"])
def test_what_differs_from_the_file_is_offered_whatever_the_times_say(tmp_path, meanwhile):
    path, project = tmp_path / os.fsdecode(b"caf\xe9\n.anzel"), herb_stand()
    project_file.save(project, path)
    store = RecoveryStore(tmp_path / "unsaved")
    store.keep(project_edits.change_structure(project, height=140), path)
    os.close(store._lock)  # as the system does when a process ends
    store._lock = None
    if meanwhile == "touched":
        os.utime(path)
    elif meanwhile == "restored":
        os.utime(path, (0, 0))
    elif meanwhile == "removed":
        path.unlink()
    else:
        project_file.save(project_edits.change_structure(project, height=120), path)
    (offered,) = recoverable_projects(tmp_path / "unsaved")
    assert (height_of(offered.project()), offered.saved_as) == (140, path)


def test_work_is_kept_when_the_clock_goes_back(keeper, session, monkeypatch):
    made, folder = keeper
    for height, clock in ((133, 2e9), (134, 1e9)):
        monkeypatch.setattr(time, "time", lambda clock=clock: clock)
        session.change("Height", project_edits.change_structure(session.project, height=height))
        made.tick()
        settled(made)
        (file,) = folder.glob("*.anzel")
        assert height_of(project_file.load(file)) == height
        session.undo()
        made.tick()
        assert list(folder.glob("*.anzel")) == [], "nothing is unsaved any more"


def test_a_folder_that_cannot_be_written_is_said_once(session, tmp_path):
    (tmp_path / "file").write_text("in the way")
    made = autosave.Autosave(session, RecoveryStore(tmp_path / "file" / "x"), lambda call: call())
    session.change("Height", project_edits.change_structure(session.project, height=133))
    for _ in range(2):
        made.tick()
        settled(made)
    assert "not kept safe" in session.status.text
    made.close()


@pytest.mark.parametrize("where", ["fsync", "replace", "fdopen"])
def test_a_full_disk_costs_nothing_but_the_attempt(session, tmp_path, monkeypatch, where):
    path = tmp_path / "mine.anzel"
    session.save(path)
    before = path.read_bytes()
    session.change("Height", project_edits.change_structure(session.project, height=150))

    def full(*args, **kwargs):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(atomic_file.os, where, full)
    with pytest.raises(atomic_file.FileError, match="No space left"):
        session.save()
    monkeypatch.undo()
    assert path.read_bytes() == before
    assert session.is_dirty
    assert [p.name for p in tmp_path.iterdir() if p.name.startswith(".")] == []
    session.save()
    assert height_of(project_file.load(path)) == 150


def test_a_file_another_program_wrote_is_noticed(session, tmp_path):
    path = tmp_path / "mine.anzel"
    assert not session.document.changed_outside
    session.save(path)
    assert not session.document.changed_outside
    path.write_bytes(project_file.to_bytes(herb_stand()) + b" ")
    assert session.document.changed_outside
    session.save()
    assert not session.document.changed_outside
    path.unlink()
    assert session.document.changed_outside
    opened = Session(herb_stand())
    opened.save(path)
    opened.open(path)
    assert not opened.document.changed_outside


def test_what_a_killed_process_left_half_written_is_swept_away(tmp_path):
    """...and nothing else: other programs' files stay, however much they look like ours."""
    work = (
        "import os, sys; from pathlib import Path\n"
        "from anzel.storage import atomic_file as atomic\n"
        "with atomic._temporary(Path(sys.argv[1])): os.kill(os.getpid(), 9)"
    )
    target = tmp_path / "cut.svg"
    subprocess.run([sys.executable, "-c", work, str(target)], check=False)
    (ours,) = tmp_path.glob(".anzel-*")
    token = ours.name.split("-")[1]
    theirs = [".cut.svg.swp", ".cut.svg.abc", f".anzel-{token}-{'0' * 16}.part", ".anzel.part"]
    for name in theirs:
        (tmp_path / name).write_bytes(b"theirs")
        os.utime(tmp_path / name, (1, 1))
    with atomic_file._temporary(target) as (held, _):
        atomic_file.write_atomically(target, b"whole")
        assert held.exists(), "somebody writes it right now"
        assert not ours.exists()
    assert sorted(p.name for p in tmp_path.iterdir()) == sorted([*theirs, "cut.svg"])


def test_the_log_leaves_a_fault_handler_that_was_on_before_alone(tmp_path):
    assert faulthandler.is_enabled(), "pytest switched it on"
    log_setup.start_logging(tmp_path / "log" / "anzel.log")
    log_setup.stop_logging()
    assert faulthandler.is_enabled()


def test_the_log_tells_what_failed_and_where(tmp_path):
    path = log_setup.start_logging(tmp_path / "log" / "anzel.log")
    try:
        log_setup.log_line("Opened\nlamp.anzel")
        try:
            raise ValueError("unforeseen")
        except ValueError:
            text = log_setup.log_failure(sys.exc_info())
    finally:
        log_setup.stop_logging()
    written = path.read_text(encoding="utf-8")
    assert "INFO Opened lamp.anzel" in written
    assert "ValueError: unforeseen" in text
    assert "test_keeping.py" in written
    (tmp_path / "taken").write_text("")
    assert log_setup.start_logging(tmp_path / "taken" / "x.log") is None
