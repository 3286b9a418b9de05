"""Cut files, read back with libraries that know nothing of Anzel."""

import io
import re
from itertools import pairwise
from math import atan, pi
from xml.etree import ElementTree

import ezdxf
import ezdxf.bbox
import numpy as np
import pypdf
import pytest
import shapely
import svgelements
from ezdxf import path as dxf_path
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.common import blob, rectangle
from tests.told import refused

from anzel.app.edits import project_edits, stock_edits
from anzel.core.findings import ParameterError
from anzel.cutjob.operations import DxfRelease, Operation, Pens
from anzel.geometry.arcs_of_curve import arcs_of_curve
from anzel.geometry.regions import Contour
from anzel.geometry.segments import Cubic
from anzel.materials.fits import KerfAt
from anzel.materials.stock import SheetSize
from anzel.output import export
from anzel.output.dxf_writer import dxf_bytes
from anzel.output.pages import Backend, CutLine, Page, draw
from anzel.output.pdf_writer import pdf_bytes
from anzel.output.svg_writer import PAGE_GAP, number, svg_bytes
from anzel.project.demos import seedpod_lamp
from anzel.project.derive import pieces_of, solved_structure_of
from anzel.storage.atomic_file import FileError
from anzel.test_pieces.model import TestPieceKind

BLOB_PAGE = Page(
    "blob", 60.0, 40.0, (CutLine(Operation.OUTER, "Blob", blob()),), ("a note", "another")
)

COMB = TestPieceKind.COMB


def svg_shapes(content):
    """The drawn elements of an SVG, in mm, by svgelements."""
    drawing = svgelements.SVG.parse(io.BytesIO(content), ppi=25.4)
    return [e for e in drawing.elements() if isinstance(e, svgelements.Shape)]


def modelspace(content):
    """A DXF read back by ezdxf, audited."""
    document = ezdxf.read(io.StringIO(content.decode()))
    assert document.audit().errors == []
    return document, document.modelspace()


def sheet_page(project, stock_id="birch-3"):
    """The one sheet of a stock."""
    (page,) = export.structure_pages(project, stock_id=stock_id)
    return page


def test_svg_is_true_to_size_in_millimetres(project):
    root = ElementTree.fromstring(svg_bytes([sheet_page(project)], project.pens))
    assert (root.get("width"), root.get("height")) == ("400mm", "300mm")
    assert root.get("viewBox") == "0 0 400 300"


def test_svg_sizes_read_back_to_a_thousandth(project):
    page = export.structure_pages(project, stock_id="birch-3", loose=True)
    shapes = svg_shapes(svg_bytes(page, project.pens))
    assert len(shapes) == 2
    for shape, piece in zip(shapes, pieces_of(project, "birch-3"), strict=True):
        left, low, right, high = shape.bbox()
        x0, y0, x1, y1 = piece.region.bounds
        assert (right - left, high - low) == pytest.approx((x1 - x0, y1 - y0), abs=1e-3)


def test_svg_arcs_are_arcs_and_circles_are_circles(project):
    shapes = svg_shapes(svg_bytes(export.structure_pages(project), project.pens))
    circles = [s for s in shapes if isinstance(s, svgelements.Circle)]
    assert [c.rx for c in circles] == pytest.approx([60], abs=1e-3)
    arcs = [seg for s in shapes for seg in svgelements.Path(s) if isinstance(seg, svgelements.Arc)]
    assert len(arcs) >= 11
    outline = solved_structure_of(project).piece("Upright A").region.outer
    radii = {round(s.radius, 3) for s in outline.segments if hasattr(s, "radius")}
    assert radii <= {round(abs(arc.rx), 3) for arc in arcs}


@pytest.mark.slow
def test_svg_arcs_run_the_right_way():
    """svgelements' own area of the outline equals ours: a wrong flag would bulge outwards."""
    (shape,) = svg_shapes(svg_bytes([BLOB_PAGE], Pens()))
    points = [svgelements.Path(shape).point(i / 20_000) for i in range(20_000)]
    area = sum(a.x * b.y - b.x * a.y for a, b in zip(points, points[1:] + points[:1], strict=True))
    assert abs(area / 2) == pytest.approx(blob().signed_area, rel=1e-4)


def test_svg_outlines_are_closed_and_none_is_drawn_twice(project):
    content = svg_bytes(export.structure_pages(project), project.pens).decode()
    outlines = re.findall(r' d="([^"]+)"', content)
    assert all(outline.endswith("Z") for outline in outlines)
    assert len(set(outlines)) == len(outlines)


