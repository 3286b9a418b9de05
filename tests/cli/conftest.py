"""A saved project, and commands run in this process."""

import json
import sys

import click
import pytest
from jsonschema import Draft202012Validator

from anzel.cli import common
from anzel.cli.main import main
from anzel.cli.schema_commands import schema_text
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


@pytest.fixture(autouse=True)
def records_keep_to_their_schemas(monkeypatch):
    """Check every record that a command prints against its published schema."""
    printed = common.say_record

    def checked(record):
        name = "-".join(click.get_current_context().command_path.split()[1:])
        validate(common.rounded(record), name)
        printed(record)

    for module in [module for name, module in sys.modules.items() if name.startswith("anzel.cli")]:
        if getattr(module, "say_record", None) is printed:
            monkeypatch.setattr(module, "say_record", checked)


def validate(record, name):
    """Raise where a record is not as its schema says."""
    as_printed = json.loads(json.dumps(record))
    Draft202012Validator(json.loads(schema_text(name))).validate(as_printed)
