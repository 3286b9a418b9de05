"""Profiles of rib lamps: smooth and corner points, inner edges, second ribs, the fixture's room."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.common import assert_sound, rack
from tests.told import in_mm

from anzel.app.edits import profile_curve_edits
from anzel.checks.interference import collisions
from anzel.core.asset import Asset
from anzel.core.findings import ParameterError
from anzel.geometry.segments import Cubic, Line
from anzel.project.new_project import project_of
from anzel.storage import project_file
from anzel.storage.migrations import from_2
from anzel.structure.forms.common_outlines import joined
from anzel.structure.forms.profile import TracedPicture, between
from anzel.structure.forms.rib_lamp import BELLY, RibLamp
from anzel.structure.forms.solved_form import solve_form

COORDINATE = st.floats(-50, 50).map(lambda x: round(x, 2))
POINTS = st.lists(st.tuples(COORDINATE, COORDINATE), min_size=3, max_size=8, unique=True)
ARCH = ((0.0, 0.2, True), (0.5, 0.7, True), (1.0, 0.14, True))


@given(POINTS, st.data(), st.booleans())
def test_a_curve_goes_through_its_points_and_is_smooth_where_it_shall_be(points, data, closed):
    smooth = [data.draw(st.booleans()) for _ in points]
    segments = joined(points, smooth, closed=closed)
    assert [s.start for s in segments] == points[: len(segments)]
    for index, segment in enumerate(segments):
        ahead = segments[(index + 1) % len(segments)]
        at = (index + 1) % len(points)
        if not closed and index == len(segments) - 1:
            break
        assert segment.end == ahead.start
        if smooth[at]:
            into = np.subtract(segment.end, segment.control2)
            assert into == pytest.approx(np.subtract(ahead.control1, ahead.start), abs=1e-9)
    for segment, a, b in zip(segments, smooth, [*smooth[1:], smooth[0]], strict=False):
        assert isinstance(segment, Cubic if a or b else Line)


def test_between_corners_a_profile_is_straight():
    corners = tuple((z, r, False) for z, r, _ in BELLY)
    rib = solve_form(RibLamp(profile=corners, cord_notch=0), rack()).piece("Rib 2").region
    assert {type(segment) for segment in rib.outer.segments} == {Line}
    assert_sound(rib)


@settings(max_examples=25, deadline=None)
@given(st.floats(0.5, 0.85), st.floats(0.25, 0.6), st.integers(4, 14))
def test_an_inner_edge_and_second_ribs_of_their_own_still_go_together(belly, waist, ribs):
    sheets = rack()
    form = RibLamp(
        ribs=ribs, inner=ARCH, radius=120, cord_notch=0,
        second=((0.0, 0.5, True), (0.5, max(belly, 0.78), False), (1.0, waist, True)),
    )  # fmt: skip
    try:
        made = solve_form(form, sheets)
    except ParameterError as error:
        assert str(error)
        return
    assert collisions(made, sheets, 0.01) == ()
    first, second = made.piece("Rib 1").region, made.piece("Rib 2").region
    assert first.bounds[2] != pytest.approx(second.bounds[2])


def test_rings_reach_into_ribs_as_the_inner_edge_has_them():
    form = RibLamp(inner=ARCH, radius=120, cord_notch=0)
    bare = between(form.profile, ARCH, form.height, form.radius, form.rib_depth)
    made = solve_form(form, rack())
    for ring, share in (("Ring 1", form.ring_low), ("Ring 2", form.ring_high)):
        spans = bare.spans((0.0, share * form.height), (1.0, 0.0))
        outer = made.piece(ring).region.bounds[3]  # no slot at the north
        assert outer == pytest.approx(spans[0][0] + form.grip, abs=0.2)
    assert form.unused() == {"rib_depth"}


def test_a_fixture_has_air_or_is_warned_of():
    assert solve_form(RibLamp(), rack()).findings == ()
    (tight,) = solve_form(RibLamp(fixture_width=110), rack()).findings
    assert "mm of air" in in_mm(tight.message)
    (low,) = solve_form(RibLamp(fixture_height=250), rack()).findings
    assert "out of the lamp" in low.message
    form = RibLamp()
    doubled = form.scaled(2)
    assert (doubled.fixture_height, doubled.fitting_hole) == (80, 40)
    assert doubled.fixture_clearance() > form.fixture_clearance() + 20


def test_a_curve_is_drawn_in_mm_and_kept_in_shares():
    project = project_of("rib-lamp")
    lamp = project.structure
    curve = profile_curve_edits.curve_of(lamp, "profile")
    assert curve[2] == pytest.approx((lamp.radius, 0.45 * lamp.height, 1))
    same = profile_curve_edits.change_curve(project, "profile", curve)
    for one, other in zip(same.structure.profile, lamp.profile, strict=True):
        assert one == pytest.approx(other)
    inner = profile_curve_edits.curve_of(lamp, "inner")
    assert inner[2][0] == pytest.approx(lamp.radius - lamp.rib_depth)
    drawn = profile_curve_edits.change_curve(project, "inner", inner)
    assert len(drawn.structure.inner) == len(inner)
    assert profile_curve_edits.remove_curve(drawn, "inner") == project
    with pytest.raises(ParameterError, match="Only a rib lamp"):
        profile_curve_edits.change_curve(project_of("box"), "profile", curve)


def test_a_picture_is_scaled_about_the_first_place_touched():
    project = project_of("rib-lamp")
    traced = TracedPicture(picture=Asset.of("p.png", b"x"), x=10, y=20, mm_per_pixel=0.5)
    project = project.with_changes(structure=project.structure.with_changes(traced=traced))
    after = profile_curve_edits.scale_traced_picture(
        project, (0, 0), (30, 40), 100
    ).structure.traced
    assert (after.mm_per_pixel, after.x, after.y) == pytest.approx((1.0, 20, 40))
    with pytest.raises(ParameterError, match="further apart"):
        profile_curve_edits.scale_traced_picture(project, (5, 5), (5, 5), 100)
    assert project_file.from_bytes(project_file.to_bytes(project)) == project


def test_profiles_of_older_files_keep_their_shape():
    old = {"form": "rib-lamp", "smooth": False, "profile": [[0, 0.5], [1, 0.4]]}
    moved = from_2({"structure": old, "takes": [{"name": "Take 1", "structure": {"form": "box"}}]})
    assert moved["structure"]["profile"] == [[0, 0.5, False], [1, 0.4, False]]
    assert "smooth" not in moved["structure"]
    assert moved["takes"][0]["structure"] == {"form": "box"}
