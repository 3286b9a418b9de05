"""How quickly a drawn plate follows a dragged point, as a ratio in one run.

Run it with `.venv/bin/python benchmarks/sketch.py`.

- *apart*: one point of an outline of 200 legs dragged, a millimetre an event, and everything solved
  at each, with the lengths of 60 legs held that do not meet; over one dense least-squares solve of
  the same Jacobian by SciPy. *A first one* counts making the equations, too.
- *chain*: the same with 60 legs held that follow one another, so that all move.

The median of many repeats; a ratio is only as steady as the machine.
"""

import time
from collections.abc import Callable
from functools import partial
from itertools import cycle
from math import cos, pi, sin
from statistics import median

from scipy.linalg import lstsq

from anzel.geometry.rigid_transform import Point
from anzel.shape.equations import evaluated
from anzel.shape.sketch import ClosedPath, HeldSize, Leg, SizeKind, Sketch, SketchPoint
from anzel.shape.sketch_solver import SketchSolver, all_equations, measured, solved
from anzel.shape.sketch_variables import SketchVariables
from asked_help import tell_help

LEGS, SIZES, REPEATS = 200, 60, 40


def star(apart: int) -> Sketch:
    """Return a star with some legs held at their lengths, so many legs from one to the next."""
    places = [(2 * pi * at / LEGS, 100 * (1 + 0.2 * (at % 2))) for at in range(LEGS)]
    points = tuple(
        SketchPoint(id=f"p{at}", x=radius * cos(turn), y=radius * sin(turn))
        for at, (turn, radius) in enumerate(places)
    )
    legs = tuple(Leg(id=f"l{at}") for at in range(LEGS))
    sketch = Sketch(paths=(ClosedPath(id="outline", points=points, legs=legs),))
    sizes = []
    for at in range(SIZES):
        of = (f"l{apart * at}",)
        value = measured(sketch, SizeKind.LENGTH, of)
        sizes.append(HeldSize(name=f"s{at}", kind=SizeKind.LENGTH, of=of, value=value))
    return sketch.with_changes(sizes=tuple(sizes))


def seconds(work: Callable[[], object]) -> float:
    """Return the median time of many runs."""
    times = []
    for _ in range(REPEATS):
        begun = time.perf_counter()
        work()
        times.append(time.perf_counter() - begun)
    return median(times)


def way(x: float, y: float, step: float = 1.0) -> list[Point]:
    """Return where a dragged point is at each event of the mouse, there and back."""
    there = [(x + 0.8 * step * at, y + 0.6 * step * at) for at in range(1, 13)]
    return [*there, *reversed(there)]


def compare(words: str, apart: int) -> None:
    """Print the ratios for legs held so many legs apart."""
    sketch = star(apart)
    variables = SketchVariables(sketch)
    residuals, jacobian = evaluated(all_equations(sketch, variables), variables.start)
    dense = seconds(partial(lstsq, jacobian, residuals))
    places = way(*variables.start[:2])
    solver, coming = SketchSolver(sketch, ["p0"]), cycle(places)
    drag = seconds(lambda: solver.solve({"p0": next(coming)}, is_preview=True))
    alone = seconds(lambda: solved(sketch, {"p0": places[0]}))
    print(
        f"{words}   {drag / dense:5.1f} × one dense solve ({1000 * drag:.1f} ms), "
        f"a first one {alone / dense:.1f} ×"
    )


def main() -> None:
    """Print the ratios."""
    compare("apart", 3)
    compare("chain", 1)


if __name__ == "__main__":
    tell_help(__doc__)
    main()
