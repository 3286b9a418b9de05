"""Cut files read back: the same geometry, names and facts; anything else refused in words."""

import ezdxf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.common import assert_close, blob, rectangle

from anzel.app.edits import project_edits
from anzel.core.findings import ParameterError
from anzel.cutjob.operations import Operation, Pens
from anzel.geometry.regions import Contour
from anzel.materials.fits import KerfAt
from anzel.output import export
from anzel.output.cut_file_reader import CutFileError, parse_cut_file, read_cut_file
from anzel.output.pages import CutLine, Page
from anzel.project.derive import derived_test_piece, pieces_of
from anzel.test_pieces.model import TestPieceKind

FORMATS = (".svg", ".dxf")


def read(pages, ending, pens=None):
    """Pages written and read back."""
    return parse_cut_file(export.render(pages, pens or Pens(), ending), ending)


@pytest.mark.parametrize("ending", FORMATS)
def test_a_structure_comes_back_with_names_sizes_and_kinds(project, ending):
    pages = export.structure_pages(project, loose=True)
    file = read(pages, ending)
    drawn = {piece.name: piece for piece in pieces_of(project)}
    assert {piece.name for piece in file.pieces} == set(drawn)
    for piece in file.pieces:
        own = drawn[piece.name].region
        assert piece.region.area == pytest.approx(own.area, abs=1e-4)
        assert piece.region.size == pytest.approx(own.size, abs=1e-6)
        assert len(piece.region.holes) == len(own.holes)
        shapes = [sorted(type(s).__name__ for s in c.segments) for c in piece.region.contours]
        assert sorted(shapes) == sorted(
            sorted(type(s).__name__ for s in c.segments) for c in own.contours
        )


@pytest.mark.parametrize("ending", FORMATS)
@pytest.mark.parametrize("kind", TestPieceKind)
def test_every_test_piece_comes_back_without_its_engraving(project, ending, kind):
    file = read(export.pages_of_test_piece(project, "birch-3", kind), ending)
    areas = sorted(piece.region.area for piece in file.pieces)
    drawn = sorted(
        piece.region.area for piece in derived_test_piece(project, "birch-3", kind).pieces
    )
    assert areas == pytest.approx(drawn, abs=1e-5)


@pytest.mark.parametrize("ending", FORMATS)
def test_curves_of_every_kind_come_back(ending):
    outer, hole = blob(), Contour.circle((20.0, 10.0), 3.0)
    marks = tuple(CutLine(Operation.OUTER, "Blob", line) for line in (hole, outer))
    (piece,) = read((Page("page", 60, 40, marks),), ending).pieces
    assert piece.region.area == pytest.approx(outer.signed_area - hole.signed_area, abs=1e-6)
    assert piece.region.holes[0].is_circle
    for ours, theirs in zip(piece.region.outer.corners, outer.corners, strict=False):
        assert_close(min(((a, b) for a, b in outer.corners), key=lambda p: abs(p[0] - ours[0])
                         + abs(p[1] - ours[1])), ours, 1e-6)  # fmt: skip
        assert theirs


@pytest.mark.parametrize("ending", FORMATS)
def test_kerf_handling_and_sheet_are_in_the_file(project, ending):
    """Carried as facts for programs; the plain note is tested with the writers."""
    facts = read(export.structure_pages(project, stock_id="birch-3"), ending).metadata
    (sheet,) = facts.values()
    assert (sheet["stock"], sheet["kerf-at"], sheet["fit"]) == ("birch-3", "drawing", "snug")
    assert float(sheet["thickness"]) == pytest.approx(2.94)
    assert (float(sheet["kerf"]), sheet["cutter"]) == (0.16, "Potting-shed laser")


@pytest.mark.parametrize("ending", FORMATS)
def test_a_file_says_what_its_cutter_shall_make_up_for(project, ending):
    left = project_edits.take_kerf_at(project, KerfAt.CUTTER)
    assert read(export.structure_pages(left, stock_id="birch-6"), ending).offset_kerf == 0.20
    assert read(export.structure_pages(project), ending).offset_kerf == 0.0
    for kind in (TestPieceKind.STRIPS, TestPieceKind.DISC):  # nobody may hide the kerf
        assert read(export.pages_of_test_piece(left, "birch-3", kind), ending).offset_kerf == 0.0


