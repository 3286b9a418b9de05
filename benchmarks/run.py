"""Anzel's speed as ratios against a reference in the same run.

Run it with `.venv/bin/python benchmarks/run.py`.

- *derive*: one reading of the demo changed → all pieces derived, over the bare shapely work on
  the same slots, mortises and tabs (flattened outlines, one operation per feature).
- *slices*: the same for a box of 30 × 30 slices, 900 joints.
- *mesh*: a mesh of 80,000 triangles sliced by 2 × 30 planes into regions, over manifold3d's
  `slice` alone, on solids made and turned beforehand for both.
- *check*: everything proved of a lamp of 36 ribs, in seconds; it is told how far it is.
- *orbit*: a frame of 900 plates while the eye moves, over the same picture drawn in full.
- *window*: `anzel open` with the demo until its window is painted, over an empty PySide6 window
  with the same imports of Qt, name by name. Each start is a new process and counts from its launch,
  as the maker waits; needs a display (or run under Xvfb).

Medians of many derivations, and the quickest of many starts, which other work on the machine
disturbs least; a ratio is only as steady as the machine.
"""

import ast
import importlib.util
import os
import subprocess
import sys
import time
from collections.abc import Callable
from math import pi
from pathlib import Path
from statistics import median
from tempfile import TemporaryDirectory

import manifold3d
import numpy as np
import shapely

from anzel.app.edits import stock_edits
from anzel.core.asset import Asset
from anzel.geometry.regions import Contour, Region
from anzel.project.demos import herb_stand
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.project.new_project import project_of
from anzel.project.preflight import preflight
from anzel.scene.camera import Camera
from anzel.scene.offscreen import OffscreenRenderer
from anzel.scene.render_request import RenderRequest, RenderStyle
from anzel.storage.project_file import save
from anzel.structure.forms import mesh_sections
from anzel.structure.forms.common_outlines import lying
from anzel.structure.forms.field_ranges import out_of_range
from anzel.structure.model import Piece, SolvedStructure
from anzel.structure.solids import triangles_of
from anzel.structure.solver import outline_changes
from asked_help import tell_help

REPEATS, FEW_REPEATS, BATCH = 200, 20, 10
STARTS = 12

WAIT = """
import sys, time; start = float(sys.argv[1])
def wait_until_painted(window, application):
    from PySide6.QtCore import QEvent, QObject
    class Painted(QObject):
        seen = False
        def eventFilter(self, watched, event):
            self.seen = self.seen or event.type() == QEvent.Type.Paint
            return False
    painted = Painted(); window.installEventFilter(painted)
    while not painted.seen: application.processEvents()
    print(time.time() - start)
"""
EMPTY_WINDOW = """
QT_IMPORTS
from PySide6 import QtWidgets
application = QtWidgets.QApplication([])
window = QtWidgets.QMainWindow(); window.resize(1280, 800); window.show()
wait_until_painted(window, application)
"""
ANZEL_WINDOW = """
from PySide6 import QtWidgets
def paint(*_):
    application = QtWidgets.QApplication.instance()
    window = next(w for w in application.topLevelWidgets() if hasattr(w, "is_settled"))
    wait_until_painted(window, application)
    while not window.is_settled:
        application.processEvents(); time.sleep(0.002)  # others have their turn
    print(time.time() - start)
    print(*sorted(sys.modules))
    window.commands.may_leave = lambda: True
    window.close()
    return 0
QtWidgets.QApplication.exec = paint
from anzel.cli.main import main
main(["open", sys.argv[2]])
"""
"""The command that a maker starts with a project, until all of it has arrived."""


def timed(work: Callable[[Project], object], projects: list[Project]) -> float:
    """Median seconds of `work` over the projects."""
    times = []
    for project in projects:
        start = time.perf_counter()
        work(project)
        times.append(time.perf_counter() - start)
    return median(times)


