"""Edits of the layout: pins, kept layouts, jobs, scraps; and the table they are moved on."""

import pytest
import shapely
from tests.common import rectangle
from tests.told import refused

from anzel.app.edits import layout_edits, project_edits, stock_edits
from anzel.app.views.layout_editor import edit_layouts
from anzel.core.findings import ParameterError
from anzel.geometry.regions import Region
from anzel.layout.available_sheets import AvailableSheets, remnants
from anzel.layout.orientations import orientations_of
from anzel.layout.sheet_settings import SheetSettings, TurnSteps
from anzel.materials.material import Faces, Grain
from anzel.materials.stock import SheetSize
from anzel.nesting.problem import Orientation, cost_of
from anzel.nesting.solving import solving_aside
from anzel.nesting.validation import clashes
from anzel.project.demos import DEMOS, herb_stand
from anzel.project.derive import layout_of

STOCK = "birch-3"


@pytest.fixture
def lamp():
    """The seed-pod lamp: twenty pieces on three sheets."""
    return next(demo for demo in DEMOS if demo.name == "seedpod-lamp").make()


def places(project):
    """Where every copy lies."""
    return places_of(layout_of(project, STOCK))


def places_of(layout):
    """The same of a layout: sheet, corner and turn, without float dust."""
    return {
        (laid.piece.name, laid.copy_number): (
            plan.container, plan.sheet, *(round(v, 6) for v in laid.region.bounds[:2]), laid.turn
        )
        for plan in layout.plans
        for laid in plan.placed
    }  # fmt: skip


def table_of(project):
    """The table, and the layout on it."""
    layout = layout_of(project, STOCK)
    return edit_layouts([layout], 1.6), layout


def test_a_moved_piece_is_pinned_and_everything_else_stays(lamp):
    table, layout = table_of(lamp)
    where = table.find("Rib 13", 1, STOCK)
    held = table.drag_preview(where, 0.0, 2.0)
    assert held.clashing == ()
    changed = layout_edits.move(lamp, layout, held.place)
    before, after = places(lamp), places(changed)
    moved = {name for name in before if before[name] != after[name]}
    assert moved == {("Rib 13", 1)}
    (pinned,) = [laid for plan in layout_of(changed, STOCK).plans for laid in plan.placed
                 if laid.pinned]  # fmt: skip
    assert pinned.piece.name == "Rib 13"
    assert layout_edits.unpin(changed, STOCK, "Rib 13", 1) != changed
    assert places(layout_edits.release_placements(changed)) == before


def test_what_a_pinned_piece_lands_on_is_laid_elsewhere_without_a_clash(lamp):
    table, layout = table_of(lamp)
    where = table.find("Ring 1", 1, STOCK)
    held = table.drag_preview(where, 8.0, -60.0)
    assert "Ring 2" in held.clashing
    changed = layout_of(layout_edits.move(lamp, layout, held.place), STOCK)
    assert changed.findings == ()
    assert clashes(changed.problem, changed.solution) == ()
    ring = next(laid for plan in changed.plans for laid in plan.placed if laid.pinned)
    assert ring.region.bounds[:2] == pytest.approx((held.place.x, held.place.y))


def test_pinned_pieces_that_clash_or_stand_over_an_edge_are_told_and_stop_the_file(lamp):
    from anzel.output.export import structure_pages

    table, _ = table_of(lamp)
    place = table.drag_preview(table.find("Ring 1", 1, STOCK), 60.0, 0.0).place
    other = table.drag_preview(table.find("Ring 2", 1, STOCK), 0.0, 0.0).place
    both = layout_edits.pin(
        layout_edits.pin(lamp, place), other.with_changes(x=place.x + 20, y=place.y)
    )
    found = [f for f in layout_of(both, STOCK).findings if f.code == "pieces-clash"]
    assert {f.where for f in found} == {"Ring 1", "Ring 2"}
    assert any("over the edge" in f.message for f in found)
    with pytest.raises(ParameterError, match="Ring"):
        structure_pages(both)


