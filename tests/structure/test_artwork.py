"""Lettering and artwork on plates of any form, into every file."""

import json
from itertools import pairwise
from math import hypot, pi

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from tests.told import refused

from anzel.app.edits import artwork_edits, free_structure_edits
from anzel.core.findings import MakerError, ParameterError
from anzel.geometry.lettering import lettering
from anzel.geometry.segments import Arc
from anzel.materials.fits import KerfAt
from anzel.output import export
from anzel.output.cut_file_reader import read_lines
from anzel.output.dxf_writer import dxf_bytes
from anzel.output.pages import sheet_pages
from anzel.output.svg_writer import svg_bytes
from anzel.project.demos import herb_stand
from anzel.project.derive import jobs_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.project.rescale import by_factor
from anzel.storage import project_file
from anzel.structure.artwork.drawn import artwork_file
from anzel.structure.artwork.records import Repeated
from anzel.structure.forms import FORMS
from anzel.structure.line_work import LineOperation, LineWish

PAGE = 'xmlns="http://www.w3.org/2000/svg" width="50mm" height="50mm" viewBox="0 0 50 50"'
LEAF = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="30mm" viewBox="0 0 60 30">'
    '<g id="rim"><path d="M0 15A30 15 0 0 1 60 15"/><circle cx="30" cy="20" r="10"/></g>'
    '<g id="vein"><path d="M0 15H60"/></g></svg>'
)


@pytest.fixture
def leaf(tmp_path):
    (tmp_path / "leaf.svg").write_text(LEAF)
    return tmp_path / "leaf.svg"


def lines(project, plate):
    return solved_structure_of(project).piece(plate).lines


def board():
    return project_of("free", joints=())


@pytest.mark.parametrize("form", [name for name in FORMS if name != "found"])
def test_any_plate_of_any_form_carries_lettering(form, tmp_path):
    project = project_of(form)
    plate = solved_structure_of(project).pieces[-1].name
    before = lines(project, plate)
    made, item = artwork_edits.add_lettering(project, plate, "Mossgate")
    assert len(lines(made, plate)) >= len(before)
    project_file.save(made, tmp_path / "a.anzel")
    assert project_file.load(tmp_path / "a.anzel") == made
    assert artwork_edits.remove_item(made, item).structure.own_artwork == ()


@given(st.floats(-170, 170), st.floats(-20, 20), st.floats(-20, 20))
def test_letters_keep_their_length_wherever_they_lie(turn, x, y):
    project, item = artwork_edits.add_lettering(board(), "Left end", "Fern")
    made = artwork_edits.change_item(project, item, x=x, y=y, turn=turn, height=6.0)
    strokes = lettering("Fern", 6.0, (0.0, 0.0))
    drawn = sum(hypot(b[0] - a[0], b[1] - a[1]) for s in strokes for a, b in pairwise(s))
    assert sum(line.path.length for line in lines(made, "Left end")) == pytest.approx(drawn)


def test_letters_along_an_arc_stand_on_it():
    project, item = artwork_edits.add_lettering(board(), "Left end", "o" * 9)
    made = artwork_edits.change_item(project, item, bend=40.0, height=5.0)
    centre_y = -40.0
    apart = [
        hypot(x, y - centre_y) for line in lines(made, "Left end") for x, y in line.path.stroke
    ]
    assert 35 < min(apart) < 40 < max(apart) < 45


def test_artwork_keeps_its_curves_at_the_size_that_is_typed(leaf):
    project, item = artwork_edits.add_artwork(board(), "Left end", leaf)
    made = artwork_edits.type_item(project, item, "width", "30")
    circles = [
        segment for line in lines(made, "Left end") for segment in line.path.segments
        if isinstance(segment, Arc) and segment.radius == pytest.approx(5)
    ]  # fmt: skip
    assert sum(segment.length for segment in circles) == pytest.approx(10 * pi)
    labels = artwork_edits.wishes_of(artwork_edits.item_of(made, item))
    vein = next(label for label in labels if "vein" in label)
    scored = artwork_edits.decide_label(made, item, vein, LineWish.SCORE)
    found = [x.path.length for x in lines(scored, "Left end") if x.operation is LineOperation.SCORE]
    assert found == [pytest.approx(30)]
    none = artwork_edits.decide_label(made, item, vein, LineWish.LEAVE_OUT)
    assert len(lines(none, "Left end")) == len(lines(made, "Left end")) - 1
    with pytest.raises(ParameterError):
        artwork_edits.decide_label(made, item, "nothing", LineWish.CUT)


def test_lines_end_at_openings_and_go_along_with_plate_and_whole(leaf):
    project, item = artwork_edits.add_artwork(project_of("lantern"), "Base", leaf)
    made = artwork_edits.change_item(project, item, width=100.0)
    piece = solved_structure_of(made).piece("Base")
    grown = piece.region.shape.buffer(1e-6)
    assert piece.lines
    assert all(grown.contains(shapely.LineString(line.path.stroke)) for line in piece.lines)
    free = free_structure_edits.make_free(made)
    assert len(lines(free, "Base")) == len(piece.lines)
    renamed = free_structure_edits.rename_plate(free, "Base", "Floor")
    assert artwork_edits.items_on(renamed, "Floor") != ()
    assert free_structure_edits.remove_plate(renamed, "Floor").structure.own_artwork == ()
    larger = by_factor(project, 1.5)
    width = artwork_edits.item_of(project, item).width
    assert artwork_edits.item_of(larger, item).width == pytest.approx(1.5 * width)
    alike = artwork_edits.change_item(
        artwork_edits.add_lettering(made, "Wall 1", "Fern")[0], "L2", alike=True, y=-80, height=3
    )  # fmt: skip
    assert artwork_edits.items_on(alike, "Wall 4") == artwork_edits.items_on(alike, "Wall 1")
    assert len(lines(alike, "Wall 4")) == len(lines(alike, "Wall 1")) > 0


