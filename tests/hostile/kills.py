"""Windows killed while they save, keep unsaved work and recover it: nothing is ever lost.

    python tests/hostile/kills.py COUNT     so many kills while saving, and as many of the others
    python tests/hostile/kills.py --disk    the disk full at every single write

A child process works as a window does, and tells what it has done only after it was done; it is
killed at a random moment. Counted are kills after which something told was *lost*, a file was
*unreadable*, or work was offered as unsaved that the *same* file held.
"""

import errno
import os
import random
import signal
import sys
import tempfile
import time
from collections import Counter
from contextlib import contextmanager
from pathlib import Path

from anzel.core.findings import MakerError
from anzel.project.demos import herb_stand
from anzel.storage import project_file
from anzel.storage.recovery_store import RecoveryStore, recoverable_projects, remove_stray_files
from anzel.storage.version_store import VersionStore

LONGEST = 0.12
"""A child is killed after at most so many seconds."""
CALLS = ("open", "write", "fsync", "link", "replace", "unlink", "fchmod", "ftruncate")


def numbered(number):
    """A project that says which one it is."""
    return herb_stand().with_changes(name=str(number))


def saving(tell, folder, pick):
    """Save again and again; each number is told once it is saved."""
    path = folder / "mine.anzel"
    versions = VersionStore(folder / "versions")
    number = int(project_file.load(path).name) if path.exists() else 0
    while True:
        number += 1
        project_file.save(numbered(number), path)
        tell("saved", number)
        versions.keep(path)


def keeping(tell, folder, pick):
    """Recover what was left, then keep unsaved work, and save it now and then."""
    path, unsaved = folder / "mine.anzel", folder / "unsaved"
    remove_stray_files(unsaved)
    store = RecoveryStore(unsaved)
    left = recoverable_projects(unsaved)
    number = int(project_file.load(path).name) if path.exists() else 0
    if left:
        number = int(left[0].project().name)
        store.keep(left[0].project(), path)
        for each in left:
            each.discard()
    while True:
        number += 1
        if pick.random() < 0.3:
            project_file.save(numbered(number), path)
            store.clear()
            tell("saved", number)
        else:
            store.keep(numbered(number), path)
            tell("kept", number)


def child(work, folder, seed):
    """Work until it is killed. Returns what was told: "saved" or "kept" with the number."""
    reading, writing = os.pipe()
    number = os.fork()
    if number == 0:
        os.close(reading)
        random.seed(seed)
        try:
            work(
                lambda what, n: os.write(writing, f"{what} {n}\n".encode()), folder,
                random.Random(seed),
            )  # fmt: skip
        except BaseException as error:
            os.write(writing, f"failed {type(error).__name__}:{error}\n".encode())
        os._exit(1)
    os.close(writing)
    time.sleep(random.Random(-seed).uniform(0.0, LONGEST))
    os.kill(number, signal.SIGKILL)
    os.waitpid(number, 0)
    with os.fdopen(reading) as told:
        return [line.split(maxsplit=1) for line in told]


def wrong_after_saving(folder, told):
    """What went wrong: the file must hold what was told last, or the one after it."""
    path = folder / "mine.anzel"
    least = max((int(n) for what, n in told if what == "saved"), default=0)
    if not path.exists():
        return "lost" if least else ""
    try:
        found = int(project_file.load(path).name)
        for each in VersionStore(folder / "versions").of(path):
            each.project()
    except MakerError:
        return "unreadable"
    return "" if found in (least, least + 1) or not least else "lost"


def wrong_after_keeping(folder, told, before):
    """What went wrong: the newest state that was told must be saved, or be offered."""
    path = folder / "mine.anzel"
    saved = int(project_file.load(path).name) if path.exists() else 0
    try:
        offered = [int(each.project().name) for each in recoverable_projects(folder / "unsaved")]
    except MakerError:
        return "unreadable", before
    least = max([before, *(int(n) for what, n in told if what != "failed")])
    if max([saved, *offered]) < least:
        return "lost", least
    if saved in offered:
        return "same", least
    return "", least


def kill_many(count):
    """Kill so often while saving, and so often while keeping and recovering; tell what came out."""
    bad = Counter()
    for name, work in (("saving", saving), ("keeping and recovering", keeping)):
        ended, acts, before = Counter(), 0, 0
        with tempfile.TemporaryDirectory() as name_of_folder:
            folder = Path(name_of_folder)
            for seed in range(count):
                told = child(work, folder, seed + 1)
                acts += len(told)
                ended += Counter(each[1] for each in told if each[0] == "failed")
                if work is saving:
                    wrong = wrong_after_saving(folder, told)
                else:
                    wrong, before = wrong_after_keeping(folder, told, before)
                if wrong:
                    ended[wrong] += 1
        bad += ended
        print(f"{count} kills while {name}, after {acts} acts: {dict(ended) or 'nothing wrong'}")
    return bad.total()


@contextmanager
def full_disk(at):
    """The disk is full from the call number `at` on that writes; yields how many there were."""
    seen, kept = [0], {name: getattr(os, name) for name in CALLS}

    def failing(name):
        def call(*args, **kwargs):
            writes = name != "open" or (len(args) > 1 and args[1] & (os.O_CREAT | os.O_WRONLY))
            if writes and name != "unlink":
                seen[0] += 1
                if seen[0] > at:
                    raise OSError(errno.ENOSPC, "No space left on device")
            return kept[name](*args, **kwargs)

        return call

    for name in CALLS:
        setattr(os, name, failing(name))
    try:
        yield seen
    finally:
        for name, call in kept.items():
            setattr(os, name, call)


ACTS = {
    "save": lambda path, store, versions: project_file.save(numbered(2), path),
    "keep": lambda path, store, versions: store.keep(numbered(2), path),
    "version": lambda path, store, versions: versions.keep(path),
}


def with_disk_full(act, at):
    """Act with the disk full. Returns the writes there were, whether it was told, what is wrong."""
    told = bad = 0
    with tempfile.TemporaryDirectory() as name_of_folder:
        folder = Path(name_of_folder)
        path, store = folder / "mine.anzel", RecoveryStore(folder / "unsaved")
        project_file.save(numbered(1), path)
        store.keep(numbered(1), path)
        try:
            with full_disk(at) as seen:
                act(path, store, VersionStore(folder / "versions"))
        except MakerError as error:
            told = "No space left" in str(error)
        except OSError:
            bad += 1
        for file in (path, store.file):
            bad += int(project_file.load(file).name) not in (1, 2)
        store.close()
    return seen[0], told, bad


def fill_disk():
    """Try every act with the disk full from each of its writes on; tell what came out."""
    wrong = 0
    for name, act in ACTS.items():
        at = told = 0
        while True:
            writes, is_told, bad = with_disk_full(act, at)
            told, wrong = told + is_told, wrong + bad
            if writes <= at:
                break
            at += 1
        print(f"{name}: the disk full at each of {at} writes, {told} told, {wrong} wrong so far")
    return wrong


if __name__ == "__main__":
    sys.exit(1 if (fill_disk() if sys.argv[1] == "--disk" else kill_many(int(sys.argv[1]))) else 0)
