"""DXF drawings against ezdxf's own geometry, every version, and against themselves."""

import io
from math import hypot

import ezdxf
import pytest
from ezdxf import path as paths
from ezdxf.enums import InsertUnits

from anzel.drawings.dxf.source import read_dxf
from anzel.drawings.model import DrawingError, UnitSource
from anzel.materials.fits import FitRule, KerfAt
from anzel.refit.load import load_drawing
from anzel.refit.refit import RefitOptions, refit_drawing

VERSIONS = ("R12", "R2000", "R2004", "R2007", "R2010", "R2013", "R2018")
PLAIN = FitRule(0.0, 0.0, KerfAt.DRAWING)
LEG = [(0, 0), (20, 0), (20, 30), (23, 30), (23, 0), (43, 0), (43, 60), (0, 60)]


def content_of(document) -> bytes:
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode(document.output_encoding)


def read_back(content: bytes):
    document = ezdxf.read(io.StringIO(content.decode("utf-8", "surrogateescape")))
    assert not document.audit().errors
    return document


def wild(version: str):
    """A document with every entity that draws edges, in nested blocks, turned and mirrored."""
    document = ezdxf.new(version)
    space = document.modelspace()
    inner = document.blocks.new("INNER", base_point=(1, 2))
    inner.add_line((0, 0), (7, 3))
    inner.add_arc((2, 2), 4, 30, 200)
    outer = document.blocks.new("OUTER")
    outer.add_blockref("INNER", (10, 5), dxfattribs={"rotation": 40, "xscale": 2, "yscale": 2})
    outer.add_circle((3, 3), 2)
    space.add_blockref("OUTER", (50, 20), dxfattribs={"rotation": 15, "xscale": -1})
    space.add_blockref("INNER", (0, 60), dxfattribs={"xscale": 3})
    bulged = [(0, 0, 0.5), (10, 0, 0), (10, 8, -0.3)]
    flat = [(x, y) for x, y, _ in bulged]
    if version == "R12":
        line = space.add_polyline2d(bulged, format="xyb", close=True)
    else:
        line = space.add_lwpolyline(bulged, format="xyb", close=True)
        space.add_ellipse((30, 80), major_axis=(9, 4), ratio=0.4, start_param=0.3, end_param=4)
        space.add_open_spline([(60, 60), (64, 75), (75, 60), (80, 70), (90, 66)])
    assert len(flat) == len(line)
    space.add_polyline2d([(70, 0), (80, 4), (76, 12)])
    space.add_text("not an outline")
    return document


@pytest.mark.parametrize("version", VERSIONS)
def test_entities_fall_where_the_reference_library_puts_them(version):
    document = wild(version)
    drawing = read_dxf(content_of(document), "wild.dxf", "mm")
    own = [e.point_at(i / 60) for t in drawing.paths for e in t.segments for i in range(61)]
    points = []
    for entity in document.modelspace():
        for each in entity.virtual_entities() if entity.dxftype() == "INSERT" else [entity]:
            for leaf in each.virtual_entities() if each.dxftype() == "INSERT" else [each]:
                if leaf.dxftype() != "TEXT":
                    points += paths.make_path(leaf).flattening(0.01)
    assert len(points) > 100
    for x, y, _ in points:
        assert min(hypot(x - a, y - b) for a, b in own) < 0.3  # own points are that dense
    assert [(a.what, a.count) for a in drawing.ignored] == [("text", 1)]


@pytest.mark.parametrize("version", VERSIONS)
def test_a_refit_changes_blocks_lines_and_polylines_and_nothing_else(version):
    document = ezdxf.new(version)
    space = document.modelspace()
    block = document.blocks.new("LEG")
    add = block.add_polyline2d if version == "R12" else block.add_lwpolyline
    add(LEG, close=True)
    space.add_blockref("LEG", (10, 10), dxfattribs={"rotation": 12})
    space.add_blockref("LEG", (120, 10), dxfattribs={"xscale": -1})
    ring = [(x, y + 100) for x, y in LEG]
    for start, end in zip(ring, [*ring[1:], ring[0]], strict=True):
        space.add_line(start, end, dxfattribs={"layer": "RED", "color": 1})
    space.add_text("note")
    before = content_of(document)
    analysis = load_drawing(before, "a.dxf", "mm")
    assert refit_drawing(analysis, RefitOptions(3.0, PLAIN)).written() == before
    done = refit_drawing(analysis, RefitOptions(4.0, PLAIN))
    after = read_back(done.written())
    assert [e.dxf.handle for e in after.modelspace()] == [e.dxf.handle for e in space]
    lines = after.modelspace().query("LINE")
    assert {(e.dxf.layer, e.dxf.color) for e in lines} == {("RED", 1)}
    kept = [(tuple(e.dxf.start), tuple(e.dxf.end)) for e in lines]
    was = [(tuple(e.dxf.start), tuple(e.dxf.end)) for e in space.query("LINE")]
    assert [k == w for k, w in zip(kept, was, strict=True)] == [False] * 5 + [True] * 3
    assert len(after.blocks) == len(document.blocks)
    again = load_drawing(done.written(), "b.dxf", "mm")
    assert again.evidence[0].value == pytest.approx(4.0)
    assert again.evidence[0].slots == 3


