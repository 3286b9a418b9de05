"""How often a refit of a random sheet is right, asked about, or wrong.

`python tests/refit/rates.py 2000` prints the rates over so many sheets.
"""

import sys
from collections import Counter
from enum import StrEnum
from pathlib import Path
from random import Random

import shapely

if __name__ == "__main__":
    import tests

    tests.__path__.insert(0, str(Path(__file__).parents[1]))

from tests.refit import made
from tests.refit.sheets import Loop, random_sheet

from anzel.core.findings import Severity
from anzel.drawings.containment import chord_points
from anzel.geometry.segments import Segment, with_end_points
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
    analysis = analyse(made.drawing(*drawn))
    words = f"{sheet.words}, {sheet.drawn} to {thickness}"
    if analysis.drawn_for(thickness) is None:
        return Verdict.ASKED, f"{words}: {[each.value for each in analysis.evidence[:3]]}"
    done = refit_drawing(analysis, RefitOptions(thickness, rule))
    off = [
        number for number, loop in enumerate(wanted)
        if shapely.hausdorff_distance(_ring(loop), _ring(_new(done, number)))
        > (0.02 if digits is None else 0.04)
    ]  # fmt: skip
    doubtful = {d.feature.piece for d in done.decisions if d.outcome is Outcome.UNCERTAIN}
    if not off:
        return (Verdict.ASKED if doubtful else Verdict.RIGHT), words
    hurt = {int(analysis.nested.piece_number[number]) for number in off}
    if hurt <= doubtful:
        return Verdict.ASKED, f"{words}: loops {off}"
    refused = any(each.severity is Severity.PROBLEM for each in refit_findings(done))
    return (Verdict.TOLD if refused else Verdict.SILENT), f"{words}: loops {off}"


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
