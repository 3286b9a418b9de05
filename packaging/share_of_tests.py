"""Check that tests are a quarter to a third of the code (lines under tests/ over all)."""

import subprocess
import sys
from pathlib import Path

LEAST, MOST = 0.25, 1 / 3


def main() -> None:
    """Print the share; exit 1 outside the range."""
    listed = subprocess.run(
        ["git", "ls-files", "--cached", "--others", "--exclude-standard", "*.py"],
        capture_output=True, text=True, check=True,
    )  # fmt: skip
    lines = {
        name: len(Path(name).read_text(encoding="utf-8").splitlines())
        for name in listed.stdout.splitlines()
        if Path(name).exists()
    }
    tests = sum(count for name, count in lines.items() if name.startswith("tests/"))
    share = tests / sum(lines.values())
    print(f"Tests are {share:.1%} of {sum(lines.values())} lines of Python.")
    sys.exit(not LEAST <= share <= MOST)


if __name__ == "__main__":
    main()
