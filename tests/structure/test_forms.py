"""Every form: sound at its defaults and at random parameters, or refused in words."""

from math import cos, pi, radians, sin, sqrt
from typing import get_args

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from tests.common import assert_sound, rack

from anzel.app.number_display import shown
from anzel.checks.interference import collisions
from anzel.checks.webs import smallest_webs
from anzel.core.findings import MakerError, ParameterError
from anzel.materials.fits import KerfAt
from anzel.structure.forms import FORMS, about_form, analytic_sections
from anzel.structure.forms.box import Box
from anzel.structure.forms.common_outlines import ellipse, web_between_slots
from anzel.structure.forms.easel import Easel
from anzel.structure.forms.field_ranges import limits_of, out_of_range, within_ranges
from anzel.structure.forms.rib_lamp import RibLamp
from anzel.structure.forms.sliceform import Sliceform
from anzel.structure.forms.solved_form import solve_form
from anzel.structure.model import LEFT_OUT

JOINED = [name for name in FORMS if name != "found"]
"""A found drawing does not say what is joined to what."""


@st.composite
def forms(draw):
    """Any form with any parameters a record allows, and sheets."""
    kind = FORMS[draw(st.sampled_from(sorted(JOINED)))]
    values = {}
    for name, field in kind.model_fields.items():
        default = field.default
        if isinstance(default, bool):
            values[name] = draw(st.booleans())
        elif name == "pitch":
            values[name] = draw(st.sampled_from([0.0, 9.0, 14.0]))
        elif name in ("channel", "slack"):
            values[name] = draw(st.sampled_from([0.0, 24.0 if name == "channel" else 0.3]))
        elif isinstance(default, int):
            values[name] = max(draw(st.integers(default - 3, default + 4)), 0)
        elif isinstance(default, float) or field.annotation is float:
            values[name] = default * draw(st.floats(0.7, 1.4))
        elif isinstance(default, str) and not name.endswith("_stock"):
            values[name] = draw(st.sampled_from(get_args(field.annotation)))
    sheets = rack(
        draw(st.floats(1.5, 4.5)), draw(st.floats(4, 8)), draw(st.floats(0, 0.3)),
        draw(st.floats(0, 0.2)), draw(st.sampled_from(KerfAt)),
    )  # fmt: skip
    try:
        return kind().with_changes(**values), sheets
    except ParameterError:
        assume(False)


@pytest.mark.slow
@given(forms())
@settings(max_examples=120)
def test_any_form_goes_together_or_is_refused_in_words(made):
    """Produced solids overlap by nothing, every joint has its features, outlines are sound."""
    form, sheets = made
    try:
        result = solve_form(form, sheets)
    except MakerError as error:
        assert str(error)
        return
    for piece in result.pieces:
        assert_sound(piece.region)
    for joint in result.joints:
        assert any(feature.inserted is not None for feature in joint.features)
    assert collisions(result, sheets, 0.01 * max(len(result.joints), 1)) == ()


@pytest.mark.parametrize("name", FORMS)
def test_every_form_is_sound_as_it_starts(name):
    form, sheets = FORMS[name](), rack()
    assert out_of_range(form, sheets) == {}
    result = solve_form(form, sheets)
    assert [each for each in result.findings if each.code != LEFT_OUT] == []
    assert collisions(result, sheets, 0.01) == ()
    assert about_form(name)
    fields = {d.field for d in form.dimensions(sheets)}
    assert fields <= set(form.numbers())
    for joint in result.joints:
        assert set(form.joint_fields(joint.id)) <= set(type(form).model_fields)


@pytest.mark.parametrize("name", JOINED)
def test_a_pressed_form_is_seen_to_bite(name):
    """The check above can fail: with interference every form overlaps."""
    sheets = rack(clearance=-0.2)
    assert collisions(solve_form(FORMS[name](), sheets), sheets, 0.01)


@pytest.mark.parametrize("name", JOINED)
def test_another_thickness_moves_every_slot_of_it(name):
    thin, thick = (
        solve_form(FORMS[name](), rack(thin=t, clearance=0.0, kerf=0.0)) for t in (2.8, 3.1)
    )
    for one, other in zip(thin.pieces, thick.pieces, strict=True):
        for a, b in zip(one.features, other.features, strict=True):
            mate = thin.piece(a.mate)
            if a.inserted is not None and mate.stock_id == "ply-3" and a.kind.value == "mortise":
                assert b.width.drawn > a.width.drawn


