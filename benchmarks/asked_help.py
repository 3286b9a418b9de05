"""What every benchmark does first: tell what it measures instead, where that is asked."""

import sys


def tell_help(about: str | None) -> None:
    """Print what a benchmark measures and leave, where it was started with --help."""
    if not {"-h", "--help"}.isdisjoint(sys.argv[1:]):
        print((about or "").strip())
        sys.exit(0)