def svg(body, size='width="100mm" height="50mm" viewBox="0 0 100 50"'):
    """An SVG by hand."""
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{body}</svg>'.encode()


@pytest.mark.parametrize(
    ("size", "width"),
    [
        ('width="100mm" height="50mm" viewBox="0 0 100 50"', 40.0),
        ('width="10cm" height="5cm" viewBox="0 0 1000 500"', 4.0),
        ('width="1in" height="1in" viewBox="0 0 96 96"', 40 * 25.4 / 96),
        ('width="96" height="96"', 40 * 25.4 / 96),
        ("", 40 * 25.4 / 96),
    ],
)
def test_sizes_follow_width_height_and_viewbox(size, width):
    """SVG 2, 8.2, and CSS Values 6.2: 1 px is 1/96 in."""
    (piece,) = parse_cut_file(svg('<path d="M0 0h40v20h-40z"/>', size), ".svg").pieces
    assert piece.region.size[0] == pytest.approx(width)


def test_unnamed_outlines_are_sorted_by_what_lies_in_what():
    body = (
        '<g transform="translate(5 5)"><rect width="40" height="30"/>'
        '<circle cx="10" cy="10" r="4"/></g><path d="M60 5q10 0 10 10t-10 10z"/>'
        '<polyline points="0,0 9,9"/>'
    )
    first, second = parse_cut_file(svg(body), ".svg").pieces
    assert (first.name, second.name) == ("piece 1", "piece 2")
    assert len(first.region.holes) == 1
    assert first.region.size == pytest.approx((40, 30))


def test_a_dxf_of_loose_lines_in_inches_is_followed_round(tmp_path):
    document = ezdxf.new("R2000")
    document.units = ezdxf.units.IN
    space = document.modelspace()
    space.add_line((0, 0), (2, 0))
    space.add_line((2, 1), (2, 0))
    space.add_line((0, 1), (2, 1))
    space.add_line((0, 1), (0, 0))
    space.add_line((7, 7), (8, 8))
    document.saveas(tmp_path / "loose.dxf")
    (piece,) = read_cut_file(tmp_path / "loose.dxf").pieces
    assert piece.region.size == pytest.approx((50.8, 25.4))


@pytest.mark.parametrize(
    ("content", "ending", "words"),
    [
        (b"", ".svg", "not well-formed SVG"),
        (b"<svg", ".svg", "not well-formed SVG"),
        (b"<html/>", ".svg", "is not an SVG drawing"),
        (svg(""), ".svg", "is empty"),
        (svg('<path d="M0 0h40"/>'), ".svg", "holds no closed outline"),
        (b'<!DOCTYPE s [<!ENTITY a "aaa"><!ENTITY b "&a;&a;">]><svg>&b;</svg>', ".svg", "not safe"),
        (b"", ".dxf", "is empty"),
        (b"junk", ".dxf", "cannot be read as DXF"),
        (b"\xff\xfe", ".dxf", "cannot be read as DXF"),
        (b"%PDF", ".pdf", "neither SVG nor DXF"),
    ],
)
def test_what_is_no_cut_file_is_refused_in_words(content, ending, words):
    with pytest.raises(CutFileError, match=words):
        parse_cut_file(content, ending)


@given(st.binary(max_size=300), st.sampled_from(FORMATS))
@settings(max_examples=60)
def test_any_bytes_are_refused_in_words(content, ending):
    with pytest.raises(CutFileError):
        parse_cut_file(content, ending)


def test_a_missing_file_is_named(tmp_path):
    with pytest.raises(CutFileError, match=r"gone.svg could not be read"):
        read_cut_file(tmp_path / "gone.svg")


def test_a_rectangle_is_read_as_it_was_drawn_to_the_last_digit():
    marks = (CutLine(Operation.OUTER, "R", rectangle(30.125, 20.0625)),)
    (piece,) = read((Page("p", 40, 30, marks),), ".dxf").pieces
    assert piece.region.size == (30.125, 20.0625)


def test_nothing_to_write_is_told_in_words():
    with pytest.raises(ParameterError, match="nothing to write"):
        export.render((), Pens(), ".svg")
