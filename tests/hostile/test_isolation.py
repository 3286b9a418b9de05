"""Readers read what is there and nothing else: nothing is run, fetched or opened beside it."""

import subprocess
import sys
import tempfile
from pathlib import Path

import pytest

from anzel.core.findings import MakerError
from anzel.project.demos import herb_stand
from anzel.storage.recovery_store import recoverable_projects

from .mutations import READERS, mutated, sound

WATCH = """
import sys
sys.path[:0] = [{folder!r}, {above!r}]
import mutations
from tests.hostile import test_isolation
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
test_isolation.reached()
print(told)
"""
SECRET = str(Path(tempfile.gettempdir()) / "anzel-secret")


def watched(script=WATCH):
    """What a process tells in which readers are watched by an audit hook (PEP 578)."""
    folder = Path(__file__).parent
    script = script.format(folder=str(folder), above=str(folder.parents[1]))
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    return done.stdout.strip().splitlines()[-1]


def reached():
    """Read drawings and meshes that ask for something elsewhere."""
    asks = f"""<?xml version="1.0"?>
<!DOCTYPE svg [<!ENTITY x SYSTEM "file://{SECRET}">]>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="50mm"
 height="50mm" viewBox="0 0 50 50"><text>&x;</text></svg>"""
    links = f"""<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"
 width="50mm" height="50mm" viewBox="0 0 50 50"><style>@import url(http://localhost:9/a.css);</style>
<script>fetch("http://localhost:9/")</script><image xlink:href="http://localhost:9/a.png"/>
<image xlink:href="file://{SECRET}"/><use xlink:href="http://localhost:9/b.svg#x"/>
<rect x="5" y="5" width="30" height="20" onload="alert(1)"/></svg>"""
    mesh = f"mtllib {SECRET}.mtl\nusemtl x\nv 0 0 0\nv 9 0 0\nv 0 9 0\nf 1 2 3\n"
    for reader, content in (
        *((reader, text) for text in (asks, links) for reader in ("svg", "svg cut", "svg lines")),
        ("obj", mesh),
    ):
        try:
            READERS[reader][1](content.encode())
        except MakerError:
            pass


def test_no_reader_fetches_runs_or_opens_anything_else():
    assert watched() == "[]"


def test_the_watch_would_notice(tmp_path):
    """The hook does see what it is there for."""
    (tmp_path / "secret").write_text("x")
    seen = str(tmp_path / "secret")
    opens = WATCH.replace("\ntest_isolation.reached()", f"\nopen({seen!r}).close()")
    assert f"open {seen}" in watched(opens)


def test_sound_content_is_read_as_what_it_is():
    """The control of the mutations: unchanged, every reader finds what was written."""
    read = {name: reader(sound(kind)) for name, (kind, reader) in READERS.items()}
    project = herb_stand()
    assert read["project"] == project
    assert read["stocks"].stocks == project.stocks
    assert [item.count for item in read["puzzle"].items] == [3]
    assert [len(read[name].pieces) for name in ("svg cut", "dxf cut")] == [8, 6]
    assert read["svg"].size == pytest.approx((100, 80), abs=1)
    assert [read[name].height for name in ("stl", "obj", "ply", "3mf")] == pytest.approx([40] * 4)


@pytest.mark.parametrize("seed", range(20))
def test_work_left_behind_and_gone_bad_is_passed_over(seed, tmp_path):
    (tmp_path / "1-a.anzel").write_bytes(mutated("project", seed))
    for each in recoverable_projects(tmp_path):
        assert each.name
