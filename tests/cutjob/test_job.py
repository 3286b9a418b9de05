"""The cut job: order, entries, bridges, labels, paths and times, against shapely, the simulated
cutter and sums by hand."""

from itertools import pairwise
from math import hypot, pi

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from tests.common import FLOOR, blob, rectangle

from anzel.app.edits import project_edits
from anzel.cutjob.bridges import with_bridges
from anzel.cutjob.cut_lines import CutLine
from anzel.cutjob.cut_order import in_cut_order
from anzel.cutjob.entry_points import with_entry_point
from anzel.cutjob.job import job_of
from anzel.cutjob.job_settings import JobSettings, LabelStyle
from anzel.cutjob.labels import labels_of
from anzel.cutjob.operations import Operation
from anzel.cutjob.times import NO_TIME, lengths_of, times_of
from anzel.geometry.regions import BridgedContour, Contour, Region
from anzel.geometry.rigid_transform import RigidTransform
from anzel.geometry.segments import Arc, Cubic, Line
from anzel.geometry.tool_path import end_tangent, start_tangent, tool_path
from anzel.layout.layout import PlacedPiece, SheetPlan
from anzel.materials.cutter import Cutter
from anzel.materials.fits import KerfAt
from anzel.output.cut_file_reader import parse_cut_file
from anzel.output.export import pages_of_test_piece, render, structure_pages
from anzel.project.demos import DEMOS
from anzel.project.derive import jobs_of, layout_of, pieces_of, solved_structure_of
from anzel.simulation.cut_playback import play_back
from anzel.simulation.opening_measurement import openings_of, produced_openings
from anzel.simulation.simulated_cutter import SimulatedCutter, cut
from anzel.simulation.simulated_sheet import SimulatedSheet
from anzel.structure.model import Piece
from anzel.test_pieces.model import TestPieceKind

KERF = 0.16
OPERATIONS = list(Operation)


def laid(name, region, x=0.0, y=0.0):
    """A piece lying somewhere."""
    return PlacedPiece(Piece(name, "ply", 3.0, region, FLOOR), RigidTransform().translated(x, y), 0)


def every_piece():
    """The pieces of every demo that are alike only once."""
    pieces = {p.region: p for demo in DEMOS for p in solved_structure_of(demo.make()).pieces}
    return list(pieces.values())


@pytest.mark.parametrize("distance", [0.08, 0.6])
def test_paths_are_the_buffers_of_the_outlines_and_keep_their_kinds(distance):
    for piece in every_piece()[::2]:
        outer, *holes = tool_path(piece.region, distance)
        wanted = piece.region.shape.buffer(distance, join_style="mitre", mitre_limit=3.0)
        made = Region(outer, tuple(holes)).shape
        assert made.symmetric_difference(wanted).area < 0.012 * piece.region.shape.length
        back = made.buffer(-distance)
        corners = piece.region.shape.buffer(-distance).buffer(distance)  # as a round tool leaves
        assert back.symmetric_difference(corners.union(back)).area < 0.02 * back.length
        if distance < 0.1:
            kinds = {type(s) for s in piece.region.outer.segments}
            assert kinds <= {type(s) for s in outer.segments} | {Line}


def test_a_path_beside_arcs_is_exact():
    slot = Contour((
        Line((0.0, 0.0), (20.0, 0.0)), Arc((20.0, 0.0), (20.0, 10.0), (20.0, 5.0)),
        Line((20.0, 10.0), (0.0, 10.0)), Arc((0.0, 10.0), (0.0, 0.0), (0.0, 5.0)),
    ))  # fmt: skip
    (path,) = tool_path(Region.of(slot), 0.08)
    assert [s.radius for s in path.segments if isinstance(s, Arc)] == pytest.approx([5.08, 5.08])
    assert path.signed_area == pytest.approx(20 * 10.16 + pi * 5.08**2, abs=1e-9)
    (ring, hole) = tool_path(
        Region.of(Contour.circle((3, 4), 20), [Contour.circle((3, 4), 8)]), 0.5
    )
    assert (ring.segments[0].radius, hole.segments[0].radius) == pytest.approx((20.5, 7.5))
    assert tool_path(Region.of(rectangle(20, 20), [Contour.circle((9, 9), 0.3)]), 0.5)[1:] == ()


