"""Writing and reading whole files: links, owners, names, pipes, what is private, what is swept."""

import errno
import os
import stat
import threading

import pytest

from anzel.app.settings import Settings
from anzel.app.worker import wait_for_threads
from anzel.project.demos import herb_stand
from anzel.storage import atomic_file, stock_library
from anzel.storage.atomic_file import (
    FileError,
    ReadOnlyFileError,
    backup_path,
    read_whole,
    write_atomically,
)
from anzel.storage.recovery_store import RecoveryStore, recoverable_projects, remove_stray_files
from anzel.storage.stock_library import Rack

TOO_LARGE = FileError("too large")


def mode_of(path):
    return stat.S_IMODE(path.stat().st_mode)


def test_a_link_stays_and_the_file_it_names_is_written(tmp_path):
    (tmp_path / "kept").mkdir()
    real, link = tmp_path / "kept" / "stand.anzel", tmp_path / "stand.anzel"
    real.write_bytes(b"old")
    link.symlink_to(real)
    write_atomically(link, b"new", keep_backup=True)
    assert link.is_symlink()
    assert real.read_bytes() == b"new"
    assert backup_path(real).read_bytes() == b"old"
    dangling = tmp_path / "dangling"
    dangling.symlink_to(tmp_path / "kept" / "later")
    write_atomically(dangling, b"now")
    assert (tmp_path / "kept" / "later").read_bytes() == b"now"


def test_permissions_owner_and_attributes_stay(tmp_path):
    path = tmp_path / "mine"
    path.write_bytes(b"old")
    path.chmod(0o640)
    if os.geteuid() == 0:
        os.chown(path, 1234, 1234)
    try:
        os.setxattr(path, "user.anzel", b"kept")
        attributes = {"user.anzel": b"kept"}
    except OSError:  # the file system knows none
        attributes = {}
    write_atomically(path, b"new")
    assert mode_of(path) == 0o640
    if os.geteuid() == 0:
        assert (path.stat().st_uid, path.stat().st_gid) == (1234, 1234)
    assert {name: os.getxattr(path, name) for name in attributes} == attributes


def test_a_read_only_file_is_refused_until_it_is_said(tmp_path):
    path = tmp_path / "mine"
    path.write_bytes(b"old")
    path.chmod(0o444)
    with pytest.raises(ReadOnlyFileError, match="read-only"):
        write_atomically(path, b"new")
    assert path.read_bytes() == b"old"
    write_atomically(path, b"new", even_read_only=True)
    assert path.read_bytes() == b"new"


@pytest.mark.parametrize("length", [240, 242, 250, 251, 252, 255])
@pytest.mark.parametrize("letter", ["a", "ä"])
def test_names_as_long_as_they_can_be_are_saved_again_and_again(tmp_path, length, letter):
    name = (letter * 255)[: length // len(letter.encode())]
    path = tmp_path / name
    for content in (b"1", b"2", b"3"):
        write_atomically(path, content, keep_backup=True)
    assert path.read_bytes() == b"3"
    assert backup_path(path).read_bytes() == b"2"
    assert len(list(tmp_path.iterdir())) == 2


def test_pipes_and_devices_are_no_files(tmp_path):
    pipe = tmp_path / "pipe.svg"
    os.mkfifo(pipe)
    ended = threading.Event()

    def run():
        for path in (pipe, "/dev/zero", tmp_path):
            with pytest.raises(FileError, match=r"no file|directory"):
                read_whole(type(tmp_path)(path), 1000, TOO_LARGE)
            with pytest.raises(FileError, match="no file"):
                write_atomically(type(tmp_path)(path), b"x")
        ended.set()

    threading.Thread(target=run, daemon=True).start()
    assert ended.wait(5), "it hangs"
    (tmp_path / "long").write_bytes(bytes(1001))
    with pytest.raises(FileError, match="too large"):
        read_whole(tmp_path / "long", 1000, TOO_LARGE)


@pytest.mark.parametrize("where", ["_flush_folder", "remove_stray_temporaries"])
def test_tidying_that_fails_does_not_say_that_nothing_was_saved(tmp_path, monkeypatch, where):
    def fail(*args):
        raise OSError(errno.EACCES, "Permission denied")

    monkeypatch.setattr(atomic_file, where, fail)
    write_atomically(tmp_path / "mine", b"new")
    assert (tmp_path / "mine").read_bytes() == b"new"


def test_what_is_ours_is_for_its_owner_only(tmp_path):
    store = RecoveryStore(tmp_path / "state" / "unsaved")
    store.keep(herb_stand(), None)
    assert (mode_of(store.file), mode_of(store.file.parent)) == (0o600, 0o700)
    assert mode_of(store.file.with_suffix(".lock")) == 0o600
    (tmp_path / "open").mkdir(mode=0o755)
    settings = Settings(tmp_path / "open")
    settings.remember(store.file)
    assert wait_for_threads(10)
    assert (mode_of(tmp_path / "open" / "settings.json"), mode_of(tmp_path / "open")) == (
        0o600, 0o700,
    )  # fmt: skip
    stock_library.add_to_library(Rack(herb_stand().stocks))
    library = stock_library.library_path()
    assert (mode_of(library), mode_of(library.parent)) == (0o600, 0o700)
    store.close()


def test_locks_and_halves_that_a_killed_window_left_are_swept_at_the_start(tmp_path):
    dead, alive = RecoveryStore(tmp_path), RecoveryStore(tmp_path)
    for refuge in (dead, alive):
        refuge.keep(herb_stand(), None)
    dead.file.unlink()
    os.close(dead._lock)  # as the system does when a process ends
    dead._lock = None
    half = tmp_path / atomic_file._TEMPORARY.format(
        token="0" * 16, proof=atomic_file._proof("0" * 16)
    )
    half.write_bytes(b"half")
    remove_stray_files(tmp_path)
    assert sorted(tmp_path.iterdir()) == sorted([alive.file, alive.file.with_suffix(".lock")])
    alive.close()
    assert list(tmp_path.iterdir()) == []


def test_a_state_that_was_overtaken_by_a_save_is_not_kept(tmp_path):
    store = RecoveryStore(tmp_path)
    asked_before = store.request()
    store.clear()
    store.keep(herb_stand(), None, asked_before)
    assert not store.file.exists()
    store.keep(herb_stand(), None)
    assert store.file.exists()
    assert recoverable_projects(tmp_path) == (), "its window lives"
    store.close()
