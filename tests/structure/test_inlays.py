"""Inlays from artwork: gaps of the produced shapes, islands, several sheets, what cannot be."""

from itertools import pairwise
from math import cos, pi, radians, sin, sqrt

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from anzel.app.edits import artwork_edits, cutter_edits, stock_edits
from anzel.materials.fits import KerfAt
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.simulation.simulated_cutter import SimulatedCutter, kept_shape
from anzel.structure.artwork.inlays import _stand_off
from anzel.structure.model import FeatureKind

PLATE = "Left end"
HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="60mm" viewBox="0 0 60 60">'


def two_sheets(kerf=0.2, other=0.12):
    """A free structure, a second sheet in its rack, and what their cutter takes."""
    project = project_of("free", joints=())
    project = stock_edits.add_stock(project, project.stocks[0])
    own, second = project.stocks[0].id, project.stocks[1].id
    for stock, width in ((own, kerf), (second, other)):
        project = cutter_edits.change_kerf(project, stock, width)
    return project, own, second


def inlaid(tmp_path, drawn, project=None, **changes):
    project = project or two_sheets()[0]
    (tmp_path / "art.svg").write_text(HEAD + drawn + "</svg>")
    made, item = artwork_edits.add_inlay(project, PLATE, tmp_path / "art.svg")
    return artwork_edits.change_item(made, item, **changes), item


def inserts(project):
    return [p for p in solved_structure_of(project).pieces if " L1." in p.name]


def told(project):
    return [f for f in solved_structure_of(project).findings if f.code.startswith("inlay")]


def blob(waves, depth):
    """A closed smooth curve about (30, 30) of eight cubics."""

    def at(turn):
        r = 18 + depth * cos(waves * turn)
        return (30 + r * cos(turn), 30 + r * sin(turn))

    def slope(turn):
        r, dr = 18 + depth * cos(waves * turn), -depth * waves * sin(waves * turn)
        return (dr * cos(turn) - r * sin(turn), dr * sin(turn) + r * cos(turn))

    turns = [2 * pi * i / 24 for i in range(25)]
    step = 2 * pi / 24 / 3
    path = f"M {at(0)[0]} {at(0)[1]}"
    for a, b in pairwise(turns):
        (x0, y0), (x1, y1) = at(a), at(b)
        (u0, v0), (u1, v1) = slope(a), slope(b)
        path += f" C {x0 + u0 * step} {y0 + v0 * step} {x1 - u1 * step} {y1 - v1 * step} {x1} {y1}"
    return f'<path d="{path} Z"/>'


def produced(piece, project):
    """What the simulated cutter leaves of a piece: its beam is round."""
    cutter = SimulatedCutter(kerf=fit_context_of(project).of(piece.stock_id).kerf)
    return kept_shape(piece.region, cutter, 0.0, np.random.default_rng(0))


def gaps(project):
    """How far the edge of each insert is from the plate round it, least and most, mm."""
    plate = produced(solved_structure_of(project).piece(PLATE), project)
    found = []
    for insert in inserts(project):
        edge = shapely.segmentize(produced(insert, project).exterior, 0.5)
        apart = shapely.distance(shapely.points(shapely.get_coordinates(edge)), plate)
        found.append((float(apart.min()), float(apart.max())))
    return found


@settings(max_examples=25)
@given(
    waves=st.integers(2, 5), depth=st.floats(0, 3), gap=st.floats(-0.1, 0.3),
    kerfs=st.tuples(st.floats(0.05, 0.4), st.floats(0.05, 0.4)), shared=st.booleans(),
)  # fmt: skip
def test_the_gap_of_produced_shapes_is_the_one_typed(
    tmp_path_factory, waves, depth, gap, kerfs, shared
):
    """Against shapely's distances between what the simulated cutter leaves, to 0.005 mm."""
    project, _, _ = two_sheets(*kerfs)
    made, _ = inlaid(
        tmp_path_factory.mktemp("art"), blob(waves, depth), project, gap=gap, shared=shared
    )
    (insert,) = inserts(made)
    pocket = solved_structure_of(made).piece(PLATE).region.holes[0].polygon_shape
    if gap >= 0.01:
        ((least, most),) = gaps(made)
        assert (least, most) == pytest.approx((gap, gap), abs=0.005)
    drawn = insert.region.outer.polygon_shape.exterior
    apart = shapely.distance(shapely.points(shapely.get_coordinates(pocket.exterior)), drawn)
    missing = abs(sum(kerfs) / 2 - gap)  # handbook of the trade, 3: k - g, with either sheet's kerf
    assert (apart.min(), apart.max()) == pytest.approx((missing, missing), abs=0.005)


