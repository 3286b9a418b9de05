"""What the command line once let pass, lost or said wrongly."""

import json
import shlex
import subprocess
import sys

import ezdxf
import pytest
from tests.told import in_mm

from anzel.app.crash_reports import reports_folder
from anzel.app.edits import free_structure_edits, joint_edits, test_piece_edits
from anzel.cli import main as command_line
from anzel.cli.display_check import no_screen
from anzel.core.findings import Severity
from anzel.cutjob.operations import Operation
from anzel.output.cut_file_reader import read_lines
from anzel.project.demos import herb_stand
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import project_of
from anzel.project.preflight import preflight
from anzel.storage import project_file
from anzel.storage.project_file import UnopenableProjectError
from anzel.structure.free.outline_shapes import Profile, Rectangle
from anzel.structure.free.plate import FreePlate
from anzel.structure.joints.tab_mortise import TabMortise
from anzel.structure.joints.through_mortise import ThroughMortise
from anzel.test_pieces.model import TestPieceKind

NESTED = "".join(
    f'<rect x="{(90 - side) / 2}" y="{(90 - side) / 2}" width="{side}" height="{side}"/>'
    for side in (90, 70, 20)
)
HINGE = "".join(f'<path d="M{20 + 2 * n} 10V40"/>' for n in range(20))


def svg(body):
    head = 'xmlns="http://www.w3.org/2000/svg" width="200mm" height="200mm" viewBox="0 0 200 200"'
    return f"<svg {head}>{body}</svg>"


def free(*plates, joints=()):
    """A free structure of plates on the stand's sheets."""
    start = project_of("free")
    form = start.structure.with_changes(plates=plates, joints=joints)
    return start.with_changes(structure=form)


def test_an_island_in_a_hole_is_a_piece_of_its_own_and_can_be_saved_and_opened(tmp_path):
    drawing, saved = tmp_path / "three.svg", tmp_path / "three.anzel"
    drawing.write_text(svg(NESTED))
    project, names = free_structure_edits.add_drawing(project_of("free"), drawing, "ply-3")
    areas = [solved_structure_of(project).piece(name).region.area for name in names]
    assert areas == pytest.approx([90**2 - 70**2, 20**2])
    project_file.save(project, saved)
    assert project_file.load(saved) == project


def test_what_could_not_be_opened_is_not_saved(tmp_path):
    project, path = herb_stand(), tmp_path / "stand.anzel"
    project_file.save(project, path)
    before = path.read_bytes()
    fields = {**project.structure.__dict__, "height": -5.0}
    broken = project.model_copy(
        update={"structure": type(project.structure).model_construct(**fields)}
    )
    with pytest.raises(UnopenableProjectError, match="could not be opened again"):
        project_file.save(broken, path)
    assert path.read_bytes() == before


def test_a_plate_whose_outline_crosses_itself_is_refused_in_words(run, tmp_path):
    sizes = ("height=300", "foot_span=900", "top_diameter=780", "arch=250")
    options = [part for size in sizes for part in ("--set", size)]
    code, _, err = run("form", "crossed-stand", *options, "-o", tmp_path / "x.anzel")
    assert (code, err.count("\n")) == (2, 1)
    assert "The outline of Upright A crosses itself" in err


def test_a_doubled_point_of_a_profile_is_one(run, tmp_path):
    points = "profile=0:0.5 0.5:1 0.5:1 1:0.4"
    assert run("form", "rib-lamp", "--set", points, "-o", tmp_path / "x.anzel")[0] == 0