def test_a_piece_is_carried_and_sent_to_another_sheet_and_turned(lamp):
    table, layout = table_of(lamp)
    where = table.find("Rib 1", 1, STOCK)
    here = table.sheets[where[0]]
    target = next(i for i, s in enumerate(table.sheets) if i != where[0])
    there = table.sheets[target]
    laid = table.laid(where)
    left, low, _, _ = laid.region.bounds
    carried = table.drag_preview(where, there.x - here.x, there.y - here.y)
    assert (carried.sheet, carried.place.sheet) == (target, there.plan.sheet)
    assert (carried.place.x, carried.place.y) == pytest.approx((left, low))
    sent = table.sent_to_sheet(where, target)
    assert sent.place.x == pytest.approx(there.problem.margin)
    assert places(layout_edits.move(lamp, layout, sent.place))[("Rib 1", 1)][1] == there.plan.sheet
    turned = table.drag_preview(where, 0.0, 0.0, 90.0)
    assert turned.place.turn == (laid.turn + 90) % 360
    middle = laid.region.shape.envelope.centroid
    now = shapely.transform(turned.polygon, lambda p: p - (here.x, here.y)).envelope.centroid
    assert (now.x, now.y) == pytest.approx((middle.x, middle.y), abs=0.01)
    assert table.at((there.x - 1e6, 0.0)) is None


def test_a_squeezed_layout_is_kept_until_it_no_longer_fits(lamp):
    layout = layout_edits.squeezed(
        lamp, STOCK, 0.6, told=lambda answer: None, stopped=lambda: False
    )
    kept = layout_edits.keep_layout(lamp, layout)
    assert places(kept) == places_of(layout)
    thinner = stock_edits.change_stock(kept, STOCK, readings=(2.91,))
    assert {k: v[:2] for k, v in places(thinner).items()} == {
        k: v[:2] for k, v in places(kept).items()
    }, "a slot a little narrower moves nothing"
    larger = project_edits.change_structure(kept, height=kept.structure.height * 1.2)
    assert clashes(layout_of(larger, STOCK).problem, layout_of(larger, STOCK).solution) == ()


def test_squeezing_beside_the_window_keeps_what_it_had_found_when_it_is_stopped(lamp):
    fast, told = layout_of(lamp, STOCK), []
    with solving_aside(lambda: False):
        best = layout_edits.squeezed(
            lamp, STOCK, 600, told=told.append, stopped=lambda: len(told) > 1
        )
        at_once = layout_edits.squeezed(lamp, STOCK, 600, told=told.append, stopped=lambda: True)
    assert best.solution == told[-1], "what is told last is the best"
    assert cost_of(fast.problem, best.solution) < cost_of(fast.problem, fast.solution)
    assert clashes(fast.problem, best.solution) == ()
    assert at_once.solution == fast.solution


def test_some_pieces_make_a_job_of_their_own_and_spares_are_cut(lamp):
    spare = layout_edits.set_copy_count(lamp, "Rib 1", 4)
    assert sum(name == "Rib 1" for name, _ in places(spare)) == 4
    none = layout_edits.set_copy_count(lamp, "Rib 1", 0)
    assert "Rib 1" not in {name for name, _ in places(none)}
    assert layout_edits.set_copy_count(none, "Rib 1", 1).sheets.copy_counts == ()
    assert {name for name, _ in places(layout_edits.only_pieces(lamp, ["Ring 1", "Ring 2"]))} == {
        "Ring 1", "Ring 2",
    }  # fmt: skip
    assert layout_edits.reset_copy_counts(none).sheets == lamp.sheets
    for wrong in (lambda: layout_edits.only_pieces(lamp, ["Rib"]),
                  lambda: layout_edits.set_copy_count(lamp, "Rib", 2)):  # fmt: skip
        with pytest.raises(ParameterError, match="no piece “Rib”"):
            wrong()


