"""How often a refit of a random sheet is right, asked about, or wrong.

`python tests/refit/rates.py 2000` prints the rates over so many sheets.
"""

import sys
from collections import Counter
from collections.abc import Sequence
from enum import StrEnum
from pathlib import Path
from random import Random

import numpy as np
import shapely

if __name__ == "__main__":
    import tests

    tests.__path__.insert(0, str(Path(__file__).parents[1]))

from tests.refit import made
from tests.refit.parts import Loop, Part
from tests.refit.sheets import random_sheet

from anzel.core.findings import Severity
from anzel.drawings.containment import chord_points
from anzel.drawings.model import Drawing, DrawnPath
from anzel.geometry.segments import Segment, reverse, with_end_points
from anzel.materials.fits import FitRule, KerfAt
from anzel.refit.analysis import analyse
from anzel.refit.refit import Outcome, Refit, RefitOptions, refit_drawing
from anzel.refit.report import refit_findings

DIGITS = (None, None, 2, 3)
"""To how many decimals sheets in turn are rounded, as programs write them."""


class Verdict(StrEnum):
    """What a refit of a sheet came to."""

    RIGHT = "right"
    ASKED = "asked"
    TOLD = "wrong but told"
    SILENT = "wrong and silent"


def judged(seed: int) -> tuple[Verdict, str]:
    """The verdict on the sheet of a seed, refitted to another thickness, and what was off."""
    sheet, chance = random_sheet(seed), Random(seed)
    thickness = round(sheet.drawn * chance.uniform(0.6, 1.6), 2)
    rule = FitRule(chance.uniform(-0.05, 0.2), chance.uniform(0, 0.25), KerfAt.DRAWING)
    digits = DIGITS[seed % len(DIGITS)]
    drawn = [
        loop if digits is None else [_rounded(edge, digits) for edge in loop]
        for part in sheet.loops(sheet.drawn, sheet.opening) for loop in part
    ]  # fmt: skip
    wanted = [
        loop for part in sheet.loops(thickness, thickness + rule.clearance - rule.kerf)
        for loop in part
    ]  # fmt: skip
    analysis = analyse(_loose(drawn, chance) if sheet.is_loose else made.drawing(*drawn))
    words = f"{sheet.words}, {sheet.drawn} to {thickness}"
    if analysis.drawn_for(thickness) is None:
        return Verdict.ASKED, f"{words}: {[each.value for each in analysis.evidence[:3]]}"
    done = refit_drawing(analysis, RefitOptions(thickness, rule))
    if len(analysis.nested.loops) != len(wanted):
        return Verdict.SILENT, f"{words}: {len(analysis.nested.loops)} loops of {len(wanted)}"
    place = _places(done, drawn)
    off = [
        number for number, loop in enumerate(wanted)
        if shapely.hausdorff_distance(_ring(loop), _ring(_new(done, place[number])))
        > (0.02 if digits is None else 0.04)
    ]  # fmt: skip
    doubtful = {d.feature.piece for d in done.decisions if d.outcome is Outcome.UNCERTAIN}
    if not sheet.is_loose and _told_apart(done, sheet.parts):
        return Verdict.SILENT, f"{words}: identical pieces were not decided alike"
    if not off:
        return (Verdict.ASKED if doubtful else Verdict.RIGHT), words
    hurt = {int(analysis.nested.piece_number[place[number]]) for number in off}
    if hurt <= doubtful:
        return Verdict.ASKED, f"{words}: loops {off}"
    refused = any(each.severity is Severity.PROBLEM for each in refit_findings(done))
    return (Verdict.TOLD if refused else Verdict.SILENT), f"{words}: loops {off}"


def _told_apart(done: Refit, parts: Sequence[Part]) -> bool:
    """Whether pieces that are one part, turned or mirrored, have different decisions."""
    found: dict[Part, list[list[tuple[str, str]]]] = {}
    for piece, part in enumerate(parts):
        own = [d for d in done.decisions if d.feature.piece == piece]
        found.setdefault(part, []).append(sorted((d.feature.kind, d.outcome.name) for d in own))
    return any(each != same[0] for same in found.values() for each in same)


def _loose(loops: Sequence[Loop], chance: Random) -> Drawing:
    """Every edge by itself, in any order and direction, a side that two parts share once."""
    edges = {
        frozenset((tuple(round(c, 3) for c in p)) for p in (e.start, e.point_at(0.5), e.end)): e
        for loop in loops for e in loop
    }  # fmt: skip
    own = [reverse(edge) if chance.random() < 0.5 else edge for edge in edges.values()]
    chance.shuffle(own)
    return made.of_traces([DrawnPath(i, (edge,), range(1), "") for i, edge in enumerate(own)])


def _places(done: Refit, drawn: Sequence[Loop]) -> list[int]:
    """The number in the analysis of each loop that was drawn: the one whose box is nearest."""
    known = [shapely.bounds(_ring(loop.segments)) for loop in done.analysis.nested.loops]
    boxes = [shapely.bounds(_ring(loop)) for loop in drawn]
    return [int(np.abs(np.array(known) - box).sum(axis=1).argmin()) for box in boxes]


def _new(done: Refit, loop: int) -> Loop:
    edges = done.edges.get(loop, done.analysis.nested.loops[loop].segments)
    return [edge for edge in edges if edge is not None]


def _ring(loop: Loop) -> shapely.LinearRing:
    return shapely.linearrings(chord_points(loop))


def _rounded(edge: Segment, digits: int) -> Segment:
    start, end = (tuple(round(c, digits) for c in p) for p in (edge.start, edge.end))
    return with_end_points(edge, start, end)


if __name__ == "__main__":
    found = [judged(seed) for seed in range(int(sys.argv[1]))]
    for seed, (verdict, words) in enumerate(found):
        if verdict is not Verdict.RIGHT:
            print(f"{seed}: {verdict}, {words}")
    for verdict, count in Counter(verdict for verdict, _ in found).items():
        print(f"{verdict}: {count} of {len(found)}, {100 * count / len(found):.2f} %")
