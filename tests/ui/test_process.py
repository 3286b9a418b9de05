"""The window as a process of its own."""

import os
import signal
import subprocess
import sys
import time

import pytest

from anzel.cli.display_check import no_screen
from anzel.storage import project_file


@pytest.mark.parametrize("number", [signal.SIGINT, signal.SIGTERM])
def test_the_window_ends_when_it_is_told_to_and_leaves_unsaved_work_behind(tmp_path, number):
    script = (
        "import sys; from PySide6.QtCore import QTimer; from anzel.ui import application\n"
        "from anzel.app.edits import project_edits; from anzel.cli.main import main\n"
        "show = application.MainWindow.show\n"
        "def shown(window):\n"
        "    show(window); session = window._session\n"
        "    make = lambda p: project_edits.change_structure(p, height=143)\n"
        "    change = lambda: (session.attempt('Height', make), print('ready', flush=True))\n"
        "    QTimer.singleShot(300, change)\n"
        "application.MainWindow.show = shown\n"
        "main(['open'])"
    )
    command = [sys.executable, "-c", script]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as process:
        assert process.stdout.readline() == "ready\n"
        time.sleep(0.3)
        process.send_signal(number)
        assert process.wait(10) == 128 + number
    (kept,) = (tmp_path / "state" / "anzel" / "unsaved").glob("*.anzel")
    assert project_file.load(kept).structure.height == 143


def test_a_picture_of_a_drawing_that_is_brought_in_is_saved_and_the_window_ends(tmp_path):
    """Nobody is there to be asked what becomes of the project, and nothing is remembered."""
    drawing, picture = tmp_path / "d.svg", tmp_path / "d.png"
    drawing.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60">'
        '<path d="M0 0H90V60H0Z"/></svg>'
    )
    command = [sys.executable, "-m", "anzel", "open", drawing, "--picture", picture]
    assert subprocess.run(command, timeout=60, check=False).returncode == 0
    assert picture.stat().st_size > 10_000
    assert not (tmp_path / "config" / "anzel" / "settings.json").exists()


def test_a_screen_that_answers_is_enough():
    assert no_screen({"DISPLAY": os.environ["DISPLAY"], "WAYLAND_DISPLAY": "way"}) == ""
