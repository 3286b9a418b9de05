"""The command line as a maker types it, in processes of its own where that matters."""

import json
import os
import subprocess
import sys
from pathlib import Path

import ezdxf
import pytest

from anzel.app.edits import cutter_edits, project_edits
from anzel.materials.fits import KerfAt
from anzel.project.demos import DEMOS
from anzel.storage import project_file
from anzel.test_pieces.model import TestPieceKind

ANZEL = Path(sys.executable).with_name("anzel")


def features(out):
    """{piece: {kind: (width, depth)}} of a listing as JSON."""
    return {
        piece["name"]: {f["kind"]: (f["width"], f["depth"]) for f in piece["features"]}
        for piece in json.loads(out)["pieces"]
    }


def test_demos_are_listed_one_name_first_on_each_line(run):
    code, out, _ = run("demo")
    assert code == 0
    assert [line.split()[0] for line in out.splitlines()] == [demo.name for demo in DEMOS]


def test_a_demo_is_written_and_listed(run, tmp_path):
    path = tmp_path / "h.anzel"
    assert run("demo", "herb-stand", "-o", path) == (0, "", "")
    code, out, _ = run("pieces", path, "--json")
    assert code == 0
    record = json.loads(out)["pieces"]
    assert [piece["name"] for piece in record] == ["Upright A", "Upright B", "Top"]
    assert set(record[0]) == {
        "name",
        "stock",
        "count",
        "like",
        "width",
        "height",
        "area",
        "features",
    }
    assert set(record[0]["features"][0]) == {"kind", "width", "depth", "mate", "joint"}
    assert (record[0]["width"], record[0]["height"], record[0]["count"]) == (150, 110, 1)


def test_listed_sizes_are_the_handbooks(run, stand):
    _, out, _ = run("pieces", stand, "--json")
    sizes = features(out)
    assert sizes["Upright A"]["slot"][0] == pytest.approx(2.83)
    assert sizes["Upright A"]["tab"] == pytest.approx((14.16, 5.86))
    assert sizes["Top"]["mortise"] == pytest.approx((2.79, 13.85))


@pytest.mark.parametrize(
    ("options", "slot"),
    [
        (["--thickness", "birch-3=3.00", "--kerf", "0.15"], 2.90),
        (["--thickness", "birch-3=0.117in"], 0.117 * 25.4 - 0.11),
        (["--fit", "press"], 2.73),
        (["--fit", "loose", "--clearance", "0.4"], 3.18),
        (["--kerf", "birch-3=0"], 2.99),
        (["--set", "split=0.6"], 2.83),
    ],
)
def test_overrides_change_one_run_only(run, stand, options, slot):
    before = stand.read_bytes()
    _, out, _ = run("pieces", stand, "--json", *options)
    assert features(out)["Upright A"]["slot"][0] == pytest.approx(slot)
    assert stand.read_bytes() == before


def test_set_changes_a_parameter_of_the_structure(run, stand):
    _, out, _ = run("pieces", stand, "--json", "--set", "relief=0", "--set", "height=120")
    slots = [features(out)[name]["slot"][1] for name in ("Upright A", "Upright B")]
    assert sum(slots) == pytest.approx(120 - 5.86 - 34)


def test_pieces_can_be_read_by_people(run, stand):
    _, out, _ = run("pieces", stand)
    assert "1 × Upright A (birch-3) 150.00 × 110.00" in out
    assert "slot    2.830 × 35.270" in out


@pytest.mark.parametrize("ending", ["svg", "dxf", "pdf"])
@pytest.mark.parametrize("options", [[], ["--stock", "birch-3"], ["--pieces"], ["--sheet", "1"]])
def test_exports_are_written(run, stand, tmp_path, ending, options):
    out = tmp_path / f"cut.{ending}"
    assert run("export", stand, "-o", out, *options) == (0, "", "")
    assert out.stat().st_size > 500