def test_svg_colours_are_the_makers(project):
    changed = project_edits.change_pen(project, Operation.OUTER, colour="#ff00aa")
    changed = project_edits.change_pen(changed, Operation.ENGRAVE, colour="#00aaff", width=0.01)
    content = svg_bytes(export.pages_of_test_piece(changed, "birch-3", COMB), changed.pens).decode()
    assert set(re.findall(r'stroke="(#\w+)"', content)) == {"#ff00aa", "#00aaff"}
    assert 'stroke="#00aaff" stroke-width="0.01"' in content


def test_svg_groups_have_readable_unique_ids(project):
    root = ElementTree.fromstring(svg_bytes(export.structure_pages(project), project.pens))
    ids = [group.get("id") for group in root.iter("{http://www.w3.org/2000/svg}g")]
    assert {"birch-3-sheet-1-outer-cut", "birch-3-sheet-1-Upright-A-outer"} <= set(ids)
    assert len(set(ids)) == len(ids)


@pytest.mark.parametrize(
    ("kerf_at", "words"),
    [(KerfAt.DRAWING, "run the cutter on the line"), (KerfAt.CUTTER, "offset its path")],
)
def test_every_file_says_who_minds_the_kerf(project, kerf_at, words):
    changed = project_edits.take_kerf_at(project, kerf_at)
    pages = export.structure_pages(changed)
    assert words in svg_bytes(pages, changed.pens).decode()
    document, _ = modelspace(dxf_bytes(pages, changed.pens))
    assert any(words in value for _, value in document.header.custom_vars)
    reader = pypdf.PdfReader(io.BytesIO(pdf_bytes(pages, changed.pens)))
    assert words in reader.metadata.subject


@settings(max_examples=60)
@given(st.lists(st.tuples(st.integers(-50, 50), st.integers(-50, 50)), min_size=4, max_size=4))
def test_arcs_stand_for_a_free_curve_within_two_microns(points):
    """Both ways: no point of the curve is off the arcs, no point of the arcs off the curve."""
    curve = Cubic(*((float(x), float(y)) for x, y in points))
    made = arcs_of_curve(curve)
    assert (made[0].start, made[-1].end) == (curve.start, curve.end)
    assert all(one.end == other.start for one, other in pairwise(made))
    fine, arcs = (
        [edge.point_at(t) for edge in edges for t in np.linspace(0, 1, 1001)]
        for edges in ([curve], made)
    )
    for one, other in ((fine, arcs), (arcs, fine)):
        assert shapely.distance(shapely.points(one), shapely.LineString(other)).max() < 0.003


def test_an_outline_with_free_curves_is_one_closed_line_by_choice():
    demo = seedpod_lamp()
    pens = demo.pens.with_changes(dxf=DxfRelease.ARCS)
    pages = export.structure_pages(demo, loose=True)
    outlines = [c for piece in pieces_of(demo) for c in piece.region.contours]
    assert any(isinstance(s, Cubic) for outline in outlines for s in outline.segments)
    document = ezdxf.read(io.StringIO(export.render(pages, pens, ".dxf").decode()))
    cut = [e for e in document.modelspace() if "cut" in e.get_xdata("ANZEL")[2].value]
    assert {entity.dxftype() for entity in cut} <= {"LWPOLYLINE", "CIRCLE"}
    assert all(entity.closed for entity in cut if entity.dxftype() == "LWPOLYLINE")
    notes = [value for _, value in document.header.custom_vars]
    assert "free curves as arcs, off by no more than 0.002 mm" in notes


@pytest.mark.parametrize("release", ["R12", "R2010"])
def test_layers_may_be_layer_0_or_shared_and_colours_still_tell(project, release):
    pens = project.pens.with_changes(dxf=release)
    names = {Operation.INNER: "0", Operation.ENGRAVE: "marks", Operation.SCORE: "marks"}
    for operation, name in names.items():
        pen = pens.pen(operation).with_changes(layer=name)
        pens = pens.with_changes(**{operation.field: pen})
    pages = export.pages_of_test_piece(project, "birch-3", COMB)
    _, space = modelspace(dxf_bytes(pages, pens))
    assert {entity.dxf.layer for entity in space} <= {"0", "marks", "outer cut"}
    marks = [entity for entity in space if entity.dxf.layer == "marks"]
    assert marks
    assert all(entity.dxf.color not in (0, 256) for entity in marks)


