"""What is written is read back as a drawing, by the reader of found drawings, with its geometry."""

from itertools import pairwise
from math import hypot

import pytest

from anzel.app.edits import project_edits
from anzel.cutjob.job_settings import JobSettings, LabelStyle
from anzel.cutjob.operations import DxfRelease, Operation
from anzel.drawings.reader import read_drawing
from anzel.geometry.segments import Arc, Cubic
from anzel.materials.fits import KerfAt
from anzel.output.cut_file_reader import read_lines
from anzel.output.export import render, structure_pages
from anzel.project.demos import DEMOS


@pytest.mark.parametrize("ending", [".svg", ".dxf"])
@pytest.mark.parametrize("kerf_at", [KerfAt.DRAWING, KerfAt.PATH])
@pytest.mark.parametrize("name", ["herb-stand", "fern-lantern", "seedpod-lamp"])
def test_cut_files_are_drawings_of_the_same_lines(name, kerf_at, ending):
    project = next(demo for demo in DEMOS if demo.name == name).make()
    project = project_edits.take_kerf_at(project, kerf_at)
    stock = project.stocks_in_use[0]
    pages = structure_pages(project, stock_id=stock.id)
    drawing = read_drawing(render(pages, project.pens, ending), f"cut{ending}")
    cuts = [mark for page in pages for mark in page.lines if mark.operation.cuts]
    wanted = [segment for mark in cuts for segment in mark.line.segments]
    found = [segment for trace in drawing.paths for segment in trace.segments]
    assert sum(s.length for s in found) == pytest.approx(sum(s.length for s in wanted), rel=1e-7)
    for kind in (Arc, Cubic):
        ours = sorted(round(s.length, 3) for s in wanted if isinstance(s, kind))
        theirs = sorted(round(s.length, 3) for s in found if isinstance(s, kind))
        assert theirs == pytest.approx(ours, abs=2e-3)
    ours = sorted({round(s.radius, 4) for s in wanted if isinstance(s, Arc)})
    theirs = sorted({round(s.radius, 4) for s in found if isinstance(s, Arc)})
    assert theirs == pytest.approx(ours, abs=2e-4)


@pytest.mark.parametrize("ending", [".svg", ".dxf"])
def test_bridged_outlines_come_back_as_open_runs(project, ending):
    held = project.with_changes(job=JobSettings(bridges=2, bridge_width=1.0))
    pages = structure_pages(held, stock_id="birch-3")
    drawing = read_drawing(render(pages, held.pens, ending), f"cut{ending}")
    wanted = sum(mark.length for page in pages for mark in page.lines)
    found = sum(s.length for trace in drawing.paths for s in trace.segments)
    assert found == pytest.approx(wanted, rel=1e-7)


@pytest.mark.parametrize("release", DxfRelease)
@pytest.mark.parametrize("name", ["herb-stand", "seedpod-lamp"])
def test_svg_and_dxf_hold_the_same_lines_in_their_pens(name, release):
    project = next(demo for demo in DEMOS if demo.name == name).make()
    project = project_edits.change_job(project, labels=LabelStyle.SCORE, bridges=2)
    asked = project_edits.change_pen(
        project_edits.use_release(project, release), Operation.SCORE, layer="half"
    )
    pages = structure_pages(asked)

    def told(ending):
        by = {}
        for line in read_lines(render(pages, asked.pens, ending), ending):
            length, pieces, colours = by.setdefault(line.operation, ([], set(), set()))
            steps = (step for run in line.runs for step in pairwise(run))
            length += [hypot(b[0] - a[0], b[1] - a[1]) for a, b in steps]
            pieces.add(line.piece)
            colours.add(line.colour)
        return by

    ours, theirs = told(".svg"), told(".dxf")
    assert set(ours) == set(theirs) >= {Operation.SCORE, Operation.OUTER}
    for operation, (length, pieces, colours) in ours.items():
        assert sum(theirs[operation][0]) == pytest.approx(sum(length), rel=1e-4)
        assert theirs[operation][1] == pieces
        assert colours == {asked.pens.colour(operation)}
        if release is DxfRelease.R2010:
            assert theirs[operation][2] == colours
