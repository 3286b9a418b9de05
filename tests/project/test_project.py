"""The project, what is derived from it, and the ripple of a change."""

import pytest
from pydantic import ValidationError
from tests.told import in_mm

from anzel.app.edits import cutter_edits, project_edits, stock_edits
from anzel.core.findings import ParameterError, Severity
from anzel.materials.fits import KerfAt
from anzel.materials.stock import SheetSize
from anzel.project import derive
from anzel.project.demos import DEMOS
from anzel.project.inspection import findings_of
from anzel.project.model import Project
from anzel.project.ripple import details, ripple
from anzel.structure.model import LEFT_OUT


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.name)
def test_every_demo_is_measured_buildable_and_fits_its_sheets(demo):
    project = demo.make()
    assert all(len(stock.readings) >= 3 for stock in project.stocks)
    assert [each for each in findings_of(project) if each.code != LEFT_OUT] == []
    solved = derive.solved_structure_of(project)
    assert solved.joints or any(piece.features for piece in solved.pieces)


def test_equal_projects_share_one_build(project):
    again = Project.model_validate(project.model_dump())
    assert again is not project
    assert derive.solved_structure_of(again) is derive.solved_structure_of(project)


def test_a_new_name_or_colour_recomputes_no_geometry(project):
    renamed = project.with_changes(name="Other", job=project.job.with_changes(bridges=2))
    assert derive.solved_structure_of(renamed) is derive.solved_structure_of(project)


def test_a_build_does_not_depend_on_what_was_built_before(project):
    """Pure: the same project gives the same pieces after any detour."""
    before = derive.solved_structure_of(project)
    for thickness in (2.5, 3.5):
        derive.solved_structure_of(stock_edits.change_reading(project, "birch-3", 0, thickness))
    derive._build.cache_clear()
    assert derive.solved_structure_of(project).pieces == before.pieces


def test_two_stocks_of_one_id_are_refused(project):
    with pytest.raises(ParameterError, match="same id"):
        project.with_changes(stocks=(project.stocks[0], project.stocks[0]))


def test_a_structure_of_a_stock_that_is_not_there_is_refused(project):
    with pytest.raises(ParameterError, match="not there"):
        project.with_changes(stocks=project.stocks[:1])


def test_unknown_decisions_are_refused(project):
    with pytest.raises(ValidationError):
        Project.model_validate({**project.model_dump(), "surprise": 1})


def test_an_unmeasured_sheet_is_pointed_out(project):
    bare = stock_edits.change_stock(project, "birch-3", readings=())
    (finding,) = findings_of(bare)
    assert (finding.code, finding.severity) == ("stock-not-measured", Severity.WARNING)
    few = stock_edits.change_stock(project, "birch-3", readings=(2.9,))
    assert findings_of(few)[0].code == "few-readings"


def test_a_piece_too_large_for_its_sheet_is_pointed_out(project):
    small = stock_edits.change_stock(project, "birch-6", sheets=(SheetSize(width=100),))
    (finding,) = findings_of(small)
    assert finding.where == "Top"
    assert "Use a larger sheet" in str(finding)


def rippled(before, after):
    """The ripple between two projects, in words."""
    return in_mm(str(ripple(derive.solved_structure_of(before), derive.solved_structure_of(after))))


def test_a_reading_moves_slots_and_mortises(project):
    after = stock_edits.add_readings(project, "birch-3", [3.02])
    assert rippled(project, after) == ("4 mortises, 2.79 → 2.81 · 2 slots on 2 pieces, 2.83 → 2.85")


def test_the_tops_thickness_moves_tabs_and_slot_depths(project):
    after = stock_edits.change_stock(project, "birch-6", readings=(6.06,))
    words = rippled(project, after)
    assert "4 tab heights on 2 pieces, 5.86 → 6.06" in words
    assert "2 slot depths on 2 pieces" in words


def test_kerf_moves_only_what_is_cut_from_that_sheet(project):
    after = cutter_edits.change_kerf(project, "birch-6", 0.3)
    assert rippled(project, after) == ("4 mortises, 2.79 → 2.69 · 4 mortise lengths, 13.85 → 13.75")


def test_a_new_size_is_told_by_piece(project):
    after = project_edits.change_structure(project, foot_span=160)
    assert rippled(project, after) == "new size: Upright A 160.0 × 110.0, Upright B 160.0 × 110.0"


def test_more_tabs_are_told_as_new_features(project):
    narrow = project_edits.change_structure(project, tab_width=10)
    words = rippled(narrow, project_edits.change_structure(narrow, tab_count=4))
    assert "8 new features, 0 gone" in words


def test_every_moved_joint_is_told_a_line_each(project):
    after = stock_edits.add_readings(project, "birch-3", [3.02])
    found = ripple(derive.solved_structure_of(project), derive.solved_structure_of(after))
    told = in_mm(details(found, most=100)).splitlines()
    assert {line.split()[0] for line in told} == {
        j.id for j in derive.solved_structure_of(after).joints
    }
    assert all("→" in line for line in told)
    assert any("slot width 2.83 → 2.85" in line for line in told)
    assert details(found, most=2).splitlines()[2] == f"and {len(told) - 2} more"


def test_nothing_moved_says_so(project):
    assert rippled(project, project) == "no piece changed"


def test_kerf_at_the_cutter_draws_what_shall_come_out(project):
    solved = derive.solved_structure_of(project_edits.take_kerf_at(project, KerfAt.CUTTER))
    for piece in solved.pieces:
        for feature in piece.features:
            assert feature.width.drawn == pytest.approx(feature.width.produced)


def test_demos_are_listed_as_what_they_are():
    for demo in DEMOS:
        made = demo.make()
        assert (demo.title, demo.form) == (made.name, made.structure.form)
