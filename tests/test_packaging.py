"""What is shipped: a wheel with everything in it, and the files a desktop wants."""

import re
import shutil
import subprocess
import sys
import zipfile
from configparser import ConfigParser
from pathlib import Path
from xml.etree import ElementTree

import pytest

from anzel import __version__
from anzel.cli.main import commands

ROOT = Path(__file__).parents[1]
SHARE = ROOT / "src" / "anzel" / "desktop_entry"


@pytest.fixture(scope="module")
def wheel(tmp_path_factory):
    """The wheel, built from a copy of what the repository tracks, and unpacked."""
    copy, out = tmp_path_factory.mktemp("copy"), tmp_path_factory.mktemp("out")
    for name in ("pyproject.toml", "README.md", "LICENSE", "NOTICES.md"):
        shutil.copy(ROOT / name, copy)
    for name in ("src/anzel", "packaging"):
        ignore = shutil.ignore_patterns("__pycache__")
        shutil.copytree(ROOT / name, copy / name, ignore=ignore)
    build = f"from setuptools.build_meta import build_wheel; print(build_wheel({str(out)!r}))"
    done = subprocess.run([sys.executable, "-c", build], cwd=copy, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    (path,) = out.glob("*.whl")
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
    assert named == set(commands.commands)
    assert f"Anzel {__version__}" in page
