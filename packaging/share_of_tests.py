"""Check that tests are a quarter to a third of the code (lines under tests/ over all)."""

import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
LEAST, MOST = 0.25, 1 / 3
FOLDERS = ("src", "tests", "benchmarks", "packaging")


def main() -> None:
    """Print the share; exit 1 outside the range."""
    lines = {
        folder: sum(
            len(path.read_text(encoding="utf-8").splitlines())
            for path in (ROOT / folder).rglob("*.py")
        )
        for folder in FOLDERS
    }
    share = lines["tests"] / sum(lines.values())
    print(f"Tests are {share:.1%} of {sum(lines.values())} lines of Python.")
    sys.exit(not LEAST <= share <= MOST)


if __name__ == "__main__":
    main()
