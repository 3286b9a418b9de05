"""Every reader against content that went bad: it is read, or refused in words; never a crash, and
nothing is run or fetched."""

import json
import subprocess
import sys
import tempfile
from functools import lru_cache
from pathlib import Path

import pytest
import trimesh
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from anzel.core.findings import MakerError
from anzel.drawings.reader import read_drawing
from anzel.output.cut_file_reader import parse_cut_file, read_lines
from anzel.output.export import render, structure_pages
from anzel.output.nesting_json import read_problem
from anzel.project.demos import herb_stand
from anzel.project.derive import solved_structure_of
from anzel.storage import project_file, stock_library
from anzel.storage.mesh_reader import read_mesh
from anzel.storage.recovery_store import recoverable_projects


def from_file(reader, ending):
    """A reader of paths as one of content."""

    def read(content):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / f"found{ending}"
            path.write_bytes(content)
            return reader(path)

    return read


def drawing(ending):
    """The reader of found drawings."""
    return lambda content: read_drawing(content, f"found{ending}")


@lru_cache
def sound(kind):
    """Sound content of a kind."""
    project = herb_stand()
    if kind == "project":
        return project_file.to_bytes(project)
    if kind in (".svg", ".dxf"):
        return render(structure_pages(project), project.pens, kind)
    if kind == "stocks":
        records = [stock.model_dump(mode="json") for stock in project.stocks]
        return json.dumps({"anzel-stocks": 1, "stocks": records, "cutters": []}).encode()
    if kind == "puzzle":
        piece = {"name": "a", "outline": [[0, 0], [9, 0], [9, 7], [0, 7]], "count": 3}
        return json.dumps({"sheets": [{"width": 40, "height": 30}], "pieces": [piece]}).encode()
    mesh = trimesh.creation.icosphere(subdivisions=1, radius=30)
    content = mesh.export(file_type=kind[1:])
    return content if isinstance(content, bytes) else content.encode()


READERS = {
    "project": ("project", project_file.from_bytes),
    "stocks": ("stocks", from_file(stock_library.load_rack, ".json")),
    "puzzle": ("puzzle", read_problem),
    "cut svg": (".svg", lambda content: parse_cut_file(content, ".svg")),
    "cut dxf": (".dxf", lambda content: parse_cut_file(content, ".dxf")),
    "svg lines": (".svg", lambda content: read_lines(content, ".svg")),
    "dxf lines": (".dxf", lambda content: read_lines(content, ".dxf")),
    "found svg": (".svg", drawing(".svg")),
    "found dxf": (".dxf", drawing(".dxf")),
    "stl": (".stl", from_file(read_mesh, ".stl")),
    "obj": (".obj", from_file(read_mesh, ".obj")),
    "ply": (".ply", from_file(read_mesh, ".ply")),
}
HOSTILE = [b"", b"\0" * 40, b"<", b"{", b"-1e999", b"nan", b"\xff\xfe", b"&x;", b"9" * 60, b"]]>"]
wounds = st.lists(
    st.tuples(st.floats(0, 1), st.integers(0, 40), st.sampled_from(HOSTILE)), min_size=1, max_size=6
)


def wounded(content, cuts):
    """Content with stretches taken out and hostile ones put in."""
    for where, length, put in cuts:
        at = int(where * len(content))
        content = content[:at] + put + content[at + length :]
    return content


@pytest.mark.parametrize("name", READERS)
@given(cuts=wounds)
@settings(max_examples=30, suppress_health_check=[HealthCheck.too_slow])
def test_bad_content_is_read_or_refused_in_words(name, cuts):
    kind, read = READERS[name]
    try:
        read(wounded(sound(kind), cuts))
    except MakerError as error:
        assert error.message.strip()
        assert "Traceback" not in str(error)


