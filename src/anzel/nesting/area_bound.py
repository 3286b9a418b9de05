"""The fewest sheets that anything could do with, by area alone."""

from anzel.nesting.problem import NestingProblem


def fewest_sheets(problem: NestingProblem) -> int:
    """At least ⌈Σ area / usable area⌉ (handbook, 8), each piece taking half the spacing round it
    and each sheet giving half of it beyond its margin; the largest sheets and scraps first.

    Where those that are counted run out before, all of them.
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
        wanted = -int(-(needed - 1e-6) // usable)
        taken = max(wanted if count is None else min(wanted, count), 0)
        sheets, needed = sheets + taken, needed - taken * usable
    return sheets
