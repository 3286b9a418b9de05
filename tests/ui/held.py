"""What a driven window holds, and whether it or the whole machine stood still."""

import gc
import importlib
import os
import pkgutil
import subprocess
import sys
import tempfile
import threading
import time
import traceback
from collections import Counter
from functools import partial
from pathlib import Path

from PySide6.QtCore import QEvent, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

import anzel
from anzel.app.edits import sketch_edits
from anzel.app.navigation import Step
from anzel.app.selection import Thing, ThingKind
from anzel.core import memory
from anzel.project.demos import DEMOS
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.structure.forms import FORMS

sys.path.insert(0, str(Path(__file__).parents[2] / "benchmarks"))
from heart import Taken
from memory import helpers_hold

SLEEPER = """
import os, sys, time
while os.getppid() == int(sys.argv[2]):
    before = time.monotonic()
    time.sleep(0.02)
    if (now := time.monotonic()) > before + 0.1:
        open(sys.argv[1], "a").write(f"{before + 0.02} {now}\\n")
"""


IDLE_MS = 12_000
LOADED_LATE = (
    "contourpy", "ezdxf", "fontTools.ttLib", "networkx", "pypdfium2", "reportlab.pdfgen.canvas",
    "scipy.ndimage", "scipy.optimize", "scipy.spatial", "trimesh",
)  # fmt: skip
"""Packages that are imported in the functions that need them."""
_WITH_PLATES = next(demo for demo in DEMOS if demo.name == "phone-stand")


class Machine:
    """Tells when the machine stood still.

    A process that only sleeps notices it, too, and the host tells what it took of a processor.
    """

    def __init__(self):
        self._file = tempfile.NamedTemporaryFile("r")  # noqa: SIM115
        command = [sys.executable, "-c", SLEEPER, self._file.name, str(os.getpid())]
        self._process = subprocess.Popen(command)

    def stood_still(self, start, end):
        """Seconds between two times that are not the window's."""
        time.sleep(0.05)  # the sleeper notices it as late as we do
        self._file.seek(0)
        pauses = [tuple(map(float, line.split())) for line in self._file]
        return sum(max(min(end, last) - max(start, first), 0.0) for first, last in pauses)