def test_an_export_follows_the_overrides(run, stand, tmp_path):
    out = tmp_path / "cut.dxf"
    run("export", stand, "-o", out, "--pieces", "--stock", "birch-6", "--set", "top_diameter=140")
    (circle,) = ezdxf.readfile(out).modelspace().query("CIRCLE")
    assert circle.dxf.radius == 70


@pytest.mark.parametrize("ending", ["svg", "dxf"])
def test_a_test_piece_is_written(run, stand, tmp_path, ending):
    out = tmp_path / f"comb.{ending}"
    options = ("--start", "2.7", "--step", "0.005in", "--count", "3")
    assert run("test-piece", stand, "--stock", "birch-3", *options, "-o", out) == (0, "", "")
    assert out.stat().st_size > 500


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["pieces", "STAND", "--thickness", "0"], "A thickness reading must be more than 0"),
        (["pieces", "STAND", "--thickness=-1"], "A thickness reading must be more than 0"),
        (["pieces", "STAND", "--kerf", "wide"], "Kerf: “wide” is not a length"),
        (["pieces", "STAND", "--kerf", "3.5"], "wider than the slot"),
        (["pieces", "STAND", "--kerf", "oak=0.1"], "There are: birch-3, birch-6"),
        (["pieces", "STAND", "--fit", "tight"], "Use press, snug, slide, loose"),
        (["pieces", "STAND", "--set", "foot_span=900"], "Between 42 and 464.5 will do"),
        (["pieces", "STAND", "--set", "tab_width=40"], "Tab width 40 is more than possible"),
        (["pieces", "STAND", "--set", "split"], "is not PARAM=VALUE"),
        (["pieces", "NONE"], "No such file"),
        (["pieces"], "Missing argument"),
        (["bogus"], "No such command"),
        (["demo", "teapot"], "There are: herb-stand, seedling-riser, fern"),
        (["demo", "herb-stand"], "Say where to write it"),
        (["export", "STAND", "-o", "x.gif"], "must end in"),
        (["export", "STAND", "-o", "/none/x.svg"], "could not be written"),
        (["export", "STAND", "-o", "x.svg", "--sheet", "9"], "There is no sheet 9"),
        (["test-piece", "STAND", "--stock", "oak", "-o", "x.svg"], "There is no stock “oak”"),
        (
            ["test-piece", "STAND", "--stock", "birch-3", "--count", "1", "-o", "x.svg"],
            "at least 3",
        ),
        (
            ["open", "STAND", "--step", "glue"],
            "There are: stock, cutter, test, build, forecast",
        ),
    ],
)
def test_what_cannot_be_is_one_clear_line_and_exit_2(run, stand, tmp_path, arguments, words):
    names = {"STAND": stand, "NONE": tmp_path / "none.anzel"}
    code, out, err = run(*(names.get(argument, argument) for argument in arguments))
    assert code == 2
    assert out == ""
    assert err.startswith("anzel: ")
    assert err.count("\n") == 1
    assert words in err


def test_stocks_are_listed_with_their_statistics(run, stand):
    _, out, _ = run("stock", stand, "--json")
    thin = json.loads(out)["stocks"][0]
    assert (thin["id"], thin["count"], thin["mean"]) == ("birch-3", 3, 2.94)
    assert thin["sample_deviation"] == pytest.approx(0.01)
    assert thin["standard_uncertainty"] == pytest.approx(0.005774)
    _, words, _ = run("stock", stand)
    assert "mean 2.940 mm, s 0.010, mean known to ± 0.006" in words


def test_readings_are_added_to_the_file(run, stand):
    code, out, _ = run("stock", "add-reading", stand, "birch-3", "2.94mm", "0.116in")
    assert code == 0
    assert "5 reading(s)" in out
    assert project_file.load(stand).stocks[0].readings[3:] == (2.94, pytest.approx(2.9464))


