"""Rescaling, starting from forms, and the proof before cutting."""

import pytest

from anzel.app.edits import cutter_edits, project_edits, stock_edits
from anzel.checks.webs import smallest_webs
from anzel.core.findings import ParameterError
from anzel.materials.fits import KerfAt
from anzel.materials.stock import SheetSize
from anzel.project.demos import DEMOS
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.new_project import project_of, with_form
from anzel.project.preflight import preflight
from anzel.project.rescale import by_factor, fits_bed, fits_sheets, largest, overall, to_size
from anzel.structure.forms import FORMS
from anzel.structure.model import FeatureKind


def size(project):
    """The standing whole."""
    return overall(solved_structure_of(project), fit_context_of(project))


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.name)
def test_every_demo_passes_its_proof(demo):
    found = preflight(demo.make())
    assert found.ok
    assert found.interference == ()
    assert found.all_fit_bed
    assert found.smallest_web is None or found.smallest_web > 1.9


def test_a_structure_that_bites_or_is_too_large_does_not_pass(project):
    pressed = preflight(project_edits.choose_fit(project, "press"))
    assert pressed.interference
    assert pressed.ok  # a press fit is meant to bite
    small = preflight(cutter_edits.change_cutter(project, bed_width=100, bed_height=100))
    assert not small.ok
    assert {problem.code for problem in small.problems} == {"piece-larger-than-bed"}
    assert not small.all_fit_bed


def test_webs_are_measured_and_thin_ones_told():
    box = project_of("box", bottom_raise=2.0, tab_width=12.0)
    webs = smallest_webs(solved_structure_of(box), fit_context_of(box))
    assert webs[0].width == pytest.approx(2.0 - 0.1, abs=0.05), "the edge recedes by half a kerf"
    thin = project_of("box", across=9, width=100, tab_width=2, divider_height=30)
    assert preflight(thin).smallest_web == pytest.approx(webs[0].width, abs=10)


@pytest.mark.parametrize("kerf_at", list(KerfAt))
def test_a_web_is_what_is_left_of_it_and_more_kerf_never_looks_stronger(kerf_at):
    box = project_of("box", bottom_raise=2.0, tab_width=12.0).with_changes(kerf_at=kerf_at)
    widths = []
    for kerf in (0.05, 0.15, 0.5):
        made = cutter_edits.change_kerf(box, box.stocks_in_use[0].id, kerf)
        widths.append(preflight(made).smallest_web)
    assert widths == sorted(widths, reverse=True)


def test_the_standing_size_is_the_stands():
    stand = project_of("crossed-stand")
    found = size(stand)
    assert found.height == pytest.approx(110, abs=0.2)
    assert found.width == found.depth == pytest.approx(150, abs=0.3)


def slot_widths(build):
    """What the slots of a build take, to a micron."""
    return {
        round(f.inserted.drawn, 3) for p in build.pieces for f in p.features
        if f.kind is FeatureKind.SLOT
    }  # fmt: skip


@pytest.mark.parametrize("name", FORMS)
def test_a_factor_scales_the_whole_but_not_the_sheets(name):
    project = project_of(name)
    larger = by_factor(project, 1.15)
    before, after = solved_structure_of(project), solved_structure_of(larger)
    assert max(p.region.area for p in after.pieces) > max(p.region.area for p in before.pieces)
    assert {p.thickness for p in after.pieces} == {p.thickness for p in before.pieces}
    assert slot_widths(before) == slot_widths(after)


@pytest.mark.parametrize("name", FORMS)
def test_there_and_back_is_the_same_structure(name):
    """Scaling loses nothing: 1.25 then 0.8 gives every size back to float dust."""
    project = project_of(name)
    again = by_factor(by_factor(project, 1.25), 0.8)
    for one, other in zip(
        solved_structure_of(project).pieces, solved_structure_of(again).pieces, strict=True
    ):
        assert other.region.bounds == pytest.approx(one.region.bounds, abs=1e-6)
        widths = [feature.width.drawn for feature in one.features]
        assert [f.width.drawn for f in other.features] == pytest.approx(widths, abs=1e-6)


@pytest.mark.parametrize(("axis", "wanted"), [("width", 210.0), ("height", 90.0), ("depth", 123.4)])
def test_a_wanted_size_is_met(axis, wanted):
    scaled = to_size(project_of("box"), axis, wanted)
    assert getattr(size(scaled), axis) == pytest.approx(wanted, rel=2e-4)


def test_the_largest_that_fits_is_found(project):
    for fits in (fits_bed, fits_sheets):
        found = largest(project, fits)
        assert fits(found)
        height = found.structure.height
        assert height > project.structure.height
        assert not fits(by_factor(found, 1.01))


def test_what_fits_at_no_size_is_refused(project):
    tiny = stock_edits.change_stock(project, "birch-3", sheets=(SheetSize(width=11, height=11),))
    with pytest.raises(ParameterError, match="fits at no size"):
        largest(tiny, fits_sheets)
    with pytest.raises(ParameterError, match="out of reason"):
        by_factor(project, 1000)


def test_a_profile_is_typed_as_pairs():
    lamp = project_edits.set_from_text(project_of("rib-lamp"), "profile", "0:0.5, 0.4:1 1:0.35")
    assert lamp.structure.profile == ((0, 0.5, True), (0.4, 1, True), (1, 0.35, True))
    for text, words in (("0:0.5 wide", "“wide” is not a pair"), ("0:0.5 0.4:x", "“x” is not a")):
        with pytest.raises(ParameterError, match=words) as caught:
            project_edits.set_from_text(project_of("rib-lamp"), "profile", text)
        assert caught.value.field == "profile"


def test_a_form_takes_the_sheets_there_are(project):
    boxed = with_form(project, FORMS["box"]())
    assert set(boxed.structure.stock_roles().values()) <= {"birch-3", "birch-6"}
    assert solved_structure_of(boxed).joints
    with pytest.raises(ParameterError, match="There are: crossed-stand"):
        project_of("teapot")
