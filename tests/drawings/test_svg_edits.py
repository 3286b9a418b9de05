"""Edited path data means what was asked and leaves the rest: any commands, any edges, any moves."""

from math import hypot

import pytest
import svgelements
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from anzel.drawings.model import DrawingError
from anzel.drawings.svg.path_data import parse_path, subpaths
from anzel.drawings.svg.source import read_svg
from anzel.geometry.segments import Line
from anzel.materials.fits import FitRule, KerfAt
from anzel.refit.load import load_drawing
from anzel.refit.refit import RefitOptions, refit_drawing
from anzel.refit.side_offset import translated_segment

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="300mm" height="300mm" viewBox="0 0 300 300">'
NUMBER = st.integers(-40, 40).map(lambda n: n / 4)
STEPS = {
    "l": st.tuples(NUMBER, NUMBER), "L": st.tuples(NUMBER, NUMBER), "h": st.tuples(NUMBER),
    "v": st.tuples(NUMBER), "H": st.tuples(NUMBER), "V": st.tuples(NUMBER),
    "c": st.tuples(*[NUMBER] * 6), "s": st.tuples(*[NUMBER] * 4), "q": st.tuples(*[NUMBER] * 4),
    "t": st.tuples(NUMBER, NUMBER),
    "a": st.tuples(st.integers(20, 60), st.integers(20, 60), NUMBER, st.integers(0, 1),
                   st.integers(0, 1), NUMBER, NUMBER),
}  # fmt: skip


@st.composite
def path_data(draw):
    """One or two closed subpaths of any commands, relative and absolute."""
    words = []
    for start in draw(st.sampled_from([("M150 150",), ("M150 150", "m20 30"), ("m150,150",)])):
        words.append(start)
        for letter in draw(st.lists(st.sampled_from(sorted(STEPS)), min_size=2, max_size=8)):
            words.append(letter + " ".join(f"{n:g}" for n in draw(STEPS[letter])))
        words.append(draw(st.sampled_from(["z", "Z"])))
    return " ".join(words)


@given(path_data(), st.data())
@settings(max_examples=120, deadline=None)
def test_a_shifted_edge_is_written_and_every_other_keeps_its_place(data, chance):
    """One edge moves aside; the ends of its neighbours follow, as they do in a refit."""
    content = f'{HEAD}<path d="{data}"/></svg>'.encode()
    try:
        drawing = read_svg(content, "a.svg")
    except DrawingError:  # a path of points only draws nothing
        assume(False)
    index = chance.draw(st.integers(0, len(drawing.paths) - 1))
    drawn_path = drawing.paths[index]
    at = chance.draw(st.integers(0, len(drawn_path.segments) - 1))
    assume(drawn_path.part_numbers.count(drawn_path.part_numbers[at]) == 1)  # no arc told in pieces
    assume(len(drawn_path.segments) >= 3)
    dx, dy = chance.draw(st.tuples(st.floats(-5, 5), st.floats(-5, 5)))
    edges = list(drawn_path.segments)
    edges[at] = translated_segment(edges[at], (dx, dy))
    before, after = (at - 1) % len(edges), (at + 1) % len(edges)
    for near, end in ((before, True), (after, False)):
        old = edges[near]
        if not isinstance(old, Line):
            return
        edges[near] = Line(old.start, edges[at].start) if end else Line(edges[at].end, old.end)
    written = drawing.source.written(drawing, [(index, edges)])
    again = read_svg(written, "b.svg")
    assert len(again.paths) == len(drawing.paths)
    for number, (old, new) in enumerate(zip(drawing.paths, again.paths, strict=True)):
        wanted = edges if number == index else old.segments
        wanted = [e for e in wanted if e.start != e.end or not isinstance(e, Line)]
        assert len(new.segments) == len(wanted)
        for got, edge in zip(new.segments, wanted, strict=True):
            assert hypot(got.start[0] - edge.start[0], got.start[1] - edge.start[1]) < 2e-6
            assert type(got) is type(edge)


@given(path_data())
@settings(max_examples=60, deadline=None)
def test_path_data_is_read_as_the_reference_library_reads_it(data):
    """SVG 2, 9.3."""
    parts = [p for p in parse_path(data, "a.svg") if p.kind != "M"]
    theirs = [p for p in svgelements.Path(data) if not isinstance(p, svgelements.Move)]
    assert len(parts) == len(theirs)
    for part, other in zip(parts, theirs, strict=True):
        assert part.end == pytest.approx((other.end.x, other.end.y), abs=1e-9)
    assert [n for run in subpaths(parse_path(data, "a.svg")) for n in run]


