"""A real client of AT-SPI reads and presses what the window paints, in a process of its own."""

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from anzel.project.demos import DEMOS
from anzel.storage import project_file

CLIENT = Path(__file__).with_name("screen_reader.py")


@pytest.mark.parametrize("name", ["herb-stand"])
def test_a_screen_reader_reads_and_presses_every_step(name, tmp_path):
    file = tmp_path / f"{name}.anzel"
    project_file.save(next(demo for demo in DEMOS if demo.name == name).make(), file)
    record = tmp_path / "record.json"
    anzel = [sys.executable, "-P", "-m", "anzel", "open", "--new-window", str(file)]
    run = subprocess.run(
        ["dbus-run-session", "--", sys.executable, str(CLIENT), str(record), "5", *anzel],
        capture_output=True, text=True, timeout=240, cwd=tmp_path,
        env={**os.environ, "XDG_RUNTIME_DIR": str(tmp_path)},
    )  # fmt: skip
    assert run.returncode == 0, run.stderr
    found = json.loads(record.read_text())
    assert found["alive"]
    assert found["pressed"] > 0
    for step in ("Stock", "Build", "Sheets"):
        painted = [item for item in found["steps"][step] if item["is_painted"]]
        assert painted, step
        assert all(item["name"] and item["extents"][2] > 0 for item in painted)
