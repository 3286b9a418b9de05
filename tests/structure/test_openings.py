"""Openings added to plates of any form: widths by the sheet they take, places from edges."""

from math import hypot, pi, sqrt

import pytest
import shapely
import shapely.affinity
from hypothesis import given, settings
from hypothesis import strategies as st

from anzel.app.edits import (
    cutter_edits,
    free_structure_edits,
    opening_edits,
    sketch_edits,
    stock_edits,
)
from anzel.app.views.fit_lens import lens_rows
from anzel.checks.webs import smallest_webs
from anzel.core.findings import ParameterError
from anzel.geometry.segments import Arc
from anzel.materials.fits import FitName, KerfAt
from anzel.project.demos import phone_stand, seed_caddy
from anzel.project.derive import fit_context_of, forecast_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.project.rescale import by_factor
from anzel.shape.sketch import Corner
from anzel.storage import project_file
from anzel.structure.forms import FORMS
from anzel.structure.openings.plate_opening import (
    FITTING,
    SIDES,
    OpeningKind,
    OpeningRepeat,
    PlateOpening,
)
from anzel.structure.solids import produced_shape

FORM_NAMES = [name for name in FORMS if name != "found"]
K = OpeningKind


def first(project):
    return solved_structure_of(project).pieces[0].name


def added(project, kind, plate="", **changes):
    """The project with an opening, changed at once; and its id."""
    sheet = project.stocks_in_use[0].id if kind in FITTING else ""
    project, name = opening_edits.add_opening(project, plate or first(project), kind, sheet=sheet)
    return opening_edits.change_opening(project, name, **changes), name


def region(project, name):
    return solved_structure_of(project).piece(name).region


def told(project):
    return {f.code for f in solved_structure_of(project).findings}


@pytest.mark.parametrize("form", FORM_NAMES)
def test_a_mortise_for_a_sheet_can_be_added_to_any_form_and_is_wide_as_any_joint(form, tmp_path):
    project, name = added(project_of(form), K.MORTISE, fit=FitName.SLIDE)
    context, solved = fit_context_of(project), solved_structure_of(project)
    joint = next(joint for joint in solved.joints if joint.id == name)
    sheet = context.of(project.stocks_in_use[0].id)
    (feature,) = joint.features
    assert feature.width.drawn == pytest.approx(sheet.measured_thickness + 0.15 - sheet.kerf)
    pieces = {piece.name: piece for piece in solved.pieces}
    rows = lens_rows(joint, pieces, context)
    assert [row.clearance for row in rows] == pytest.approx([0.15, 0.15])
    assert name in {each.joint for each in forecast_of(project).joints}
    project_file.save(project, tmp_path / "a.anzel")
    assert project_file.load(tmp_path / "a.anzel") == project


@settings(max_examples=60)
@given(
    thickness=st.floats(1, 9), kerf=st.floats(0, 0.6), clearance=st.floats(-0.1, 0.4),
    kerf_at=st.sampled_from(KerfAt), kind=st.sampled_from([K.SLOT, K.MORTISE]),
)  # fmt: skip
def test_what_is_cut_takes_the_sheet_with_its_clearance_wherever_the_kerf_is(
    thickness, kerf, clearance, kerf_at, kind
):
    project = project_of("free", joints=())
    stock = project.stocks_in_use[0].id
    project = stock_edits.change_stock(project, stock, readings=(thickness,))
    project = cutter_edits.change_kerf(project, stock, kerf)
    project = project.with_changes(
        kerf_at=kerf_at, fits=project.fits.with_changes(snug=clearance)
    )  # fmt: skip
    project, name = added(project, kind, "Left end", depth=20, width=20)
    context, solved = fit_context_of(project), solved_structure_of(project)
    feature = next(j for j in solved.joints if j.id == name).features[0]
    produced = produced_shape(solved.piece("Left end"), context)
    (x, y), (ux, uy) = feature.at, feature.along
    probe = shapely.LineString([(x - 30 * -uy, y - 30 * ux), (x + 30 * -uy, y + 30 * ux)])
    gap = max(
        part.length for part in shapely.get_parts(probe.difference(produced))
        if part.distance(shapely.Point(x, y)) < 1e-6
    )  # fmt: skip
    assert gap == pytest.approx(thickness + clearance, abs=1e-6)


