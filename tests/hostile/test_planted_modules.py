"""Files of the current folder are never run, whatever their names."""

import subprocess
import sys
from importlib.metadata import packages_distributions
from pathlib import Path

import pytest

from anzel.helpers.interpreter import python_command
from anzel.project.demos import herb_stand
from anzel.storage import project_file
from anzel.ui.instances import window_command

MARK = "planted.txt"
PROGRAM = str(Path(sys.executable).with_name("anzel"))


@pytest.fixture
def planted(tmp_path):
    """A folder with a project, and a module of every name that Python could look for."""
    names = {*sys.stdlib_module_names, *packages_distributions(), "sitecustomize", "usercustomize"}
    body = f"open({str(tmp_path / MARK)!r}, 'a').write(__name__)\n"
    for name in (*names, "reportlab_settings", "local_reportlab_settings"):
        if name.isidentifier():
            (tmp_path / f"{name}.py").write_text(body)
    (tmp_path / "anzel").mkdir()
    for name in ("__init__", "__main__"):
        (tmp_path / "anzel" / f"{name}.py").write_text(body)
    project_file.save(herb_stand(), tmp_path / "stand.anzel")
    return tmp_path


@pytest.mark.parametrize(
    "command",
    [
        [PROGRAM, "sheets", "stand.anzel", "--engine", "squeeze", "--seconds", "2"],
        [PROGRAM, "export", "stand.anzel", "-o", "cut.pdf", "--stock", "birch-3"],
        [PROGRAM, "open", "stand.anzel", "--picture", "window.png"],
        [*window_command(Path("stand.anzel")), "--picture", "window.png"],
        python_command("-m", "anzel.nesting.strip_process", "--help"),
    ],
)
def test_no_module_of_the_current_folder_is_run(planted, command):
    run = subprocess.run(
        command, cwd=planted, capture_output=True, text=True, timeout=120, input=""
    )
    assert not (planted / MARK).exists(), (planted / MARK).read_text()
    if "strip_process" not in " ".join(command):
        assert run.returncode == 0, run.stderr
