"""Drawn plates on the command line: the worked example, and what cannot be."""

import json
from math import dist
from pathlib import Path

import pytest

from anzel.app.edits import opening_edits
from anzel.geometry.rigid_transform import RigidTransform
from anzel.materials.fits import KerfAt
from anzel.output.cut_file_reader import read_cut_file
from anzel.project.demos import garden_robin, phone_stand
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.storage import project_file
from anzel.structure.openings.plate_opening import OpeningKind

PANEL = Path(__file__).parents[2] / "docs" / "examples" / "panel.json"
SIZES = {
    "width": 72, "height": 160, "recess": 6, "recess_height": 80, "slot_from_side": 6.5,
    "slot_width": 3.5, "slot_depth": 40, "window_width": 40, "window_height": 128, "window_up": 20,
}  # fmt: skip


@pytest.fixture
def panel(run, tmp_path):
    """A project with the worked example's panel in it."""
    start, path = tmp_path / "free.anzel", tmp_path / "panel.anzel"
    run("form", "free", "-o", start)
    assert run("plate", start, "--add", PANEL, "-o", path)[0] == 0
    return path


def plate(run, path, name="Panel"):
    (record,) = json.loads(run("plate", path, name, "--json")[1])["plates"]
    return record


def test_the_panel_of_the_worked_example_has_its_area_whatever_is_retyped(run, panel, tmp_path):
    record = plate(run, panel)
    assert record["area"] == pytest.approx(5160, abs=1e-9)  # as the handbook's sum says
    assert {size["name"]: size["value"] for size in record["sizes"]} == SIZES
    assert record["openings"] == ["window"]
    out = tmp_path / "out.anzel"
    assert run("plate", panel, "Panel", "--set", "recess=8", "-o", out)[0] == 0
    assert plate(run, out)["area"] == pytest.approx(4840, abs=1e-9)
    both = ("--set", "width=3in", "--set", "window_up=0.5in")
    assert run("plate", panel, "Panel", *both, "-o", out)[0] == 0
    assert plate(run, out)["width"] == pytest.approx(76.2)
    values = {size["name"]: size["value"] for size in plate(run, out)["sizes"]}
    assert (values["window_up"], values["slot_width"]) == (12.7, 3.5)
    told = run("plate", panel, "Panel", "--units", "in")[1]
    assert "recess              0.2362" in told


def test_the_panel_is_cut_as_it_is_drawn(run, panel, tmp_path):
    for ending in (".svg", ".dxf"):
        out = tmp_path / f"panel{ending}"
        run("export", panel, "-o", out, "--pieces", "--kerf-at", "cutter", "--anyway")
        piece = next(p for p in read_cut_file(out).pieces if p.name == "Panel")
        assert piece.region.area == pytest.approx(5160, abs=1e-6)
        assert piece.region.size == pytest.approx((72, 160), abs=1e-6)


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("--set", "recess=40"), "crosses itself"),
        (("--set", "window_width=80"), "part"),
        (("--set", "depth=4"), "no size “depth”"),
        (("--set", "recess=x"), "“x”"),
        (("--set", "recess"), "not SIZE=VALUE"),
    ],
)
def test_what_cannot_be_is_one_clear_line_and_nothing_is_written(
    run, panel, tmp_path, arguments, words
):
    out = tmp_path / "none.anzel"
    code, told, error = run("plate", panel, "Panel", *arguments, "-o", out)
    assert (code, told, error.count("\n"), out.exists()) == (2, "", 1, False)
    assert words in error
    assert run("plate", panel, "Panel", *arguments)[0] == 2


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda record: record.update(stock="oak-9"), "oak-9"),
        (lambda record: record.update(colour="red"), "no “colour”"),
        (lambda record: record.pop("sketch"), "no “sketch”"),
        (lambda record: record["sketch"]["sizes"].append(
            {"name": "x", "kind": "length", "of": ["nowhere"], "value": 3}), "nowhere"),
        (lambda record: record["sketch"]["sizes"].append(
            {"name": "x", "kind": "radius", "of": ["bottom"], "value": 3}), "“bottom” is no arc"),
        (lambda record: record["sketch"]["sizes"].append(
            {"name": "x", "kind": "along x", "of": ["left_top", "right_top"], "value": 59}),
         "cannot hold together"),
    ],
)  # fmt: skip
def test_a_record_that_is_no_plate_is_refused_in_words(run, panel, tmp_path, change, words):
    record = json.loads(PANEL.read_text())
    change(record)
    path = tmp_path / "bad.json"
    path.write_text(json.dumps(record))
    code, _, error = run("plate", panel, "--add", path, "-o", tmp_path / "out.anzel")
    assert (code, error.count("\n")) == (2, 1)
    assert words in error
    path.write_text("[1, 2")
    assert run("plate", panel, "--add", path, "-o", tmp_path / "out.anzel")[0] == 2