def bare_shapely(project: Project) -> list[shapely.Geometry]:
    """The same features with shapely alone: one union or difference each."""
    results = []
    for shape, add, cut in _PREPARED[project]:
        for tool in add:
            shape = shapely.union(shape, shapely.Polygon(tool))
        for tool in cut:
            shape = shapely.difference(shape, shapely.Polygon(tool))
        results.append(shape)
    return results


_PREPARED: dict[Project, list[tuple[shapely.Geometry, list, list]]] = {}


def prepare(project: Project) -> None:
    """Put the outlines and the features' corners aside, so that only shapely is timed."""
    fit_context, form = fit_context_of(project), project.structure
    assert not out_of_range(form, fit_context)
    plates, declared = form.place(fit_context)
    _, edits_by_piece = outline_changes(plates, declared, fit_context)
    _PREPARED[project] = [
        (
            plate.region.shape,
            [tool.corners for edit in edits_by_piece[plate.name] for tool in edit.add],
            [tool.corners for edit in edits_by_piece[plate.name] for tool in edit.cut],
        )
        for plate in plates
    ]


def derive_ratio(name: str, project: Project, repeats: int) -> float:
    """How many times the bare shapely work another thickness of the first sheet costs."""
    stock = project.stocks[0].id
    projects = [
        stock_edits.change_stock(project, stock, readings=(2.80 + index / 1000,))
        for index in range(repeats)
    ]
    solved_structure_of(project)
    for each in projects:
        prepare(each)
    ours, bare = [], []
    for start in range(0, repeats, BATCH):  # interleaved, so that both meet the same machine
        some = projects[start : start + BATCH]
        bare.append(timed(bare_shapely, some))
        ours.append(timed(solved_structure_of, some))
    print(f"{name}: {median(ours) * 1e3:.2f} ms, bare shapely {median(bare) * 1e3:.2f} ms")
    return median(ours) / median(bare)


def slices() -> Project:
    """A box of 30 × 30 slices, 900 joints."""
    sizes = {"width": 400, "depth": 400, "height": 200, "first": 30, "second": 30}
    return project_of("sliceform", body="box", **sizes)


def bumpy(size: int) -> "manifold3d.Manifold":
    """A closed mesh of about 80,000 triangles."""
    ball = manifold3d.Manifold.sphere(60.0, size)

    def bump(at: np.ndarray) -> np.ndarray:
        unit = at / np.linalg.norm(at, axis=1, keepdims=True)
        waves = 1 + 0.12 * np.sin(7 * unit[:, 0]) * np.cos(6 * unit[:, 1] + 5 * unit[:, 2])
        return at * waves[:, None]

    return ball.warp_batch(bump)


