"""The whole way: a piece written as people's programs write it, refitted as a file, and read again.

Any rotation, scale, unit, corner treatment, format, and way to draw the outline.
"""

import io
from math import hypot, pi

import ezdxf
import pytest
import svgelements
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.refit import made

from anzel.app.edits import drawing_edits
from anzel.cutjob.operations import Operation
from anzel.drawings.reader import read_drawing
from anzel.geometry.segments import Arc
from anzel.materials.fits import FitRule, KerfAt
from anzel.output import export
from anzel.project.derive import solved_structure_of
from anzel.project.new_project import empty_table
from anzel.refit.load import load_drawing
from anzel.refit.refit import RefitOptions, refit_drawing

TREATMENTS = {
    "square": None, "filleted": made.fillet(0.6), "chamfered": made.chamfer(0.5),
    "relieved": made.relief(0.8),
}  # fmt: skip
SLOTS, TABS = [(20.0, 24.0), (47.5, 24.0), (80.0, 30.0)], [(25.0, 12.0), (70.0, 16.0)]
UNITS = {"mm": 1.0, "in": 25.4, "px": 25.4 / 96}


def piece(width, height, style):
    """A slotted plate with tabs below, and two mortises in it."""
    upper = made.slotted(100, 60, SLOTS, width)
    lower = [p for x, w in TABS for p in ((x - w / 2, 0), (x - w / 2, -height),
                                          (x + w / 2, -height), (x + w / 2, 0))]  # fmt: skip
    treat = TREATMENTS[style]
    return [
        made.edges([upper[0], *lower, *upper[1:]], treat),
        made.edges(made.mortise(25, 15, 12.0, width), treat),
        made.edges(made.mortise(70, 15, 16.0, width), treat),
    ]


def svg_of(loops, unit, matrix, is_loose):
    """SVG whose group has a transform, its path in smaller or larger units."""
    size = UNITS[unit]
    a, b, c, d = matrix
    det = a * d - b * c

    def word(p):
        x, y = p[0] / size, p[1] / size
        return f"{(d * x - c * y) / det:.9f} {(a * y - b * x) / det:.9f}"

    def step(e):
        if isinstance(e, Arc):
            radius = e.radius / size / abs(det) ** 0.5
            sweep = e.clockwise == (det < 0)
            flags = f"{int(abs(e.sweep) > pi)} {int(sweep)}"
            return f"A{radius:.9f} {radius:.9f} 0 {flags} {word(e.end)}"
        return f"L{word(e.end)}"

    shapes = []
    for loop in loops:
        runs = [[e] for e in loop] if is_loose else [loop]
        close = "" if is_loose else "Z"
        shapes += [
            f'<path d="M{word(run[0].start)}{"".join(map(step, run))}{close}"/>' for run in runs
        ]
    page = f'width="600{unit}" height="600{unit}" viewBox="0 0 600 600"'
    group = f'<g transform="matrix({a} {b} {c} {d} 0 0)">{"".join(shapes)}</g>'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {page}>{group}</svg>'.encode(), "a.svg"


def dxf_of(loops, unit, version, is_loose):
    """DXF with each loop a polyline with bulges, or all lines and arcs of their own."""
    document = ezdxf.new(version, units={"mm": 4, "in": 1}[unit])
    space, size = document.modelspace(), UNITS[unit]

    def at(p):
        return (p[0] / size, p[1] / size)

    for loop in loops:
        if not is_loose:
            add = space.add_polyline2d if version == "R12" else space.add_lwpolyline
            corners = [(*at(e.start), e.bulge if isinstance(e, Arc) else 0.0) for e in loop]
            add(corners, format="xyb", close=True)
            continue
        for e in loop:
            if isinstance(e, Arc):
                first, last = (e.end, e.start) if e.clockwise else (e.start, e.end)
                angles = [
                    Arc(p, p, e.centre).start_angle * 57.29577951308232 for p in (first, last)
                ]
                space.add_arc(at(e.centre), e.radius / size, *angles)
            else:
                space.add_line(at(e.start), at(e.end))
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode(document.output_encoding), "a.dxf"


def check(content, name, wanted, thickness, unit):
    asked = unit if name.endswith("dxf") else None
    analysis = load_drawing(content, name, asked)
    assert analysis.drawn_for() is not None
    done = refit_drawing(analysis, RefitOptions(thickness, FitRule(0.1, 0.2, KerfAt.DRAWING)))
    assert [d.feature.kind.value for d in done.decisions if not d.moved] == []
    assert len(done.decisions) == 7
    again = read_drawing(done.written(), name, asked)
    edges = [edge for drawn_path in again.paths for edge in drawn_path.segments]
    target = [e.start for loop in wanted for e in loop]
    assert len(edges) == len(target)
    ends = [end for edge in edges for end in (edge.start, edge.end)]
    for x, y in target:
        assert min(hypot(x - a, y - b) for a, b in ends) < 0.01


