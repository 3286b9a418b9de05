"""Living hinges: the arithmetic against published formulas, and the slits against the plate.

Roark's values are from memory; the series is Saint-Venant's for a rectangular bar, as in Timoshenko
and Goodier, Theory of Elasticity (from memory).
"""

from itertools import pairwise
from math import cos, cosh, inf, pi, radians, sin, tan, tanh

import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from tests.told import in_mm

from anzel.app.edits import artwork_edits, joint_edits
from anzel.core.findings import ParameterError, Severity
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.new_project import project_of
from anzel.project.preflight import preflight
from anzel.storage import project_file
from anzel.structure.artwork.hinge import (
    LEAST_LINK,
    developed_length,
    planned,
    shear_per_torque,
    slits_of,
    torsion_constant,
)  # fmt: skip
from anzel.structure.artwork.records import PlateHinge
from anzel.structure.forms.free_structure import FreeStructure
from anzel.structure.free.outline_shapes import Rectangle
from anzel.structure.free.plate import FreePlate
from anzel.structure.line_work import LineOperation
from anzel.structure.model import FeatureKind

ODD = range(1, 60, 2)


def hinge(**numbers):
    return PlateHinge(id="L1", plate="Wall", **numbers)


def test_the_handbooks_check_values():
    assert developed_length(90, 20, 2.94) == pytest.approx(33.725, abs=5e-4)
    assert torsion_constant(3, 3) == pytest.approx(11.4, abs=0.03)
    assert torsion_constant(3, 3) == pytest.approx(0.1406 * 3**4, rel=2e-3)


@given(st.floats(1, 7))
def test_torsion_agrees_with_the_series(ratio):
    short, long = 2.0, 2.0 * ratio
    tail = 192 / pi**5 / ratio * sum(tanh(n * pi * ratio / 2) / n**5 for n in ODD)
    constant = long * short**3 / 3 * (1 - tail)
    largest = short * (1 - 8 / pi**2 * sum(1 / n**2 / cosh(n * pi * ratio / 2) for n in ODD))
    assert torsion_constant(long, short) == pytest.approx(constant, rel=0.01)
    assert shear_per_torque(long, short) == pytest.approx(largest / constant, rel=0.04)


numbers = {
    "bend_angle": st.floats(10, 180), "inner_radius": st.floats(1, 200),
    "slit_length": st.floats(12, 80), "bridge": st.floats(1, 5),
}  # fmt: skip


@given(st.fixed_dictionaries(numbers), st.floats(0.5, 6), st.floats(0, 0.4))
def test_links_are_few_and_bear_the_bend_or_it_is_told(wishes, thickness, kerf):
    wanted = hinge(**wishes)
    plan = planned(wanted, thickness, kerf)
    if plan.link_width > 0.01:
        assert plan.links * (plan.link_width + kerf) == pytest.approx(plan.developed)
    short, long = sorted((plan.link_width, thickness))
    torque = torsion_constant(long, short) * radians(wanted.bend_angle) / plan.links
    strain = torque / wanted.link_length * shear_per_torque(long, short)
    assert plan.strain == pytest.approx(strain)
    wide = plan.link_width > LEAST_LINK * thickness - 1e-9
    assert plan.holds == (wide and 100 * strain <= wanted.allowed_strain)
    assume(plan.narrowest_radius < inf)
    at_it = wanted.with_changes(inner_radius=plan.narrowest_radius)
    assert planned(at_it, thickness, kerf).holds
    if plan.narrowest_radius >= 0.1:
        under = wanted.with_changes(inner_radius=plan.narrowest_radius - 0.1)
        assert not planned(under, thickness, kerf).holds


@given(st.fixed_dictionaries(numbers), st.floats(30, 300))
def test_slits_leave_the_plate_whole_and_links_as_long_as_reckoned(wishes, height):
    wanted = hinge(**wishes)
    assume(height > 2 * wanted.slit_length)
    plan = planned(wanted, 3.0, 0.15)
    slits = [path.segments[0] for path in slits_of(plan, wanted, 0.0, height)]
    cut = [shapely.LineString((slit.start, slit.end)) for slit in slits]
    sheet = shapely.box(-500, 0, 500, height)
    left = sheet.difference(shapely.union_all(cut).buffer(1e-6))
    assert left.geom_type == "Polygon"
    columns = sorted({slit.start[0] for slit in slits})
    assert len(columns) == plan.links + 1
    assert columns[-1] - columns[0] == pytest.approx(plan.developed)
    steps = [b.start[1] - a.end[1] for a, b in pairwise(slits)
             if a.start[0] == b.start[0]]  # fmt: skip
    assert all(gap == pytest.approx(wanted.bridge) for gap in steps)


