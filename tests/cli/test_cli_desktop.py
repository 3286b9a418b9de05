"""Menu entry, file type, thumbnailer and manual page; schemas of what is printed."""

import json
import stat
import subprocess
from configparser import ConfigParser
from importlib import import_module
from pathlib import Path

import click
import pytest
from jsonschema import Draft202012Validator
from PIL import Image
from tests.cli.conftest import validate

from anzel.cli import desktop_commands
from anzel.cli.main import _MODULES, commands
from anzel.cli.schema_commands import schema_names, schema_text


@pytest.fixture
def program(tmp_path, monkeypatch):
    """A program that a menu can start, in a folder with a blank in its name."""
    path = tmp_path / "my tools" / "anzel"
    path.parent.mkdir()
    path.write_text("#!/bin/sh\n")
    path.chmod(path.stat().st_mode | stat.S_IXUSR)
    monkeypatch.setattr(desktop_commands, "_command", lambda: path)
    return path


def test_anzel_is_put_where_the_desktop_looks_and_taken_away(run, tmp_path, program):
    data = tmp_path / "data"
    code, out, _ = run("desktop", "--install", "--data", data, "--json")
    put = json.loads(out)["installed"]
    assert (code, len(put)) == (0, 6)
    parser = ConfigParser(interpolation=None)
    parser.read(data / "applications" / "anzel.desktop", encoding="utf-8")
    assert parser["Desktop Entry"]["Exec"] == f'"{program}" open %f'
    assert parser["Desktop Entry"]["TryExec"] == str(program)
    assert (data / "man" / "man1" / "anzel.1").is_file()
    known = (data / "mime" / "globs2").read_text()  # as update-mime-database wrote it
    assert "application/x-anzel:*.anzel" in known
    _, out, _ = run("desktop", "--remove", "--data", data, "--json")
    assert json.loads(out)["removed"] == put
    assert "x-anzel" not in (data / "mime" / "globs2").read_text()
    assert run("desktop", "--remove", "--data", data)[1] == "There is nothing to take away.\n"
    assert run("desktop")[0] == run("desktop", "--install", "--remove")[0] == 2


def test_the_entry_that_is_put_is_valid(run, tmp_path, program):
    run("desktop", "--install", "--data", tmp_path)
    entry = tmp_path / "applications" / "anzel.desktop"
    done = subprocess.run(["desktop-file-validate", entry], capture_output=True, text=True)
    assert done.stdout + done.stderr == ""


def test_a_thumbnail_is_made_under_any_name(run, stand, tmp_path):
    assert run("picture", stand, "-o", tmp_path / ".thumbnail.Xy3", "--size", "128")[0] == 0
    with Image.open(tmp_path / ".thumbnail.Xy3") as picture:
        assert (picture.format, picture.size) == ("PNG", (128, 128))


def test_every_command_is_loaded_from_the_module_that_has_it():
    names = {
        path.name.removesuffix("_commands.py"): tuple(
            command.name for command in import_module(f"anzel.cli.{path.stem}").COMMANDS
        )
        for path in Path(desktop_commands.__file__).parent.glob("*_commands.py")
    }
    assert names == _MODULES


def test_every_record_has_a_schema(run):
    printing = {"-".join(path) for path, command in _walk(commands, ())
                if any(option.name == "as_json" for option in command.params)}  # fmt: skip
    written = {"layout-answer", "refit"}
    assert set(schema_names()) == printing | written
    for name in schema_names():
        schema = json.loads(schema_text(name))
        Draft202012Validator.check_schema(schema)
        assert schema["title"]
    assert run("schema")[1].split() == schema_names()
    assert json.loads(run("schema", "pieces")[1]) == json.loads(schema_text("pieces"))
    assert run("schema", "none")[0] == 2


@pytest.mark.parametrize("demo", ["herb-stand", "seedpod-lamp", "seed-caddy"])
def test_records_of_the_demos_keep_to_their_schemas(run, tmp_path, demo):
    path = tmp_path / "demo.anzel"
    run("demo", demo, "-o", path)
    for command in ("pieces", "check", "stock", "estimate", "sheets"):
        code, out, err = run(command, path, "--json")
        assert code == 0, err
        validate(json.loads(out), command)


def _walk(command, path):
    if isinstance(command, click.Group):
        within = click.Context(command)
        for name in command.list_commands(within):
            yield from _walk(command.get_command(within, name), (*path, name))
    else:
        yield path, command


def test_a_small_picture_is_of_what_was_asked(run, stand, tmp_path):
    made = []
    for number, words in enumerate(((), ("--explode", "1"), ("--set", "height=150"))):
        path = tmp_path / f"{number}.png"
        assert run("picture", stand, "-o", path, "--size", "64", *words)[0] == 0
        made.append(path.read_bytes())
    assert len(set(made)) == 3