@pytest.mark.parametrize(
    ("shape", "kept"),
    [
        ('<polygon points="10,10 60,10 60,30.50 10,30.5"/>', "60,30.50"),
        ('<polyline points="10 10 60 10 60 30.50 10 30.5 10 10"/>', "60,30.50"),
        ('<path d="M10 10H60V30.50H10Z"/>', "V30.50"),
    ],
)
def test_points_that_do_not_move_keep_their_digits(shape, kept):
    drawing = read_svg(f"{HEAD}{shape}</svg>".encode(), "a.svg")
    edges = list(drawing.paths[0].segments)
    edges[0] = Line((10.0, 8.0), (60.0, 8.0))
    edges[1] = Line((60.0, 8.0), edges[1].end)
    edges[3] = Line(edges[3].start, (10.0, 8.0))
    written = drawing.source.written(drawing, [(0, edges)]).decode()
    assert kept in written or "60 30.5" in written
    again = read_svg(written.encode(), "b.svg").paths[0].segments
    assert [e.start for e in again] == [(10, 8), (60, 8), (60, 30.5), (10, 30.5)]


def test_edges_that_went_leave_nothing_behind():
    """What a wider slot passes over goes, in paths and in polygons; a line that went draws
    nothing."""
    for shape in (
        '<path d="M0 0h50v5l3 2v30h-53z"/>',
        '<polygon points="0,0 50,0 50,5 53,7 53,37 0,37"/>',
    ):
        drawing = read_svg(f"{HEAD}{shape}</svg>".encode(), "a.svg")
        edges = list(drawing.paths[0].segments)
        edges[1], edges[2] = None, None
        edges[0] = Line((0.0, 0.0), (53.0, 0.0))
        edges[3] = Line((53.0, 0.0), (53.0, 37.0))
        written = drawing.source.written(drawing, [(0, edges)])
        again = read_svg(written, "b.svg").paths[0].segments
        assert [e.start for e in again] == [(0, 0), (53, 0), (53, 37), (0, 37)]
    line = read_svg(
        f'{HEAD}<line x1="1" y1="1" x2="9" y2="9"/><path d="M0 0h9"/></svg>'.encode(), "a"
    )
    gone = line.source.written(line, [(0, [None])])
    assert len(read_svg(gone, "b.svg").paths) == 1


def test_a_rectangle_that_stops_being_one_becomes_a_path_in_its_place():
    shape = '<g><rect id="r" class="c" x="10" y="10" width="50" height="20"/><circle r="3"/></g>'
    drawing = read_svg(f"{HEAD}{shape}</svg>".encode(), "a.svg")
    edges = list(drawing.paths[0].segments)
    edges[0] = Line((10.0, 10.0), (64.0, 12.0))
    edges[1] = Line((64.0, 12.0), (60.0, 30.0))
    written = drawing.source.written(drawing, [(0, edges)]).decode()
    assert '<path id="r" class="c"' in written
    assert written.index("<path") < written.index("<circle")
    again = read_svg(written.encode(), "b.svg").paths[0].segments
    assert [e.start for e in again] == [(10, 10), (64, 12), (60, 30), (10, 30)]


def test_what_a_style_sheet_sets_is_written_where_it_counts():
    """Geometry in a style sheet comes before attributes, so the new size stands in the style."""
    style = "rect { width: 3px !important } #p { d: path('M5 5h60v20h-20v-12h-3v12h-37z') }"
    content = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60">'
        f'<style>{style}</style><path id="p" d="M0 0"/><path id="q" d="M5 30h60v20h-60z"/>'
        '<rect x="20" y="34" width="9" height="12"/><rect x="40" y="34" width="9" height="12"/>'
        "</svg>"
    )
    analysis = load_drawing(content.encode(), "a.svg")
    rule = FitRule(0.0, 0.0, KerfAt.DRAWING)
    done = refit_drawing(analysis, RefitOptions(4.0, rule, drawn=(3.0,)))
    assert [d.moved for d in done.decisions] == [True, True, True]
    again = load_drawing(done.written(), "a.svg")
    sizes = sorted(
        round(float(w), 6) for w in (*again.shapes.holes.wide, *again.shapes.notches.wide)
    )
    assert sizes == [4, 4, 4]


def test_a_use_placed_by_a_share_of_the_page_stays_there_when_it_gets_a_copy_of_its_own():
    """One of two uses is held, so the other no longer shows what both showed."""
    plate = "M5 5h60v20h-20v-12h-3v12h-15v-12h-3v12h-19z"
    content = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="100mm" '
        f'viewBox="0 0 200 100"><defs><path id="p" d="{plate}"/></defs>'
        '<use href="#p"/><use href="#p" x="50%" y="3em"/></svg>'
    )
    analysis = load_drawing(content.encode(), "a.svg")
    wish = RefitOptions(4.0, FitRule(0.0, 0.0, KerfAt.DRAWING), held=frozenset({"piece-2"}))
    again = load_drawing(refit_drawing(analysis, wish).written(), "a.svg").drawing
    assert [path.segments[0].start for path in again.paths] == [(5, 5), (105, 53)]
    assert again.paths[1].segments == analysis.drawing.paths[1].segments
