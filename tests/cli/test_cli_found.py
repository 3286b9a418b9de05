"""Projects of found drawings on the command line."""

import json

import pytest
from PIL import Image
from tests.common import HINGE

from anzel.app.edits import drawing_edits
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import empty_table
from anzel.storage import project_file
from anzel.structure.line_work import LineOperation

NAME = next(
    group.label for group in drawing_edits.line_groups_of(
        drawing_edits.drawing_view(
            drawing_edits.import_file(empty_table(), "hinge.svg", HINGE.encode()), "hinge.svg"
        )
    ) if group.wish is None
)  # fmt: skip


def test_a_project_of_found_drawings_is_made_on_the_command_line(run, tmp_path):
    (tmp_path / "hinge.svg").write_text(HINGE)
    out = tmp_path / "hinge.anzel"
    status, told, _ = run("found", tmp_path / "hinge.svg", "-o", out)
    assert status == 0
    assert "2 lines" in told
    assert "left out until you say" in told
    status, told, _ = run(
        "found", tmp_path / "hinge.svg", "-o", out, "--lines", f"{NAME}=engrave"
    )  # fmt: skip
    assert status == 0
    assert "until you say" not in told
    assert run("found", tmp_path / "hinge.svg", "-o", out, "--lines", "red=burn")[0] == 2
    (piece,) = solved_structure_of(project_file.load(out)).pieces
    operations = [line.operation for line in piece.lines]
    assert operations.count(LineOperation.CUT) == 20
    assert operations.count(LineOperation.ENGRAVE) >= 3
    assert run("check", out)[0] in (0, 1)


def test_lettering_and_artwork_are_put_on_changed_and_listed(run, tmp_path):
    start, out = tmp_path / "box.anzel", tmp_path / "out.anzel"
    run("form", "box", "-o", start)
    (tmp_path / "art.svg").write_text(HINGE)
    put = ("artwork", start, "Front", "--text", "Seeds", "--set", "height=7", "-o", out)
    assert run(*put, "--operation", "score", "--alike")[0] == 0
    more = ("artwork", out, "Back", "--file", tmp_path / "art.svg", "--set", "width=40", "-o", out)
    assert run(*more, "--lines", "engrave=leave out")[0] == 0
    (letters, art) = json.loads(run("artwork", out, "--json")[1])["items"]
    assert (letters["what"], letters["operations"], letters["alike"]) == (
        "Seeds",
        {"": "score"},
        True,
    )
    assert letters["numbers"]["height"] == 7
    assert art["operations"]["engrave"] == "leave out"
    assert art["length"] > 100
    assert "Seeds" in run("artwork", out, "Front")[1]
    assert run("artwork", out, "--item", "L1", "--set", "x=4")[0] == 2, "it must be written"
    assert run("artwork", out, "--text", "Nowhere", "-o", out)[0] == 2
    assert run("artwork", out, "--item", "L9", "--set", "x=4", "-o", out)[0] == 2


def test_a_hinge_is_put_on_told_and_written(run, tmp_path):
    start, out = tmp_path / "box.anzel", tmp_path / "out.anzel"
    run("form", "box", "-o", start)
    put = ("artwork", start, "Front", "--hinge", "--set", "inner_radius=30", "-o", out)
    assert run(*put)[0] == 0
    (told,) = json.loads(run("artwork", out, "--json")[1])["items"]
    assert (told["kind"], told["operations"]) == ("hinge", {"": "cut"})
    assert told["hinge"]["holds"]
    assert told["hinge"]["narrowest_radius"] < 30
    assert "rows of slits" in run("artwork", out)[1]
    flat, cut = tmp_path / "flat.svg", tmp_path / "cut.svg"
    assert run("export", start, "-o", flat)[0] == run("export", out, "-o", cut)[0] == 0
    more = cut.read_text().count("data-open") - flat.read_text().count("data-open")
    assert more > told["hinge"]["links"], "every row has a slit at least"
    assert run(*put[:4], "--operation", "score", "-o", out)[0] == 2
    assert run("artwork", out, "Front", "--text", "Fern", "-o", out)[0] == 0
    assert run("artwork", out, "--item", "L1", "--set", "inner_radius=2", "-o", out)[0] == 0
    hinge, letters = json.loads(run("artwork", out, "--json")[1])["items"]
    assert letters["length"] < 100 < hinge["length"], "each tells of its own lines"
    assert "hinge-too-tight" in run("check", out)[1]