def test_what_a_drawing_leaves_out_is_said_everywhere(run, tmp_path):
    drawing = f'<rect width="120" height="60"/>{HINGE}<text>Mossgate</text>'
    (tmp_path / "d.svg").write_text(svg(drawing))
    start = project_of("found")
    from anzel.app.edits import drawing_edits

    project = drawing_edits.import_file(start, "d.svg", (tmp_path / "d.svg").read_bytes())
    path = tmp_path / "d.anzel"
    project_file.save(project, path)
    words = "lines like “text”: on no sheet and in no cut file"
    assert words in run("check", path)[1]
    assert any(words in line for line in json.loads(run("check", path, "--json")[1])["left_out"])
    for ending in ("svg", "dxf"):
        code, _, err = run("export", path, "-o", tmp_path / f"cut.{ending}")
        assert code == 0
        assert words in err
        assert "left out: d.svg" in (tmp_path / f"cut.{ending}").read_text(encoding="utf-8")
        lines = read_lines((tmp_path / f"cut.{ending}").read_bytes(), f".{ending}")
        slits = [line for line in lines if line.operation is Operation.INNER]
        assert len([line for line in slits if line.piece.startswith("d 1")]) >= 20, "the hinge"


def test_a_tab_of_no_height_is_a_problem():
    wall = FreePlate(
        name="Wall", stock="ply-3", outline=Rectangle(width=100, height=60), tilt=90, z=30
    )
    floor = FreePlate(name="Floor", stock="ply-3", outline=Rectangle(width=160, height=90))
    joint = TabMortise("J1", "Wall", "Floor", ((0.0, 20.0),))
    assert preflight(free(wall, floor, joints=(joint,))).ok
    recessed = TabMortise("J1", "Wall", "Floor", ((0.0, 20.0),), proud=-5.0)
    found = preflight(free(wall, floor, joints=(recessed,)))
    assert "would be −2" in in_mm(found.problems[0].message)


def test_a_plate_with_a_waist_is_not_brought_through_a_hole():
    """Wider than its hole on both sides, it could only be there from the beginning."""
    points = [(-30, -60), (30, -60), (30, -20), (10, -10), (10, 10), (30, 20), (30, 60), (-30, 60),
              (-30, 20), (-10, 10), (-10, -10), (-30, -20)]  # fmt: skip
    waist = Profile(points=[(x, y, False) for x, y in points])
    narrow = [*points[:4], (10, 60), (-10, 60), *points[-2:]]
    bar = Profile(points=[(x, y, False) for x, y in narrow])
    floor = FreePlate(name="Floor", stock="ply-3", outline=Rectangle(width=160, height=160))
    for outline, can_be in ((waist, False), (bar, True)):
        upright = FreePlate(name="Upright", stock="ply-3", outline=outline, tilt=90)
        project = free(upright, floor)
        offers = joint_edits.suggestions_of(project)
        ways = [type(way).__name__ for offer in offers for way in offer.ways]
        assert ("ThroughMortise" in ways) == can_be
        joined = free(upright, floor, joints=(ThroughMortise("J1", "Upright", "Floor"),))
        problems = [
            f for f in solved_structure_of(joined).findings if f.severity is Severity.PROBLEM
        ]
        assert problems == [] if can_be else "could never be brought into Floor" in str(problems)


def test_an_inch_is_read_as_engraved(run, stand):
    record = json.loads(
        run("trial", stand, "--stock", "birch-3", "--result", "0.108=press,0.112=snug", "--json")[1]
    )
    assert record["recommended_drawn_width"] == pytest.approx(0.112 * 25.4, abs=0.06)
    code, _, err = run("trial", stand, "--stock", "birch-3", "--result", "12=snug")
    assert (code, err.count("\n")) == (2, 1)
    assert "is the number of no step of this test piece" in err
    engraved = test_piece_edits.change_test_pieces(herb_stand(), inches=True)
    assert test_piece_edits.typed_step(
        engraved, "birch-3", TestPieceKind.COMB, "0.115"
    ) == pytest.approx(2.921)
    assert test_piece_edits.typed_step(engraved, "birch-3", TestPieceKind.COMB, "2.9 mm") == 2.9


def test_a_test_piece_that_fits_nothing_is_told(run, stand, tmp_path):
    common = ("test-piece", stand, "--stock", "birch-3", "-o", tmp_path / "c.svg")
    assert "every step is" not in run(*common)[2]
    assert "every step is looser than loose" in run(*common, "--start", "5")[2]
    assert "every step is tighter than press" in run(*common, "--start", "1", "--count", "3")[2]


