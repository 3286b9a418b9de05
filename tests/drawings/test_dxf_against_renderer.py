"""DXF reading against ezdxf's own drawing add-on: what is drawn, and where."""

import io

import ezdxf
import numpy as np
import pytest
import shapely
from ezdxf.addons.drawing import Frontend, RenderContext
from ezdxf.addons.drawing.config import Configuration
from ezdxf.addons.drawing.json import CustomJSONBackend

from anzel.drawings.dxf.source import read_dxf


def document():
    """A drawing with each kind of entity, in blocks that are turned, mirrored, stretched, nested
    and repeated, and with layers that are off."""
    made = ezdxf.new("R2010", units=4)
    made.layers.add("off").off()
    made.layers.add("frozen").freeze()
    space = made.modelspace()
    inner = made.blocks.new("inner", base_point=(2, 1))
    inner.add_lwpolyline([(0, 0, 0.4), (9, 0, 0), (9, 6, -0.7), (0, 6, 0)], "xyb", close=True)
    inner.add_arc((4, 3), 1.5, 20, 250)
    outer = made.blocks.new("outer")
    outer.add_blockref("inner", (5, 5), {"rotation": 35})
    outer.add_blockref("inner", (30, 5), {"xscale": -1})
    outer.add_line((0, 0), (40, 0))
    space.add_blockref("outer", (10, 10))
    space.add_blockref("outer", (80, 20), {"rotation": -70, "xscale": 1.5, "yscale": 1.5})
    space.add_blockref("inner", (140, 10), {"xscale": 2, "yscale": 0.8})
    grid = space.add_blockref("inner", (10, 90))
    grid.grid((2, 3), (15, 14))
    space.add_circle((150, 60), 12)
    space.add_circle((150, 90), 5, {"extrusion": (0, 0, -1)})
    space.add_ellipse((100, 100), (14, 5), 0.45, 0.3, 4.5)
    space.add_spline([(60, 120), (70, 140), (85, 118), (100, 138)])
    space.add_open_spline([(120, 120), (130, 150), (150, 110), (165, 130), (170, 120)], degree=3)
    space.add_polyline2d([(10, 150, 0.3), (30, 150, 0), (30, 165, 1)], format="xyb", close=True)
    space.add_line((0, 0), (9, 9), {"layer": "off"})
    space.add_circle((0, 0), 9, {"layer": "frozen"})
    return made


@pytest.mark.parametrize("version", ["R12", "R2000", "R2018"])
def test_a_document_is_read_as_the_add_on_draws_it(version):
    made = document()
    if version == "R12":  # which knows neither of these
        for kind in ("ELLIPSE", "SPLINE", "LWPOLYLINE"):
            for layout in (made.modelspace(), *made.blocks):
                for entity in layout.query(kind):
                    layout.delete_entity(entity)
    made.dxfversion = version
    stream = io.StringIO()
    made.write(stream)
    content = stream.getvalue().encode(made.output_encoding)
    read = ezdxf.read(io.StringIO(stream.getvalue()))
    backend = CustomJSONBackend()
    fine = Configuration(max_flattening_distance=0.0005)
    Frontend(RenderContext(read), backend, config=fine).draw_layout(read.modelspace())
    seen = [np.array(line) for each in backend.get_json_data() for line in strokes(each)]
    own = [e for path in read_dxf(content, "a.dxf").paths for e in path.segments]
    points = np.array([e.point_at(k / 60) for e in own for k in range(61)])
    theirs = shapely.MultiLineString([line for line in seen if len(line) > 1])
    ours = shapely.MultiLineString([[e.point_at(k / 60) for k in range(61)] for e in own])
    assert shapely.distance(shapely.points(points), theirs).max() < 0.02
    assert shapely.hausdorff_distance(theirs, ours) < 0.05
    assert ours.length == pytest.approx(theirs.length, rel=1e-3)


def strokes(record):
    """The polylines that a record of the add-on draws."""
    kind, data = record["type"], record["geometry"]
    if kind == "lines":
        return [[line[:2], line[2:]] for line in data]
    if kind == "path":
        path, here, made = data, None, []
        for name, *numbers in path:
            if name == "M":
                here, made = numbers, [*made, [numbers]]
            elif name == "L":
                made[-1].append(numbers)
                here = numbers
            else:
                curve = [here, *(numbers[i : i + 2] for i in range(0, len(numbers), 2))]
                made[-1] += [bezier(curve, k / 200) for k in range(1, 201)]
                here = curve[-1]
        return made
    return []


def bezier(controls, t):
    """A point of a Bézier curve (de Casteljau)."""
    points = np.array(controls, float)
    while len(points) > 1:
        points = points[:-1] + t * (points[1:] - points[:-1])
    return points[0].tolist()