AREAS = {
    K.WINDOW: (12 * 8, {}), K.DISC: (pi * 36, {}), K.NOTCH: (12 * 8, {"edge": "top"}),
    K.ROUND_ENDED: (4 * 8 + pi * 16, {}), K.POLYGON: (3 * sqrt(3) / 2 * 144, {"corners": 6}),
}  # fmt: skip
"""What is taken off, by the formulas of any geometry handbook."""


@pytest.mark.parametrize("kind", AREAS)
@pytest.mark.parametrize("turn", [0, 37.5])
def test_plain_openings_take_off_what_geometry_says(kind, turn):
    project = project_of("free", joints=())
    before = region(project, "Left end").area
    area, changes = AREAS[kind]
    turned = {"turn": turn} if kind is not K.NOTCH else {}
    made, _ = added(project, kind, "Left end", width=12, depth=8, **changes, **turned)
    # the notch is on the straight part of an edge with rounded corners
    assert before - region(made, "Left end").area == pytest.approx(area, abs=1e-6)


def test_an_edge_tab_stands_out_by_the_sheet_it_goes_through():
    project, name = added(project_of("free", joints=()), K.TAB, "Left end", width=14, proud=1)
    stock, kerf = project.stocks_in_use[0], project.kerf_in(project.stocks_in_use[0].id).kerf
    high = stock.measured_thickness + 1
    grown = region(project, "Left end").area - 110 * 140 + (4 - pi) * 14**2
    assert grown == pytest.approx((14 + kerf) * high, abs=0.01)
    (row,) = lens_rows(*lens_of(project, name))
    assert row.is_height
    assert row.size.drawn == pytest.approx(high)
    assert forecast_of(project).all_go == 1.0  # nothing fits it here


def lens_of(project, name):
    solved = solved_structure_of(project)
    joint = next(joint for joint in solved.joints if joint.id == name)
    return joint, {piece.name: piece for piece in solved.pieces}, fit_context_of(project)


def hole_of(project, plate):
    return region(project, plate).holes[-1].bounds


def test_distances_from_edges_stay_when_the_form_s_sizes_change():
    project, name = added(
        project_of("box"), K.WINDOW, "Front",
        edge="left", along_from="start", along=30, inward_from_middle=False, inward=25,
        width=8, depth=6,
    )  # fmt: skip
    form = project.structure
    wider = project.with_changes(structure=form.with_changes(width=form.width + 40))
    for each in (project, wider):
        plates = each.structure.place(fit_context_of(each))[0]
        left, low, *_ = next(p for p in plates if p.name == "Front").region.bounds
        x0, y0, x1, y1 = next(
            hole.bounds for hole in region(each, "Front").holes
            if hole.bounds[2] - hole.bounds[0] == pytest.approx(6)
        )  # fmt: skip
        assert ((x0 + x1) / 2 - left, (y0 + y1) / 2 - low) == pytest.approx((25, 30))
    assert opening_edits.opening_of(wider, name).along == 30


def test_an_opening_waits_while_its_plate_or_its_room_is_gone_and_comes_back():
    project, _ = added(project_of("rib-lamp"), K.DISC, "Rib 12", width=6)
    form, there = project.structure, region(project, "Rib 12")
    fewer = project.with_changes(structure=form.with_changes(ribs=10))
    assert "opening" in told(fewer)
    assert region(fewer, "Rib 3") == region(
        project_of("rib-lamp", ribs=10), "Rib 3"
    )  # fmt: skip
    back = fewer.with_changes(structure=fewer.structure.with_changes(ribs=form.ribs))
    assert region(back, "Rib 12") == there
    assert "opening" not in told(back)


def test_all_alike_plates_or_one_of_them():
    project, name = added(project_of("lantern"), K.SLOT, "Wall 1", edge="top", depth=4, width=1)
    assert opening_edits.alike_count(project, "Wall 1") == 6
    one = [joint for joint in solved_structure_of(project).joints if joint.id.startswith("O")]
    made = opening_edits.change_opening(project, name, alike=True)
    every = [joint for joint in solved_structure_of(made).joints if joint.id.startswith("O")]
    assert (len(one), len(every)) == (1, 6)
    assert region(made, "Wall 4").area == pytest.approx(region(made, "Wall 1").area)
    assert opening_edits.openings_of(made, "Wall 5") == opening_edits.openings_of(made, "Wall 1")
    assert opening_edits.openings_of(project, "Wall 5") == ()