def test_every_stroke_comes_back_from_the_files_with_its_operation(leaf):
    project, _ = artwork_edits.add_artwork(board(), "Left end", leaf)
    project, letters = artwork_edits.add_lettering(project, "Right end", "Mossgate")
    project = artwork_edits.change_item(project, letters, operation=LineOperation.SCORE)
    stock = project.stocks_in_use[0]
    pages = sheet_pages(project, stock)
    wanted = {}
    for job in jobs_of(project, stock.id):
        for line in job.lines:
            wanted[line.operation] = wanted.get(line.operation, 0.0) + line.length
    for content, ending in ((svg_bytes(pages, project.pens), ".svg"),
                            (dxf_bytes(pages, project.pens), ".dxf")):  # fmt: skip
        found = dict.fromkeys(wanted, 0.0)
        for line in read_lines(content, ending):
            for run in line.runs:
                found[line.operation] += shapely.LineString(run).length
        for operation, length in wanted.items():
            assert found[operation] == pytest.approx(length, rel=1e-3), operation


def test_what_is_no_artwork_is_told(tmp_path):
    (tmp_path / "words.svg").write_text("words")
    with pytest.raises(MakerError):
        artwork_edits.add_artwork(board(), "Left end", tmp_path / "words.svg")
    with pytest.raises(ParameterError, match="no plate"):
        artwork_edits.add_lettering(board(), "Nothing", "Fern")
    project, item = artwork_edits.add_lettering(board(), "Left end", "Fern")
    with pytest.raises(ParameterError, match="has no"):
        artwork_edits.type_item(project, item, "width", "3")
    assert json.loads(project.structure.own_artwork[0].model_dump_json())["text"] == "Fern"


@pytest.mark.parametrize(
    ("start", "is_cut"),
    [
        ("C10 10 10 10 10 10", True), ("L10 10", True), ("A5 5 0 0 1 10 10", True),
        ("C10.0000001 10 10 10 10 10", True), ("C20 0 0 0 10 10", False),
    ],
)  # fmt: skip
@pytest.mark.parametrize("place", list(KerfAt))
def test_edges_without_length_are_cut_round_in_every_format(start, is_cut, place, tmp_path):
    drawn = tmp_path / "d.svg"
    drawn.write_text(f'<svg {PAGE}><path d="M10 10{start}L40 10L40 40L10 40Z"/></svg>')
    stand, item = artwork_edits.add_artwork(herb_stand().with_changes(kerf_at=place), "Top", drawn)
    (label,) = artwork_file(stand.structure.own_artwork[-1].file).labels
    for wish in LineWish:
        if wish is LineWish.CUT and not is_cut:
            with refused(ParameterError, match="crosses itself"):
                artwork_edits.change_item(stand, item, wishes=((label, wish),))
            continue
        made = artwork_edits.change_item(stand, item, wishes=((label, wish),))
        pages = export.structure_pages(made)
        assert all(export.render(pages, made.pens, f".{form}") for form in ("svg", "dxf", "pdf"))


@pytest.mark.parametrize(
    ("repeated", "changes", "places"),
    [
        (Repeated.ROW, {"count": 3, "pitch": 15.0}, [(-15, 4), (0, 4), (15, 4)]),
        (Repeated.GRID, {"count": 2, "rows": 2, "pitch": 20.0, "row_pitch": 10.0},
         [(-10, -1), (10, -1), (-10, 9), (10, 9)]),
        (Repeated.RING, {"count": 4}, [(0, 4), (-4, 0), (0, -4), (4, 0)]),
    ],
)  # fmt: skip
def test_a_motif_is_repeated_in_a_row_a_grid_or_a_ring(leaf, repeated, changes, places):
    project, item = artwork_edits.add_artwork(board(), "Left end", leaf)
    once = artwork_edits.change_item(project, item, width=6.0, y=4.0)
    made = artwork_edits.change_item(once, item, repeated=repeated, **changes)
    length = sum(line.path.length for line in lines(once, "Left end"))
    total = sum(line.path.length for line in lines(made, "Left end"))
    assert total == pytest.approx(len(places) * length)
    middles = [
        segment.centre for line in lines(made, "Left end") for segment in line.path.segments
        if isinstance(segment, Arc) and segment.radius == pytest.approx(1)
    ]  # fmt: skip
    drawn = next(
        segment.centre for line in lines(once, "Left end") for segment in line.path.segments
        if isinstance(segment, Arc) and segment.radius == pytest.approx(1)
    )  # fmt: skip
    if repeated is not Repeated.RING:
        off = (drawn[0], drawn[1] - 4)
        wanted = {(round(x + off[0], 6), round(y + off[1], 6)) for x, y in places}
        assert {(round(x, 6), round(y, 6)) for x, y in middles} == wanted
    else:
        apart = {round(hypot(*place), 6) for place in middles}
        assert apart == {round(hypot(*drawn), 6)}
        assert len({(round(x, 6), round(y, 6)) for x, y in middles}) == 4
    typed = artwork_edits.type_item(made, item, "count", "1")
    assert artwork_edits.item_of(typed, item).count == 1
    with pytest.raises(ParameterError):
        artwork_edits.type_item(made, item, "count", "1.5")
    with pytest.raises(ParameterError, match="repeated more"):
        artwork_edits.change_item(made, item, repeated=Repeated.GRID, count=200, rows=200)
