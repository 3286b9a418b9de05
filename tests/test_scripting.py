"""The documented Python interface: the guide's examples, and forms of other packages."""

import doctest
import textwrap
from importlib.metadata import EntryPoint
from pathlib import Path

import pytest

from anzel.cli.main import main
from anzel.core.findings import ParameterError
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.storage import project_file
from anzel.structure.forms import FORMS, about_form, from_packages, new_form

GUIDE = Path(__file__).parents[1] / "docs" / "scripting.md"


def test_the_examples_of_the_guide_hold(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    failed, tried = doctest.testfile(str(GUIDE), module_relative=False)
    assert (failed, tried > 20) == (0, True)


@pytest.fixture
def packaged(tmp_path, monkeypatch):
    """A package with a form that works and with some that do not."""
    (tmp_path / "tray_form.py").write_text(textwrap.dedent('''
        from typing import Literal
        from anzel.structure.forms.box import Box
        class Tray(Box):
            """A box without a lid."""
            form: Literal["tray"] = "tray"
            lid: Literal["none"] = "none"
        class NoForm: ...
    '''))  # fmt: skip
    monkeypatch.syspath_prepend(tmp_path)
    named = {
        "tray": "tray_form:Tray", "gone": "no_such_module:Form", "odd": "tray_form:NoForm",
        "box": "tray_form:Tray",
    }  # fmt: skip
    entries = [EntryPoint(name, value, from_packages.GROUP) for name, value in named.items()]
    monkeypatch.setattr(from_packages, "entry_points", lambda group: entries)
    from_packages.packaged_forms.cache_clear()
    yield
    from_packages.packaged_forms.cache_clear()


@pytest.mark.usefixtures("packaged")
def test_a_packaged_form_is_listed_solved_and_saved(tmp_path, capsys):
    assert about_form("tray") == "A box without a lid (from a package)"
    project = project_of("tray", width=130)
    path = tmp_path / "tray.anzel"
    project_file.save(project, path)
    assert project_file.load(path) == project
    assert len(solved_structure_of(project).pieces) == 7
    main(["forms"])
    out, err = capsys.readouterr()
    assert "tray: A box without a lid (from a package)" in out
    told = err.splitlines()
    assert [line.split("“")[1].split("”")[0] for line in told] == ["box", "gone", "odd"]
    assert "no subclass of Form" in told[2]


def test_a_project_never_decides_what_is_imported(tmp_path):
    with pytest.raises(ParameterError, match="no form “os”"):
        new_form("os")
    assert "tray" not in FORMS