def test_dxf_is_r2010_in_millimetres_with_a_layer_per_operation(project):
    document, space = modelspace(
        dxf_bytes(export.pages_of_test_piece(project, "birch-3", COMB), project.pens)
    )
    assert document.dxfversion == "AC1024"
    assert document.header["$INSUNITS"] == 4
    assert {o.value for o in Operation} <= {layer.dxf.name for layer in document.layers}
    used = {(e.dxf.layer, e.dxftype()) for e in space}
    assert used == {("outer cut", "LWPOLYLINE"), ("engrave", "LWPOLYLINE")}


def test_dxf_sizes_read_back_to_a_thousandth(project):
    pages = export.structure_pages(project, stock_id="birch-3", loose=True)
    _, space = modelspace(dxf_bytes(pages, project.pens))
    for entity, piece in zip(space, pieces_of(project, "birch-3"), strict=True):
        box = ezdxf.bbox.extents([entity], fast=False)
        x0, y0, x1, y1 = piece.region.bounds
        assert (box.size.x, box.size.y) == pytest.approx((x1 - x0, y1 - y0), abs=1e-3)


def test_dxf_outlines_are_closed_polylines_with_true_arcs(project):
    pages = export.structure_pages(project, stock_id="birch-3", loose=True)
    _, space = modelspace(dxf_bytes(pages, project.pens))
    first, _ = space
    assert first.closed
    sweeps = sorted(abs(4 * atan(b)) for *_, b in first.get_points("xyb") if b)
    ours = solved_structure_of(project).piece("Upright A").region.outer.segments
    assert sweeps == pytest.approx(sorted(abs(s.sweep) for s in ours if hasattr(s, "sweep")))


def test_dxf_circles_and_mortises_of_the_top(project):
    _, space = modelspace(dxf_bytes([sheet_page(project, "birch-6")], project.pens))
    assert [e.dxf.radius for e in space.query("CIRCLE")] == [60.0]
    holes = space.query("LWPOLYLINE")
    assert len(holes) == 4
    for hole in holes:
        box = ezdxf.bbox.extents([hole])
        assert sorted((box.size.x, box.size.y)) == pytest.approx([2.79, 13.85], abs=1e-6)


def test_dxf_cubics_are_splines_chained_to_their_neighbours():
    _, space = modelspace(dxf_bytes([BLOB_PAGE], Pens()))
    assert [e.dxftype() for e in space] == ["LINE", "ARC", "SPLINE", "LINE"]
    ends = []
    for entity in space:
        path = dxf_path.make_path(entity)
        ends += [path.start, path.end]
    for index in range(4):
        here, after = ends[2 * index + 1], ends[(2 * index + 2) % 8]
        assert here.distance(after) < 1e-9
    (spline,) = space.query("SPLINE")
    points = [(p[0], p[1]) for p in spline.control_points]
    assert points == [(40, 20), (30, 35), (10, 5), (0, 20)]


def test_dxf_area_is_the_pieces_area(project):
    pages = export.structure_pages(project, stock_id="birch-3", loose=True)
    _, space = modelspace(dxf_bytes(pages, project.pens))
    for entity, piece in zip(space, pieces_of(project, "birch-3"), strict=True):
        points = list(dxf_path.make_path(entity).flattening(1e-4))
        area = sum(
            a.x * b.y - b.x * a.y for a, b in zip(points, points[1:] + points[:1], strict=True)
        )
        assert abs(area / 2) == pytest.approx(
            piece.region.area, abs=1.0
        )  # ezdxf's path of a bulge is a cubic


def test_pdf_pages_are_the_sheets_at_one_to_one(project):
    pages = export.structure_pages(project)
    reader = pypdf.PdfReader(io.BytesIO(pdf_bytes(pages, project.pens)))
    sizes = [(float(p.mediabox.width), float(p.mediabox.height)) for p in reader.pages]
    point = 72 / 25.4
    sheets, notes = sizes[:-1], reader.pages[-1].extract_text()
    assert sheets == [pytest.approx((400 * point, 300 * point)), pytest.approx((300 * point,) * 2)]
    assert all(note.split(":")[0] in notes for page in pages for note in page.notes)


