"""What is shipped: a wheel with everything in it, and the files a desktop wants."""

import re
import shutil
import subprocess
import sys
import tarfile
import zipfile
from configparser import ConfigParser
from pathlib import Path
from xml.etree import ElementTree

import click
import pytest

from anzel import __version__
from anzel.cli.main import commands

ROOT = Path(__file__).parents[1]
SHARE = ROOT / "src" / "anzel" / "desktop_entry"


@pytest.fixture(scope="module")
def copy(tmp_path_factory):
    """A copy of what the repository holds."""
    made = tmp_path_factory.mktemp("copy")
    left = shutil.ignore_patterns(
        "__pycache__", ".*_cache", ".venv", ".git", "build", "*.egg-info", ".hypothesis",
        ".coverage*",
    )  # fmt: skip
    shutil.copytree(ROOT, made, ignore=left, dirs_exist_ok=True)
    return made


def built(copy, out, kind):
    """Build a wheel or a source archive, and return its path."""
    build = f"from setuptools.build_meta import build_{kind} as b; print(b({str(out)!r}))"
    done = subprocess.run([sys.executable, "-c", build], cwd=copy, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    return next(out.glob("*.whl" if kind == "wheel" else "*.tar.gz"))


def test_the_source_archive_holds_all_that_the_tests_need(copy, tmp_path):
    wanted = {
        path.relative_to(copy).as_posix()
        for path in copy.rglob("*")
        if path.is_file() and not {"__pycache__", "anzel.egg-info", "build"} & set(path.parts)
    }
    with tarfile.open(built(copy, tmp_path, "sdist")) as archive:
        held = {name.partition("/")[2] for name in archive.getnames()}
        (command,) = (each for each in archive if each.name.endswith("/test"))
    assert wanted - held - {"MANIFEST.in"} == set()
    assert command.mode & 0o100


@pytest.fixture(scope="module")
def wheel(copy, tmp_path_factory):
    """The wheel, built from a copy of what the repository holds, and unpacked."""
    out = tmp_path_factory.mktemp("out")
    path = built(copy, out, "wheel")
    with zipfile.ZipFile(path) as archive:
        archive.extractall(out / "unpacked")
        return out / "unpacked", archive.namelist()


def test_the_wheel_holds_every_module_and_resource(wheel):
    _, names = wheel
    wanted = {
        path.relative_to(ROOT / "src").as_posix()
        for path in (ROOT / "src" / "anzel").rglob("*")
        if path.is_file() and "__pycache__" not in path.parts
    }
    assert wanted <= set(names)
    shared = {name.partition("/data/")[2] for name in names if "/data/" in name}
    assert shared == {
        "share/applications/anzel.desktop", "share/mime/packages/anzel.xml",
        "share/metainfo/anzel.metainfo.xml", "share/man/man1/anzel.1",
        "share/icons/hicolor/scalable/apps/anzel.svg", "share/thumbnailers/anzel.thumbnailer",
    }  # fmt: skip
    entry = next(name for name in names if name.endswith("entry_points.txt"))
    assert "anzel = anzel.cli.main:main" in (wheel[0] / entry).read_text()


def test_the_wheel_works_away_from_the_repository(wheel, tmp_path):
    script = (
        "import anzel, sys; from anzel.cli.main import main; print(anzel.__file__, flush=True); "
        "main(['demo', 'seed-caddy', '-o', 'caddy.anzel'])"
    )
    done = subprocess.run(
        [sys.executable, "-c", script], cwd=tmp_path, capture_output=True, text=True,
        env={"PYTHONPATH": str(wheel[0]), "PATH": "/usr/bin:/bin"},
    )  # fmt: skip
    assert done.stdout.strip().startswith(str(wheel[0])), done.stderr
    assert (tmp_path / "caddy.anzel").stat().st_size > 1000


def test_the_desktop_entry_names_what_there_is():
    """By the Desktop Entry Specification: required keys, a known main category, our type."""
    parser = ConfigParser(interpolation=None, delimiters=("=",))
    parser.optionxform = str
    parser.read(SHARE / "anzel.desktop", encoding="utf-8")
    entry = parser["Desktop Entry"]
    assert (entry["Type"], entry["Icon"], entry["Terminal"]) == ("Application", "anzel", "false")
    assert entry["Exec"].split()[:2] == ["anzel", "open"]
    assert {"Graphics", "Engineering"} <= set(entry["Categories"].rstrip(";").split(";"))
    mime = ElementTree.parse(SHARE / "anzel.xml").getroot()
    kind = mime[0].get("type")
    assert entry["MimeType"].split(";")[0] == kind
    assert {"image/svg+xml", "image/vnd.dxf", "model/stl"} <= set(entry["MimeType"].split(";"))
    assert mime[0].find("{*}glob").get("pattern") == "*.anzel"
    meta = ElementTree.parse(SHARE / "anzel.metainfo.xml").getroot()
    assert meta.find("launchable").text == "anzel.desktop"
    assert meta.find("provides/mediatype").text == kind
    assert meta.find("releases/release").get("version") == __version__


@pytest.mark.parametrize(
    "command",
    [["appstreamcli", "validate", "--no-net", str(SHARE / "anzel.metainfo.xml")],
     ["desktop-file-validate", str(SHARE / "anzel.desktop")]],
    ids=lambda command: command[0],
)  # fmt: skip
def test_the_validators_of_the_desktop_are_content(command):
    if shutil.which(command[0]) is None:
        pytest.skip(f"{command[0]} is not installed")
    done = subprocess.run(command, capture_output=True, text=True)
    assert done.returncode == 0, done.stdout + done.stderr


def test_the_man_page_names_every_command_and_no_other():
    page = (SHARE / "anzel.1").read_text()
    listed = page.partition(".SH COMMANDS")[2].partition(".SH EXIT STATUS")[0]
    named = {
        word
        for line in re.findall(r"^\.BR? (.*)$", listed, re.M)
        for word in re.findall(r"[a-z]+(?:-[a-z]+)*", line)
    }
    assert named == set(commands.list_commands(click.Context(commands)))
    assert f"Anzel {__version__}" in page