def test_letters_keep_their_counters_as_islands_of_the_plate(tmp_path):
    ring = (
        '<g fill="none" stroke="#aa0000"><circle cx="30" cy="30" r="20"/>'
        '<circle cx="30" cy="30" r="12"/><circle cx="30" cy="30" r="5"/></g>'
    )
    made, _ = inlaid(tmp_path, ring, gap=0.02)
    project, own, second = two_sheets()
    assert [piece.stock_id for piece in inserts(made)] == [second, own, second]
    assert [len(piece.region.holes) for piece in inserts(made)] == [1, 1, 0]
    joints = [j for j in solved_structure_of(made).joints if j.id.startswith("L1.")]
    assert [j.pieces[1] for j in joints] == [PLATE, *(p.name for p in inserts(made)[:2])]
    assert all(f.kind is FeatureKind.POCKET for j in joints for f in j.features)
    area = sum(p.region.area for p in [solved_structure_of(made).piece(PLATE), *inserts(made)])
    assert area == pytest.approx(solved_structure_of(project).piece(PLATE).region.area, rel=0.02)
    assert {s.id for s in made.stocks_in_use} == {own, second}


def test_two_colours_are_of_two_sheets_and_one_bad_shape_stops_no_other(tmp_path):
    drawn = (
        '<g stroke="#aa0000" fill="none"><circle cx="15" cy="15" r="8"/>'
        '<path d="M40 5 L55 20 L40 20 L55 5 Z"/></g>'
        '<g stroke="#00aa00" fill="none"><circle cx="15" cy="40" r="8"/>'
        '<circle cx="30" cy="40" r="8"/><path d="M40 40 H55"/></g>'
    )
    made, item = inlaid(tmp_path, drawn, width=45.0)
    _, own, second = two_sheets()
    labels = list(artwork_edits.stocks_of(made, artwork_edits.item_of(made, item)))
    made = artwork_edits.choose_stock(made, item, labels[1], own)
    assert sorted(piece.stock_id for piece in inserts(made)) == sorted([second, own])
    words = " ".join(f.message for f in told(made))
    assert "crosses itself" in words
    assert "touches another" in words
    assert "left open" in words
    larger = artwork_edits.change_item(made, item, width=400.0)
    assert inserts(larger) == []
    assert "does not lie inside" in " ".join(f.message for f in told(larger))


def test_sharp_corners_stand_off_as_the_handbook_says(tmp_path):
    made, _ = inlaid(tmp_path, '<rect x="10" y="10" width="40" height="40"/>', gap=0.0)
    (note,) = [f for f in told(made) if f.code == "inlay-corners"]
    assert _stand_off(pi / 2, 0.2) == pytest.approx((sqrt(2) - 1) * 0.1)
    assert _stand_off(pi - radians(60), 0.2) == pytest.approx((1 / sin(radians(30)) - 1) * 0.1)
    assert "0.041" in note.message


def test_where_the_cutter_makes_up_for_the_kerf_only_the_gap_is_drawn(tmp_path):
    project = two_sheets()[0].with_changes(kerf_at=KerfAt.CUTTER)
    made, _ = inlaid(tmp_path, '<circle cx="30" cy="30" r="20"/>', project, gap=0.05, width=40.0)
    hole = solved_structure_of(made).piece(PLATE).region.holes[0]
    (insert,) = inserts(made)
    assert hole.bounds[2] - hole.bounds[0] - insert.region.size[0] == pytest.approx(0.1, abs=1e-9)
