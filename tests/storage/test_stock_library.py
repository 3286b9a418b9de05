"""Sheets and cutters kept for other projects, and handed on."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from anzel.app.edits.stock_import import import_rack
from anzel.project.demos import herb_stand, seedling_riser
from anzel.storage import stock_library
from anzel.storage.atomic_file import FileError
from anzel.storage.stock_library import Rack


def test_a_kept_sheet_is_there_in_another_project(project):
    stock_library.add_to_library(Rack((project.stocks[0],), project.cutters))
    stock_library.add_to_library(Rack((project.stocks[1],)))
    kept = stock_library.load_library()
    assert kept.stocks == project.stocks
    riser = import_rack(seedling_riser(), Rack(kept.stocks[:1], kept.cutters))
    assert riser.stock("birch-3").readings == (2.93, 2.95, 2.94)
    assert riser.kerf_in("birch-3").kerf == 0.16
    assert riser.kerf_in("acrylic-4").kerf == 0.22
    assert len(riser.cutters) == 1


def test_nothing_kept_is_an_empty_library():
    assert stock_library.load_library() == Rack()


def test_keeping_again_brings_up_to_date(project):
    stock = project.stocks[0]
    stock_library.add_to_library(Rack((stock,)))
    stock_library.add_to_library(Rack((stock.with_changes(name="Better birch"),)))
    assert [each.name for each in stock_library.load_library().stocks] == ["Better birch"]


def test_a_rack_is_handed_on_as_a_file(project, tmp_path):
    path = tmp_path / "sheets.json"
    stock_library.save_rack(Rack(project.stocks, project.cutters), path)
    assert stock_library.load_rack(path) == Rack(project.stocks, project.cutters)
    record = json.loads(path.read_text(encoding="utf-8"))
    assert record["anzel-stocks"] == stock_library.VERSION
    for stock in record["stocks"]:  # as the first version called it
        stock["nature"] = stock.pop("press_behaviour")
    path.write_text(json.dumps({**record, "anzel-stocks": 1}))
    assert stock_library.load_rack(path) == Rack(project.stocks, project.cutters)


def test_a_brought_sheet_takes_the_place_of_the_one_of_its_id(project):
    other = project.stocks[0].with_changes(readings=(3.01, 3.02))
    brought = import_rack(project, Rack((other,)))
    assert brought.stock("birch-3").readings == (3.01, 3.02)
    assert len(brought.stocks) == 2


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "not a list of stocks"),
        ("[]", "not a list of stocks"),
        ("{}", "not a list of stocks"),
        ('{"anzel-stocks": 9}', "newer Anzel"),
        ('{"anzel-stocks": 1, "stocks": [{"id": "a"}]}', "Name is missing"),
        ('{"anzel-stocks": 1, "stocks": 3}', "not a list of stocks"),
        ("[" * 5000, "not a list of stocks"),
    ],
)
def test_a_damaged_list_is_refused_in_words(tmp_path, text, words):
    path = tmp_path / "bad.json"
    path.write_text(text)
    with pytest.raises(FileError, match=words):
        stock_library.load_rack(path)


@given(st.recursive(st.none() | st.floats() | st.text(), lambda x: st.lists(x) | st.dictionaries(
    st.text(), x), max_leaves=8))  # fmt: skip
def test_any_json_is_read_or_refused_in_words(tmp_path_factory, content):
    path = tmp_path_factory.mktemp("any") / "any.json"
    path.write_text(json.dumps({"anzel-stocks": 1, "stocks": content}))
    try:
        stock_library.load_rack(path)
    except FileError:
        pass


def test_a_missing_list_is_named(tmp_path):
    with pytest.raises(FileError, match="could not be read"):
        stock_library.load_rack(tmp_path / "gone.json")


def test_the_demo_survives_being_brought_into_itself():
    project = herb_stand()
    assert import_rack(project, Rack(project.stocks, project.cutters)) == project
