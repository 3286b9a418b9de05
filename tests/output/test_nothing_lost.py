"""Every stroke of every demo, and 120 found icons, through files and back with outside readers.

SVG is read by svgelements, DXF by ezdxf, PDF by pypdf; none of them knows Anzel.
"""

import io
import zipfile
from collections import defaultdict
from pathlib import Path

import ezdxf
import numpy as np
import pypdf
import pytest
import svgelements
from ezdxf import path as dxf_path
from pypdf.generic import ContentStream
from scipy.spatial import cKDTree

from anzel.app.edits import free_structure_edits
from anzel.core.asset import Asset
from anzel.cutjob.cut_lines import CutLine
from anzel.cutjob.operations import Operation
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import BridgedContour, Contour
from anzel.output import export
from anzel.output.svg_writer import PAGE_GAP
from anzel.project.demos import DEMOS
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import empty_table
from anzel.structure.artwork.drawn import artwork_file
from anzel.structure.artwork.records import PlateArtwork
from anzel.structure.line_work import LineWish

ICONS = Path(__file__).parents[1] / "data" / "found_icons.zip"


def ends_of(line: CutLine, *, quarters: bool):
    """The ends of all segments of a line, mm; of a circle those of its quarters, or its start."""
    drawn = line.line
    if quarters and isinstance(drawn, Contour) and drawn.is_circle:
        (x, y), r = drawn.segments[0].centre, drawn.segments[0].radius
        return [(x + r, y), (x - r, y), (x, y + r), (x, y - r)]
    if isinstance(drawn, BridgedContour):
        return [p for run in drawn.runs for s in run for p in (s.start, s.end)]
    if isinstance(drawn, Contour | OpenPath):
        return [p for s in drawn.segments for p in (s.start, s.end)]
    return list(drawn)


def wanted_of(pages, *, quarters=True):
    """The ends of segments by operation, pages side by side as files have them."""
    found, left = defaultdict(list), 0.0
    for page in pages:
        for line in page.lines:
            found[line.operation] += [(x + left, y) for x, y in ends_of(line, quarters=quarters)]
        left += page.width + PAGE_GAP
    return found


def in_svg(content, pens):
    colours = {svgelements.Color(pens.colour(o)).hex: o for o in Operation}
    drawing = svgelements.SVG.parse(io.BytesIO(content), ppi=25.4)
    found = defaultdict(list)
    for shape in drawing.elements():
        if isinstance(shape, svgelements.Shape) and shape.stroke.value is not None:
            for segment in svgelements.Path(shape):
                ends = [p for p in (segment.start, segment.end) if p is not None]
                found[colours[shape.stroke.hex]] += [(p.x, drawing.height - p.y) for p in ends]
    return found


def in_dxf(content, pens):
    layers = {pens.layer(operation): operation for operation in Operation}
    found = defaultdict(list)
    for entity in ezdxf.read(io.StringIO(content.decode())).modelspace():
        if entity.dxf.layer in layers:
            path = dxf_path.make_path(entity)
            points = [path.start, *(command.end for command in path.commands())]
            found[layers[entity.dxf.layer]] += [(p.x, p.y) for p in points]
    return found


def in_pdf(content, pages, pens):
    """The ends of path segments, page by page, by the colour that is stroked with."""
    colours = {
        tuple(int(pens.colour(o)[at : at + 2], 16) for at in (1, 3, 5)): o for o in Operation
    }
    found, left = defaultdict(list), 0.0
    reader = pypdf.PdfReader(io.BytesIO(content))
    for page, drawn in zip(pages, reader.pages, strict=False):
        operation = None
        for numbers, operator in ContentStream(drawn.get_contents(), reader).operations:
            if operator == b"RG":
                operation = colours.get(tuple(round(255 * float(n)) for n in numbers))
            elif operator in (b"m", b"l", b"c"):
                found[operation].append((float(numbers[-2]) + left, float(numbers[-1])))
        left += page.width + PAGE_GAP
    return found


def assert_near(wanted, found, tolerance=1e-3):
    for operation, places in wanted.items():
        there = np.array(found[operation])
        assert len(there), operation
        apart, _ = cKDTree(there).query(np.array(places))
        assert apart.max() <= tolerance, operation
    assert set(found) <= set(wanted)


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.name)
def test_every_stroke_of_every_demo_is_in_every_file(demo):
    project = demo.make()
    pages, pens = export.structure_pages(project), project.pens
    wanted = wanted_of(pages)
    assert_near(wanted, in_svg(export.render(pages, pens, ".svg"), pens))
    assert_near(wanted, in_dxf(export.render(pages, pens, ".dxf"), pens))
    wanted = wanted_of(pages, quarters=False)
    assert_near(wanted, in_pdf(export.render(pages, pens, ".pdf"), pages, pens))


def table(project, width, height):
    """One plate of that size."""
    plate = project.structure.plates[0].name
    return free_structure_edits.change_outline(project, plate, width=width, height=height), plate


def test_120_icons_go_through_the_cut_file_of_a_project_whole():
    """Lengths by operation before, of svgelements, and after, of it again, to 0.1 %."""
    project, plate = table(empty_table(), 390.0, 290.0)
    before = defaultdict(float)
    with zipfile.ZipFile(ICONS) as icons:
        names = sorted(n for n in icons.namelist() if n.endswith(".svg"))
        assert len(names) == 120
        items = []
        for number, name in enumerate(names):
            size = artwork_file(file := Asset.of(f"{number}.svg", icons.read(name)))
            row, column = divmod(number, 12)
            wish = (LineWish.ENGRAVE, LineWish.SCORE)[number % 2]
            items.append(PlateArtwork(
                id=f"L{number + 1}", plate=plate, file=file, width=16.0,
                x=-176.0 + 32 * column, y=-126.0 + 28 * row,
                wishes=tuple((label, wish) for label in size.labels),
            ))  # fmt: skip
            before[wish.value] += 16.0 / size.width * sum(p.length for _, p in size.lines)
    structure = project.structure.with_changes(own_artwork=tuple(items))
    project = project.with_changes(structure=structure)
    lines = solved_structure_of(project).piece(plate).lines
    own = {o: sum(x.path.length for x in lines if x.operation == o) for o in before}
    assert own == pytest.approx(dict(before), rel=1e-9), "nothing is clipped, nothing dropped"
    pages = export.structure_pages(project)
    content = export.render(pages, project.pens, ".svg")
    after = defaultdict(float)
    for shape in svgelements.SVG.parse(io.BytesIO(content), ppi=25.4).elements():
        if isinstance(shape, svgelements.Shape):
            after[shape.stroke.hex] += svgelements.Path(shape).length(error=1e-5)
    for operation, length in before.items():
        colour = svgelements.Color(project.pens.colour(Operation(operation))).hex
        assert after[colour] == pytest.approx(length, rel=1e-3)