def test_a_path_beside_a_free_curve_stays_within_two_micrometres():
    (path,) = tool_path(Region.of(blob()), 0.4)
    true = shapely.LineString([c.point_at(i / 5000) for c in blob().segments
                               if isinstance(c, Cubic) for i in range(5001)])  # fmt: skip
    curves = [s for s in path.segments if isinstance(s, Cubic)]
    inner = [c.point_at(t) for c in curves for t in (0.1, 0.35, 0.5, 0.8)]
    assert max(abs(true.distance(shapely.Point(p)) - 0.4) for p in inner) < 0.002


@pytest.mark.parametrize("stock_id", ["birch-3", "birch-6"])
def test_what_is_cut_along_the_path_has_the_wanted_sizes(project, stock_id):
    """Through the file: the simulated cutter, on the line, leaves every outside size and every
    opening as drawn, to 0.005 mm."""
    beside = project_edits.take_kerf_at(project, KerfAt.PATH)
    content = render(structure_pages(beside, stock_id=stock_id), beside.pens, ".svg")
    file = parse_cut_file(content, ".svg")
    assert file.offset_kerf == 0
    kerf = beside.kerf_in(stock_id).kerf
    sheet = SimulatedSheet(true_thickness=beside.stock(stock_id).measured_thickness)
    for produced in cut(file, SimulatedCutter(kerf=kerf), sheet):
        piece = solved_structure_of(beside).piece(produced.name)
        wanted = sorted(piece.region.size)
        assert sorted(produced.size) == pytest.approx(wanted, abs=0.005)
        drawn = sorted(o.width for o in openings_of(piece.region, piece.thickness))
        came_out = sorted(o.width for o in produced_openings(produced))
        assert came_out == pytest.approx(drawn, abs=0.005)


def test_the_kerf_is_never_counted_twice(project):
    beside = project_edits.take_kerf_at(project, KerfAt.PATH)
    assert (
        solved_structure_of(beside).pieces
        == solved_structure_of(project_edits.take_kerf_at(project, KerfAt.CUTTER)).pieces
    )
    offsets = beside.cutter.with_changes(offsets_path=True)
    both = beside.with_changes(cutters=(offsets,))
    assert "counted twice" in both.contradicts_cutter
    strips = pages_of_test_piece(beside, "birch-3", TestPieceKind.STRIPS)
    plain = pages_of_test_piece(project, "birch-3", TestPieceKind.STRIPS)
    assert [m.line for m in strips[0].lines] == [m.line for m in plain[0].lines], "on the line"


def test_lines_are_run_in_order_and_what_lies_inside_comes_first():
    ring = Region.of(rectangle(100, 100), [rectangle(80, 80, 10, 10)])
    window = Region.of(rectangle(30, 30), [rectangle(5, 5, 4, 4)])
    plan = SheetPlan("ply", 1, 300, 200, (laid("Ring", ring), laid("Small", window, 30, 30),
                                          laid("Far", window, 200, 100)))  # fmt: skip
    settings = JobSettings(labels=LabelStyle.SCORE)
    marks = job_of(plan, settings).lines
    cuts = [(m.owner, m.operation.value) for m in marks if m.operation.cuts]
    assert [m.operation for m in marks if not m.operation.cuts] == [Operation.SCORE] * (
        len(marks) - len(cuts)
    )
    assert cuts.index(("Small", "inner cut")) < cuts.index(("Small", "outer cut"))
    assert cuts.index(("Small", "outer cut")) < cuts.index(("Ring", "inner cut"))
    assert cuts[-1][1] == "outer cut"
    assert cuts.index(("Ring", "inner cut")) < cuts.index(("Ring", "outer cut"))