def test_mortises_that_cross_are_one_plus_and_no_thin_web():
    project, _ = added(project_of("free", joints=()), K.MORTISE, "Left end", width=20)
    made, _ = added(project, K.MORTISE, "Left end", width=20, turn=90)
    plus, _ = added(project_of("free", joints=()), K.PLUS, "Left end", width=20)
    assert region(made, "Left end").area == pytest.approx(region(plus, "Left end").area)
    for each in (made, plus):
        assert len(region(each, "Left end").holes) == 1
        assert all(
            web.width > 10 for web in smallest_webs(solved_structure_of(each), fit_context_of(each))
        )


def test_a_row_lies_about_the_middle_or_goes_on_from_an_end():
    project, name = added(
        project_of("free", joints=()), K.DISC, "Left end", width=4, count=3, pitch=12
    )  # fmt: skip
    middles = [(h.bounds[0] + h.bounds[2]) / 2 for h in region(project, "Left end").holes]
    assert sorted(middles) == pytest.approx([-12, 0, 12])
    made = opening_edits.change_opening(project, name, along_from="end", along=20)
    middles = [(h.bounds[0] + h.bounds[2]) / 2 for h in region(made, "Left end").holes]
    assert sorted(middles) == pytest.approx([11, 23, 35])  # 55 is the edge


def middles_of(project, plate="Left end"):
    shapes = [hole.polygon_shape.centroid for hole in region(project, plate).holes]
    return sorted((round(p.x, 6), round(p.y, 6)) for p in shapes)


def test_a_grid_has_rows_inwards_from_its_edge_or_about_the_middle():
    project, name = added(
        project_of("free", joints=()), K.ROUND_ENDED, "Left end", width=5, depth=3, count=3,
        pitch=12, repeated=OpeningRepeat.GRID, rows=2, row_pitch=9.5,
    )  # fmt: skip
    assert middles_of(project) == [(x, y) for x in (-12, 0, 12) for y in (-4.75, 4.75)]
    made = opening_edits.change_opening(
        project, name, edge="top", inward_from_middle=False, inward=10
    )
    top = region(made, "Left end").outer.bounds[3]
    assert {y for _, y in middles_of(made)} == {top - 10, top - 19.5}
    with pytest.raises(ParameterError, match="in a row only"):
        added(project, K.NOTCH, "Left end", repeated=OpeningRepeat.RING)


@given(count=st.integers(2, 9), turn=st.floats(0, 90), edge=st.sampled_from(SIDES))
def test_a_ring_of_mortises_is_one_mortise_turned_about_the_middle(count, turn, edge):
    """Each takes the sheet alike, and all lie on one circle, evenly (any geometry handbook)."""
    project, name = added(
        project_of("free", joints=()), K.MORTISE, "Left end", width=6, turn=turn, edge=edge,
        inward=16, repeated=OpeningRepeat.RING, count=count,
    )  # fmt: skip
    cut = region(project, "Left end")
    assert len(cut.holes) == count
    x, y = ((a + b) / 2 for a, b in zip(cut.outer.bounds[:2], cut.outer.bounds[2:], strict=True))
    turned = shapely.affinity.rotate(cut.holes[0].polygon_shape, 360 / count, origin=(x, y))
    assert min(hole.polygon_shape.hausdorff_distance(turned) for hole in cut.holes) < 1e-6
    (joint,) = (each for each in solved_structure_of(project).joints if each.id == name)
    assert len({round(feature.width.drawn, 9) for feature in joint.features}) == 1