def test_a_bad_reading_leaves_the_file_as_it_was(run, stand):
    before = stand.read_bytes()
    for words in (["birch-3", "0"], ["birch-3", "thick"], ["oak", "2.9"], ["birch-3"]):
        code, _, err = run("stock", "add-reading", stand, *words)
        assert (code, err.count("\n")) == (2, 1)
    assert stand.read_bytes() == before


def test_kerf_is_worked_out_with_its_uncertainty(run):
    strips = ("--kind", "strips", "--drawn", "20", "--count", "10", "--total", "198.4")
    _, out, _ = run("kerf", *strips, "--json")
    found = json.loads(out)
    assert found["kerf"] == pytest.approx(0.16)
    assert 0 < found["uncertainty"] < 0.01
    sizes = ("30", "30", "29.86", "30.18")
    names = ("--drawn-outside", "--drawn-inside", "--measured-outside", "--measured-inside")
    disc = [word for pair in zip(names, sizes, strict=True) for word in pair]
    _, out, _ = run("kerf", "--kind", "disc", *disc)
    assert out == "kerf 0.160 mm, standard uncertainty 0.002 mm\n"


COMB = "2.75=wont,2.80=press,2.85=snug,2.90=slides,2.95=loose"


def test_a_trial_gives_width_clearance_and_offset(run, stand):
    before = stand.read_bytes()
    _, out, _ = run("trial", stand, "--stock", "birch-3", "--result", COMB, "--json")
    lesson = json.loads(out)
    assert lesson["recommended_drawn_width"] == pytest.approx(2.85)
    assert lesson["implied_clearance"] == pytest.approx(0.07)
    assert lesson["offset"] == pytest.approx(-0.09)
    assert lesson["intervals"]["slide"] == [2.85, 2.90]
    assert stand.read_bytes() == before


def test_a_trial_taken_moves_every_slot(run, stand):
    run("trial", stand, "--stock", "birch-3", "--kind", "comb", "--result", COMB, "--take")
    _, out, _ = run("pieces", stand, "--json")
    assert features(out)["Upright A"]["slot"][0] == pytest.approx(2.85)
    _, out, _ = run("trial", stand, "--stock", "birch-3", "--result", COMB, "--fit", "press")
    assert out == "draw 2.800 ± 0.010 mm for press: clearance 0.020 ± 0.017 mm\n"


@pytest.mark.parametrize("result", ["2.8=snug,2.85=press", "2.8", "2.8=tight", "=snug", "2.8=wont"])
def test_a_trial_that_cannot_be_is_one_line(run, stand, result):
    code, _, err = run("trial", stand, "--stock", "birch-3", "--result", result)
    assert (code, err.count("\n")) == (2, 1)


@pytest.mark.parametrize(
    ("options", "words"),
    [
        (["--kind", "strips", "--drawn", "20"], "--count is missing"),
        (["--kind", "disc", "--drawn-outside", "30"], "--drawn-inside is missing"),
        (["--kind", "strips", "--drawn", "20", "--count", "10", "--total", "205"], "cannot be"),
        (["--kind", "comb"], "is not one of"),
    ],
)
def test_a_kerf_test_that_cannot_be_is_one_line(run, options, words):
    code, _, err = run("kerf", *options)
    assert code == 2
    assert err.count("\n") == 1
    assert words in err


def test_without_a_screen_opening_the_window_says_so(run, stand, monkeypatch):
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    code, _, err = run("open", stand)
    assert code == 2
    assert "no screen" in err


def test_the_command_needs_no_window_and_no_display(stand, tmp_path):
    """The real program, with no display set and Qt made impossible to import."""
    blocked = tmp_path / "blocked" / "PySide6"
    blocked.mkdir(parents=True)
    (blocked / "__init__.py").write_text("raise ImportError('no Qt here')")
    clean = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY")}
    environment = {**clean, "PYTHONPATH": str(blocked.parent)}
    for arguments in (
        ["pieces", str(stand), "--json"],
        ["export", str(stand), "-o", str(tmp_path / "cut.svg")],
        ["test-piece", str(stand), "--stock", "birch-3", "-o", str(tmp_path / "comb.dxf")],
    ):
        ran = subprocess.run(
            [ANZEL, *arguments], env=environment, capture_output=True, text=True, check=False
        )
        assert (ran.returncode, ran.stderr) == (0, "")


