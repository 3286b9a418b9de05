"""What lies on the back face, and pictures that are engraved, into every file."""

import io
import re
from base64 import b64decode

import numpy as np
import pypdf
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from lxml import etree
from PIL import Image

from anzel.app.edits import artwork_edits
from anzel.core.findings import MakerError, ParameterError
from anzel.cutjob.operations import Operation
from anzel.cutjob.times import times_of
from anzel.geometry.rigid_transform import RigidTransform
from anzel.output import export
from anzel.output.cut_file_reader import read_lines
from anzel.output.pages import BACK_FIRST, sheet_pages
from anzel.project.derive import jobs_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.simulation.cut_playback import play_back
from anzel.storage import project_file
from anzel.structure.artwork.records import Face
from anzel.structure.line_work import LineWish

PLATE = "Left end"


def board():
    return project_of("free", joints=())


def pages_of(project):
    return sheet_pages(project, project.stocks_in_use[0])


@pytest.fixture
def photo(tmp_path):
    """A picture 40 by 20 pixels, dark at its lower left."""
    image = Image.new("L", (40, 20), 255)
    image.paste(0, (0, 10, 20, 20))
    image.save(tmp_path / "fern.png")
    return tmp_path / "fern.png"


transforms = st.builds(
    lambda turn, over, dx, dy: RigidTransform.rotation(turn, over=over).translated(dx, dy),
    st.floats(0, 360), st.booleans(), st.floats(-50, 50), st.floats(-50, 50),
)  # fmt: skip


@given(transforms, transforms, st.tuples(st.floats(-9, 9), st.floats(-9, 9)))
def test_one_transform_after_another_is_their_composition(first, second, point):
    assert first.then(second)(point) == pytest.approx(second(first(point)), abs=1e-9)


def test_letters_on_the_back_read_right_from_the_back_and_are_engraved_first():
    front, item = artwork_edits.add_lettering(board(), PLATE, "Fern")
    front = artwork_edits.change_item(front, item, x=14.0)
    both, other = artwork_edits.add_lettering(front, PLATE, "Moss")
    both = artwork_edits.change_item(both, other, x=14.0, face=Face.BACK)
    lines = solved_structure_of(both).piece(PLATE).lines
    middles = {}
    for is_back in (False, True):
        own = [line.path.stroke for line in lines if line.is_back is is_back]
        left, _, right, _ = shapely.MultiLineString(own).bounds
        middles[is_back] = (left + right) / 2
    assert middles[False] == pytest.approx(14, abs=0.01)
    assert middles[True] == pytest.approx(-14, abs=0.01), "right of the middle, seen from the back"
    back, page = (p for p in pages_of(both) if p.name.endswith(("back", "sheet 1")))
    assert back.notes[0] == BACK_FIRST
    assert {line.operation for line in back.lines} == {Operation.ENGRAVE}
    (job,) = jobs_of(both, both.stocks_in_use[0].id)
    drawn = {o: sum(x.length for x in p.lines if x.operation is Operation.ENGRAVE)
             for o, p in (("back", back), ("front", page))}  # fmt: skip
    assert job.lengths.engraved == pytest.approx(sum(drawn.values()))
    only = artwork_edits.change_item(front, item, face=Face.BACK)
    (job,) = jobs_of(only, only.stocks_in_use[0].id)
    laid = next(each for each in job.plan.placed if each.piece.name == PLATE)
    assert laid.transform.over, "with nothing on its front it lies with its back up"
    assert not job.back


def test_the_back_is_where_the_front_says_once_the_sheet_is_turned_over():
    project, item = artwork_edits.add_lettering(board(), PLATE, "I")
    project = artwork_edits.change_item(project, item, x=20.0, y=-11.0, face=Face.BACK)
    project, _ = artwork_edits.add_lettering(project, PLATE, "x")
    (job,) = jobs_of(project, project.stocks_in_use[0].id)
    laid = next(each for each in job.plan.placed if each.piece.name == PLATE)
    (line,) = [line for line in laid.piece.lines if line.is_back]
    x, y = shapely.LineString(line.path.moved(laid.transform).stroke).centroid.coords[0]
    (back,) = job.back
    there = shapely.LineString(back.line.stroke).centroid
    assert (there.x, there.y) == pytest.approx((job.plan.width - x, y))


def test_a_picture_comes_out_true_to_size_in_svg_and_pdf_and_dxf_says_that_it_cannot(
    photo, tmp_path
):
    project, item = artwork_edits.add_picture(board(), PLATE, photo)
    project = artwork_edits.change_item(project, item, width=30.0, turn=90.0, spacing=0.25)
    project_file.save(project, tmp_path / "a.anzel")
    assert project_file.load(tmp_path / "a.anzel") == project
    (job,) = jobs_of(project, project.stocks_in_use[0].id)
    assert job.lengths.engraved == pytest.approx(60 * 30 + 59 * 0.25), "60 rows, and on to the next"
    pages = pages_of(project)
    content = export.render(pages, project.pens, ".svg")
    (image,) = etree.fromstring(content).iter("{http://www.w3.org/2000/svg}image")
    a, b, c, d, _, _ = map(float, re.findall(r"[-\d.e]+", image.get("transform").split("(")[1]))
    sides = sorted(((a * a + b * b) ** 0.5, (c * c + d * d) ** 0.5))
    assert sides == pytest.approx([15, 30])
    data = b64decode(image.get("href").partition("base64,")[2])
    assert Image.open(io.BytesIO(data)).size == (40, 20)
    played = play_back(content, project.cutter)
    whole = times_of(job.lengths, project.cutter).whole
    assert played.seconds == pytest.approx(whole, rel=1e-4)
    (rows,) = [move for move in played.moves if move.operation is Operation.ENGRAVE]
    assert rows.piece == PLATE
    assert np.allclose(rows.points, job.lines[0].line.rows, atol=1e-3)
    barred = content.replace(b'data-rows="0.25"', b'data-rows="0.000001"')
    assert not [each for each in read_lines(barred, ".svg") if each.operation is Operation.ENGRAVE]
    reader = pypdf.PdfReader(io.BytesIO(export.render(pages, project.pens, ".pdf")))
    page = reader.pages[0]
    assert len(page.images) == 1
    assert Image.open(io.BytesIO(page.images[0].data)).size == (40, 20)
    found = re.findall(rb"((?:[-\d.]+ ){6})cm", page.get_contents().get_data())
    sizes = [max(abs(float(n)) for n in each.split()[:4]) for each in found]
    assert pytest.approx(30, abs=1e-3) in sizes, "mm, under a scale of 72 / 25.4"
    assert export.cannot_hold(pages, ".svg") == ""
    assert "holds no pictures" in export.cannot_hold(pages, ".dxf")
    export.render(pages, project.pens, ".dxf")


def test_what_is_no_picture_is_refused_and_one_off_the_plate_is_not_there(photo, tmp_path):
    (tmp_path / "no.png").write_bytes(b"nothing")
    with pytest.raises(MakerError):
        artwork_edits.add_picture(board(), PLATE, tmp_path / "no.png")
    project, item = artwork_edits.add_picture(board(), PLATE, photo)
    assert len(solved_structure_of(project).piece(PLATE).pictures) == 1
    off = artwork_edits.change_item(project, item, x=900.0)
    assert solved_structure_of(off).piece(PLATE).pictures == ()
    with pytest.raises(ParameterError):
        artwork_edits.decide_label(project, item, "x", LineWish.CUT)