def test_a_pocket_has_both_its_sizes(run, tmp_path):
    plate = FreePlate(name="Tray", stock="ply-3", outline=Rectangle(width=90, height=60))
    inlay = FreePlate(name="Leaf", stock="ply-3", outline=Rectangle(width=30, height=20))
    project = joint_edits.join_all(free(plate, inlay))
    project_file.save(project, tmp_path / "tray.anzel")
    features = json.loads(run("pieces", tmp_path / "tray.anzel", "--json")[1])["pieces"][0][
        "features"
    ]
    pocket = next(f for f in features if f["kind"] == "pocket")
    assert pocket["width"] - pocket["depth"] == pytest.approx(10)


def test_forms_are_listed_in_columns_that_end(run):
    lines = run("forms")[1].splitlines()
    assert max(map(len, lines)) < 130
    assert all(line == line.rstrip() for line in lines)
    row = next(line.split() for line in lines if line.strip().startswith("foot_span"))
    assert row[:2] == ["foot_span", "150"]
    assert any("0:0.45 0.2:0.85" in line for line in lines), "a profile's points, as they are typed"


def test_drawing_and_report_of_a_refit_need_two_files(run, tmp_path):
    drawing = tmp_path / "d.svg"
    drawing.write_text(svg('<rect width="120" height="60"/>'))
    sizes = ("--thickness", "3", "--kerf", "0.1", "--fit", "snug", "--drawn", "3")
    out = tmp_path / "new.svg"
    for report in (out, tmp_path / "x" / ".." / "new.svg"):
        code, _, err = run("refit", drawing, "-o", out, "--report", report, *sizes)
        assert (code, err.count("\n")) == (2, 1)
        assert "cannot both be written" in err
    assert not out.exists()


def test_r12_is_written_in_the_code_page_it_names(run, stand, tmp_path, saved):
    def renamed(project):
        pens = project.pens.with_changes(dxf="R12")
        return project.with_changes(name="Schälchen für Ω", pens=pens)

    out = tmp_path / "cut.dxf"
    assert run("export", saved(renamed), "-o", out)[0] == 0
    content = out.read_bytes()
    page = content.decode("latin-1").partition("$DWGCODEPAGE")[2].split()[1]
    assert page == "ANSI_1252"
    content.decode("cp1252")
    document = ezdxf.readfile(out)
    assert document.encoding == "cp1252"
    command = ("bench", "cut", out, "--kerf", "0.16", "--thickness", "2.94")
    assert run(*command)[0] == 0
    text = content.decode("cp1252").replace("\r", "").replace("herb", "hérb")
    accented = text.replace("\nAcDb", "\nAcDb").replace("0\nEOF", "999\nétagère\n0\nEOF")
    out.write_bytes(accented.encode("cp1252"))
    assert run(*command)[0] == 0


def test_what_nobody_foresaw_is_one_line_and_a_report(run, stand, monkeypatch, faults_worded):
    def fail(*args):
        raise ZeroDivisionError("unforeseen")

    monkeypatch.setattr(command_line, "pieces_of", fail)
    code, _, err = run("pieces", stand)
    assert (code, err.count("\n")) == (2, 1)
    (report,) = reports_folder().iterdir()
    assert str(report) in err
    assert "in fail" in report.read_text()


def test_reading_along_may_end_early(stand):
    code = "from anzel.cli.main import main; main(['forms', '--json'])"
    command = f'{shlex.quote(sys.executable)} -c "{code}" | head -c 10'
    done = subprocess.run(["bash", "-c", command], capture_output=True, text=True)
    assert (done.returncode, done.stderr, len(done.stdout)) == (0, "", 10), command


def test_a_screen_that_does_not_answer_is_one_line(run):
    assert no_screen({"QT_QPA_PLATFORM": "offscreen"}) == ""
    assert no_screen({}) == "There is no screen to open a window on."
    said = no_screen({"DISPLAY": ":93"})
    assert said == "No screen answers at DISPLAY=:93."
    assert "WAYLAND_DISPLAY=way" in no_screen({"WAYLAND_DISPLAY": "way", "XDG_RUNTIME_DIR": "/x"})
