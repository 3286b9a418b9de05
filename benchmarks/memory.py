"""What Anzel's window holds in memory: bare packages beside it, and its growth over many edits.

xvfb-run -a .venv/bin/python benchmarks/memory.py     prints MB after 200 and after 2,000 edits
"""

import gc
import json
import os
import subprocess
import sys
from pathlib import Path
from tempfile import mkdtemp
from typing import TYPE_CHECKING

from anzel.app import proving
from anzel.app.views import forecast_summary
from anzel.core.memo import Memo
from anzel.core.memory import hold_little
from anzel.helpers.process import FORK_SERVER
from anzel.nesting import solving
from anzel.scene import renderer_process
from asked_help import tell_help

if TYPE_CHECKING:
    from anzel.app.session import Session


def held(process: int) -> float:
    """What a process holds, MB: its own, and its part of what it shares (PSS, proc(5))."""
    rows = Path(f"/proc/{process}/smaps_rollup").read_text().splitlines()
    return next(int(row.split()[1]) for row in rows if row.startswith("Pss:")) / 1000


def helpers_hold() -> float:
    """What the processes hold that help this one, MB."""
    every = (
        solving.HELPER, solving.SQUEEZING, proving.HELPER, renderer_process.HELPER,
        forecast_summary.HELPER, FORK_SERVER,
    )  # fmt: skip
    return sum(held(each.process_id) for each in every if each.process_id)


BARE = """
import os, sys; sys.path.insert(0, "benchmarks")
import moderngl, numpy, shapely
from PySide6 import QtCore, QtGui, QtSvg, QtWidgets
application = QtWidgets.QApplication([])
rows = open("/proc/self/smaps_rollup").read().splitlines()
print(next(int(row.split()[1]) for row in rows if row.startswith("Pss:")) / 1000)
"""
GROWTH_EDITS, GROWTH_FIRST = 2_000, 200


def bare_megabytes() -> float:
    """What a process holds that has only imported the packages."""
    return float(subprocess.check_output([sys.executable, "-c", BARE], text=True))


def kept_on_purpose(session: "Session") -> float:
    """What undo and kept results hold, as they estimate it themselves, MB; both are bounded."""
    undo = sum(snapshot.size for snapshot in session.document.history._snapshots)
    results = sum(each.kept_bytes for each in gc.get_objects() if type(each) is Memo)
    return (undo + results) / 1e6


def growth() -> list[float]:
    """MB after 200 and after 2,000 edits of the first demo in a window, and what of it is kept."""
    from feel import DEMOS, Heart, MainWindow, QApplication, Session, Settings, readings, theme

    hold_little()
    application = QApplication(["anzel", "-style", "Fusion"])
    theme.apply(application)
    session = Session(DEMOS[0].make())
    project = session.project
    window = MainWindow(session, Settings(Path(mkdtemp())))
    window.show()
    window.commands.may_leave = lambda: True
    heart, told = Heart(), []
    for number in range(GROWTH_EDITS):
        wanted = readings(project, number % 50 / 2)
        session.attempt("Reading", lambda _, wanted=wanted: wanted)
        heart.wait(lambda: not session.is_working)
        if number + 1 in (GROWTH_FIRST, GROWTH_EDITS):
            heart.wait(lambda: window.is_settled)
            gc.collect()
            told += [held(os.getpid()), kept_on_purpose(session)]
    window.close()
    return told


def grown() -> list[float]:
    """What `growth` tells, measured in a process of its own."""
    told = subprocess.check_output([sys.executable, __file__], text=True)
    return list(json.loads(told.splitlines()[-1]))


if __name__ == "__main__":
    tell_help(__doc__)
    print(json.dumps(growth()), flush=True)