def test_a_stencil_a_motif_and_an_inlay_are_made_on_the_command_line(run, tmp_path):
    start, out = tmp_path / "box.anzel", tmp_path / "out.anzel"
    run("form", "lantern", "-o", start)
    (tmp_path / "art.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 60 30" width="60mm" height="30mm">'
        '<g id="sun"><circle cx="15" cy="15" r="9"/></g><g id="bad"><path d="M40 5H55"/></g></svg>'
    )
    letters = ("artwork", start, "Top", "--text", "Oak", "--outlines", "--operation", "cut")
    assert run(*letters, "--set", "y=-30", "--set", "height=9", "-o", out)[0] == 0
    assert run("artwork", out, "Wall 1", "--motif", "leaf", "--alike", "-o", out)[0] == 0
    assert run("artwork", out, "--item", "L2", "--outlines", "-o", out)[0] == 2
    stock = project_file.load(start).stocks[-1].id
    below = ("--set", "y=-40", "-o", out)
    inlaid = ("inlay", out, "Base", tmp_path / "art.svg", "--stock", f"sun={stock}")
    status, told, _ = run(*inlaid, "--gap", "0.05", "--set", "width=20", *below, "--json")
    assert status == 0
    record = json.loads(told)
    assert [insert["stock"] for insert in record["inserts"]] == [stock]
    assert "1 line of L3 left open" in record["findings"][0]
    told = run(*inlaid, "--fit", "press", "--shared", "--set", "width=20", *below)[1]
    assert "0 inserts in Base" in told
    assert "touches another" in told
    assert run(*inlaid[:4], "--stock", "sun=none", "-o", out)[0] == 2
    assert run(*inlaid[:4], "--stock", "sun", "-o", out)[0] == 2
    assert run(*inlaid[:4], "--set", "width", "-o", out)[0] == 2


def test_a_picture_on_the_back_and_dxf_that_cannot_hold_it(run, tmp_path):
    start, out = tmp_path / "box.anzel", tmp_path / "out.anzel"
    run("form", "box", "-o", start)
    Image.new("L", (20, 10), 40).save(tmp_path / "dark.png")
    put = ("artwork", start, "Front", "--picture", tmp_path / "dark.png", "--face", "back")
    assert run(*put, "--set", "width=24", "-o", out)[0] == 0
    (item,) = json.loads(run("artwork", out, "--json")[1])["items"]
    assert (item["kind"], item["face"], item["numbers"]["width"]) == ("picture", "back", 24)
    assert run("export", out, "-o", tmp_path / "cut.svg")[0] == 0
    code, _, err = run("export", out, "-o", tmp_path / "cut.dxf")
    assert code == 2
    assert "holds no pictures" in err
    assert not (tmp_path / "cut.dxf").exists()
    assert run("export", out, "-o", tmp_path / "cut.dxf", "--anyway")[0] == 0


def test_hinges_of_found_drawings_are_bent_on_the_command_line(run, tmp_path):
    (tmp_path / "hinge.svg").write_text(HINGE)
    out = tmp_path / "hinge.anzel"
    assert "bent by 60°" in run("found", tmp_path / "hinge.svg", "-o", out, "--bend", "60")[1]
    (piece,) = solved_structure_of(project_file.load(out)).pieces
    assert len(piece.bent) == 20
    assert run("found", tmp_path / "hinge.svg", "-o", out, "--bend", "400")[0] == 2