def test_plates_of_forms_are_listed_too(run, stand):
    records = json.loads(run("plate", stand, "--json")[1])["plates"]
    assert [record["name"] for record in records] == ["Upright A", "Upright B", "Top"]
    assert not any(record["is_drawn"] for record in records)


def test_an_opening_placed_from_an_edge_is_listed_and_retyped(run, tmp_path):
    path, out = tmp_path / "box.anzel", tmp_path / "out.anzel"
    project, name = opening_edits.add_opening(
        project_of("box"), "Front", OpeningKind.MORTISE, sheet="ply-3"
    )  # fmt: skip
    project_file.save(project, path)
    record = plate(run, path, "Front")
    assert record["openings"] == [name]
    assert record["placed"][0]["sheet"] == "ply-3"
    assert run("plate", path, "Front", "--set", f"{name} along=7.5", "-o", out)[0] == 0
    values = {size["name"]: size["value"] for size in plate(run, out, "Front")["sizes"]}
    assert values[f"{name} along"] == 7.5
    none = tmp_path / "none.anzel"
    status, _, told = run("plate", path, "Front", "--set", f"{name} along=900", "-o", none)
    assert status == 2
    assert "does not lie inside" in told
    assert not none.exists()


@pytest.mark.parametrize("ending", [".dxf", ".svg"])
@pytest.mark.parametrize(("make", "name"), [(phone_stand, "Left side"), (garden_robin, "Robin")])
def test_a_drawn_outline_comes_back_from_a_file_edge_by_edge(run, tmp_path, make, name, ending):
    """Lines, arcs and cubics keep their kind and their places to a nanometre (DXF by ezdxf)."""
    project = make().with_changes(kerf_at=KerfAt.CUTTER)
    project_file.save(project, tmp_path / "a.anzel")
    out = tmp_path / f"a{ending}"
    run("export", tmp_path / "a.anzel", "-o", out, "--pieces", "--anyway")
    back = next(piece.region for piece in read_cut_file(out).pieces if piece.name == name)
    piece = solved_structure_of(project).piece(name).region
    shift = [here - there for here, there in zip(piece.bounds, back.bounds, strict=True)][:2]
    back = back.moved(RigidTransform().translated(*shift))
    assert len(back.holes) == len(piece.holes)
    for mine in piece.contours:
        theirs = min(back.contours, key=lambda each: dist(each.bounds, mine.bounds))
        assert len(mine.segments) == len(theirs.segments)
        for segment in mine.segments:
            middle = segment.point_at(0.5)
            twin = min(theirs.segments, key=lambda each: dist(each.point_at(0.5), middle))
            assert type(twin) is type(segment)
            ends = {segment.start, segment.end}
            for end in (twin.start, twin.end):
                assert min(dist(end, each) for each in ends) < 1e-6
            for t in (0.25, 0.5, 0.75):
                at = segment.point_at(t)
                assert min(dist(twin.point_at(s), at) for s in (t, 1 - t)) < 1e-6
