"""Starting the real program."""

import os
import subprocess
import sys
from pathlib import Path

import pytest
from PIL import Image

ROOT = Path(__file__).parents[2]


@pytest.mark.parametrize("step", ["stock", "test", "build", "sheets"])
def test_a_picture_of_every_step_is_saved(tmp_path, step):
    picture = tmp_path / "p.png"
    anzel = Path(sys.executable).with_name("anzel")
    ran = subprocess.run(
        [anzel, "open", "--picture", picture, "--step", step],
        capture_output=True, text=True, check=False, env=dict(os.environ),
    )  # fmt: skip
    assert ran.returncode == 0, ran.stderr
    with Image.open(picture) as image:
        assert image.size == (1280, 800)
        assert len(image.convert("RGB").getcolors(1 << 24)) > 200


def test_the_layers_are_named_in_the_contract():
    """Every folder of the package is in the layers contract, which the test command checks."""
    text = (ROOT / "pyproject.toml").read_text(encoding="utf-8")
    package = ROOT / "src" / "anzel"
    for folder in package.iterdir():
        if folder.is_dir() and folder.name != "__pycache__":
            assert f'"anzel.{folder.name}"' in text or folder.name in ("ui", "cli")
