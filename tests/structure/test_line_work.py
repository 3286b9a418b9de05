"""Lines that lie on plates: clipped, cut, engraved, in every file, and those of found drawings."""

import io
from math import asin, dist, pi

import ezdxf
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from tests.common import HINGE

from anzel.app.edits import drawing_edits, free_structure_edits
from anzel.core.findings import ParameterError
from anzel.cutjob.operations import Operation
from anzel.geometry.open_path import OpenPath
from anzel.geometry.prepared import prepared
from anzel.geometry.regions import Contour, Region
from anzel.geometry.rigid_transform import RigidTransform
from anzel.geometry.segments import Arc, Cubic, Line
from anzel.output.cut_file_reader import parse_cut_file, read_lines
from anzel.output.dxf_writer import dxf_bytes
from anzel.output.pages import sheet_pages
from anzel.output.pdf_writer import pdf_bytes
from anzel.output.svg_writer import svg_bytes
from anzel.project.derive import jobs_of, solved_structure_of
from anzel.project.inspection import left_out_of
from anzel.project.new_project import empty_table
from anzel.storage import project_file
from anzel.structure.line_work import LineOperation, LineWish, PlateLine, lines_within

BOARD = Region.of(
    Contour.polygon([(0, 0), (60, 0), (60, 40), (0, 40)]), [Contour.circle((30, 20), 8)]
)  # fmt: skip
INSIDE = prepared(BOARD.shape)


def hinge(*wishes):
    project = drawing_edits.import_file(empty_table(), "hinge.svg", HINGE.encode())
    for label, wish in wishes:
        project = drawing_edits.decide_lines(project, "hinge.svg", label, wish)
    return project


def by_operation(project):
    (piece,) = solved_structure_of(project).pieces
    found = {}
    for line in piece.lines:
        found[line.operation] = found.get(line.operation, 0.0) + line.path.length
    return found


NAMES = [group.label for group in drawing_edits.line_groups_of(
    drawing_edits.drawing_view(hinge(), "hinge.svg"))]  # fmt: skip
NAME = next(label for label in NAMES if "name" in label)


def test_pieces_of_files_of_one_name_have_names_and_lines_of_their_own():
    project = hinge((NAME, LineWish.ENGRAVE))
    (alone,) = solved_structure_of(project).pieces
    both = drawing_edits.import_file(project, "hinge.other.svg", HINGE.encode())
    for file in ("hinge.dxf", "hinge.svg.dxf"):
        board = ezdxf.new(units=4)
        board.modelspace().add_lwpolyline([(0, 0), (60, 0), (60, 40)], close=True)
        stream = io.StringIO()
        board.write(stream)
        both = drawing_edits.import_file(both, file, stream.getvalue().encode())
    pieces = solved_structure_of(both).pieces
    names = ["hinge 1", "hinge.other 1", "hinge.dxf 1", "hinge.svg 1"]
    assert [piece.name for piece in pieces] == names
    assert pieces[0].lines == alone.lines
    assert not pieces[2].lines
    assert len(free_structure_edits.make_free(both).structure.plates) == 4


HALF = st.integers(-10, 69).map(lambda n: n + 0.5)
"""Ends that lie on no edge of the board."""


@given(HALF, HALF, HALF, HALF)
def test_a_line_ends_at_openings_and_at_the_edge_as_shapely_says(x0, y0, x1, y1):
    if abs(x1 - x0) + abs(y1 - y0) < 1:
        return
    parts = OpenPath((Line((x0, y0), (x1, y1)),)).within(INSIDE)
    whole = shapely.LineString([(x0, y0), (x1, y1)]).intersection(BOARD.shape)
    inside = [part for part in shapely.get_parts(whole) if part.length > 0.6]
    assert sum(part.length for part in parts) == pytest.approx(whole.length, abs=0.7)
    assert len(inside) <= len(parts)
    for part in parts:  # ends lie on the edge, but for those of the line itself
        for end in (part.start, part.end):
            on_edge = BOARD.shape.boundary.distance(shapely.Point(end))
            own = min(dist(end, (x0, y0)), dist(end, (x1, y1)))
            assert min(own, on_edge) < 1e-6