@pytest.mark.parametrize("kind", TestPieceKind)
def test_every_kind_of_test_piece_is_written_and_can_be_cut(run, stand, tmp_path, kind):
    out = tmp_path / f"{kind.value}.svg"
    assert run("test-piece", stand, "--stock", "birch-3", "--kind", kind.value, "-o", out)[0] == 0
    cut = ("bench", "cut", out, "--kerf", "0.17", "--thickness", "2.93", "--json")
    code, text, _ = run(*cut)
    assert code == 0
    assert len(json.loads(text)["pieces"]) >= 2


def test_what_a_test_piece_cannot_heed_is_said(run, stand, tmp_path):
    out = tmp_path / "test-piece.svg"
    base = ("test-piece", stand, "--stock", "birch-3", "-o", out)
    code, _, err = run(*base, "--kind", "strips", "--step", "0.1")
    assert (code, err) == (0, "anzel: strips are all alike, so --step has no part in them\n")
    code, _, err = run(*base, "--kind", "comb", "--count", "25")
    assert code == 0
    assert "does not fit a sheet of 240 × 140" in err


def test_a_test_piece_in_inches_is_engraved_and_cut_in_inches(run, stand, tmp_path):
    out = tmp_path / "comb.svg"
    run("test-piece", stand, "--stock", "birch-3", "--inches", "--count", "3", "-o", out)
    _, text, _ = run("bench", "cut", out, "--kerf", "0", "--thickness", "2.94", "--json")
    slots = [f["width"] / 25.4 for p in json.loads(text)["pieces"] for f in p["features"]]
    assert slots == pytest.approx([0.109, 0.111, 0.113], abs=1e-4)


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (lambda p: cutter_edits.change_cutter(p, offsets_path=True), "counted twice"),
        (lambda p: project_edits.take_kerf_at(p, KerfAt.CUTTER), "nobody would mind the kerf"),
    ],
)
def test_a_file_that_contradicts_the_cutter_is_asked_about(run, saved, tmp_path, edit, words):
    """Nobody can answer here, so it is refused, and says how to go on."""
    stand, out = saved(edit), tmp_path / "cut.svg"
    for command in (
        ["export", stand, "-o", out],
        ["test-piece", stand, "--stock", "birch-3", "-o", out],
    ):
        code, _, err = run(*command)
        assert (code, err.count("\n"), out.exists()) == (2, 1, False)
        assert words in err
        assert "--anyway" in err
    assert run("export", stand, "-o", out, "--anyway")[0] == 0


def test_a_kerf_test_piece_is_cut_on_the_line_whoever_minds_the_kerf(run, saved, tmp_path):
    left = saved(lambda p: project_edits.take_kerf_at(p, KerfAt.CUTTER))
    strips = ("--stock", "birch-3", "--kind", "strips", "-o", tmp_path / "strips.svg")
    assert run("test-piece", left, *strips)[0] == 0
    compensated = saved(lambda p: cutter_edits.change_cutter(p, offsets_path=True))
    code, _, err = run("test-piece", compensated, *strips)
    assert code == 2
    assert "hides the kerf" in err


