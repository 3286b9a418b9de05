"""Templates, cut lists, job sheets, read back by pypdf and csv; DXF of both releases by ezdxf."""

import csv
import io
import os
import subprocess
from dataclasses import replace
from datetime import date
from hashlib import sha256

import ezdxf.recover
import pypdf
import pytest

from anzel.app.edits import layout_edits, project_edits
from anzel.core.findings import ParameterError
from anzel.cutjob.operations import DxfRelease, Operation
from anzel.helpers.interpreter import python_command
from anzel.materials.fits import KerfAt
from anzel.output.cut_file_reader import parse_cut_file
from anzel.output.cut_list import columns, cut_list_bytes
from anzel.output.export import files_of, render, structure_pages, write_each
from anzel.output.for_knife import for_knife
from anzel.output.job_sheet import job_sheet_bytes
from anzel.output.nesting_json import read_problem
from anzel.output.tiled_pdf import OVERLAP, paper_bytes, paper_size, tiles_of
from anzel.project.derive import pieces_of
from anzel.project.estimate import estimate_of, format_duration
from anzel.storage.atomic_file import FileError

MM = 72 / 25.4


def test_templates_cover_the_page_with_strips_that_two_tiles_share(project):
    (page,) = structure_pages(project, stock_id="birch-3")
    paper = paper_size("A4")
    reader = pypdf.PdfReader(io.BytesIO(paper_bytes([page], project.pens, paper)))
    upright, across = tiles_of(page, paper), tiles_of(page, paper[::-1])
    assert len(reader.pages) == min(len(upright), len(across))
    sizes = {tuple(round(float(v) / MM, 1) for v in p.mediabox[2:]) for p in reader.pages}
    assert sizes in ({(210.0, 297.0)}, {(297.0, 210.0)})
    text = reader.pages[0].extract_text()
    assert "birch-3 sheet 1, tile A1 of" in text
    assert "This line measures 100 mm when printed at 100 %." in text
    lefts = sorted({tile.left for tile in upright})
    assert lefts[1] - lefts[0] == 190 - OVERLAP
    assert max(tile.left for tile in upright) + 190 >= page.width


def test_a_template_is_true_to_size(project):
    """The page's content draws the first corner where the sheet has it, in points."""
    (page,) = structure_pages(project, stock_id="birch-6")
    content = paper_bytes([page], project.pens, (600.0, 600.0))
    (only,) = pypdf.PdfReader(io.BytesIO(content)).pages
    drawn = only.get_contents().get_data().decode("latin-1")
    scale = [float(line.split()[0]) for line in drawn.splitlines() if line.endswith(" cm")]
    assert any(abs(value - MM) < 1e-4 for value in scale)


@pytest.mark.parametrize("kerf_at", list(KerfAt))
def test_templates_have_the_true_sizes_for_a_knife_and_every_page_says_so(project, kerf_at):
    """Each slot on paper is as wide as the one that the cutter leaves; the cutter's has a kerf."""
    project = project.with_changes(kerf_at=kerf_at)
    by_hand = for_knife(project)
    for cut, drawn in zip(pieces_of(project), pieces_of(by_hand), strict=True):
        for one, other in zip(cut.features, drawn.features, strict=True):
            assert other.width.drawn == pytest.approx(one.width.produced)
    for made, words in (
        (by_hand, "true sizes: cut along the lines with a knife"),
        (project, "mm: not for a knife" if kerf_at is not KerfAt.CUTTER
         else "true sizes"),
    ):  # fmt: skip
        content = paper_bytes(structure_pages(made, loose=True), made.pens, (210.0, 297.0))
        pages = pypdf.PdfReader(io.BytesIO(content)).pages
        assert all(words in page.extract_text() for page in pages)


def test_papers_are_known_by_name_or_size():
    assert paper_size("letter") == (215.9, 279.4)
    assert paper_size("20 cm x 30 cm") == pytest.approx((200, 300))
    with pytest.raises(ParameterError, match="no paper"):
        paper_size("foolscap")


def test_the_cut_list_has_every_piece_of_the_job(project):
    spare = layout_edits.set_copy_count(project, "Upright A", 3)
    rows = list(csv.reader(io.StringIO(cut_list_bytes(spare).decode("utf-8-sig"))))
    assert tuple(rows[0]) == columns()
    found = {row[0]: dict(zip(columns(), row, strict=True)) for row in rows[1:]}
    assert set(found) == {piece.name for piece in pieces_of(project)}
    assert (found["Upright A"]["count"], found["Top"]["mortises"]) == ("3", "4")
    assert float(found["Top"]["width mm"]) == pytest.approx(120, abs=1e-3)


def test_the_job_sheet_is_one_page_with_stocks_times_and_pieces(project):
    reader = pypdf.PdfReader(io.BytesIO(job_sheet_bytes(project, date(2026, 11, 25))))
    (page,) = reader.pages
    text = page.extract_text()
    whole = format_duration(estimate_of(project).times.whole)
    for words in ("Herb-pot stand", "2026-11-25", "readings 2.93, 2.95, 2.94", f"{whole} in all",
                  "1 × Upright A", "Birch ply 6", "snug"):  # fmt: skip
        assert words in text


