"""How Anzel feels under the hand: the real window is opened, edited, dragged and walked through.

    xvfb-run -a .venv/bin/python benchmarks/feel.py            all projects
    xvfb-run -a .venv/bin/python benchmarks/feel.py acorn ...  only those named
    xvfb-run -a .venv/bin/python benchmarks/feel.py --write    all, and docs/performance.md anew

For each project, in a process of its own:

- *follows*: from a changed reading until the window shows the new project, ms, median and worst.
- *all there*: until proof, layout and picture of it have arrived too, and how many times that is
  of what they take alone (*alone*: one after the other, without a window, in other processes
  before it and after it).
- *still*: the longest that the interface thread stood still, ms, by a heartbeat every 5 ms, less
  what the host of a virtual machine took of a processor meanwhile, and in brackets the longest
  that it computed between two beats itself; while readings changed, while steps were walked
  through (first and later visits, once their pages were made, which happens while the maker
  rests), while the standing view was turned, and while the project was saved and opened again.
- *frames*: pictures a second while the standing view is turned.
- *MB*: what the window's process holds once every step was visited, and its helpers beside it.

With `--write` also: what a bare process with the same packages holds, how much a window grows over
2,000 edits, and how its start compares with that of an empty window (benchmarks/run.py).
"""

import gc
import json
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass
from pathlib import Path
from statistics import median

from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QApplication

from anzel.app.edits import stock_edits
from anzel.app.navigation import Step
from anzel.app.proving import proof_there
from anzel.app.session import Session
from anzel.app.settings import Settings
from anzel.app.worker import take_short_turns
from anzel.core.collecting import COLLECT_AFTER
from anzel.core.memory import hold_little
from anzel.project.demos import DEMOS
from anzel.project.derive import fit_context_of, layout_of, solved_structure_of
from anzel.project.model import Project
from anzel.project.new_project import project_of
from anzel.scene.camera import Camera
from anzel.scene.offscreen import OffscreenRenderer
from anzel.scene.render_request import RenderRequest, RenderStyle
from anzel.ui import theme
from anzel.ui.housekeeping import Housekeeping
from anzel.ui.main_window import MainWindow
from asked_help import tell_help
from heart import Heart, Still, Stolen, still_words, worst

NUMBERS, TURNS = (0, 8, 2, 10, 4, 12, 6), 90
"""Readings, in steps of 0.004 mm; mouse moves."""
MOUSE = 0.008
"""Seconds between two moves."""


def slices() -> Project:
    """A box of 30 × 30 slices, 900 joints."""
    from run import slices as in_slices

    return in_slices()


def boards() -> Project:
    """40 × 40 crossed boards as one repeat, 1,600 joints."""
    from repeats import crossed

    project = project_of("rib-lamp")
    stock = project.stocks[0].id
    structure = crossed(25.0)
    roles = dict.fromkeys(structure.stock_roles(), stock)
    return project.with_changes(structure=structure.with_stocks(roles))


def slots() -> Project:
    """A found drawing of 400 pieces with 9,600 slots."""
    from anzel.app.edits.drawing_edits import import_file
    from refit import sheet

    return import_file(project_of("found"), "sheet.svg", sheet(400))


CASES: dict[str, Callable[[], Project]] = {
    **{demo.name: demo.make for demo in DEMOS},
    "30 × 30 slices": slices,
    "40 × 40 boards": boards,
    "9600 slots": slots,
}


@dataclass
class Felt:
    """What was measured of one project, ms; frames a second."""

    name: str
    follows: tuple[float, float] = (0.0, 0.0)
    all_there: tuple[float, float] = (0.0, 0.0)
    alone: float = 0.0
    edit_still: Still = (0.0, 0.0)
    first_visit_still: Still = (0.0, 0.0)
    visit_still: Still = (0.0, 0.0)
    turn_still: Still = (0.0, 0.0)
    frames: float = 0.0
    file_still: Still = (0.0, 0.0)
    megabytes: float = 0.0
    helpers_megabytes: float = 0.0


def readings(project: Project, number: float) -> Project:
    """A project with other readings of its first stock in use."""
    stock = project.stocks_in_use[0]
    reading = stock.measured_thickness - 0.05 + 0.004 * number
    return stock_edits.change_stock(project, stock.id, readings=(round(reading, 4),))