def test_what_is_left_becomes_scraps_and_the_rack_counts_down():
    project = herb_stand()
    plans = layout_of(project, STOCK).plans
    cut = layout_edits.cut_done(project, plans)
    assert layout_of(cut, STOCK).plans == ()
    cut = layout_edits.reset_copy_counts(cut)
    scraps, before = cut.stock(STOCK).scraps, project.stock(STOCK).sheets[0].count
    assert cut.stock(STOCK).sheets[0].count == before - len(plans)
    room = shapely.union_all([plan.polygon for plan in plans])
    taken = sum(laid.piece.region.area for plan in plans for laid in plan.placed)
    assert 0 < sum(scrap.polygon().area for scrap in scraps) < room.area - taken
    again = layout_of(cut, STOCK)
    assert [plan.is_scrap for plan in again.plans] == [True]
    assert clashes(again.problem, again.solution) == ()
    used = layout_edits.cut_done(cut, again.plans)
    whole = sum(scrap.polygon().area for scrap in used.stock(STOCK).scraps)
    assert whole < sum(scrap.polygon().area for scrap in scraps) - taken


def test_what_was_cut_is_remembered_and_the_next_job_is_the_rest(lamp):
    first = layout_edits.only_pieces(lamp, ["Ring 1", "Rib 1", "Rib 2"])
    done = layout_edits.cut_done(first, layout_of(first, STOCK).plans)
    rest = layout_edits.reset_copy_counts(lamp.with_changes(sheets=lamp.sheets))
    everything = {name for name, _ in places(rest)}
    after = done.with_changes(sheets=done.sheets.with_changes(copy_counts=()))
    assert {name for name, _ in places(after)} == everything - {"Ring 1", "Rib 1", "Rib 2"}
    assert layout_edits.set_copy_count(after, "Rib 1", 1).sheets.count_of("Rib 1", 1) == 1
    with pytest.raises(ParameterError, match="Nothing lies"):
        layout_edits.cut_done(done, ())
    table, _ = table_of(lamp)
    spare = next(i for i, each in enumerate(table.spare) if each.plan.stock_id == STOCK)
    where = table.find("Ring 2", 1, STOCK)
    place = table.sent_to_sheet(where, len(table.sheets) + spare).place
    sent = layout_edits.move(lamp, layout_of(lamp, STOCK), place)
    new = table.spare[spare].plan
    assert places(sent)[("Ring 2", 1)][:2] == (new.container, new.sheet)
    assert layout_of(sent, STOCK).findings == ()


def test_remains_touch_nothing_that_was_cut():
    sheet, piece = shapely.box(0, 0, 300, 200), shapely.box(10, 10, 160, 120)
    left = remnants(sheet, [piece], 3.0, 40.0)
    assert len(left) == 1
    assert left[0].area > 0.9 * (300 * 200 - 163 * 123)
    assert remnants(sheet, [shapely.box(0, 0, 300, 180)], 3.0, 40.0) == ()


@pytest.mark.parametrize(
    ("polygon", "words"),
    [(shapely.Polygon([(0, 0), (50, 50), (50, 0), (0, 50)]), "crosses itself"),
     (shapely.box(0, 0, 20_000, 50), "ten metres")],
)  # fmt: skip
def test_an_outline_that_is_no_scrap_is_refused(project, polygon, words):
    with refused(ParameterError, match=words):
        layout_edits.add_scrap(project, STOCK, polygon, "scrap")


def piece(width, height, engraved=()):
    """A rectangular piece."""
    from tests.common import FLOOR

    from anzel.structure.line_work import name_lines
    from anzel.structure.model import Piece

    return Piece(
        "p", STOCK, 3.0, Region.of(rectangle(width, height)), FLOOR, lines=name_lines(engraved)
    )


def test_long_sides_run_with_the_grain_and_square_ones_as_they_may():
    along = AvailableSheets(STOCK, (SheetSize(),), grain=Grain.ALONG_WIDTH)
    up = AvailableSheets(STOCK, (SheetSize(),), grain=Grain.ALONG_HEIGHT)
    settings = SheetSettings()
    assert {p.turn for p in orientations_of(piece(100, 20), along, settings)} == {0.0, 180.0}
    assert {p.turn for p in orientations_of(piece(100, 20), up, settings)} == {90.0, 270.0}
    assert len(orientations_of(piece(50, 48), along, settings)) == 4
    free = settings.with_changes(follow_grain=False, turns=TurnSteps.FREE)
    assert len(orientations_of(piece(100, 20), along, free)) == 24


