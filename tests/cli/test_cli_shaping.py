"""Forms, proof, size and pictures from the command line."""

import json

import pytest
import trimesh
from PIL import Image

from anzel.app.edits import cutter_edits
from anzel.storage import project_file
from anzel.structure.forms import FORMS


def test_forms_are_listed_with_ranges_and_defaults(run):
    _, out, _ = run("forms", "--json")
    found = {form["name"]: form for form in json.loads(out)["forms"]}
    assert list(found) == list(FORMS)
    box = {each["name"]: each for each in found["box"]["parameters"]}
    assert (box["width"]["default"], box["width"]["unit"]) == (160, "mm")
    assert box["width"]["range"][0] < 160 < box["width"]["range"][1]
    assert box["lid"]["choices"] == ["none", "resting", "lipped", "jointed"]
    _, words, _ = run("forms")
    assert "rib-lamp" in words


@pytest.mark.parametrize("name", FORMS)
def test_every_form_is_started_checked_and_exported(run, tmp_path, name):
    path, out = tmp_path / f"{name}.anzel", tmp_path / "cut.svg"
    assert run("form", name, "-o", path)[0] == 0
    _, text, _ = run("check", path, "--json")
    found = json.loads(text)
    assert (found["ok"], found["problems"], found["interference"]) == (True, [], [])
    assert found["smallest_web"] > 1.4
    assert run("export", path, "-o", out, "--pieces")[0] == 0
    assert out.stat().st_size > 2000


def test_parameters_of_a_form_are_set(run, tmp_path):
    path = tmp_path / "box.anzel"
    given = ("--set", "lid=none", "--set", "width=7in", "--set", "across=0")
    assert run("form", "box", *given, "-o", path)[0] == 0
    box = project_file.load(path).structure
    assert (box.lid, box.width, box.across) == ("none", pytest.approx(177.8), 0)
    lamp = tmp_path / "lamp.anzel"
    profile = "profile=0:0.5 0.5:1:corner 1:0.5"
    assert run("form", "rib-lamp", "--set", profile, "-o", lamp)[0] == 0
    shares = ((0, 0.5, True), (0.5, 1, False), (1, 0.5, True))
    assert project_file.load(lamp).structure.profile == shares


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["form", "teapot", "-o", "x"], "There is no form"),
        (["form", "box", "--set", "lid=glass", "-o", "x"], "Lid must be"),
        (["form", "box", "--set", "width=9999", "-o", "x"], "more than possible"),
        (["form", "lantern", "--set", "diffusers=maybe", "-o", "x"], "is not yes or no"),
        (["form", "rib-lamp", "--set", "profile=wide", "-o", "x"], "is not a pair"),
        (["rescale", "STAND", "--factor", "900", "-o", "x"], "out of reason"),
        (["rescale", "STAND", "--factor", "1", "--width", "9", "-o", "x"], "Say one of"),
        (["rescale", "STAND", "--stock", "birch-3=oak", "-o", "x"], "There is no stock"),
        (["rescale", "STAND", "--stock", "oak", "-o", "x"], "is not OLD=NEW"),
        (["picture", "STAND", "--view", "below", "-o", "x"], "Invalid value"),
    ],
)
def test_shapes_that_cannot_be_are_one_line(run, stand, arguments, words):
    code, _, err = run(*(stand if word == "STAND" else word for word in arguments))
    assert (code, err.count("\n")) == (2, 1)
    assert words in err


def test_a_structure_is_rescaled_and_given_another_sheet(run, stand, tmp_path):
    out = tmp_path / "large.anzel"
    _, words, _ = run("rescale", stand, "--height", "150", "-o", out)
    assert words.endswith("× 150.0 mm\n")
    run("rescale", stand, "--fit", "sheet", "-o", out)
    assert project_file.load(out).structure.foot_span > 150
    run("rescale", stand, "--stock", "birch-6=birch-3", "-o", out)
    assert project_file.load(out).structure.top_stock == "birch-3"


def test_a_check_names_what_is_wrong(run, saved):
    small = saved(lambda p: cutter_edits.change_cutter(p, bed_width=100, bed_height=90))
    _, text, _ = run("check", small, "--json")
    found = json.loads(text)
    assert (found["ok"], found["all_fit_bed"]) == (False, False)
    assert found["problems"][0]["kind"] == "piece-larger-than-bed"
    _, words, _ = run("check", small)
    assert "does not fit the bed" in words


@pytest.mark.parametrize(("view", "explode"), [("iso", "0"), ("top", "0.8")])
def test_a_picture_is_saved_without_a_window(run, stand, tmp_path, view, explode):
    out = tmp_path / "stand.png"
    assert run("picture", stand, "-o", out, "--view", view, "--explode", explode)[0] == 0
    with Image.open(out) as picture:
        assert picture.size == (1280, 960)
        assert len(picture.getcolors(200_000)) > 20


def test_a_mesh_is_sliced_from_the_command_line(run, tmp_path):
    mesh, path = tmp_path / "ball.stl", tmp_path / "ball.anzel"
    trimesh.creation.icosphere(subdivisions=3, radius=2).export(mesh)
    code, _, said = run("form", "sliceform", "--mesh", mesh, "--set", "first=6", "-o", path)
    assert code == 0
    assert "made 160 mm" in said
    structure = project_file.load(path).structure
    assert (structure.body, structure.first, structure.mesh.name) == ("mesh", 6, "ball.stl")
    assert json.loads(run("check", path, "--json")[1])["ok"]
    assert run("form", "box", "--mesh", mesh, "-o", path)[0] != 0
    mesh.write_text("solid nothing")
    assert "holds no triangles" in run("form", "sliceform", "--mesh", mesh, "-o", path)[2]


def test_a_rescale_says_what_no_sheet_has_room_for(run, tmp_path):
    path, out = tmp_path / "lamp.anzel", tmp_path / "large.anzel"
    run("form", "rib-lamp", "-o", path)
    code, size, said = run("rescale", path, "--height", "500", "-o", out)
    assert code == 0
    assert "500.0 mm" in size
    assert "does not fit a sheet" in said
