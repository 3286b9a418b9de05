"""How long the proof of assembly takes, in seconds and over bare booleans of the same solids.

Run it with `.venv/bin/python benchmarks/assembly.py`.

For a lamp of 36 ribs, a sliceform of 30 × 30 slices, and every demo: the seconds of the proof, and
their ratio to the reference, which intersects the solids of all joined pairs ten times over, as
often as a pair is asked about at the least. Wanted: 3 s, 30 s and 1 s on two cores.
"""

import gc
import time
from collections.abc import Callable, Iterator
from itertools import combinations
from statistics import median

from anzel.assembly.bodies import bodies_of
from anzel.assembly.order import prove
from anzel.core.collecting import COLLECT_AFTER
from anzel.materials.fits import KerfAt
from anzel.project.demos import DEMOS
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.structure.forms import FORMS
from anzel.structure.forms.solved_form import solve_form
from anzel.structure.model import FitContext, SheetSpec, SolvedStructure
from anzel.structure.solids import produced_solid
from asked_help import tell_help

RUNS, TIMES = 3, 10
SHEETS = FitContext((SheetSpec("ply-3", 2.94, 0.15),), 0.05, KerfAt.DRAWING)
Case = tuple[str, float, SolvedStructure, FitContext]


def cases() -> Iterator[Case]:
    """Yield names, the seconds that are wanted, and solved structures."""
    lamp = FORMS["rib-lamp"]().with_changes(ribs=36, radius=130.0)
    slices = FORMS["sliceform"]().with_changes(first=30, second=30, width=300.0, depth=300.0)
    for name, wanted, form in (("36 ribs", 3.0, lamp), ("30 × 30 slices", 30.0, slices)):
        form = form.with_stocks(dict.fromkeys(form.stock_roles(), "ply-3"))
        yield name, wanted, solve_form(form, SHEETS), SHEETS
    for demo in DEMOS:
        project = demo.make()
        yield demo.name, 1.0, solved_structure_of(project), fit_context_of(project)


def bare(solved: SolvedStructure, fit_context: FitContext) -> None:
    """Intersect the solids of all joined pairs."""
    solids = {piece.name: produced_solid(piece, fit_context) for piece in solved.pieces}
    for joint in solved.joints:
        for one, other in combinations(joint.pieces, 2):
            for _ in range(TIMES):
                (solids[one] ^ solids[other]).volume()


def seconds(work: Callable[[], object]) -> float:
    """Return how long a call takes, the median of a few."""
    taken = []
    for _ in range(RUNS):
        begun = time.perf_counter()
        work()
        taken.append(time.perf_counter() - begun)
    return median(taken)


def main() -> None:
    """Print a line for each case."""
    gc.set_threshold(*COLLECT_AFTER)
    for name, wanted, solved, fit_context in cases():
        own = seconds(lambda s=solved, f=fit_context: prove(bodies_of(s, f)))
        reference = seconds(lambda s=solved, f=fit_context: bare(s, f))
        ratio = f"{own / reference:6.2f} × bare" if solved.joints else ""
        print(f"{name:20}{own:7.2f} s of {wanted:4.0f} s wanted  {ratio}")


if __name__ == "__main__":
    tell_help(__doc__)
    main()