def test_faces_decide_what_may_be_turned_over():
    alike = AvailableSheets(STOCK, (SheetSize(),))
    good = AvailableSheets(STOCK, (SheetSize(),), faces=Faces.ONE_GOOD)
    over = SheetSettings(turn_over=True, turns=TurnSteps.AS_DRAWN)
    assert orientations_of(piece(9, 5), alike, over) == (Orientation(), Orientation(0.0, True))
    assert orientations_of(piece(9, 5), good, over) == (Orientation(),)
    assert orientations_of(piece(9, 5, (((1.0, 1.0), (2.0, 2.0)),)), alike, over) == (
        Orientation(),
    )
    for hidden_front, marked in ((True, True), (False, True), (True, False), (False, False)):
        (pose,) = orientations_of(piece(9, 5), good, over, hidden_front=hidden_front, marked=marked)
        up_is_front = not pose.over
        assert up_is_front == (hidden_front if marked else not hidden_front)


def test_a_pinned_piece_whose_sheet_is_gone_is_laid_again_and_told(lamp):
    scrapped = layout_edits.add_scrap(lamp, STOCK, shapely.box(0, 0, 180, 150), "offcut")
    table, layout = table_of(scrapped)
    scrap = next(i for i, s in enumerate(table.sheets) if s.plan.is_scrap)
    place = table.sent_to_sheet(table.find("Ring 2", 1, STOCK), scrap).place
    pinned = layout_edits.move(scrapped, layout, place)
    assert ("Ring 2", 1) in {
        (laid.piece.name, laid.copy_number)
        for plan in layout_of(pinned, STOCK).plans if plan.is_scrap for laid in plan.placed
    }  # fmt: skip
    gone = layout_of(layout_edits.remove_scrap(pinned, STOCK, "offcut 1"), STOCK)
    (finding,) = [f for f in gone.findings if f.code == "pinned-nowhere"]
    assert finding.where == "Ring 2"
    assert ("Ring 2", 1) in places_of(gone)


def test_all_pinned_stays_through_any_change_of_distances(lamp):
    pinned = layout_edits.pin_all(lamp, STOCK)
    wider = project_edits.change_sheets(pinned, spacing=2.0)
    assert places(wider) == places(lamp)
    assert all(laid.pinned for plan in layout_of(wider, STOCK).plans for laid in plan.placed)
    assert places(layout_edits.release_placements(wider, "other")) == places(lamp)
    assert layout_edits.release_placements(wider, STOCK).sheets.kept_placements == ()


def test_two_windows_keep_their_unsaved_work_apart(tmp_path):
    from anzel.storage.recovery_store import RecoveryStore, recoverable_projects

    one, other = RecoveryStore(tmp_path), RecoveryStore(tmp_path)
    one.keep(herb_stand(), None)
    other.keep(project_edits.change_structure(herb_stand(), height=99), tmp_path / "b.anzel")
    assert len(list(tmp_path.glob("*.anzel"))) == 2
    assert recoverable_projects(tmp_path) == ()
    one.close()
    assert [path.name for path in tmp_path.glob("*.anzel")] == [other.file.name]
    other.close()
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"bridges": 13}, "Bridges must be at most 12"),
        ({"bridges": -1}, "Bridges must be at least 0"),
        ({"bridge_width": 0.01}, "Bridge width must be at least 0.1"),
        ({"label_height": 1.0}, "Label height must be at least 1.5"),
    ],
)
def test_a_job_that_cannot_be_names_the_field(project, changes, words):
    with refused(ParameterError, match=words):
        project_edits.change_job(project, **changes)


def test_the_places_of_a_test_piece_are_not_those_of_the_job(project):
    kept = layout_edits.pin_all(project, STOCK)
    assert len(kept.sheets.kept_placements) == 2
    assert layout_edits.pin_all(kept, STOCK).sheets.kept_placements == kept.sheets.kept_placements
    assert {each.piece for each in kept.sheets.kept_placements} == {"Upright A", "Upright B"}
