"""A lower bound on the number of sheets, by area alone."""

from anzel.core.tolerances import COINCIDENT
from anzel.nesting.problem import NestingProblem


def fewest_sheets(problem: NestingProblem) -> int:
    """Return the lower bound ⌈Σ area / usable area⌉ (handbook of the trade, 8).

    Each item takes half the spacing round it, and each sheet gives half of it beyond its margin;
    the largest sheets and scraps come first. If the counted ones run out, all of them are the
    bound.
    """
    half = problem.spacing / 2 if problem.spacing > 1e-3 else 0.0  # less makes buffers break
    needed = sum(
        item.count * float(item.polygon.buffer(half).area if half else item.area)
        for item in problem.items
    )
    containers = [
        (float((inner.buffer(half, join_style="mitre") if half else inner).area), container.count)
        for inner, container in zip(problem.inner, problem.containers, strict=True)
        if not inner.is_empty
    ]
    sheets = 0
    for usable, count in sorted(containers, key=lambda each: -each[0]):
        wanted = -int(-(needed - COINCIDENT) // usable)
        taken = max(wanted if count is None else min(wanted, count), 0)
        sheets, needed = sheets + taken, needed - taken * usable
    return sheets
