"""A saved project, and commands run in this process."""

import pytest

from anzel.cli.main import main
from anzel.project.demos import herb_stand
from anzel.storage import project_file


@pytest.fixture
def stand(tmp_path):
    """A saved herb stand."""
    path = tmp_path / "stand.anzel"
    project_file.save(herb_stand(), path)
    return path


@pytest.fixture
def run(capsys):
    """Run a command: (exit code, stdout, stderr)."""

    def call(*arguments):
        code = 0
        try:
            main([str(argument) for argument in arguments])
        except SystemExit as ended:
            code = ended.code or 0
        out, err = capsys.readouterr()
        return code, out, err

    return call


@pytest.fixture
def saved(stand):
    """Change the saved stand by an edit, and get its path."""

    def change(edit):
        project_file.save(edit(project_file.load(stand)), stand)
        return stand

    return change