@pytest.mark.parametrize("name", ["seedpod-lamp", "fern-lantern", "garden-wren"])
def test_a_whole_job_keeps_the_order_and_travels_less_than_as_laid(name):
    project = next(demo for demo in DEMOS if demo.name == name).make()
    stock = project.stocks_in_use[0]
    for job in jobs_of(project, stock.id):
        ranks = [OPERATIONS.index(mark.operation) for mark in job.lines]
        outer = [m for m in job.lines if m.operation is Operation.OUTER]
        assert {m.owner for m in outer} == {m.owner for m in job.lines}
        for owner in {m.owner for m in job.lines}:
            own = [r for r, m in zip(ranks, job.lines, strict=True) if m.owner == owner]
            assert own == sorted(own)
        shuffled = sorted(job.lines, key=lambda m: (OPERATIONS.index(m.operation), hash(m.owner)))
        assert job.lengths.travel <= lengths_of(shuffled).travel * 1.02
        assert len(outer) == len(job.plan.placed)


@given(st.floats(-50, 150), st.floats(-50, 150))
def test_the_cutter_enters_in_a_corner_or_on_a_straight_edge(x, y):
    contour = with_entry_point(blob(), (x, y))
    assert contour.signed_area == pytest.approx(blob().signed_area)
    before, after = contour.segments[-1], contour.segments[0]
    (ax, ay), (bx, by) = end_tangent(before), start_tangent(after)
    is_corner = abs(ax * by - ay * bx) > 0.1
    assert is_corner or isinstance(before, Line) or isinstance(after, Line)


@given(st.integers(1, 8), st.floats(0.2, 2.0), st.sampled_from(["rectangle", "blob", "circle"]))
def test_bridges_are_as_many_and_as_wide_as_wanted_and_close_again(count, width, kind):
    contour = {
        "rectangle": rectangle(120, 70), "blob": blob(), "circle": Contour.circle((50, 50), 40)
    }[kind]  # fmt: skip
    held = with_bridges(contour, count, width, KERF)
    assert isinstance(held, BridgedContour)
    assert len(held.runs) <= count
    if kind != "blob":
        assert len(held.runs) == count
    for run, after in pairwise([*held.runs, held.runs[0]]):
        (x0, y0), (x1, y1) = run[-1].end, after[0].start
        assert hypot(x1 - x0, y1 - y0) == pytest.approx(width + KERF, rel=2e-3)
    assert held.closed.signed_area == pytest.approx(contour.signed_area, abs=1e-3)
    assert len(held.closed.segments) == len(contour.segments) or kind == "blob"


@pytest.mark.parametrize("ending", [".svg", ".dxf"])
def test_bridges_leave_what_they_should_and_are_read_back_closed(project, ending):
    held = project_edits.change_job(project, bridges=3, bridge_width=0.8)
    pages = structure_pages(held, stock_id="birch-3")
    file = parse_cut_file(render(pages, held.pens, ending), ending)
    drawn = sorted(p.region.area for p in pieces_of(project, "birch-3"))
    assert sorted(p.region.area for p in file.pieces) == pytest.approx(drawn, abs=1e-3)
    line = next(m.line for m in pages[0].lines if isinstance(m.line, BridgedContour))
    beam = shapely.union_all([
        shapely.LineString([s.point_at(i / 50) for s in run for i in range(51)]).buffer(0.08)
        for run in line.runs
    ])  # fmt: skip
    run, after = line.runs[0], line.runs[1]
    left = shapely.LineString([run[-1].end, after[0].start]).difference(beam)
    assert left.length == pytest.approx(0.8, abs=0.002)


