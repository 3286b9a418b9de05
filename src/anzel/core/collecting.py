"""How seldom garbage is collected where there is no window; see ui/housekeeping.py for that."""

COLLECT_AFTER = (50_000, 20, 50)
"""Thresholds of the garbage collector. A solved structure is hundreds of thousands of objects that
stay and have no cycles; looking through them at the usual thresholds takes a third of the time."""