def test_an_opening_placed_from_a_leg_follows_retyped_sizes_and_waits_for_its_leg():
    project = phone_stand()
    sketch = sketch_edits.drawn_sketch(project, "Left side")
    leg = sketch.paths[0].legs[0].id
    project, name = opening_edits.add_opening(project, "Left side", K.DISC, leg)
    project = opening_edits.change_opening(
        project, name, width=5, along_from="end", along=15, inward_from_middle=False, inward=12
    )  # fmt: skip
    for text in ("84", "97.5"):
        made = sketch_edits.type_size(project, "Left side", "foot", text)
        ends = made.structure.edges_of("Left side")[leg]
        hole = next(h for h in region(made, "Left side").holes if h.is_circle)
        assert isinstance(hole.segments[0], Arc)
        x, y = hole.segments[0].centre
        assert hypot(x - ends[1][0], y - ends[1][1]) == pytest.approx(hypot(15, 12))
    other = opening_edits.opening_of(project, name).with_changes(edge="gone")
    lost = project.with_changes(structure=project.structure.with_changes(own_openings=(other,)))
    assert "opening" in told(lost)


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"along": 300}, "does not lie inside"),
        ({"width": 400}, "does not lie inside"),
        ({"inward": 69.9}, "does not lie inside"),
    ],
)
def test_what_cannot_be_is_refused_where_it_is_typed(changes, words):
    project, name = added(project_of("free", joints=()), K.WINDOW, "Left end")
    with pytest.raises(ParameterError, match=words):
        opening_edits.change_opening(project, name, **changes)


def test_what_parts_a_plate_lies_over_a_joint_or_on_a_found_drawing_is_told():
    project = project_of("free")
    with pytest.raises(ParameterError, match="right through"):
        added(project, K.NOTCH, "Rail", depth=60)
    made, _ = added(project, K.WINDOW, "Shelf", width=8, depth=60)
    assert "opening-over-joint" in told(made)
    with pytest.raises(ParameterError, match="keeps its own"):
        opening_edits.add_opening(seed_caddy(), "caddy", K.DISC)


def test_openings_go_along_with_their_plate_and_with_the_whole():
    project, name = added(project_of("lantern"), K.MORTISE, "Base", width=9)
    free = free_structure_edits.make_free(project)
    assert region(free, "Base").area == pytest.approx(region(project, "Base").area)
    renamed = free_structure_edits.rename_plate(free, "Base", "Floor")
    assert opening_edits.opening_of(renamed, name).plate == "Floor"
    gone = free_structure_edits.remove_plate(renamed, "Floor")
    assert gone.structure.own_openings == ()
    larger = by_factor(project, 1.25)
    feature = next(j for j in solved_structure_of(larger).joints if j.id == name).features[0]
    stock = project.stocks_in_use[0]
    assert feature.width.terms[0].value == pytest.approx(stock.measured_thickness)
    assert feature.depth.terms[0].value == pytest.approx(11.25)
    with pytest.raises(ParameterError, match="in use"):
        stock_edits.remove_stock(project, stock.id)


def test_free_corners_are_rounded_and_those_of_joints_are_not():
    project = project_of("box")
    before = solved_structure_of(project)
    made = opening_edits.change_corners(
        project, "Front", Corner(kind="round", size=3), alike=False
    )  # fmt: skip
    arcs = [s for s in region(made, "Front").outer.segments if isinstance(s, Arc)]
    assert all(arc.radius == pytest.approx(3) for arc in arcs)
    tabs = len(before.piece("Front").region.outer.segments)
    assert len(region(made, "Front").outer.segments) - len(arcs) <= tabs
    assert region(made, "Left") == before.piece("Left").region
    lantern = opening_edits.change_corners(
        project_of("lantern"), "Base", Corner(kind="round", size=3), alike=True
    )  # fmt: skip
    base = [s for s in region(lantern, "Base").outer.segments if isinstance(s, Arc)]
    assert len(base) == 6
    again = opening_edits.change_corners(lantern, "Base", Corner(), alike=True)
    assert again.structure.own_corners == ()


@given(number=st.text(max_size=12))
def test_whatever_is_typed_is_a_number_or_one_clear_line(number):
    project, name = added(project_of("free", joints=()), K.POLYGON, "Left end")
    for field in opening_edits.opening_of(project, name).numbers:
        try:
            made = opening_edits.type_opening(project, name, field, number)
        except ParameterError as error:
            assert error.message
        else:
            assert isinstance(opening_edits.opening_of(made, name), PlateOpening)
