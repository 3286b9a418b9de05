"""How seldom garbage is collected."""

COLLECT_AFTER = (5_000, 5, 1_000)
"""Thresholds of the garbage collector. A solved structure is hundreds of thousands of objects that
stay and have no cycles; looking through all of them at the usual thresholds takes a third of the
time. A collection of younger ones holds everything up for no more than some 20 ms."""