def alone(project: Project) -> float:
    """What a changed reading takes without a window, one thing after the other, ms."""
    renderer, grey, taken = OffscreenRenderer(), (0.5, 0.5, 0.5), []
    tints = {stock.id: grey for stock in project.stocks}
    look = RenderStyle(grey, grey, grey, grey, tints)
    for number in NUMBERS:
        wanted = readings(project, number + 0.25)
        begun = time.perf_counter()
        solved = solved_structure_of(wanted)
        for stock in wanted.stocks_in_use:
            layout_of(wanted, stock.id)
        proof_there(wanted)
        if not project.structure.has_drawings:
            renderer.render(
                RenderRequest(solved, fit_context_of(wanted), 0.0, Camera(), True, look, (540, 620))
            )
        taken.append(time.perf_counter() - begun)
    return median(taken) * 1000


def edits(felt: Felt, heart: Heart, window: MainWindow, session: Session) -> None:
    """Change readings, one after the other."""
    follows, there, still = [], [], []
    project = session.project
    for number in NUMBERS:
        wanted = readings(project, number)
        begun: list[float] = []

        def act(wanted: Project = wanted, begun: list[float] = begun) -> None:
            begun.append(time.perf_counter())
            session.attempt("Reading", lambda _: wanted)

        def arrived(wanted: Project = wanted, begun: list[float] = begun) -> bool:
            if session.project is wanted and len(begun) == 1:
                begun.append(time.perf_counter())
            if len(begun) == 2 and window.is_settled:
                begun.append(time.perf_counter())
            return len(begun) == 3

        still.append(heart.still(act, arrived))
        follows.append((begun[1] - begun[0]) * 1000)
        there.append((begun[2] - begun[0]) * 1000)
    felt.follows, felt.all_there = spread(follows), spread(there)
    felt.edit_still = worst(still)


def spread(values: list[float]) -> tuple[float, float]:
    """The median and the worst."""
    return median(values), max(values)


def walk(heart: Heart, window: MainWindow, session: Session) -> Still:
    """Go through all steps. Returns the longest standstill."""
    still = {
        step.value: heart.still(
            lambda step=step: session.navigation.go_to(step), lambda: window.is_settled
        )
        for step in (*Step, Step.BUILD)
    }
    if "--each" in sys.argv:
        print({name: still_words(each) for name, each in still.items()}, file=sys.stderr)
    return worst(still.values())


def turn(felt: Felt, heart: Heart, window: MainWindow) -> None:
    """Turn the standing view by dragging over it."""
    view = window.build.standing
    if not view.isVisible():
        return
    pictures: list[object] = []
    paint = type(view).paintEvent

    def painted(event: object) -> None:
        if not pictures or pictures[-1] is not view._shown:
            pictures.append(view._shown)
        paint(view, event)

    view.paintEvent = painted
    place = QPointF(view.width() / 3, view.height() / 2)

    def mouse(kind: QEvent.Type, at: QPointF) -> None:
        left = Qt.MouseButton.LeftButton
        none = Qt.KeyboardModifier.NoModifier
        where = QPointF(view.mapToGlobal(at))
        QApplication.postEvent(view, QMouseEvent(kind, at, where, left, left, none))

    mouse(QEvent.Type.MouseButtonPress, place)
    heart.rest(0.05)
    heart.forget()
    begun, before = time.perf_counter(), len(pictures)
    for number in range(1, TURNS + 1):
        mouse(QEvent.Type.MouseMove, place + QPointF(1.5 * number, 0.4 * number))
        heart.rest(max(begun + number * MOUSE - time.perf_counter(), 0.0))
    felt.frames = (len(pictures) - before) / (time.perf_counter() - begun)
    felt.turn_still = heart.longest
    mouse(QEvent.Type.MouseButtonRelease, place)
    heart.wait(lambda: window.is_settled)


def files(heart: Heart, window: MainWindow, session: Session, folder: Path) -> Still:
    """Save and open again. Returns the longest standstill."""
    path = folder / "felt.anzel"
    saved = heart.still(lambda: session.save(path), lambda: not session.is_dirty)
    window.commands.may_leave = lambda: True
    opened = heart.still(lambda: window.commands.open_path(path), lambda: window.is_settled)
    return worst((saved, opened))


def measure(name: str) -> Felt:
    """Measure one project, in this process."""
    gc.disable()
    hold_little()
    felt, project = Felt(name), CASES[name]()
    take_short_turns()
    application = QApplication(["anzel", "-style", "Fusion"])
    theme.apply(application)
    session = Session(project)
    folder = Path(tempfile.mkdtemp())
    window = MainWindow(session, Settings(folder))
    window.show()
    heart = Heart()
    pages = Housekeeping(window)
    heart.wait(lambda: window.is_settled)
    session.navigation.go_to(Step.BUILD)
    heart.wait(lambda: window.is_settled)
    heart.wait(lambda: pages.is_over)
    heart.rest(1.0)
    edits(felt, heart, window, session)
    turn(felt, heart, window)
    felt.first_visit_still = walk(heart, window, session)
    felt.visit_still = walk(heart, window, session)
    from memory import held, helpers_hold

    felt.megabytes, felt.helpers_megabytes = held(os.getpid()), helpers_hold()
    felt.file_still = files(heart, window, session, folder)
    window.close()
    return felt