def test_an_estimate_counts_sheets_and_hours(project):
    cutter = project.cutter.with_changes(cost_per_hour=36.0)
    thin, thick = project.stocks
    priced = thin.with_changes(sheets=(thin.sheets[0].with_changes(price=5.0),))
    dear = project.with_changes(cutters=(cutter,), stocks=(priced, thick))
    found = estimate_of(dear)
    assert found.cost == pytest.approx(5.0 + found.times.whole * 0.01)
    assert (found.stocks[0].sheets, found.stocks[0].scraps) == (1, 0)
    assert [format_duration(s) for s in (38, 725, 7620)] == ["38 s", "12 min 5 s", "2 h 7 min"]


@pytest.mark.parametrize("release", DxfRelease)
def test_both_releases_of_dxf_are_sound_and_come_back(project, release):
    asked = project_edits.change_pen(
        project_edits.use_release(project, release), Operation.OUTER, layer="Rim"
    )
    content = render(structure_pages(asked), asked.pens, ".dxf")
    document, auditor = ezdxf.recover.read(io.BytesIO(content))
    assert not auditor.has_errors
    assert document.dxfversion == {"R12": "AC1009", "R2010": "AC1024"}[release.version]
    assert {"Rim", "inner cut"} <= {entity.dxf.layer for entity in document.modelspace()}
    file = parse_cut_file(content, ".dxf")
    drawn = sorted(p.region.area for p in pieces_of(project))
    assert sorted(p.region.area for p in file.pieces) == pytest.approx(drawn, rel=1e-5)
    assert {facts["kerf-at"] for facts in file.metadata.values()} == {"drawing"}


def test_every_piece_by_itself_is_a_file(project, tmp_path):
    pages = structure_pages(project, apart=True)
    written = write_each(pages, project.pens, tmp_path / "out.svg")
    assert [path.name for path in written] == [
        "out-birch-3-Upright-A.svg", "out-birch-3-Upright-B.svg", "out-birch-6-Top.svg",
    ]  # fmt: skip
    (only,) = parse_cut_file(written[2].read_bytes(), ".svg").pieces
    assert only.region.size == pytest.approx((120, 120))


def test_files_for_each_page_are_written_all_or_none(project, tmp_path):
    pages = structure_pages(project, apart=True)
    before = write_each(pages, project.pens, tmp_path / "out.svg", hashes=True)
    digests = [line.split() for line in before.pop().read_text().splitlines()]
    assert digests == [[sha256(each.read_bytes()).hexdigest(), each.name] for each in before]
    held = {path: path.read_bytes() for path in before}
    before[-1].unlink()
    before[-1].mkdir()  # the last one cannot be written
    moved = project_edits.change_structure(project, height=120)
    with pytest.raises(FileError):
        write_each(structure_pages(moved, apart=True), moved.pens, tmp_path / "out.svg")
    assert [path.read_bytes() for path in before[:-1]] == list(held.values())[:-1]
    assert not list(tmp_path.glob("*.part"))


def test_pages_whose_names_differ_in_signs_only_are_files_of_their_own(project, tmp_path):
    pages = structure_pages(project)
    alike = [replace(pages[0], name=name) for name in ("Side +", "Side -", "Side")]
    names = [path.name for path in files_of(alike, tmp_path / "cut.svg")]
    assert names == ["cut-Side.svg", "cut-Side-2.svg", "cut-Side-3.svg"]


@pytest.mark.parametrize("ending", [".svg", ".dxf", ".pdf"])
def test_the_same_project_gives_the_same_bytes_in_another_run(project, tmp_path, ending):
    here = render(structure_pages(project), project.pens, ending)
    script = (
        "import sys\nfrom anzel.project.demos import herb_stand\n"
        "from anzel.output.export import render, structure_pages\n"
        "project = herb_stand()\n"
        "content = render(structure_pages(project), project.pens, sys.argv[1])\n"
        "sys.stdout.buffer.write(content)"
    )
    run = subprocess.run(
        python_command("-c", script, ending), capture_output=True, check=True,
        env={**os.environ, "PYTHONHASHSEED": "7", "TZ": "Asia/Tokyo"},
    )  # fmt: skip
    assert run.stdout == here


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"{", "Invalid JSON"),
        (b'{"sheets": [{}], "pieces": []}', "neither size nor outline"),
        (b'{"sheets": [{"width": 9, "height": 9}], "pieces": [{"name": "a", "outline": '
         b'[[0, 0], [5, 5], [5, 0], [0, 5]]}]}', "outline of a crosses itself"),
        (b'{"sheets": [], "pieces": []}', "Sheets"),
    ],
)  # fmt: skip
def test_a_bad_layout_puzzle_is_refused_in_words(content, words):
    with pytest.raises(FileError, match=f"(?i){words}"):
        read_problem(content)