def mesh_ratio() -> float:
    """How many times manifold3d's own slicing the sections of a mesh cost."""
    solid = bumpy(400)
    corners = triangles_of(solid)
    mesh = Asset.of("bumpy", mesh_sections.stl_of(corners))
    turns = (0.4, 0.4 + pi / 2)
    planes = np.linspace(-50, 50, 30)
    turned = [mesh_sections._turned(mesh, "z", 120.0, turn) for turn in turns]
    for each in turned:
        each.volume()  # manifold3d moves lazily
    bare, ours = [], []
    for _ in range(FEW_REPEATS // 2):
        start = time.perf_counter()
        for each in turned:
            for d in planes:
                each.slice(float(d))
        bare.append(time.perf_counter() - start)
        start = time.perf_counter()
        for turn in turns:
            mesh_sections.uprights(mesh, "z", 120.0, turn, planes)
        ours.append(time.perf_counter() - start)
    print(
        f"mesh: {len(corners)} triangles in {median(ours) * 1e3:.0f} ms, "
        f"manifold3d alone {median(bare) * 1e3:.0f} ms"
    )
    return median(ours) / median(bare)


def check_seconds() -> float:
    """How long everything about a lamp of 36 ribs takes to prove, from its project on."""
    lamp = project_of("rib-lamp", ribs=36, radius=170.0, rib_depth=30.0)
    start = time.perf_counter()
    found = preflight(lamp)
    print(f"check: {len(solved_structure_of(lamp).joints)} joints, {len(found.problems)} problems")
    return time.perf_counter() - start


def orbit_ratio() -> float:
    """A plainer frame of 900 plates, while the eye moves, over one drawn in full."""
    region = Region.of(Contour.circle((0.0, 0.0), 14.0), (Contour.circle((0.0, 0.0), 6.0),))
    pieces = tuple(
        Piece(f"P{n}", "ply-3", 3.0, region, lying(8.0 * (n % 30), 32.0 * (n // 30), 0.0))
        for n in range(900)
    )
    build, fit_context = SolvedStructure(pieces, ()), fit_context_of(project_of("rib-lamp"))
    grey = (0.5, 0.5, 0.5)
    look = RenderStyle(grey, grey, grey, grey, {"ply-3": grey})
    studio, camera = OffscreenRenderer(), Camera()
    frames: dict[bool, list[float]] = {False: [], True: []}
    for step in range(12):
        for plain in (False, True):
            turned = camera.orbited(7.0 * step, 0.0)
            request = RenderRequest(
                build, fit_context, 0.0, turned, True, look, (420, 620), plain=plain
            )
            start = time.perf_counter()
            studio.render(request)
            frames[plain].append(time.perf_counter() - start)
    full, moving = (median(frames[plain][2:]) for plain in (False, True))
    print(f"orbit: {moving * 1e3:.0f} ms a frame while moving, {full * 1e3:.0f} ms in full")
    return moving / full


def qt_imports(loaded: list[str]) -> str:
    """The imports of Qt that Anzel's window makes, name by name."""
    lines = set()
    for name in (each for each in loaded if each.startswith("anzel.ui")):
        source = importlib.util.find_spec(name).origin
        for node in ast.walk(ast.parse(Path(source).read_text(encoding="utf-8"))):
            if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("PySide6"):
                lines.add(ast.unparse(node))
    return "\n".join(sorted(lines))


def started(program: str, folder: str) -> list[str]:
    """What a program prints when started in a new process, word by word.

    What it keeps is in a folder that has the demo, too.
    """
    environment = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}
    environment |= {f"XDG_{kind}_HOME": folder for kind in ("CONFIG", "STATE", "DATA", "CACHE")}
    command = [sys.executable, "-c", WAIT + program, str(time.time()), f"{folder}/stand.anzel"]
    ran = subprocess.run(command, capture_output=True, text=True, check=True, env=environment)
    return ran.stdout.split()


def window_ratio() -> float:
    """How many times an empty window's start Anzel's takes."""
    empty, ours, drawn = [], [], []
    with TemporaryDirectory() as folder:
        save(herb_stand(), Path(folder) / "stand.anzel")
        loaded = started(ANZEL_WINDOW, folder)[2:]  # compiles all once
        reference = EMPTY_WINDOW.replace("QT_IMPORTS", qt_imports(loaded))
        for _ in range(STARTS):
            empty.append(float(started(reference, folder)[0]))
            usable, complete, *_ = started(ANZEL_WINDOW, folder)
            ours.append(float(usable))
            drawn.append(float(complete))
    print(
        f"window: usable after {min(ours):.2f} s, with the standing picture and the proof "
        f"after {min(drawn):.2f} s; empty window {min(empty):.2f} s"
    )
    return min(ours) / min(empty)


def main() -> None:
    """Print all ratios."""
    stand = derive_ratio("derive", herb_stand(), REPEATS)
    print(f"derive ratio {stand:.2f} (wanted: at most 3)")
    many = derive_ratio("slices", slices(), FEW_REPEATS)
    print(f"slices ratio {many:.2f} (wanted: at most 2)")
    print(f"mesh ratio {mesh_ratio():.2f} (wanted: at most 1.5)")
    print(f"check {check_seconds():.1f} s (wanted: seconds)")
    print(f"orbit ratio {orbit_ratio():.2f} (wanted: well under 1)")
    print(f"window ratio {window_ratio():.2f} (wanted: at most 3)")


if __name__ == "__main__":
    tell_help(__doc__)
    main()