@pytest.mark.parametrize("name", JOINED)
def test_scaling_holds_what_fits_hardware(name):
    form = FORMS[name]()
    larger = form.scaled(1.25)
    for field in form.lengths():
        factor = 1.0 if field in form.held else 1.25
        assert getattr(larger, field) == pytest.approx(getattr(form, field) * factor)
    for field in set(form.numbers()) - set(form.lengths()):
        assert getattr(larger, field) == getattr(form, field)


def test_a_box_has_the_inside_it_was_asked_for():
    form = Box(sizes_are="inside", width=100, depth=80, height=50, lid="none", across=0, along=0)
    result, thick = solve_form(form, rack()), 2.94
    x = [result.piece(name).placement.origin[0] for name in ("Left", "Right")]
    y = [result.piece(name).placement.origin[1] for name in ("Front", "Back")]
    assert x[1] - x[0] - thick == pytest.approx(100)
    assert y[1] - y[0] - thick == pytest.approx(80)
    top = result.piece("Front").region.bounds[3]
    assert top - result.piece("Bottom").placement.origin[2] - thick / 2 == pytest.approx(50)


def test_an_easel_that_would_tip_over_says_so():
    steady, sheets = Easel(), rack()
    assert solve_form(steady, sheets).findings == ()
    tall = Easel(lean=38, height=100, foot=140, load_height=420)
    (finding,) = solve_form(tall, sheets).findings
    assert (finding.code, "tips backwards" in finding.message) == ("tips-over", True)


@pytest.mark.parametrize(
    ("count", "width", "radius", "web"), [(24, 3, 48, 9.556), (36, 3, 35, 3.112)]
)
def test_webs_of_the_handbook(count, width, radius, web):
    """Handbook, 3: 2 r sin(π/N) - w cos(π/N)."""
    assert web_between_slots(count, width, radius) == pytest.approx(web, abs=5e-4)


def test_the_most_ribs_still_leave_a_web_as_thick_as_the_ring():
    sheets = rack()
    most = RibLamp().most_ribs(sheets)
    assert most > 18
    webs = smallest_webs(solve_form(RibLamp(ribs=most), sheets), sheets)
    assert webs[0].width + 2 * 0.16 >= 2.94 - 0.2
    (wrong,) = out_of_range(RibLamp(ribs=min(most + 1, 96)), sheets)
    assert wrong == "ribs"


def test_shifted_ribs_take_the_rings_where_they_are():
    result = solve_form(RibLamp(shift=12), rack())
    heights = {
        name: result.piece(name).placement.origin[2] + feature.at[1]
        for name in ("Rib 1", "Rib 2")
        for feature in result.piece(name).features[:1]
    }
    assert heights["Rib 1"] == pytest.approx(heights["Rib 2"])
    assert collisions(result, rack(), 0.01) == ()


@pytest.mark.parametrize(("inch", "diameter"), [(0.375, 2.9047), (0.75, 2.5981), (1.125, 1.9843)])
def test_sections_of_the_handbooks_sphere(inch, diameter):
    """Handbook, 3: R 38.1, d 9.525 / 19.05 / 28.575 → section diameters in inches."""
    (section,) = analytic_sections.ellipsoid(38.1, 38.1, 38.1, 0.7, inch * 25.4)
    assert section.outer.is_circle
    assert section.size[0] / 25.4 == pytest.approx(diameter, abs=5e-5)


@given(a=st.floats(20, 80), b=st.floats(20, 80), c=st.floats(20, 80), turn=st.floats(0, pi),
       share=st.floats(-0.95, 0.95))  # fmt: skip
@settings(max_examples=40)
def test_sections_of_an_ellipsoid_lie_on_it(a, b, c, turn, share):
    reach = sqrt((a * cos(turn)) ** 2 + (b * sin(turn)) ** 2)
    d = share * reach
    (section,) = analytic_sections.ellipsoid(a, b, c, turn, d)
    for u, z in section.outer.corners:
        x, y = d * cos(turn) - u * sin(turn), d * sin(turn) + u * cos(turn)
        assert (x / a) ** 2 + (y / b) ** 2 + (z / c - 1) ** 2 == pytest.approx(1, abs=2e-5)