def test_an_insert_held_alone_gets_a_block_of_its_own():
    document = ezdxf.new()
    block = document.blocks.new("LEG")
    block.add_lwpolyline(LEG, close=True)
    nest = document.blocks.new("NEST")
    nest.add_blockref("LEG", (0, 0))
    for x in (0, 100, 200):
        document.modelspace().add_blockref("NEST", (x, 0))
    analysis = load_drawing(content_of(document), "a.dxf", "mm")
    done = refit_drawing(analysis, RefitOptions(4.0, PLAIN, held=frozenset({"slot-2"}))).written()
    read_back(done)
    again = load_drawing(done, "b.dxf", "mm")
    assert [round(w, 6) for w in again.shapes.notches.wide] == [4, 3, 4]


def test_curves_at_a_slot_keep_their_kind_and_the_rest_of_themselves():
    """A slot into a round plate made of an arc, and into one bounded by a spline."""
    document = ezdxf.new(units=InsertUnits.Millimeters)
    space = document.modelspace()
    high = (40**2 - 1.5**2) ** 0.5
    space.add_arc((0, 0), 40, 90 + 2.149195, 90 - 2.149195, dxfattribs={"layer": "ROUND"})
    for a, b in (((-1.5, high), (-1.5, 20)), ((-1.5, 20), (1.5, 20)), ((1.5, 20), (1.5, high))):
        space.add_line(a, b)
    shore = [(98.5, 30), (90, 34), (80, 20), (70, 30)]
    space.add_open_spline(shore)
    for a, b in (((70, 30), (70, -30)), ((70, -30), (130, -30)), ((130, -30), (130, 30)),
                 ((130, 30), (101.5, 30)), ((101.5, 30), (101.5, 0)), ((101.5, 0), (98.5, 0)),
                 ((98.5, 0), (98.5, 30))):  # fmt: skip
        space.add_line(a, b)
    done = refit_drawing(load_drawing(content_of(document), "a.dxf"), RefitOptions(5.0, PLAIN))
    assert len(done.edges) == 2
    after = read_back(done.written()).modelspace()
    arc = after.query("ARC").first
    assert (arc.dxf.radius, tuple(arc.dxf.center)[:2]) == (40, (0, 0))
    assert arc.start_point.x == pytest.approx(-2.5, abs=1e-3)
    spline = after.query("SPLINE").first.construction_tool()
    old = space.query("SPLINE").first.construction_tool()
    assert spline.point(0).x == pytest.approx(97.5, abs=1e-3)
    for point in spline.approximate(20):
        assert min(p.distance(point) for p in old.approximate(2000)) < 0.02


@pytest.mark.parametrize(
    ("unit", "millimetres", "source"),
    [
        (InsertUnits.Inches, 25.4, UnitSource.FILE),
        (InsertUnits.Millimeters, 1.0, UnitSource.FILE),
        (InsertUnits.Centimeters, 10.0, UnitSource.FILE),
        (InsertUnits.Unitless, 25.4, UnitSource.GUESS),
    ],
)
def test_a_unit_is_what_the_header_says_or_a_guess(unit, millimetres, source):
    """$INSUNITS (DXF reference). Without it a drawing for sheet of 0.118 is in inches."""
    document = ezdxf.new(units=unit)
    shrunk = [(x * 0.118 / 3, y * 0.118 / 3) for x, y in LEG]
    for dx in (0, 3, 6):
        document.modelspace().add_lwpolyline([(x + dx, y) for x, y in shrunk], close=True)
    units = load_drawing(content_of(document), "a.dxf").drawing.units
    assert units.millimetres == pytest.approx(millimetres)
    assert units.source is source


@pytest.mark.parametrize(
    "content",
    [
        b"", b"nonsense", b"0\nSECTION\n2\nENTITIES\n0\nLINE\n10\nnan\n",
        b"0\nSECTION\n2\nENTITIES\n0\nLINE\n8\n0\n10\n1e300\n20\n0\n11\n5\n21\n1e308\n"
        b"0\nENDSEC\n0\nEOF\n",
        b"0\nSECTION\n2\nENTITIES\n0\nLINE\n8\n0\n10\nnan\n20\n0\n11\n5\n21\n7\n"
        b"0\nENDSEC\n0\nEOF\n",
    ],
)  # fmt: skip
def test_bad_files_are_refused_in_words(content):
    with pytest.raises(DrawingError, match=r"bad\.dxf"):
        read_dxf(content, "bad.dxf")


def test_blocks_that_insert_themselves_or_too_many_others_end_in_bounded_time():
    document = ezdxf.new()
    own = document.blocks.new("OWN")
    own.add_blockref("OWN", (0, 0))
    own.add_line((0, 0), (1, 1))
    document.modelspace().add_blockref("OWN", (0, 0))
    assert len(read_dxf(content_of(document), "own.dxf").paths) == 1
    for i in range(9):
        block = document.blocks.new(f"B{i}")
        for _ in range(10):
            block.add_blockref(f"B{i + 1}", (0, 0))
    document.blocks.new("B9").add_line((0, 0), (1, 1))
    document.modelspace().add_blockref("B0", (0, 0))
    with pytest.raises(DrawingError):
        read_dxf(content_of(document), "bomb.dxf")