def test_curves_stay_curves_where_they_are_cut_off():
    ring = OpenPath((Arc((50, 20), (50, 20), (30, 20)),))
    assert len(ring.within(INSIDE)) == 1, "it lies all inside, about the hole"
    large = OpenPath((Arc((55, 20), (5, 20), (30, 20)),))  # half a circle past the upper edge
    parts = large.within(INSIDE)
    assert all(isinstance(s, Arc) and s.centre == (30, 20) for p in parts for s in p.segments)
    lost = 2 * 25 * (pi / 2 - asin(20 / 25))
    assert sum(part.length for part in parts) == pytest.approx(25 * pi - lost, abs=1e-6)
    wave = OpenPath((Cubic((-10, 20), (10, 60), (20, -30), (70, 20)),))
    assert all(isinstance(s, Cubic) for part in wave.within(INSIDE) for s in part.segments)
    moved = PlateLine(wave, LineOperation.SCORE).moved(RigidTransform().translated(5, 0))
    assert moved.path.start == (-5, 20)
    assert lines_within([moved], BOARD)[0].operation is LineOperation.SCORE


def test_a_hinge_reaches_the_cut_file_and_what_is_doubtful_is_asked():
    project = hinge()
    length = sum(60 - (10 + n % 2 * 8) for n in range(20))
    assert by_operation(project) == {
        LineOperation.CUT: pytest.approx(length),
        LineOperation.ENGRAVE: pytest.approx(200**0.5),
    }
    (told,) = left_out_of(project)
    assert "2 lines" in told.message
    decided = hinge((NAME, LineWish.SCORE))
    assert left_out_of(decided) == ()
    reach = by_operation(decided)[LineOperation.SCORE]
    assert 20 + 35 < reach < 20 + 35 + 40, "what lies beside the panel is cut off"
    assert left_out_of(hinge((NAME, LineWish.LEAVE_OUT))) == ()
    with pytest.raises(ParameterError, match="No line of"):
        hinge(("nothing", LineWish.CUT))


def test_every_stroke_is_in_the_job_and_in_every_file_with_its_operation(tmp_path):
    project = hinge((NAME, LineWish.SCORE))
    stock = project.stocks_in_use[0]
    (job,) = jobs_of(project, stock.id)
    order = [line.operation for line in job.lines]
    assert order == sorted(order, key=list(Operation).index)
    assert order[-1] is Operation.OUTER, "slits are cut before the panel comes free"
    assert job.lengths.scored == pytest.approx(by_operation(project)[LineOperation.SCORE])
    pages = sheet_pages(project, stock)
    lengths = dict.fromkeys(Operation, 0.0)
    for line in job.lines:
        lengths[line.operation] += line.length
    for content, ending in ((svg_bytes(pages, project.pens), ".svg"),
                            (dxf_bytes(pages, project.pens), ".dxf")):  # fmt: skip
        (piece,) = parse_cut_file(content, ending).pieces
        assert piece.region.area == pytest.approx(110 * 70, abs=1e-3), "slits part nothing"
        found = dict.fromkeys(Operation, 0.0)
        for line in read_lines(content, ending):
            for run in line.runs:
                found[line.operation] += shapely.LineString(run).length
        for operation in Operation:
            assert found[operation] == pytest.approx(lengths[operation], abs=0.02), operation
    assert pdf_bytes(pages, project.pens).startswith(b"%PDF")
    project_file.save(project, tmp_path / "a.anzel")
    assert project_file.load(tmp_path / "a.anzel") == project


def test_lines_on_an_outline_that_crosses_itself_end_at_its_edge():
    corners = [(4.0, 6.0), (7.0, 0.0), (1.0, 6.0), (7.0, 1.0), (2.0, 6.0), (3.0, 2.0)]
    sides = tuple(Line(a, b) for a, b in zip(corners, corners[1:] + corners[:1], strict=True))
    line = PlateLine(OpenPath((Line((6.0, 2.0), (0.0, 8.0)),)), LineOperation.CUT)
    found = lines_within((line,), Region.of(Contour(sides)))
    assert 0 < sum(each.path.length for each in found) < line.path.length
