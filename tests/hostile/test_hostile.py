"""Hostile files over every reader: success or one clear line, under 10 s of computing and 1 GiB.

Each reader runs in a process of its own, so that a crash or a file that never ends is told too.
"""

import json
import subprocess
import sys
from pathlib import Path

import pytest

HERE = Path(__file__).parent
READERS = (
    "svg drawing", "svg cut file", "dxf drawing", "dxf cut file", "project", "mesh", "picture",
    "picture to trace", "puzzle", "stocks",
)  # fmt: skip
_SECONDS, _MEBIBYTES = 10.0, 1024
MUST_SUCCEED = {
    "svg drawing": {"standard doctype", "utf-16", "utf-32", "island in a hole"},
    "svg cut file": {"standard doctype", "utf-16", "island in a hole", "far off"},
    "dxf drawing": {"odd units", "ansi"},
    "dxf cut file": {"ansi", "far off"},
}


@pytest.mark.parametrize("reader", READERS)
def test_hostile_files_end_in_success_or_in_one_clear_line(reader):
    command = [sys.executable, str(HERE / "runner.py"), reader]
    done = subprocess.run(command, capture_output=True, text=True, cwd=HERE.parents[1])
    outcomes = {
        name: (seconds, more, ended)
        for name, seconds, more, ended in map(json.loads, done.stdout.splitlines())
    }
    assert done.returncode == 0, f"after {list(outcomes)[-1:]}:\n{done.stderr[-3000:]}"
    assert len(outcomes) > 8
    for name, (seconds, more, ended) in outcomes.items():
        assert not ended.startswith("!"), f"{name}: {ended}"
        assert "\n" not in ended, name
        assert len(ended) < 400, name
        assert seconds < _SECONDS, f"{name}: {seconds:.1f} s"
        assert more < _MEBIBYTES, f"{name}: {more:.0f} MiB"
    for name in MUST_SUCCEED.get(reader, ()):
        assert outcomes[name][2] == "", f"{name}: {outcomes[name][2]}"
