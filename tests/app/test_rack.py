"""Edits of the rack and of the cutters, and what is noticed about them."""

import pytest

from anzel.app.edits import cutter_edits, project_edits, stock_edits
from anzel.core.findings import ParameterError, Severity
from anzel.materials.cutter import KerfSource
from anzel.materials.fits import FitName, KerfAt
from anzel.materials.kerf import LearntKerf
from anzel.materials.material import Material, PressBehaviour
from anzel.project.derive import fit_context_of
from anzel.project.inspection import findings_of

THIN = "birch-3"


def codes(project):
    """The codes of all findings."""
    return [finding.code for finding in findings_of(project)]


def test_a_reading_is_struck_out_with_its_reason_and_can_count_again(project):
    struck = stock_edits.strike_reading(project, THIN, 1, " burr at the edge ")
    stock = struck.stock(THIN)
    assert stock.readings == (2.93, 2.94)
    assert (stock.struck[0].value, stock.struck[0].reason) == (2.95, "burr at the edge")
    assert stock.measured_thickness == pytest.approx(2.935)
    again = stock_edits.restore_reading(struck, THIN, 0).stock(THIN)
    assert (again.readings, again.struck) == ((2.93, 2.94, 2.95), ())


def test_a_reading_is_not_struck_out_without_a_reason(project):
    with pytest.raises(ParameterError, match="for a reason"):
        stock_edits.strike_reading(project, THIN, 0, "  ")


def test_a_material_brings_its_nature_unless_the_maker_chose_another(project):
    acrylic = stock_edits.change_material(project, THIN, Material.ACRYLIC)
    assert acrylic.stock(THIN).press_behaviour is PressBehaviour.BRITTLE
    card = stock_edits.change_material(acrylic, THIN, Material.CORRUGATED)
    assert card.stock(THIN).press_behaviour is PressBehaviour.COMPRESSIBLE
    own = stock_edits.change_stock(card, THIN, press_behaviour=PressBehaviour.FIRM)
    assert (
        stock_edits.change_material(own, THIN, Material.CARD).stock(THIN).press_behaviour
        is PressBehaviour.FIRM
    )


def test_sheet_sizes_are_added_changed_and_taken_off(project):
    more = stock_edits.change_sheet_size(
        stock_edits.add_sheet_size(project, THIN), THIN, 1, width=250, count=2
    )
    assert [(s.width, s.count) for s in more.stock(THIN).sheets] == [(400, 4), (250, 2)]
    fewer = stock_edits.remove_sheet_size(more, THIN, 0)
    assert [s.width for s in fewer.stock(THIN).sheets] == [250]
    with pytest.raises(ParameterError, match="one size"):
        stock_edits.remove_sheet_size(fewer, THIN, 0)


def test_a_typed_kerf_is_typed_and_a_learnt_one_says_how(project):
    typed = cutter_edits.change_kerf(project, THIN, 0.18)
    kerf = typed.kerf_in(THIN)
    assert (kerf.kerf, kerf.learnt, kerf.uncertainty) == (0.18, KerfSource.TYPED, 0.02)
    sure = cutter_edits.change_kerf_uncertainty(typed, THIN, 0.005)
    assert cutter_edits.change_kerf(sure, THIN, 0.19).kerf_in(THIN).uncertainty == 0.005
    learnt = cutter_edits.take_kerf(typed, THIN, LearntKerf(0.171, 0.002), KerfSource.STRIPS)
    kerf = learnt.kerf_in(THIN)
    assert (kerf.kerf, kerf.uncertainty, kerf.learnt) == (0.171, 0.002, KerfSource.STRIPS)
    assert kerf.date
    forgotten = cutter_edits.forget_kerf(learnt, THIN)
    assert forgotten.kerf_in(THIN).learnt is KerfSource.ASSUMED
    assert "kerf-assumed" in codes(forgotten)


def test_each_cutter_has_its_own_kerfs(project):
    second = cutter_edits.add_cutter(project)
    assert second.cutter_in_use == "cutter-1"
    assert fit_context_of(second).of(THIN).kerf == 0.15
    back = cutter_edits.choose_cutter(second, "potting-shed")
    assert fit_context_of(back).of(THIN).kerf == 0.16
    assert cutter_edits.remove_cutter(second).cutter_in_use == "potting-shed"
    with pytest.raises(ParameterError, match="There are: potting-shed"):
        cutter_edits.choose_cutter(project, "gone")
    with pytest.raises(ParameterError, match="only cutter"):
        cutter_edits.remove_cutter(project)


@pytest.mark.parametrize(
    ("edit", "code", "severity"),
    [
        (lambda p: stock_edits.add_readings(p, THIN, [3.4]), "doubtful-reading", Severity.WARNING),
        (lambda p: stock_edits.change_stock(p, THIN, readings=(2.4, 2.4, 2.4)), "outside-tolerance",
         Severity.NOTE),
        (lambda p: cutter_edits.change_cutter(p, offsets_path=True), "kerf-twice-or-never",
         Severity.PROBLEM),
        (lambda p: project_edits.take_kerf_at(p, KerfAt.CUTTER), "kerf-twice-or-never",
         Severity.PROBLEM),
        (lambda p: cutter_edits.change_cutter(p, bed_width=120, bed_height=130),
         "piece-larger-than-bed", Severity.PROBLEM),
        (lambda p: stock_edits.change_stock(project_edits.choose_fit(p, FitName.PRESS), THIN,
                                     press_behaviour=PressBehaviour.BRITTLE), "press-in-brittle",
                                     Severity.WARNING),
        (lambda p: stock_edits.change_sheet_size(p, "birch-6", 0, count=0), "too-few-sheets",
         Severity.WARNING),
    ],
)  # fmt: skip
def test_what_matters_before_cutting_is_noticed(project, edit, code, severity):
    assert findings_of(project) == ()
    found = [finding for finding in findings_of(edit(project)) if finding.code == code]
    assert found
    assert {finding.severity for finding in found} == {severity}
    assert all(finding.hint for finding in found)


def test_kerf_at_the_cutter_and_its_compensation_agree(project):
    both = cutter_edits.change_cutter(
        project_edits.take_kerf_at(project, KerfAt.CUTTER), offsets_path=True
    )
    assert both.contradicts_cutter == ""
    assert findings_of(both) == ()