def test_labels_stand_on_the_piece_and_touch_no_line(project):
    lines = 0
    for piece in every_piece():
        for stroke in labels_of(piece, 5.0):
            lines += 1
            assert piece.region.shape.buffer(-0.2).contains(shapely.LineString(stroke))
    assert lines > 200
    upright = solved_structure_of(project).piece("Upright A")
    read, over = labels_of(upright, 5.0), labels_of(upright, 5.0, reversed_over=True)
    assert sum(map(len, read)) == sum(map(len, over))
    assert read != over


def test_marked_pieces_lie_with_their_hidden_face_up(project):
    """The walls of a box are marked inside; one seen on both faces lies as it is drawn."""
    lantern = next(demo for demo in DEMOS if demo.name == "fern-lantern").make()
    marked = project_edits.change_job(lantern, labels=LabelStyle.ENGRAVE)
    middle = (0.0, 0.0)
    checked = 0
    for plan in layout_of(marked, "birch-3").plans:
        for each in plan.placed:
            if each.piece.name.startswith("Wall"):
                x, y, _ = each.piece.placement.origin
                nx, ny, _ = each.piece.placement.normal
                faces_in = nx * (middle[0] - x) + ny * (middle[1] - y) > 0
                assert each.transform.over is not faces_in
                checked += 1
    assert checked == 6


CUTTER = Cutter(
    id="c", name="c", cut_speed=10, score_speed=50, engrave_speed=100, travel_speed=200,
    pierce_time=0.5,
)  # fmt: skip


def test_times_are_as_worked_out_by_hand():
    """A 100 × 50 outline from (10, 10) with a 20 × 20 hole, one stroke of 40 and one score of 30.
    Cut 300 + 80 at 10 mm/s = 38 s; engraved 40 at 100 = 0.4 s; scored 30 at 50 = 0.6 s; two
    entries of 0.5 s; ways 10 + 10 + 22.36 + 28.28 ... at 200 mm/s."""
    marks = in_cut_order((
        CutLine(Operation.OUTER, "a", rectangle(100, 50, 10, 10)),
        CutLine(Operation.INNER, "a", rectangle(20, 20, 40, 30)),
        CutLine(Operation.ENGRAVE, "a", ((10.0, 0.0), (50.0, 0.0))),
        CutLine(Operation.SCORE, "a", ((50.0, 10.0), (80.0, 10.0))),
    ))  # fmt: skip
    times = times_of(lengths_of(marks), CUTTER)
    assert (times.cutting, times.engraving, times.scoring, times.piercing) == pytest.approx(
        (38.0, 0.4, 0.6, 1.0)
    )
    # home to (10, 0): 10; (50, 0) to (50, 10): 10; (80, 10) to the hole's corner (60, 30): 28.28;
    # from there to the outline's corner (10, 10): 53.85, or (110, 10): 53.85, or (10, 60): 58.3
    assert times.travel * 200 == pytest.approx(10 + 10 + 800**0.5 + 2900**0.5)
    assert times.whole == pytest.approx(40.0 + times.travel)


@pytest.mark.parametrize("settings", [
    JobSettings(), JobSettings(labels=LabelStyle.SCORE, bridges=4),
])  # fmt: skip
def test_the_estimate_is_what_the_simulated_cutter_takes(settings):
    lantern = next(demo for demo in DEMOS if demo.name == "fern-lantern").make()
    project = lantern.with_changes(job=settings, kerf_at=KerfAt.PATH)
    for stock in project.stocks_in_use:
        jobs = jobs_of(project, stock.id)
        estimate = sum((times_of(job.lengths, project.cutter) for job in jobs), NO_TIME)
        pages = structure_pages(project, stock_id=stock.id)
        played = play_back(render(pages, project.pens, ".svg"), project.cutter)
        assert played.seconds == pytest.approx(estimate.whole, rel=2e-4)
        index, into = played.at(played.seconds * 0.5)
        assert 0 <= into <= played.moves[index].seconds
        assert played.moves[-1].until(1e9)[-1] == pytest.approx(played.moves[-1].points[-1])