class Held:
    """Freezes of the interface thread, and what the process holds."""

    FREEZE = 1.0

    def __init__(self, window, demo):
        self.window, self.demo, self.machine = window, demo, Machine()
        self.freezes, self.longest, self._last = 0, 0.0, time.monotonic()
        self._taken = Taken()
        self.widgets, self.threads = Counter(), Counter()
        self._size = window.size()
        self._timer = QTimer()
        self._timer.timeout.connect(self._beat)
        self._timer.start(20)
        threading.Thread(target=self._watch, daemon=True).start()

    def _watch(self):
        """Tell where the interface thread is when it has stood still for too long."""
        told = 0.0
        while True:
            time.sleep(0.1)
            if self._last != told and time.monotonic() - self._last > self.FREEZE:
                told = self._last
                for thread in threading.enumerate():
                    if where := _where(thread):
                        print(f"froze, {thread.name} in {where}", flush=True)

    def _beat(self):
        now, stolen = time.monotonic(), self._taken.since()
        froze = now - self._last
        if froze > self.FREEZE:
            machine = max(self.machine.stood_still(self._last, now), stolen)
            print(f"froze for {froze:.1f} s, the machine for {machine:.1f} s", flush=True)
            froze -= machine
            self.freezes += froze > self.FREEZE
            now = time.monotonic()
        self.longest = max(self.longest, froze)
        self._last = now

    def settle(self):
        """Wait until nothing is worked out any more, and no dropped file arrives any more."""
        end, window = time.monotonic() + 30, self.window
        while time.monotonic() < end and not (
            window.is_settled and not window.jobs.is_working and not window._files.is_working
        ):
            QTest.qWait(20)

    def tour(self):
        """Have the page of each kind of thing made in each demo and each form, by picking one."""
        forms = [partial(project_of, name) for name in FORMS]
        for make in (*(demo.make for demo in DEMOS), *forms):
            self.look_at(make)

    def look_at(self, make):
        """Begin a project and pick one thing of each kind in it."""
        session = self.window._session
        self.window.commands.begin(make)
        session.navigation.go_to(Step.BUILD)
        self.settle()
        for thing in self.things():
            session.selection.pick(thing)
            self.settle()

    def things(self):
        """One thing of each kind in the present project."""
        project, navigation = self.window._session.project, self.window._session.navigation
        if project.structure.has_drawings:
            return self.window.build.panel.found.features()[:1]
        solved = solved_structure_of(project)
        kinds = {tuple(f.kind for f in joint.features): joint.id for joint in solved.joints}
        things = [Thing(ThingKind.JOINT, joint) for joint in kinds.values()]
        if not project.structure.has_free_plates:
            piece = Thing(ThingKind.PIECE, solved.pieces[0].name)
            return [*things, piece, Thing(ThingKind.CURVE, "profile")]
        plates = [plate.name for plate in project.structure.plates]
        things.append(Thing(ThingKind.PLATE, plates[0]))
        for plate in (each for each in plates if sketch_edits.sketch_of(project, each)):
            navigation.draw(plate)
            points = sketch_edits.things_on(project, plate)[ThingKind.POINT.value]
            things.append(Thing(ThingKind.POINT, points[0], plate))
        return things

    def begin(self):
        """What `now` tells once every page is there and all code is loaded, which is no growth.

        Freezes count from here on.
        """
        for module in pkgutil.walk_packages(anzel.__path__, "anzel."):
            if not module.name.endswith("__main__"):
                importlib.import_module(module.name)
        for name in LOADED_LATE:
            importlib.import_module(name)
        self.tour()
        before = self.now()
        self.freezes, self.longest = 0, 0.0
        return before

    def now(self):
        """MB, MB of the helpers, widgets and threads with every step of the project visited."""
        session = self.window._session
        self.window.showNormal()
        self.window.resize(self._size)  # what is painted is kept as large as the views
        if (field := QApplication.focusWidget()) is not None:
            field.clearFocus()  # a list takes its editor away
        of_each_kind = (DEMOS[0], _WITH_PLATES, self.demo)
        for demo in of_each_kind:  # pages keep the fields of what they showed last
            self.look_at(demo.make)
        for step in Step:
            session.navigation.go_to(step)
            self.settle()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        QTest.qWait(IDLE_MS)  # until threads that have nothing to do have ended
        gc.unfreeze()
        gc.collect()
        memory.give_back()
        status = Path("/proc/self/status").read_text().splitlines()
        held = next(int(line.split()[1]) for line in status if line.startswith("VmRSS")) // 1000
        widgets = Counter(f"{type(w).__name__} of {_owner(w)}" for w in QApplication.allWidgets())
        print("more widgets:", dict((widgets - self.widgets).most_common(12)), flush=True)
        threads = Counter(thread.name for thread in threading.enumerate())
        print("more threads:", dict(threads - self.threads), flush=True)
        self.widgets, self.threads = widgets, threads
        return held, round(helpers_hold()), widgets.total(), threads.total()


def holds_more(before, after):
    """Whether what `now` told grew: memory by more than half, or the widgets or threads."""
    most = (1.5 * before[0], 1.5 * before[1], *before[2:])
    return any(now > then for now, then in zip(after, most, strict=True))


def _where(thread):
    """The lines of ours that a thread is in, the last first; "" for one that waits for work."""
    frame = sys._current_frames().get(thread.ident)
    stack = traceback.extract_stack(frame) if frame else []
    own = [f"{Path(s.filename).name}:{s.lineno}" for s in stack if "/src/anzel/" in s.filename]
    return "" if own and own[-1].startswith("worker.py") else " < ".join(reversed(own))


def _owner(widget):
    """The class of ours that a widget belongs to."""
    above = widget.parentWidget()
    while above is not None and not type(above).__module__.startswith("anzel"):
        above = above.parentWidget()
    return type(above).__name__