def test_sections_of_cone_and_torus_have_their_closed_forms():
    """Cone: half width √(R² - d²) at the base, height H (1 - d/R). Torus through its middle: two
    circles of the tube; off it, half width √((R + r)² - d²) (any geometry text)."""
    (cone,) = analytic_sections.cone(40, 90, 24)
    left, low, right, high = cone.bounds
    assert (left, low, right, high) == pytest.approx((-32, 0, 32, 36), abs=1e-6)
    inner = analytic_sections.torus(50, 12, 0)
    assert [region.size for region in inner] == [pytest.approx((24, 24), abs=0.01)] * 2
    assert inner[0].area == pytest.approx(pi * 144, rel=1e-4)
    (bean,) = analytic_sections.torus(50, 12, 45)
    assert bean.size[0] / 2 == pytest.approx(sqrt(62**2 - 45**2), abs=1e-3)
    assert analytic_sections.torus(50, 12, 63) == analytic_sections.cone(40, 90, 40) == ()


@given(turn=st.floats(0, pi), share=st.floats(-0.9, 0.9))
def test_sections_of_a_box_are_its_chords(turn, share):
    a, b = 40.0, 25.0
    d = share * min(a, b)
    (section,) = analytic_sections.box(a, b, 30, turn, d)
    nx, ny = cos(turn), sin(turn)
    line = shapely.LineString([(d * nx - s * ny, d * ny + s * nx) for s in (-200, 200)])
    assert section.size[0] == pytest.approx(line.intersection(shapely.box(-a, -b, a, b)).length)


@pytest.mark.parametrize(
    ("section", "reach", "volume"),
    [
        (lambda d: analytic_sections.ellipsoid(40, 40, 40, 0, d), 40, 4 / 3 * pi * 40**3),
        (lambda d: analytic_sections.ellipsoid(50, 30, 20, 0.4, d), 49, 4 / 3 * pi * 50 * 30 * 20),
        (lambda d: analytic_sections.cone(40, 90, d), 40, pi * 40**2 * 90 / 3),
        (lambda d: analytic_sections.torus(50, 12, d), 62, 2 * pi**2 * 50 * 144),
    ],
)
def test_areas_times_pitch_come_to_the_volume(section, reach, volume):
    """Cavalieri, against the closed forms of the volumes."""
    pitch = 0.5
    offsets = np.arange(-reach + pitch / 2, reach, pitch)
    total = sum(region.area for d in offsets for region in section(float(d))) * pitch
    assert total == pytest.approx(volume, rel=2e-3)


def test_an_ellipse_is_within_a_few_millionths():
    outline = ellipse(100.0, 60.0)
    off = [(x / 100) ** 2 + (y / 60) ** 2 - 1 for x, y in outline.corners]
    assert max(map(abs, off)) < 1e-5
    assert outline.signed_area == pytest.approx(pi * 6000, rel=1e-5)
    assert ellipse(20.0, 20.0).is_circle


def test_slices_cross_at_the_angle_between_the_families():
    result = solve_form(Sliceform(angle=60, direction=15, first=4, second=4), rack())
    angles = {round(min(joint.angle, pi - joint.angle), 9) for joint in result.joints}
    assert angles == {round(radians(60), 9)}


def test_a_body_too_small_for_any_slice_is_refused():
    with pytest.raises(ParameterError, match="No slice"):
        solve_form(Sliceform(body="sphere", width=31, first=2, second=2, smallest=31), rack())


@given(st.floats(0.1, 400), st.floats(0, 0.3))
def test_the_limits_told_never_cross_and_never_promise_more(low, room):
    marks = limits_of(low, low + room, is_length=True)
    least, most = (float(shown(mark).split()[0]) for mark in marks)
    if room >= 0.003:
        assert least <= most
        assert low - 1e-6 <= least
        assert most <= low + room + 1e-6


def test_a_size_that_the_others_leave_no_room_says_which_to_change():
    lamp = FORMS["spine-lamp"]()
    told = next(
        iter(out_of_range(lamp.with_changes(ring_diameter=90.0, taper=0.36), rack()).values())
    )
    assert "is needed, and at most" in told.message
    assert told.hint.startswith("Change ring diameter")


@settings(max_examples=40)
@given(forms(), st.floats(1.0, 8.0))
def test_a_sheet_that_leaves_too_little_room_makes_sizes_give_way_aloud(case, thickness):
    """What was measured is taken: the nearest possible sizes are built, and told."""
    form = case[0]
    of = rack(thickness)
    wrong = out_of_range(form, of)
    try:
        made, findings = within_ranges(form, of)
    except ParameterError as error:
        assert "is needed, and at most" in error.message
        return
    assert out_of_range(made, of) == {}
    assert bool(findings) == bool(wrong)
    assert all("It is built with" in finding.message for finding in findings)
