"""Shapes that threads share are never prepared."""

import subprocess
import sys

import pytest
import shapely

from anzel.project.demos import DEMOS
from anzel.project.derive import layout_of, solved_structure_of
from anzel.project.preflight import preflight

ASKING = """
import sys
from threading import Barrier, Thread
import numpy as np
from anzel.geometry.booleans import combine
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import Contour, Region
from anzel.geometry.segments import Line
from anzel.structure.line_work import LineOperation, PlateLine, lines_within
sys.setswitchinterval(0.00002)
turns = np.linspace(0, 2 * np.pi, 300, endpoint=False)
windows = [Contour.circle((x, y), 0.4) for x in range(-9, 10, 2) for y in range(-9, 10, 2)]
lines = [PlateLine(OpenPath((Line((x, -40.0), (x, 40.0)),)), LineOperation.SCORE) for x in range(9)]
for number in range(int(sys.argv[1])):
    reach = 20 + 5 * np.sin(7 * turns + number)
    ring = np.column_stack([reach * np.cos(turns), reach * np.sin(turns)])
    region, together = Region.of(Contour.polygon(ring.tolist())), Barrier(4)
    def ask():
        together.wait()
        combine(region, cut=windows)
        lines_within(lines, region)
        region.spans((0.0, 0.0), (1.0, 0.0))
    threads = [Thread(target=ask) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
"""


def test_threads_may_ask_the_same_region():
    """In a process of its own, because GEOS ends it where a prepared shape is shared."""
    command = [sys.executable, "-c", ASKING, "25"]
    ran = subprocess.run(command, capture_output=True, text=True, check=False, timeout=120)
    assert (ran.returncode, ran.stderr) == (0, "")


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.name)
def test_no_shape_that_is_kept_is_prepared(demo):
    project = demo.make()
    preflight(project)
    pieces = solved_structure_of(project).pieces
    for stock in project.stocks_in_use:
        pieces += tuple(p.piece for plan in layout_of(project, stock.id).plans for p in plan.placed)
    shapes = [shape for piece in pieces for contour in piece.region.contours
              for shape in (piece.region.shape, contour.polygon_shape)]  # fmt: skip
    assert not shapely.is_prepared(shapes).any()
