"""Readers read what is there and nothing else: nothing is run, fetched or opened beside it."""

import subprocess
import sys
from pathlib import Path

import pytest

from anzel.output.export import render, structure_pages
from anzel.project.demos import herb_stand
from anzel.project.derive import solved_structure_of
from anzel.storage.recovery_store import recoverable_projects

from .mutations import READERS, mutated, sound

WATCH = """
import sys
sys.path.insert(0, {folder!r})
import asking, mutations
for kind, read in mutations.READERS.values():
    read(mutations.sound(kind))  # everything is loaded before it is watched
told = []
FORBIDDEN = ("socket.", "subprocess.", "os.system", "os.exec", "os.posix_spawn", "urllib.",
             "http.", "ftplib.", "webbrowser.", "pickle.find_class", "ctypes.dlopen")

def watch(event, arguments):
    if event.startswith(FORBIDDEN):
        told.append(event)
    elif event == "open" and "secret" in str(arguments[0]):
        told.append(f"open {{arguments[0]}}")

sys.addaudithook(watch)
asking.ask()
print(told)
"""


def watched(script=WATCH):
    """What a process tells in which readers are watched by an audit hook (PEP 578)."""
    script = script.format(folder=str(Path(__file__).parent))
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    return done.stdout.strip().splitlines()[-1]


def test_no_reader_fetches_runs_or_opens_anything_else():
    assert watched() == "[]"


def test_the_watch_would_notice(tmp_path):
    """The hook does see what it is there for."""
    (tmp_path / "secret").write_text("x")
    seen = str(tmp_path / "secret")
    opens = WATCH.replace("\nasking.ask()", f"\nopen({seen!r}).close()")
    assert f"open {seen}" in watched(opens)


def test_sound_content_is_read_as_what_it_is():
    """The control of the mutations: unchanged, every reader finds what was written."""
    read = {name: reader(sound(kind)) for name, (kind, reader) in READERS.items()}
    project = herb_stand()
    assert read["project"] == project
    assert read["stocks"].stocks == project.stocks
    assert [item.count for item in read["puzzle"].items] == [3]
    assert [read[name].height for name in ("stl", "obj", "ply", "3mf")] == pytest.approx([40] * 4)


def test_cut_files_of_both_formats_are_read_as_what_was_written():
    project = herb_stand()
    pages = structure_pages(project)
    files = {kind: render(pages, project.pens, f".{kind}") for kind in ("svg", "dxf")}
    cut, lines, found = (
        [READERS[f"{kind}{how}"][1](content) for kind, content in files.items()]
        for how in (" cut", " lines", "")
    )
    pieces = sum(piece.count for piece in solved_structure_of(project).pieces)
    assert [len(each.pieces) for each in cut] == [pieces, pieces]
    assert len(lines[0]) == len(lines[1])
    assert found[0].size == pytest.approx(found[1].size, abs=1e-6)


@pytest.mark.parametrize("seed", range(30))
def test_work_left_behind_and_gone_bad_is_passed_over(seed, tmp_path):
    (tmp_path / "1-a.anzel").write_bytes(mutated("project", seed))
    for each in recoverable_projects(tmp_path):
        assert each.name
