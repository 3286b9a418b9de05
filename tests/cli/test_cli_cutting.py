"""Laying, exporting, printing and estimating from the command line."""

import json

import pytest

from anzel.output.cut_file_reader import read_cut_file

SQUARES = {
    "sheets": [{"width": 100, "height": 60, "count": 1}, {"outline": [[0, 0], [90, 0], [0, 90]]}],
    "pieces": [{"name": "q", "outline": [[0, 0], [25, 0], [25, 25], [0, 25]], "count": 9}],
    "spacing": 2, "margin": 3,
}  # fmt: skip


@pytest.fixture
def lamp(run, tmp_path):
    """A demo project's file."""
    path = tmp_path / "lamp.anzel"
    run("demo", "seedpod-lamp", "-o", path)
    return path


def test_sheets_are_told_with_where_every_piece_lies(run, lamp, tmp_path):
    _, out, _ = run("sheets", lamp, "--json")
    found = json.loads(out)
    assert (len(found["sheets"]), found["bound"]) == (3, 2)
    names = [piece["name"] for sheet in found["sheets"] for piece in sheet["pieces"]]
    assert (len(names), len(set(names))) == (20, 20)
    assert all(0 < sheet["utilisation"] < 1 for sheet in found["sheets"])
    (tmp_path / "s.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="260mm" height="200mm" '
        'viewBox="0 0 260 200"><path d="M0,0 L0,200 L260,200 L260,100 L100,100 L100,0 Z"/></svg>'
    )
    _, out, _ = run("sheets", lamp, "--json", "--scrap", "300x300", "--scrap", tmp_path / "s.svg")
    rooms = [sheet["container"] for sheet in json.loads(out)["sheets"]]
    assert "scrap scrap 1" in rooms
    assert "At least 2 by area" in run("sheets", lamp)[1]


def test_squeezing_takes_the_time_it_is_given(run, lamp):
    code, out, err = run("sheets", lamp, "--engine", "squeeze", "--seconds", "1.5", "--json")
    assert code == 0
    assert sum(len(sheet["pieces"]) for sheet in json.loads(out)["sheets"]) == 20
    assert "." in err


@pytest.mark.parametrize("engine", ["fast", "squeeze"])
def test_bare_polygons_are_laid_on_bare_sheets(run, tmp_path, engine):
    asked, answer = tmp_path / "in.json", tmp_path / "out.json"
    asked.write_text(json.dumps(SQUARES))
    assert run("layout", asked, "-o", answer, "--engine", engine, "--seconds", "1")[0] == 0
    found = json.loads(answer.read_text())
    assert sum(len(sheet["pieces"]) for sheet in found["sheets"]) == 9
    assert found["left_out"] == []
    assert len(found["sheets"]) >= found["bound"]


def test_an_export_is_of_what_was_asked(run, lamp, tmp_path):
    out = tmp_path / "a.svg"
    assert run("export", lamp, "-o", out, "--only", "Ring 1, Ring 2", "--kerf-at", "path")[0] == 0
    assert sorted(piece.name for piece in read_cut_file(out).pieces) == ["Ring 1", "Ring 2"]
    assert 'kerf-at="path"' in out.read_text()
    plain, marked = tmp_path / "plain.svg", tmp_path / "marked.svg"
    run("export", lamp, "-o", plain, "--labels", "off", "--pens", "Hairlines")
    run("export", lamp, "-o", marked, "--labels", "on")
    assert 'class="engrave"' not in plain.read_text()
    assert 'stroke-width="0.01"' in plain.read_text()
    assert marked.read_text().count('class="engrave"') > 100
    _, listed, _ = run("export", lamp, "-o", tmp_path / "p.dxf", "--pieces", "--each",
                       "--only", "Ring 2")  # fmt: skip
    assert listed.strip().endswith("p-birch-3-Ring-2.dxf")
    code, _, err = run("export", lamp, "-o", out, "--only", "Ring 9")
    assert (code, "no piece “Ring 9”" in err) == (2, True)


def test_paper_lists_and_estimates(run, lamp, tmp_path):
    for name, *asked in (
        ("paper.pdf", "paper", "--page", "Letter", "--pieces"), ("list.csv", "cutlist"),
        ("sheet.pdf", "cutlist"),
    ):  # fmt: skip
        command, *options = asked
        assert run(command, lamp, "-o", tmp_path / name, *options)[0] == 0
        assert (tmp_path / name).stat().st_size > 400
    _, out, _ = run("estimate", lamp, "--json")
    found = json.loads(out)
    assert found["seconds"] == pytest.approx(sum(s["seconds"] for s in found["stocks"]))
    assert "in all" in run("estimate", lamp)[1]
    assert run("paper", lamp, "-o", tmp_path / "x.pdf", "--page", "A99")[0] == 2


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("sheets", "FILE", "--scrap", "large"), "could not be read"),
        (("sheets", "FILE", "--scrap", "20x"), "Scrap: “” is not a length"),
        (("sheets", "FILE", "--stock", "oak"), "no stock"),
        (("sheets", "FILE", "--engine", "slow"), "slow"),
        (("export", "FILE", "-o", "a.gif"), "must end in"),
        (("export", "FILE", "-o", "a.svg", "--pens", "None"), "no pens"),
        (("export", "FILE", "-o", "a.svg", "--kerf-at", "nowhere"), "nowhere"),
        (("export", "FILE", "-o", "a.svg", "--sheet", "9"), "no sheet 9"),
        (("export", "FILE", "-o", "a.svg", "--kerf-at", "cutter"), "nobody would mind"),
        (("layout", "none.json", "-o", "b.json"), "could not be read"),
        (("cutlist", "FILE", "-o", "/none/list.csv"), "could not be written"),
        (("paper", "FILE", "-o", "a.pdf", "--page", "10x10"), "no paper"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_one_line_on_stderr(run, lamp, monkeypatch, tmp_path, arguments, words):
    monkeypatch.chdir(tmp_path)
    code, _, err = run(*(lamp if each == "FILE" else each for each in arguments))
    assert code == 2
    assert words in err
    assert len(err.strip().splitlines()) == 1
    assert not any((tmp_path / name).exists() for name in ("a.svg", "a.pdf", "b.json"))


def test_a_scrap_wants_one_stock(run, tmp_path):
    path = tmp_path / "lantern.anzel"
    run("demo", "fern-lantern", "-o", path)
    code, _, err = run("sheets", path, "--scrap", "200x150")
    assert (code, "Several sheets are in use" in err) == (2, True)
    code, out, _ = run("sheets", path, "--scrap", "400x300", "--stock", "opal-3", "--json")
    rooms = [sheet["container"] for sheet in json.loads(out)["sheets"]]
    assert (code, rooms[0]) == (0, "scrap scrap 1")
