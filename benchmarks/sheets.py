"""Layout, as ratios of densities and times in the same run.

- *fast / squeeze*: density of the fast engine over that of squeezing for 20 s, on four demos
  (wanted: at least 0.95), and its time over those 20 s (wanted: at most 0.02).
- *squeeze / spyrrow*: density of squeezing over that of the strip packer alone in as many seconds,
  both with the same seeds, mean and spread, on five sets without holes (wanted: above 1), and on
  one with holes (wanted: clearly above 1).
- *many*: 500 different pieces on about twelve sheets, seconds told.

Density is the pieces' area over the area taken up on their sheet.
"""

import sys
import time
from statistics import mean

import numpy as np
import shapely
import spyrrow

from anzel.nesting.problem import Container, Item, NestingProblem, Orientation, density_of
from anzel.nesting.quick_solver import solve_quickly
from anzel.nesting.squeeze import squeeze
from anzel.nesting.validation import clashes
from anzel.project.demos import DEMOS
from anzel.project.derive import layout_of
from asked_help import tell_help

SECONDS, SEEDS = 20.0, (1, 2, 3)
HEIGHT, SPACING, MARGIN = 300.0, 3.0, 5.0
QUARTERS = tuple(Orientation(float(turn)) for turn in (0, 90, 180, 270))


def demo_puzzle(name: str, *, strip: bool = False) -> NestingProblem:
    """The thin pieces of a demo, on its sheets or on one long strip."""
    project = next(demo for demo in DEMOS if demo.name == name).make()
    problem = layout_of(project, project.stocks_in_use[0].id).problem
    if not strip:
        return problem
    shapes = tuple(Item(s.name, s.polygon, s.count, QUARTERS) for s in problem.items)
    return NestingProblem(shapes, (Container.rectangle("strip", 3000, HEIGHT),), SPACING, MARGIN)


def stars(kinds: int, count: int, hole: float = 0.0) -> tuple[Item, ...]:
    """Irregular polygons, some with holes that small ones fit into."""
    random = np.random.default_rng(7)
    shapes = []
    for number in range(kinds):
        corners = int(random.integers(5, 12))
        radii = random.uniform(15, 55, corners)
        turns = np.arange(corners) * 2 * np.pi / corners
        ring = np.c_[radii * np.cos(turns), radii * np.sin(turns)]
        shapes.append(Item(str(number), shapely.Polygon(ring), count, QUARTERS))
    if hole:
        disc = shapely.Point(0, 0)
        frame = disc.buffer(hole + 12).difference(disc.buffer(hole))
        shapes.append(Item("frame", frame, 4, QUARTERS))
    return tuple(shapes)


def spyrrow_density(problem: NestingProblem, seconds: float, seed: int) -> float:
    """Density of the strip packer alone; it knows no holes."""
    items = [
        spyrrow.Item(s.name, list(s.polygon.exterior.coords)[:-1], s.count,
                     [orientation.turn for orientation in s.orientations])
        for s in problem.items
    ]  # fmt: skip
    strip = spyrrow.StripPackingInstance("strip", HEIGHT - 2 * MARGIN, items)
    settings = spyrrow.StripPackingConfig(
        total_computation_time=round(seconds), min_items_separation=SPACING, seed=seed,
        early_termination=False,
    )  # fmt: skip
    length = strip.solve(settings).width + 2 * MARGIN
    return sum(s.area * s.count for s in problem.items) / (length * HEIGHT)


def fast_against_squeeze() -> None:
    for name in ("seedpod-lamp", "acorn", "fern-lantern", "leaf-lantern"):
        problem = demo_puzzle(name)
        solve_quickly(problem)  # loads what it needs
        begun = time.perf_counter()
        quick = solve_quickly(problem)
        took = time.perf_counter() - begun
        best = squeeze(problem, SECONDS)
        ratio = density_of(problem, quick) / density_of(problem, best)
        share = took / SECONDS
        print(f"fast / squeeze, {name}: density {ratio:.3f} (≥ 0.95), time {share:.4f} (≤ 0.02)")


def squeeze_against_spyrrow() -> None:
    strip = (Container.rectangle("strip", 3000, HEIGHT),)
    stars_of = {
        "24 stars": stars(24, 1), "5 each of 8 stars": stars(8, 5), "60 stars": stars(60, 1),
        "16 stars and 4 frames, holes used": stars(16, 1, hole=48.0),
    }  # fmt: skip
    sets = {
        "lamp's ribs": demo_puzzle("seedpod-lamp", strip=True),
        "acorn's slices": demo_puzzle("acorn", strip=True),
    } | {name: NestingProblem(each, strip, SPACING, MARGIN) for name, each in stars_of.items()}
    for name, problem in sets.items():
        ratios = []
        for seed in SEEDS:
            solution = squeeze(problem, SECONDS, seed=seed)
            assert not clashes(problem, solution)
            alone = spyrrow_density(problem, SECONDS, seed)
            ratios.append(density_of(problem, solution) / alone)
        spread = f"{min(ratios):.3f} to {max(ratios):.3f}"
        print(f"squeeze / spyrrow, {name}: {mean(ratios):.3f} ({spread})", flush=True)


def many() -> None:
    problem = NestingProblem(
        stars(500, 1), (Container.rectangle("sheet", 600, 400),), SPACING, MARGIN
    )
    begun = time.perf_counter()
    solution = solve_quickly(problem)
    took = time.perf_counter() - begun
    density = density_of(problem, solution)
    print(f"500 pieces on {len(solution.sheets)} sheets in {took:.1f} s, density {density:.2f}")


if __name__ == "__main__":
    tell_help(__doc__)
    for part in (fast_against_squeeze, squeeze_against_spyrrow, many):
        if len(sys.argv) < 2 or part.__name__ in sys.argv[1:]:
            part()