def test_a_hinge_is_cut_into_its_plate_saved_and_told(tmp_path):
    project, item = artwork_edits.add_hinge(project_of("free", joints=()), "Left end")
    plan = artwork_edits.hinge_plan(project, artwork_edits.item_of(project, item))
    lines = solved_structure_of(project).piece("Left end").lines
    assert {line.operation for line in lines} == {LineOperation.CUT}
    assert len({round(line.path.stroke[0][0], 6) for line in lines}) == plan.links + 1
    project_file.save(project, tmp_path / "h.anzel")
    assert project_file.load(tmp_path / "h.anzel") == project
    gone = artwork_edits.change_item(project, item, plate="Gone")
    assert artwork_edits.hinge_plan(gone, artwork_edits.item_of(gone, item)) is None
    words = in_mm(artwork_edits.hinge_words(plan))
    assert "narrowest inner radius" in words
    tight = artwork_edits.type_item(project, item, "inner_radius", "1")
    tight_plan = artwork_edits.hinge_plan(tight, artwork_edits.item_of(tight, item))
    assert "twist too far" in artwork_edits.hinge_words(tight_plan)
    turned = artwork_edits.type_item(project, item, "bend_angle", "45°")
    assert len(solved_structure_of(turned).piece("Left end").lines) < len(lines)
    with pytest.raises(ParameterError, match="twice as long"):
        artwork_edits.type_item(project, item, "slit_length", "4")


@given(
    radius=st.floats(10, 40), leg=st.floats(25, 60), middle=st.floats(30, 90),
    angle=st.sampled_from([60.0, 75.0, 90.0]),
)  # fmt: skip
@settings(max_examples=12)
def test_a_plate_with_two_hinges_is_joined_where_it_stands_bent(radius, leg, middle, angle):
    """An arch on its foot: developed lengths and places by hand, from θ (r + t / 2)."""
    project = project_of("free", joints=())
    stock = project.stocks[0].id
    thickness = fit_context_of(project).of(stock).measured_thickness
    bow, turn = radius + thickness / 2, radians(angle)
    developed = turn * bow
    length = middle + 2 * developed + 2 * leg
    wishes = {"inner_radius": radius, "bend_angle": angle, "slit_length": 20.0,
              "allowed_strain": 20.0}  # fmt: skip
    links = planned(hinge(**wishes), thickness, 0.15).links
    shares = [1 / links if 0 < at < links else 0.5 / links for at in range(links + 1)]
    run, fall = (
        developed * sum(share * of(at * turn / links) for at, share in enumerate(shares))
        for of in (cos, sin)
    )
    high = fall + leg * sin(turn) + thickness / 2 / sin(turn)
    if angle != 90:  # a leaning leg ends where its nearer corner touches
        high += thickness / 2 / tan(turn) * sin(turn)
    out = middle / 2 + run + (high - fall) / tan(turn)
    foot = Rectangle(width=2 * out + 80, height=90)
    plates = (
        FreePlate(name="Foot", stock=stock, outline=foot),
        FreePlate(name="Arch", stock=stock, outline=Rectangle(width=length, height=60),
                  z=high, tilt=180),
    )  # fmt: skip
    project = project.with_changes(structure=FreeStructure(plates=plates, joints=()))
    for side in (1, -1):
        project, item = artwork_edits.add_hinge(project, "Arch")
        project = artwork_edits.change_item(
            project, item, x=side * (middle + developed) / 2, **wishes
        )
    assert len(joint_edits.suggestions_of(project)) == 2
    joined = joint_edits.join_all(project)
    solved = solved_structure_of(joined)
    assert not [f for f in solved.findings if f.severity is Severity.PROBLEM]
    places = sorted(abs(joint.at[0]) for joint in solved.joints)
    assert len(places) == 2
    assert places == pytest.approx([out] * 2, abs=1e-6)
    tabs = [f for f in solved.piece("Arch").features if f.kind is FeatureKind.TAB]
    assert sorted(tab.at[0] for tab in tabs)[1] == pytest.approx(length / 2, abs=5)
    assert preflight(joined).ok
    assert joint_edits.suggestions_of(joined) == ()


def test_a_hinged_plate_stands_bent_and_one_that_joins_others_stays_flat():
    project, item = artwork_edits.add_hinge(project_of("free", joints=()), "Left end")
    flat = solved_structure_of(project_of("free", joints=())).piece("Left end")
    bent = solved_structure_of(project).piece("Left end")
    plan = artwork_edits.hinge_plan(project, artwork_edits.item_of(project, item))
    assert len(bent.bent) == plan.links + 1
    assert sum(f.region.shape.intersection(bent.region.shape).area for f in bent.bent) == (
        pytest.approx(flat.region.shape.area)
    )
    first, last = (f.placement.normal for f in (bent.bent[0], bent.bent[-1]))
    assert sum(a * b for a, b in zip(first, last, strict=True)) == pytest.approx(0.0, abs=1e-9)
    far = (bent.region.shape.bounds[2], bent.region.shape.centroid.y)
    stands = bent.bent[-1].placement.to_world(far)
    height = sum(
        (a - b) * n for a, b, n in zip(stands, flat.placement.to_world(far), first, strict=True)
    )
    radius = 20 + bent.thickness / 2
    flange = far[0] - bent.region.shape.centroid.x - plan.developed / 2
    assert height == pytest.approx(radius + flange, rel=0.01)
    joined, _ = artwork_edits.add_hinge(
        project_of("box"), solved_structure_of(project_of("box")).pieces[0].name
    )
    solved = solved_structure_of(joined)
    assert not any(piece.bent for piece in solved.pieces)
    assert "hinge-shown-flat" in [finding.code for finding in solved.findings]