def row(felt: Felt) -> str:
    """A line of the table."""
    ratio = felt.all_there[0] / felt.alone
    return (
        f"| {felt.name} | {felt.follows[0]:.0f} / {felt.follows[1]:.0f} "
        f"| {felt.all_there[0]:.0f} / {felt.all_there[1]:.0f} | {felt.alone:.0f} | {ratio:.2f} "
        f"| {still_words(felt.edit_still)} | {still_words(felt.first_visit_still)} "
        f"| {still_words(felt.visit_still)} | {still_words(felt.turn_still)} "
        f"| {felt.frames:.0f} | {still_words(felt.file_still)} "
        f"| {felt.megabytes:.0f} + {felt.helpers_megabytes:.0f} |"
    )


HEAD = (
    "| project | follows, ms | all there, ms | alone, ms | ratio | still: edit | first visit "
    f"| later visit | turn | frames/s | file | MB |\n{'|---' * 12}|"
)


PAGE = Path(__file__).parents[1] / "docs" / "performance.md"
INTRODUCTION = """# Performance

Written by `xvfb-run -a .venv/bin/python benchmarks/feel.py --write`; what each column means stands
at the head of that file. Two figures with a stroke are the median and the worst; in brackets stands
what the interface thread computed itself. Pictures are drawn by
the processor (Mesa's software rasteriser), so a real graphics card is quicker. Times are of the
machine that wrote this: {processors} processors, of whose time other machines on the same host took
{stolen:.0%} meanwhile; they are to be compared with one another.

{table}

A bare process with PySide6, numpy, shapely and moderngl holds {bare:.0f} MB. The window with the
first demo holds {early:.0f} MB after {first} edits and {late:.0f} MB after {edits}; undo and kept
results, which are bounded, estimate their share of the difference at {more:.0f} MB. It is usable
after {start:.2f} × the start of an empty window with the same imports of Qt, the quickest of
{starts} starts each.

How the bench grows up to 30,000 outlines and the bare layout up to 10,000 pieces is told by
`benchmarks/large.py`.
"""


def page(rows: list[str], stolen: float) -> str:
    """The page of the documentation."""
    from memory import GROWTH_EDITS, GROWTH_FIRST, bare_megabytes, grown
    from run import STARTS, window_ratio

    early, early_kept, late, late_kept = grown()
    return INTRODUCTION.format(
        processors=os.cpu_count(), stolen=stolen, table="\n".join([HEAD, *rows]),
        bare=bare_megabytes(), early=early, late=late, more=late_kept - early_kept,
        first=GROWTH_FIRST, edits=GROWTH_EDITS,
        start=window_ratio(), starts=STARTS,
    )  # fmt: skip


def measured(name: str) -> str:
    """The line of one project, measured in a process of its own."""
    extra = [each for each in sys.argv[1:] if each == "--each"]
    told = []
    for part in ("--alone", "--one", "--alone"):  # the machine is not as quick all the time
        command = [sys.executable, __file__, name, part, *extra]
        ran = subprocess.run(command, stdout=subprocess.PIPE, text=True, check=False)
        if ran.returncode:
            return f"| {name} | not measured: it failed |"
        told.append(json.loads(ran.stdout.splitlines()[-1]))
    before, felt, after = told
    return row(Felt(**{**felt, "alone": (before + after) / 2}))


def main() -> None:
    """Print a line for each project."""
    named = [each for each in sys.argv[1:] if not each.startswith("--")]
    if "--one" in sys.argv:
        print(json.dumps(asdict(measure(named[0]))), flush=True)
        return
    if "--alone" in sys.argv:
        gc.set_threshold(*COLLECT_AFTER)
        print(alone(CASES[named[0]]()), flush=True)
        return
    print(HEAD, flush=True)
    rows, stolen = [], Stolen()
    for name in named or CASES:
        rows.append(measured(name))
        print(rows[-1], flush=True)
    if "--write" in sys.argv:
        PAGE.write_text(page(rows, stolen.share), encoding="utf-8")
    print(f"taken by others: {stolen.share:.0%}", flush=True)


if __name__ == "__main__":
    tell_help(__doc__)
    main()
