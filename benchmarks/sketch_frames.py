"""How many pictures a second a dragged plate shows: the real view, its solver and its painting.

Run it with `QT_QPA_PLATFORM=offscreen .venv/bin/python benchmarks/sketch_frames.py`.

A point of an outline of 200 legs with 60 held lengths is dragged for some seconds, an event of the
mouse every 8 ms. Counted are pictures that show a new outline.
"""

import os
import sys
import time
from itertools import pairwise

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QPointF
from PySide6.QtWidgets import QApplication

from anzel.app.edits.sketch_edits import change_sketch
from anzel.app.session import Session
from anzel.project.new_project import empty_table
from anzel.ui.steps.sketch_controller import SketchController
from asked_help import tell_help
from sketch import star, way

SECONDS = 4.0
_EVENT = 0.008
"""Seconds between events of a usual mouse."""


def frames(apart: int) -> float:
    """Return the pictures a second while a point is dragged."""
    project = change_sketch(empty_table(), "Plate", star(apart))
    session = Session(project)
    session.pick_plate("Plate")
    session.navigation.draw("Plate")
    controller = SketchController(session)
    controller.page.resize(900, 800)
    controller.page.show()
    controller.refresh()
    view, shown = controller.view, []
    paint = view.paint_on
    view.paint_on = lambda painter: (shown.append(id(view._content)), paint(painter))[1]
    places = way(*(controller.sketch.places()["p0"]), step=0.15)  # no leg crosses another
    begun, at = time.perf_counter(), 0
    while time.perf_counter() - begun < SECONDS:
        if time.perf_counter() - begun > at * _EVENT:
            view.dragged.emit("p0", *places[at % len(places)])
            at += 1
        QApplication.processEvents()
        time.sleep(0.0005)
    seconds = time.perf_counter() - begun
    fresh = sum(one != other for one, other in pairwise(shown))
    controller.release()
    controller.page.close()
    return fresh / seconds


def main() -> None:
    """Print the pictures a second."""
    application = QApplication(sys.argv)
    assert application.primaryScreen() is not None
    assert QPointF(0, 0).isNull()
    for words, apart in (("apart", 3), ("chain", 1)):
        print(f"{words}   {frames(apart):5.0f} pictures a second")


if __name__ == "__main__":
    tell_help(__doc__)
    main()