def test_a_forecast_says_chances_and_what_would_help(run, stand):
    _, out, _ = run("forecast", stand, "--json")
    found = json.loads(out)
    assert [joint["joint"] for joint in found["joints"]] == ["J1", "J2", "J3"]
    for joint in found["joints"]:
        chances = joint["too_tight"] + joint["right"] + joint["too_loose"]
        assert chances == pytest.approx(1, abs=1e-5)
        assert joint["worst_case"][0] < joint["clearance"] < joint["worst_case"][1]
        assert joint["uncertainty"] > 0
    assert 0 < found["all_go"] <= min(joint["right"] for joint in found["joints"])
    assert found["by_fit"]["snug"]["all_go"] == found["all_go"]
    assert [len(each["joints"]) for each in found["by_fit"].values()] == [3] * 4
    _, words, _ = run("forecast", stand, "--fit", "loose")
    assert "(loose)" in words
    assert "it is" in words or "would help most" in words or "what is left" in words


def test_a_file_is_cut_by_the_bench_as_it_is_written(run, stand, tmp_path):
    """Drawn 2.83 with a kerf of 0.17: 3.00 wide, 0.07 over 2.93."""
    out = tmp_path / "cut.dxf"
    run("export", stand, "--stock", "birch-3", "--pieces", "-o", out)
    base = ("bench", "cut", out, "--kerf", "0.17", "--thickness", "2.93")
    _, text, _ = run(*base, "--json")
    first = json.loads(text)["pieces"][0]
    assert (first["name"], first["width"]) == ("Upright A", pytest.approx(149.83))
    assert first["features"] == [
        {"kind": "slot", "width": pytest.approx(3.0), "clearance": pytest.approx(0.07)}
    ]
    _, words, _ = run(*base)
    assert "slot    3.000, clearance +0.070" in words
    wobbly = (*base, "--spread", "0.02", "--wobble", "0.01", "--json")
    assert run(*wobbly, "--seed", "1") == run(*wobbly, "--seed", "1")
    assert run(*wobbly, "--seed", "1") != run(*wobbly, "--seed", "2")


@pytest.mark.parametrize(
    ("options", "words"),
    [
        (["--kerf", "-1", "--thickness", "3"], "Kerf must be at least 0"),
        (["--kerf", "0.1", "--thickness", "0"], "True thickness must be more than 0"),
        (["--kerf", "wide", "--thickness", "3"], "is not a length"),
        (["--kerf", "0.1"], "Missing option"),
        (["--kerf", "0.1", "--thickness", "3", "--wobble", "-1"], "Wobble must be"),
    ],
)
def test_a_bench_that_cannot_be_is_one_line(run, stand, tmp_path, options, words):
    out = tmp_path / "cut.svg"
    run("export", stand, "-o", out)
    code, _, err = run("bench", "cut", out, *options)
    assert (code, err.count("\n")) == (2, 1)
    assert words in err


def test_a_doubtful_reading_is_taken_and_pointed_at(run, stand):
    code, out, err = run("stock", "add-reading", stand, "birch-3", "0.116")
    assert code == 0
    assert "4 reading(s)" in out
    assert "far from the label" in err
    _, text, _ = run("stock", stand, "--json")
    thin = json.loads(text)["stocks"][0]
    assert [each["index"] for each in thin["doubtful"]] == [3]
    assert thin["kerf_uncertainty"] == 0.012


def test_pressing_a_brittle_sheet_is_warned_of(run, tmp_path):
    riser = tmp_path / "riser.anzel"
    run("demo", "seedling-riser", "-o", riser)
    code, _, err = run(
        "trial", riser, "--stock", "acrylic-4", "--fit", "press", "--result", "3.5=press,3.6=snug"
    )
    assert code == 0
    assert "brittle" in err


def test_a_trial_of_another_kind_is_learnt_from(run, stand):
    felt = "15.80=wont,15.85=press,15.90=snug,15.95=slides"
    _, out, _ = run("trial", stand, "--stock", "birch-3", "--kind", "windows", "--result", felt,
                    "--json")  # fmt: skip
    lesson = json.loads(out)
    assert lesson["recommended_drawn_width"] == pytest.approx(15.90)
    assert lesson["implied_clearance"] == pytest.approx(15.90 + 0.16 - 16)
    assert lesson["clearance_uncertainty"] > 2 * 0.012