def test_what_cannot_be_refitted_as_a_whole_is_a_problem_until_it_is_held(run, tmp_path):
    """A mortise near the edge of its plate, whose tabs grow for a thicker sheet."""
    (tmp_path / "near.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="300mm" height="200mm" '
        'viewBox="0 0 300 200"><path d="M10 50H30V48H50V50H80V48H100V50H120V100H10Z"/>'
        '<path d="M150 20h120v80h-120z"/><path d="M170 20.2h20v2h-20z"/>'
        '<path d="M220 40h20v2h-20z"/></svg>'
    )
    file = tmp_path / "near.anzel"
    run("found", tmp_path / "near.svg", "-o", file)
    said = run("check", file)[1:]
    assert "would cross itself" in "".join(said)
    assert "is left" in "".join(said)
    project = project_file.load(file)
    held = drawing_edits.hold(project, "near.svg", {"piece-2"}, held=True)
    project_file.save(held, file)
    assert "would cross itself" not in "".join(run("check", file)[1:])


THERE_AND_BACK = """<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="100mm"
 viewBox="0 0 200 100"><path d="M10 10H90V90H10Z"/><path d="M20 20H60Z"/><path d="M30 30H60H40Z"/>
 <path d="M30 40C40 50 50 30 60 40C50 30 40 50 30 40Z"/><path d="M30 60H60V70H60V60Z"/>
 <path d="M110 20L150 20Z"/></svg>"""
"""A piece with lines there and back on it: 40, 30, a curve, 30 and 10 mm, and one beside it."""


def test_lines_there_and_back_outline_nothing_and_are_cut_once(run, tmp_path):
    (tmp_path / "back.svg").write_text(THERE_AND_BACK)
    out = tmp_path / "back.anzel"
    wish = ("--lines", "without a name=score")
    status, told, _ = run("found", tmp_path / "back.svg", "-o", out, *wish)
    assert status == 0
    assert "6 lines “without a name”" in told
    project = project_file.load(out)
    (piece,) = solved_structure_of(project).pieces
    assert piece.region.area == pytest.approx(6400, rel=0.01)
    assert len(piece.region.holes) == 0
    straight = [line.path.length for line in piece.lines if line.path.is_straight]
    assert sorted(straight) == pytest.approx([10, 30, 30, 40])
    assert len(piece.lines) == 5
    (view,) = drawing_edits.drawing_views(project)
    repairs = [each.description for each in view.refit.analysis.assembled.repairs]
    assert "5 lines drawn there and back kept as drawn." in repairs


def test_an_outline_that_crosses_itself_is_no_line(run, tmp_path):
    eight = '<path d="M10 10L30 30V10L10 30Z"/>'
    (tmp_path / "eight.svg").write_text(THERE_AND_BACK.replace("</svg>", f"{eight}</svg>"))
    status, _, told = run("found", tmp_path / "eight.svg", "-o", tmp_path / "eight.anzel")
    assert status != 0
    assert "crosses itself" in told


def test_lines_there_and_back_in_artwork_are_lines(run, tmp_path):
    start, out, art = tmp_path / "box.anzel", tmp_path / "out.anzel", tmp_path / "back.svg"
    run("form", "box", "-o", start)
    art.write_text(THERE_AND_BACK.replace('<path d="M10 10H90V90H10Z"/>', ""))
    cut = ("--lines", "without a name=cut", "--set", "width=40")
    assert run("artwork", start, "Front", "--file", art, *cut, "-o", out)[0] == 0
    (item,) = json.loads(run("artwork", out, "--json")[1])["items"]
    assert item["operations"] == {"without a name": "cut"}
    front = next(p for p in solved_structure_of(project_file.load(out)).pieces if p.name == "Front")
    drawn = [line for line in front.lines if line.operation is LineOperation.CUT]
    assert len(drawn) >= 6
    told = run("inlay", start, "Front", art, "-o", out, "--set", "width=40")[1]
    assert "6 lines of L1 left open" in told
