"""Single entities given new edges: what is not changed of them stays as it was written."""

import io
from dataclasses import replace

import ezdxf
import pytest
from ezdxf import path as paths

from anzel.drawings.dxf.entities import entity_edges
from anzel.drawings.dxf.source import read_dxf
from anzel.geometry.segments import Arc, Cubic, Line
from anzel.refit.side_offset import translated_segment


@pytest.fixture
def space():
    return ezdxf.new(units=4).modelspace()


def content_of(space) -> bytes:
    stream = io.StringIO()
    space.doc.write(stream)
    return stream.getvalue().encode(space.doc.output_encoding)


def written(space, changes):
    """The entities of a file after some drawn paths' edges changed."""
    drawing = read_dxf(content_of(space), "a.dxf")
    made = changes([list(drawn_path.segments) for drawn_path in drawing.paths])
    content = drawing.source.written(drawing, made.items())
    document = ezdxf.read(io.StringIO(content.decode()))
    assert not document.audit().errors
    return list(document.modelspace())


def test_a_light_polyline_keeps_widths_and_bulges(space):
    points = [(0, 0, 0.5, 0.7, 0), (30, 0, 0, 0, 0.4), (30, 20, 0, 0, 0), (0, 20, 0.1, 0, -0.3)]
    space.add_lwpolyline(points, format="xyseb", close=True, dxfattribs={"layer": "L", "color": 3})

    def lower(drawn_paths):
        (edges,) = drawn_paths
        edges[0] = Line((0.0, -2.0), (30.0, -2.0))
        edges[1] = replace(edges[1], start=(30.0, -2.0))
        edges[3] = replace(edges[3], end=(0.0, -2.0))
        return {0: edges}

    (line,) = written(space, lower)
    assert (line.dxf.layer, line.dxf.color, line.closed) == ("L", 3, True)
    after = [tuple(p) for p in line.get_points("xyseb")]
    assert after[0] == (0, -2, 0.5, 0.7, 0)
    assert after[2] == (30, 20, 0, 0, 0)
    assert after[1][:2] == (30, -2)


@pytest.mark.parametrize("heavy", [False, True])
def test_corners_that_a_wider_slot_passed_over_go(space, heavy):
    points = [(0, 0), (50, 0), (50, 5), (53, 7), (53, 37), (0, 37)]
    add = space.add_polyline2d if heavy else space.add_lwpolyline
    add(points, close=True)

    def over(drawn_paths):
        (edges,) = drawn_paths
        edges[0], edges[1], edges[2] = Line((0.0, 0.0), (53.0, 0.0)), None, None
        edges[3] = Line((53.0, 0.0), (53.0, 37.0))
        return {0: edges}

    (line,) = written(space, over)
    edges, _ = entity_edges(line)
    assert [e.start for e in edges] == [(0, 0), (53, 0), (53, 37), (0, 37)]


def test_lines_keep_their_height_and_one_that_went_is_deleted(space):
    space.add_line((0, 0, 4), (9, 0, 4))
    space.add_line((0, 5), (9, 5))

    def change(drawn_paths):
        return {0: [Line((0.0, 0.0), (8.0, 1.0))], 1: [None]}

    (line,) = written(space, change)
    assert tuple(line.dxf.start) == (0, 0, 4)
    assert tuple(line.dxf.end) == (8, 1, 4)


def test_arcs_circles_and_ellipses_move_and_are_cut_shorter(space):
    space.add_arc((0, 0), 10, 20, 200)
    space.add_circle((40, 0), 6)
    space.add_ellipse((80, 0), (12, 0), 0.5, 0.2, 2.8)

    def change(drawn_paths):
        arc, _, ellipse = drawn_paths
        shorter = replace(arc[0], end=(-10.0, 0.0))
        smaller = Arc((43.0, 0.0), (43.0, 0.0), (40.0, 0.0))
        return {0: [shorter], 1: [smaller], 2: [translated_segment(e, (1.0, 2.0)) for e in ellipse]}

    arc, hole, ellipse = written(space, change)
    assert (arc.dxf.radius, arc.dxf.start_angle) == (10, 20)
    assert arc.dxf.end_angle == pytest.approx(180)
    assert (hole.dxf.radius, tuple(hole.dxf.center)[:2]) == (3, (40, 0))
    assert tuple(ellipse.dxf.center)[:2] == pytest.approx((81, 2))
    assert (ellipse.dxf.start_param, ellipse.dxf.end_param) == (0.2, 2.8)


def test_an_ellipse_cut_shorter_is_the_same_ellipse(space):
    space.add_ellipse((0, 0), (12, 5), 0.5, 0.2, 2.8)

    def change(drawn_paths):
        (edges,) = drawn_paths
        last = edges[-1]
        return {0: [*edges[:-1], last.subsegment(0.0, 0.5)]}

    (ellipse,) = written(space, change)
    assert tuple(ellipse.dxf.major_axis)[:2] == (12, 5)
    assert 2.3 < ellipse.dxf.end_param < 2.8
    assert ellipse.dxf.start_param == pytest.approx(0.2)


def test_splines_are_shifted_by_their_control_points_and_others_told_by_cubics(space):
    space.add_open_spline([(0, 0), (5, 9), (12, -4), (20, 3), (25, 0)])
    space.add_rational_spline([(0, 30), (5, 40), (10, 30)], [1, 3, 1], degree=2)
    drawing = read_dxf(content_of(space), "a.dxf")
    assert all(isinstance(e, Cubic) for t in drawing.paths for e in t.segments)
    rational = [e.point_at(i / 20) for e in drawing.paths[1].segments for i in range(21)]
    for x, y, _ in paths.make_path(space[1]).flattening(0.01):
        assert min((x - a) ** 2 + (y - b) ** 2 for a, b in rational) < 0.05

    def change(drawn_paths):
        return {0: [translated_segment(e, (0.0, 7.0)) for e in drawn_paths[0]]}

    spline, _ = written(space, change)
    assert [tuple(p)[:2] for p in spline.control_points] == [
        (0, 7), (5, 16), (12, 3), (20, 10), (25, 7),
    ]  # fmt: skip


def test_entities_seen_from_below_are_mirrored(space):
    """Extrusion 0, 0, -1: the object's x runs the other way (DXF reference, OCS)."""
    space.add_lwpolyline([(0, 0), (10, 0), (10, 4)], dxfattribs={"extrusion": (0, 0, -1)})
    space.add_circle((5, 5), 2, dxfattribs={"extrusion": (0, 1, 0)})
    drawing = read_dxf(content_of(space), "a.dxf")
    assert [e.end for e in drawing.paths[0].segments] == [(-10, 0), (-10, 4)]
    assert [(a.what, a.count) for a in drawing.ignored] == [("tilted shape", 1)]


def test_layers_that_are_off_and_what_is_no_outline_are_counted(space):
    space.doc.layers.add("OFF").off()
    space.add_line((0, 0), (1, 1), dxfattribs={"layer": "OFF"})
    space.add_line((0, 0), (1, 1))
    space.add_hatch().paths.add_polyline_path([(0, 0), (1, 0), (1, 1)])
    space.add_point((3, 3))
    space.add_mtext("words")
    drawing = read_dxf(content_of(space), "a.dxf")
    counts = {a.what: a.count for a in drawing.ignored}
    assert counts == {"hidden": 1, "hatch": 1, "point": 1, "text": 1}
    assert len(drawing.paths) == 1