def test_pdf_has_a_ruler_of_a_hundred_millimetres(project):
    reader = pypdf.PdfReader(io.BytesIO(pdf_bytes([sheet_page(project)], project.pens)))
    assert "This line measures 100 mm" in reader.pages[1].extract_text()
    content = reader.pages[1].get_contents().get_data().decode()
    lines = [
        tuple(map(float, found))
        for found in re.findall(r"n (\S+) (\S+) m (\S+) (\S+) l S", content)
    ]
    longest = max(abs(x1 - x0) for x0, _, x1, _ in lines)
    assert longest == pytest.approx(100 * 72 / 25.4, abs=0.01)


def test_pdf_curves_lie_on_the_circle(project):
    reader = pypdf.PdfReader(io.BytesIO(pdf_bytes([sheet_page(project, "birch-6")], project.pens)))
    content = reader.pages[0].get_contents().get_data().decode()
    curves = re.findall(" ".join([r"(-?[\d.]+)"] * 6) + " c(?!m)", content)
    assert len(curves) == 8
    assert 2 * pi * 60 == pytest.approx(sum(_bezier_length(content, curves)), rel=1e-5)


def _bezier_length(content, curves):
    """Lengths of consecutive cubics; each starts where the one before ended."""
    values = [tuple(map(float, curve)) for curve in curves]
    starts = [values[-1][4:6], *(v[4:6] for v in values[:-1])]
    for start, (ax, ay, bx, by, cx, cy) in zip(starts, values, strict=True):
        yield svgelements.CubicBezier(start, (ax, ay), (bx, by), (cx, cy)).length()


def test_pages_of_several_stocks_stand_side_by_side(project):
    root = ElementTree.fromstring(svg_bytes(export.structure_pages(project), project.pens))
    assert root.get("width") == f"{number(400 + PAGE_GAP + 300)}mm"


def test_engraving_comes_first_and_outlines_last(project):
    (page,) = export.pages_of_test_piece(project, "birch-3", COMB)
    comb = [mark.operation for mark in page.lines if mark.owner == "Comb"]
    assert comb == sorted(comb, key=list(Operation).index)
    top = [m.line for m in sheet_page(project, "birch-6").lines]
    assert isinstance(top[-1], Contour)
    assert top[-1].is_circle


class Recording(Backend):
    """A backend that only writes down what it is told."""

    def __init__(self):
        self.calls = []

    def begin(self, page):
        self.calls.append(("begin", page.name))

    def contour(self, contour, mark):
        self.calls.append((mark.operation.value, mark.owner))

    def stroke(self, stroke, mark):
        self.calls.append((mark.operation.value, mark.owner))


def test_a_backend_is_told_every_mark_once(project):
    recording = Recording()
    draw(export.structure_pages(project), recording)
    assert recording.calls[0] == ("begin", "birch-3 sheet 1")
    assert recording.calls.count(("inner cut", "Top")) == 4
    assert recording.calls[-1] == ("outer cut", "Top")
    assert len(recording.calls) == 2 + 2 + 5


def test_one_sheet_can_be_chosen_and_a_missing_one_is_named(project):
    assert len(export.structure_pages(project, sheet=1)) == 2
    with pytest.raises(ParameterError, match="no sheet 7"):
        export.structure_pages(project, sheet=7)


def test_a_piece_that_fits_no_sheet_stops_the_file_and_is_named(project):
    """A cut file without it would be missed only after cutting."""
    tiny = stock_edits.change_stock(project, "birch-6", sheets=(SheetSize(width=100),))
    with refused(ParameterError, match=r"Top: 120.0 × 120.0 mm does not fit") as caught:
        export.structure_pages(tiny)
    assert "side by side" in caught.value.hint
    assert len(export.structure_pages(tiny, stock_id="birch-3")) == 1
    assert len(export.structure_pages(tiny, loose=True)) == 2


def test_an_unknown_ending_lists_the_known_ones(project, tmp_path):
    with pytest.raises(FileError, match=r"“.gif” cannot be written.*"):
        export.render(export.pages_of_test_piece(project, "birch-3", COMB), project.pens, ".gif")


def test_two_pieces_of_one_name_get_numbers():
    marks = (
        CutLine(Operation.OUTER, "Rib", rectangle(5, 5)),
        CutLine(Operation.OUTER, "Rib", rectangle(5, 5, 9)),
    )
    content = svg_bytes([Page("p", 20, 10, marks)], Pens()).decode()
    assert content.count('id="p-Rib-outer"') == 1


@pytest.mark.parametrize(
    ("value", "text"), [(0.0, "0"), (-1e-12, "0"), (2.5, "2.5"), (1 / 3, "0.333333333")]
)
def test_numbers_in_files_carry_no_noise(value, text):
    assert number(value) == text