SPREAD = {
    "thickness": st.floats(2.0, 5.0), "angle": st.floats(0, 360), "mirrored": st.booleans(),
    "style": st.sampled_from(sorted(TREATMENTS)), "is_loose": st.booleans(),
}  # fmt: skip


@given(**SPREAD, unit=st.sampled_from(sorted(UNITS)), scale=st.sampled_from([1.0, 0.1, 37.5]))
@settings(max_examples=40, deadline=None)
def test_through_svg(thickness, angle, mirrored, style, is_loose, unit, scale):
    def loops(width, height):
        return [made.turned(loop, angle, mirrored) for loop in piece(width, height, style)]

    content, name = svg_of(loops(3.0, 3.0), unit, (scale, 0.0, 0.0, -scale), is_loose)
    check(content, name, loops(thickness - 0.1, thickness), thickness, unit)


@given(
    **SPREAD, unit=st.sampled_from(["mm", "in"]), version=st.sampled_from(["R12", "R2000", "R2018"])
)
@settings(max_examples=12, deadline=None)
def test_through_dxf(thickness, angle, mirrored, style, is_loose, unit, version):
    def loops(width, height):
        return [made.turned(loop, angle, mirrored) for loop in piece(width, height, style)]

    content, name = dxf_of(loops(3.0, 3.0), unit, version, is_loose)
    check(content, name, loops(thickness - 0.1, thickness), thickness, unit)


@pytest.mark.parametrize("noise", [0.002, 0.01])
def test_rounded_coordinates_are_found_all_the_same(noise):
    """Programs write two or three decimals: corners off by half of the last."""
    digits = 2 if noise > 0.005 else 3
    loops = [made.turned(loop, 33.3) for loop in piece(3.0, 3.0, "square")]
    points = [[(round(e.start[0], digits), round(e.start[1], digits)) for e in lo] for lo in loops]
    content, name = svg_of([made.edges(p) for p in points], "mm", (1.0, 0.0, 0.0, 1.0), False)
    analysis = load_drawing(content, name)
    done = refit_drawing(analysis, RefitOptions(4.0, FitRule(0.0, 0.0, KerfAt.DRAWING)))
    assert len(done.decisions) == 7
    assert all(d.moved for d in done.decisions)
    again = load_drawing(done.written(), "b.svg")
    slots = [wide for wide in again.shapes.notches.wide if wide < 10]
    assert slots == pytest.approx([4.0] * 3, abs=2 * noise)


LAYERS = {"cut": "M10 22V33", "score": "M30 27L60 33", "engrave": "M15 24C30 20 40 30 60 24"}
"""A line of each operation that lies on the piece, between its slots and mortises."""


@pytest.mark.parametrize("style", TREATMENTS)
@pytest.mark.parametrize("is_loose", [False, True])
def test_nothing_of_a_drawing_is_lost_in_the_cut_file_of_its_project(style, is_loose):
    """Total lengths by operation, of the drawing by svgelements and of the file by it again."""
    loops = piece(3.2, 3.2, style)
    text = svg_of(loops, "mm", (1, 0, 0, 1), is_loose)[0].decode()
    lines = "".join(f'<g id="{name}"><path d="{d}"/></g>' for name, d in LAYERS.items())
    text = text.replace("</svg>", f"{lines}</svg>")
    project = drawing_edits.import_file(empty_table(), "d.svg", text.encode())
    (found,) = solved_structure_of(project).pieces
    content = export.render(export.structure_pages(project), project.pens, ".svg")
    after = dict.fromkeys(("cut", "score", "engrave"), 0.0)
    names = {svgelements.Color(project.pens.colour(o)).hex: o for o in Operation}
    for shape in svgelements.SVG.parse(io.BytesIO(content), ppi=25.4).elements():
        if isinstance(shape, svgelements.Shape):
            operation = names[shape.stroke.hex]
            length = svgelements.Path(shape).length(error=1e-6)
            after["cut" if operation.cuts else operation.value] += length
    before = {name: svgelements.Path(d).length(error=1e-6) for name, d in LAYERS.items()}
    before["cut"] += sum(contour.length for contour in found.region.contours)
    assert after == pytest.approx(before, rel=1e-4)
    assert len(found.region.holes) == 2
