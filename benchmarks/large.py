"""Large things: how the bench and the bare layout grow with what they are given.

    .venv/bin/python benchmarks/large.py

The bench reads a cut file and cuts it, up to 30,000 outlines; the layout lays up to 10,000 pieces
of 40 kinds on as many sheets as they need. Beside each time: how many times that of half as many,
and how many times it would be if it grew as n log n.
"""

import json
import time
from collections.abc import Callable
from math import log

import numpy as np

from anzel.nesting.quick_solver import solve_quickly
from anzel.output.cut_file_reader import parse_cut_file
from anzel.output.nesting_json import read_problem
from anzel.simulation.simulated_cutter import SimulatedCutter, cut
from anzel.simulation.simulated_sheet import SimulatedSheet
from asked_help import tell_help

OUTLINES, PIECES, KINDS, HALVINGS = 30_000, 10_000, 40, 3


def cut_file(outlines: int) -> bytes:
    """An SVG drawing of so many notched plates, side by side."""
    across = int(outlines**0.5) + 1
    shape = "h20v12h-8v-3h-4v3h-8z"
    paths = "".join(
        f'<path d="M{30 * (n % across)} {20 * (n // across)}{shape}" stroke="#f00" fill="none"/>'
        for n in range(outlines)
    )
    size = 30 * across
    head = f'width="{size}mm" height="{size}mm" viewBox="0 0 {size} {size}"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{paths}</svg>'.encode()


def puzzle(pieces: int) -> bytes:
    """A layout puzzle of corners of several sizes."""
    random = np.random.default_rng(7)
    records = []
    for kind in range(KINDS):
        w, h = random.uniform(30, 120, 2).round(1)
        outline = [[0, 0], [w, 0], [w, h / 3], [w / 3, h / 3], [w / 3, h], [0, h]]
        records.append({"name": f"corner {kind}", "outline": outline, "count": pieces // KINDS})
    record = {"sheets": [{"width": 600, "height": 400}], "pieces": records}
    return json.dumps(record).encode()


def bench(content: bytes) -> None:
    """Read and cut."""
    read = parse_cut_file(content, ".svg")
    cut(read, SimulatedCutter(kerf=0.16), SimulatedSheet(true_thickness=3))


def lay(content: bytes) -> None:
    """Lay all, or fail."""
    assert not solve_quickly(read_problem(content)).left_out


def grown(name: str, most: int, given: Callable[[int], bytes], do: Callable[[bytes], None]) -> None:
    """Print times of more and more."""
    before = 0.0
    for size in (most >> halvings for halvings in range(HALVINGS, -1, -1)):
        content, begun = given(size), time.perf_counter()
        do(content)
        taken = time.perf_counter() - begun
        ratio = f"{taken / before:5.2f} × of half" if before else ""
        worst = 2 * log(size) / log(size / 2)
        print(f"{name} {size:6}: {taken:7.2f} s  {ratio}  (n log n: {worst:.2f} ×)", flush=True)
        before = taken


def main() -> None:
    """Print both."""
    grown("outlines cut", OUTLINES, cut_file, bench)
    grown("pieces laid", PIECES, puzzle, lay)


if __name__ == "__main__":
    tell_help(__doc__)
    main()