@given(cuts=wounds)
@settings(max_examples=30)
def test_work_left_behind_and_gone_bad_is_passed_over(cuts):
    with tempfile.TemporaryDirectory() as folder:
        (Path(folder) / "1-a.anzel").write_bytes(wounded(sound("project"), cuts))
        for each in recoverable_projects(Path(folder)):
            assert each.name


WATCH = """
import sys
from importlib.util import module_from_spec, spec_from_file_location

spec = spec_from_file_location("fuzz", {path!r})
fuzz = module_from_spec(spec)
spec.loader.exec_module(fuzz)
for kind, read in fuzz.READERS.values():
    read(fuzz.sound(kind))  # everything is loaded before it is watched
told = []
FORBIDDEN = ("socket.", "subprocess.", "os.system", "os.exec", "os.posix_spawn", "urllib.",
             "http.", "ftplib.", "webbrowser.", "pickle.find_class", "ctypes.dlopen")

def watch(event, arguments):
    if event.startswith(FORBIDDEN):
        told.append(event)
    elif event == "open" and "secret" in str(arguments[0]):
        told.append(f"open {{arguments[0]}}")

sys.addaudithook(watch)
fuzz.reached()
print(told)
"""
SECRET = str(Path(tempfile.gettempdir()) / "anzel-secret")


def reached():
    """Read drawings and projects that ask for something elsewhere."""
    asks = f"""<?xml version="1.0"?>
<!DOCTYPE svg [<!ENTITY x SYSTEM "file://{SECRET}">]>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="50mm"
 height="50mm" viewBox="0 0 50 50"><text>&x;</text></svg>"""
    links = f"""<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"
 width="50mm" height="50mm" viewBox="0 0 50 50"><style>@import url(http://localhost:9/a.css);</style>
<script>fetch("http://localhost:9/")</script><image xlink:href="http://localhost:9/a.png"/>
<image xlink:href="file://{SECRET}"/><use xlink:href="http://localhost:9/b.svg#x"/>
<rect x="5" y="5" width="30" height="20" onload="alert(1)"/></svg>"""
    for text in (asks, links):
        for read in (READERS["cut svg"][1], READERS["found svg"][1], READERS["svg lines"][1]):
            try:
                read(text.encode())
            except MakerError:
                pass
    obj = f"mtllib {SECRET}.mtl\nusemtl x\nv 0 0 0\nv 9 0 0\nv 0 9 0\nf 1 2 3\n"
    try:
        READERS["obj"][1](obj.encode())
    except MakerError:
        pass


def test_no_reader_fetches_runs_or_opens_anything_else():
    """Watched by an audit hook (PEP 578) in a process of its own."""
    script = WATCH.format(path=__file__)
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert done.stdout.strip().splitlines()[-1] == "[]"


def test_the_watch_would_notice(tmp_path):
    """The hook does see what it is there for."""
    (tmp_path / "secret").write_text("x")
    seen = str(tmp_path / "secret")
    script = WATCH.format(path=__file__).replace("\nfuzz.reached()", f"\nopen({seen!r}).close()")
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True)
    assert f"open {seen}" in done.stdout, done.stderr


def test_sound_content_is_read_as_what_it_is():
    """The control of the fuzz: without a wrong byte every reader finds what was written."""
    read = {name: reader(sound(kind)) for name, (kind, reader) in READERS.items()}
    project = herb_stand()
    assert read["project"] == project
    assert read["stocks"].stocks == project.stocks
    assert [item.count for item in read["puzzle"].items] == [3]
    pieces = sum(piece.count for piece in solved_structure_of(project).pieces)
    assert len(read["cut svg"].pieces) == len(read["cut dxf"].pieces) == pieces
    assert len(read["svg lines"]) == len(read["dxf lines"])
    sizes = [read[name].size for name in ("found svg", "found dxf")]
    assert sizes[0] == pytest.approx(sizes[1], abs=1e-6)
    assert [read[name].height for name in ("stl", "obj", "ply")] == pytest.approx([60] * 3)
