"""How long a change of pitch takes in 40 × 40 crossed boards, over the bare cuts by shapely.

Run it with `.venv/bin/python benchmarks/repeats.py`.

One repeat of 80 boards with 1,600 joints: each change of its pitch is solved whole, relations,
joints and outlines. The reference cuts the same 3,200 slots out of the same boards: the boxes made
and united, and their difference from the board. The median of many ratios, each of two runs one
after the other; at most 2 is wanted.
"""

import gc
import time
from collections.abc import Callable
from statistics import median

import numpy as np
import shapely

from anzel.core.findings import ParameterError
from anzel.materials.fits import KerfAt
from anzel.structure.forms.free_structure import FreeStructure
from anzel.structure.forms.solved_form import solve_form
from anzel.structure.free.outline_shapes import Rectangle
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.cross_lap import CrossLap
from anzel.structure.model import FitContext, SheetSpec
from anzel.structure.relations.records import Direction, PlateRepeat, RepeatWay
from asked_help import tell_help

BOARDS, LONG, HIGH, RUNS = 40, 1000.0, 40.0, 11
SHEETS = FitContext((SheetSpec("ply", 3.0, 0.15),), 0.1, KerfAt.DRAWING)


def crossed(pitch: float) -> FreeStructure:
    """Return the boards as one repeat."""
    board, start = Rectangle(width=LONG, height=HIGH), -pitch * (BOARDS - 1) / 2
    return FreeStructure(
        plates=(
            FreePlate(name="Board", stock="ply", outline=board, tilt=90, y=start, z=HIGH / 2),
            FreePlate(
                name="Rail", stock="ply", outline=board, tilt=90, turn=90, x=start, z=HIGH / 2
            ),
        ),
        joints=(CrossLap("J1", "Board", "Rail"),),
        repeats=(
            PlateRepeat(
                id="M1", plate="Board", way=RepeatWay.CROSSED, with_plate="Rail", count=BOARDS,
                pitch=pitch, direction=Direction.BACKWARDS, rows=BOARDS, row_pitch=pitch,
                row_direction=Direction.RIGHTWARDS,
            ),
        ),
    )  # fmt: skip


def solved(pitch: float) -> None:
    """Solve the boards.

    Raises ParameterError where something is missing.
    """
    made = solve_form(crossed(pitch), SHEETS)
    if (len(made.pieces), len(made.joints)) != (2 * BOARDS, BOARDS * BOARDS):
        raise ParameterError("The boards are not all there.")


def bare(pitch: float) -> None:
    """Cut the same slots by shapely alone."""
    places = (np.arange(BOARDS) - (BOARDS - 1) / 2) * pitch
    for end in (HIGH, -HIGH):
        for _ in range(BOARDS):
            board = shapely.box(-LONG / 2, -HIGH / 2, LONG / 2, HIGH / 2)
            slots = [shapely.box(at - 1.47, 0, at + 1.47, end) for at in places]
            shapely.difference(board, shapely.union_all(slots))


def seconds(work: Callable[[float], None], pitch: float) -> float:
    """Return how long a piece of work takes with a pitch."""
    begun = time.perf_counter()
    work(pitch)
    return time.perf_counter() - begun


def main() -> None:
    """Print the median ratio and both times."""
    gc.freeze()
    solved(20.0)
    pairs = [
        (seconds(solved, pitch), seconds(bare, pitch))
        for pitch in np.linspace(19.0, 21.0, RUNS).tolist()
    ]
    ratio = median(ours / reference for ours, reference in pairs)
    ours, reference = (1000 * median(column) for column in zip(*pairs, strict=True))
    print(f"pitch of {BOARDS} × {BOARDS} boards: {ours:.0f} ms, bare cuts {reference:.0f} ms")
    print(f"ratio {ratio:.2f} (at most 2)")


if __name__ == "__main__":
    tell_help(__doc__)
    main()
