"""Saving and opening: whole files or clear words, never half of either."""

import json
import os
import stat
import zipfile
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.told import in_mm, refused

from anzel.app.edits import layout_edits, project_edits, stock_edits
from anzel.materials.fits import FitName, KerfAt
from anzel.materials.material import PressBehaviour
from anzel.project.demos import herb_stand
from anzel.project.derive import layout_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.storage import project_file
from anzel.storage.atomic_file import FileError, read_whole, write_atomically
from anzel.storage.json_schema import project_schema
from anzel.test_pieces.model import TestPieceKind

SCHEMA = Path(__file__).parents[2] / "docs" / "project.schema.json"


def packed(record, member="project.json"):
    """A zip with a JSON record in it."""
    import io

    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        archive.writestr(member, record if isinstance(record, str) else json.dumps(record))
    return buffer.getvalue()


def record(**changes):
    """A good record with changes."""
    project = herb_stand().model_dump(mode="json")
    return {"anzel": project_file.VERSION, "project": project, **changes}


def test_a_project_comes_back_as_it_was(project, tmp_path):
    changed = project_edits.choose_fit(
        project_edits.take_kerf_at(project, KerfAt.CUTTER), FitName.LOOSE
    )
    changed = stock_edits.add_readings(changed, "birch-3", [2.9123456789012345])
    path = tmp_path / "stand.anzel"
    project_file.save(changed, path)
    assert project_file.load(path) == changed


def test_the_same_project_gives_the_same_bytes(project):
    assert project_file.to_bytes(project) == project_file.to_bytes(herb_stand())


def test_the_previous_version_stays_as_a_backup(project, tmp_path):
    path = tmp_path / "stand.anzel"
    project_file.save(project, path)
    project_file.save(project.with_changes(name="Second"), path)
    assert project_file.load(path).name == "Second"
    assert project_file.load(tmp_path / "stand.anzel.bak").name == project.name
    assert sorted(p.name for p in tmp_path.glob("*")) == ["stand.anzel", "stand.anzel.bak"]


def test_the_published_schema_is_the_models(project):
    """docs/project.schema.json is written by `python -m anzel.storage.json_schema`."""
    assert json.loads(SCHEMA.read_text(encoding="utf-8")) == project_schema()


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "content cannot be read"),
        (b"PK\x03\x04 not really", "content cannot be read"),
        (packed("{"), "content cannot be read"),
        (packed("[1]"), "not a project"),
        (packed("[" * 100_000), "is not a whole Anzel project"),
        (packed(record(), member="other.json"), "content cannot be read"),
        (packed(record(anzel="one")), "which version"),
        (packed({"anzel": 1}), "project is missing"),
        (packed(record(project={})), "Name is missing"),
        (packed(record(project=[])), "is not a whole Anzel project"),
    ],
)
def test_a_damaged_file_is_refused_in_words(content, words):
    with refused(project_file.DamagedFileError, match=words) as caught:
        project_file.from_bytes(content, "stand.anzel")
    assert caught.value.message.startswith("stand.anzel")
    assert ".bak" in caught.value.hint


def test_a_newer_file_is_refused_untouched(tmp_path):
    path = tmp_path / "new.anzel"
    path.write_bytes(content := packed(record(anzel=99)))
    with pytest.raises(project_file.NewerFileError, match="newer Anzel") as caught:
        project_file.load(path)
    assert "Update Anzel" in caught.value.hint
    assert path.read_bytes() == content


@pytest.mark.parametrize(
    ("path", "value", "words"),
    [
        (("stocks", 0, "readings", 0), -1, "A thickness reading must be more than 0"),
        (("stocks", 0, "readings"), [18.0], "whole, but what it asks for cannot be made"),
        (("structure", "top_stock"), "gone", "not there"),
        (("fits", "in_use"), "tight", "In use must be"),
        (("cutters", 0, "kerfs", 0, "kerf"), 4.5, "kerf of 4.5 mm is wider"),
        (("cutter_in_use",), "gone", "the cutter “gone” in use is not there"),
    ],
)
def test_a_file_with_impossible_values_names_the_field(path, value, words):
    wanted = record()
    at = wanted["project"]
    for step in path[:-1]:
        at = at[step]
    at[path[-1]] = value
    with refused(project_file.DamagedFileError, match=words):
        project_file.from_bytes(packed(wanted))


def test_readings_and_sizes_that_leave_too_little_room_are_opened_and_told():
    wanted = record()
    wanted["project"]["structure"]["foot_span"] = 5000
    opened = project_file.from_bytes(packed(wanted))
    assert opened.structure.foot_span == 5000, "what was wished stays"
    told = [f for f in solved_structure_of(opened).findings if f.code == "gave-way"]
    assert "Foot span 5000 is more than possible" in in_mm(str(told[0]))


@given(st.binary(max_size=400))
def test_any_bytes_are_refused_in_words(content):
    with pytest.raises(FileError):
        project_file.from_bytes(content)


@given(st.integers(0, 5000), st.integers(0, 255))
def test_one_wrong_byte_never_crashes(position, value):
    content = bytearray(project_file.to_bytes(herb_stand()))
    content[position % len(content)] = value
    try:
        project_file.from_bytes(bytes(content))
    except FileError:
        pass


def test_a_missing_file_is_named(tmp_path):
    with pytest.raises(FileError, match=r"gone.anzel could not be read: No such file"):
        project_file.load(tmp_path / "gone.anzel")


def test_a_failing_write_leaves_the_old_file_and_nothing_else(tmp_path, monkeypatch):
    path = tmp_path / "stand.svg"
    path.write_text("old")

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(FileError, match="No space left on device"):
        write_atomically(path, b"new")
    assert path.read_text() == "old"
    assert [p.name for p in tmp_path.glob("*")] == ["stand.svg"]


def test_a_folder_that_is_not_there_is_named(tmp_path):
    with pytest.raises(FileError, match="could not be written"):
        write_atomically(tmp_path / "none" / "a.svg", b"x")


def test_file_rights_are_kept_and_new_files_are_ordinary(tmp_path):
    path = tmp_path / "a.svg"
    write_atomically(path, b"1")
    assert path.stat().st_mode & stat.S_IRUSR
    path.chmod(0o640)
    write_atomically(path, b"2")
    assert stat.S_IMODE(path.stat().st_mode) == 0o640


FORMAT_1 = {
    "name": "Old stand",
    "stocks": [
        {"id": "birch-3", "name": "Birch", "nominal_thickness": 3.0, "readings": [2.94],
         "kerf": 0.16, "sheet_width": 400.0, "sheet_height": 300.0, "tint": "#ecd9b4"},
        {"id": "birch-6", "name": "Thick", "nominal_thickness": 6.0, "kerf": 0.2},
    ],
    "kerf_at": "drawing",
    "structure": {"form": "crossed-stand", "upright_stock": "birch-3", "top_stock": "birch-6"},
    "comb": {"start": 2.7, "step": 0.05, "count": 5},
    "trials": [],
    "trial_in_hand": {
        "date": "2026-01-02", "stock_id": "birch-3", "felt": [[2.8, "snug"]], "fit": "snug",
        "measured_thickness": 2.94, "kerf": 0.16, "kerf_at": "drawing",
    },
}  # fmt: skip


def test_a_project_of_format_1_is_migrated():
    """Kerf to a cutter, one sheet size, the comb among the test pieces, what was felt kept."""
    old = project_file.from_bytes(packed({"anzel": 1, "project": FORMAT_1}))
    assert old.kerf_in("birch-3").kerf == 0.16
    assert old.kerf_in("birch-6").kerf == 0.2
    assert (old.stocks[0].sheets[0].width, old.stocks[0].sheets[0].count) == (400.0, None)
    assert old.test_pieces.settings(TestPieceKind.COMB).start == 2.7
    assert old.in_hand[0].scale.clearance(2.83) == pytest.approx(0.05)
    assert project_file.from_bytes(project_file.to_bytes(old)) == old


@pytest.mark.parametrize("broken", [{}, [], {"stocks": 3}, {"stocks": [3]}, {"stocks": [{}]}])
def test_a_damaged_project_of_format_1_is_refused_in_words(broken):
    with pytest.raises(project_file.DamagedFileError):
        project_file.from_bytes(packed({"anzel": 1, "project": broken}))


def test_a_file_of_the_second_version_opens_with_its_profile_as_it_was():
    lamp = project_of("rib-lamp").model_dump(mode="json")
    lamp["structure"].update(profile=[[0, 0.5], [0.5, 1], [1, 0.4]], smooth=False)
    for newer in ("inner", "second", "traced", "own_fits", "fixture_height", "fixture_width"):
        del lamp["structure"][newer]
    lamp["takes"] = [{"name": "Take 1", "structure": lamp["structure"]}]
    lamp["pens"] = {"cut": "#112233", "score": "#445566", "engrave": "#778899"}
    read = project_file.from_bytes(packed({"anzel": 2, "project": lamp}))
    corners = ((0, 0.5, False), (0.5, 1, False), (1, 0.4, False))
    assert read.structure.profile == read.takes[0].structure.profile == corners
    assert (read.pens.outer.colour, read.pens.engrave.colour) == ("#112233", "#778899")


def test_a_file_of_the_fourth_version_opens_with_the_words_of_then(project):
    """A job with a pinned piece, a copy count and a sheet that is brittle."""
    layout = layout_of(project, "birch-3")
    brittle = stock_edits.change_stock(project, "birch-3", press_behaviour=PressBehaviour.BRITTLE)
    counted = layout_edits.set_copy_count(brittle, "Upright A", 2)
    now = layout_edits.pin(counted, layout.kept[0])
    old = now.model_dump(mode="json")
    old["gauges"] = old.pop("test_pieces")
    sheets = old["sheets"]
    sheets["amounts"], sheets["kept"] = sheets.pop("copy_counts"), sheets.pop("kept_placements")
    for each in sheets["kept"]:
        each["room"] = each.pop("container")
    for stock in old["stocks"]:
        stock["nature"] = stock.pop("press_behaviour")
    assert project_file.from_bytes(packed({"anzel": 4, "project": old})) == now


def test_reading_whole_says_why_not(tmp_path):
    path, too_large = tmp_path / "a", FileError("too large")
    with pytest.raises(FileError, match="could not be read: No such file"):
        read_whole(path, 3, too_large)
    path.write_bytes(b"abc")
    assert read_whole(path, 3, too_large) == b"abc"
    with pytest.raises(FileError, match="too large"):
        read_whole(path, 2, too_large)
